"""Takes over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse, JsonResponse
from drf_spectacular.utils import extend_schema
from rest_framework.exceptions import APIException
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.types import teacher_of
from sulvet.band.selectors import student_of
from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.phases import Phase
from sulvet.core.video.clip import MAX_BYTES
from sulvet.takes import selectors, serializers, services
from sulvet.takes.models import Take
from sulvet.takes.serializers import BenchPageSerializer, Plain


class TooLarge(APIException):
    """The clip is over the limit; said before it is read from the wire."""

    status_code = 413


def _valid(kind: type[Plain], request: Request) -> dict[str, Any]:
    given = kind(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


class BandView(APIView):
    """The home screen."""

    @extend_schema(responses=serializers.BandPageSerializer, operation_id="band")
    def get(self, request: Request) -> Response:
        """Seating plan and *Next for you*."""
        page = selectors.band_page(teacher_of(request))
        return Response(serializers.BandPageSerializer(page).data)


class StudentView(APIView):
    """One student's page."""

    @extend_schema(responses=serializers.StudentPageSerializer, operation_id="student")
    def get(self, request: Request, student_id: int) -> Response:
        """The student with all takes."""
        student = student_of(teacher_of(request), student_id)
        return Response(serializers.StudentPageSerializer(selectors.student_page(student)).data)


class StudentTakesView(APIView):
    """New clips of a student."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": serializers.ClipInSerializer},
        responses={201: serializers.TakeSummarySerializer},
        operation_id="add_take",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Take a clip in and hand it to the worker."""
        student = student_of(teacher_of(request), student_id)
        length = int(request.META.get("CONTENT_LENGTH") or 0)
        if length > MAX_BYTES + 100_000:
            raise TooLarge(
                f"The clip has {length / 1e6:.0f} MB; the limit is {MAX_BYTES / 1e6:.0f} MB. "
                "Cut it to the few seconds that matter, or film at a lower resolution."
            )
        given = _valid(serializers.ClipInSerializer, request)
        clip = given.pop("clip")
        take = services.add_take(student, clip, services.TakeFacts(**given))
        return Response(serializers.TakeSummarySerializer(selectors.summary(take)).data, status=201)


class LandmarksView(APIView):
    """The words for landmarks."""

    @extend_schema(responses=serializers.LandmarkSerializer(many=True), operation_id="landmarks")
    def get(self, request: Request) -> Response:
        """All landmarks of face and instrument."""
        return Response(
            [
                {"id": m.id, "words": m.words, "term": m.term, "where": m.where}
                for m in BY_ID.values()
            ]
        )


class OwnTakeView(APIView):
    """Base of all views on one take."""

    def take(self, request: Request, take_id: int) -> Take:
        """The teacher's own take; 404 for anybody else's."""
        return selectors.take_of(teacher_of(request), take_id)

    def bench(self, take: Take, stands: services.Standing | None = None) -> Response:
        """The Bench as it stands now; ``stands`` when an edit has just worked it out."""
        take.refresh_from_db()
        page = selectors.bench_page(take, stands or services.standing(take))
        return Response(BenchPageSerializer(page).data)


class TakeView(OwnTakeView):
    """One take on the Bench."""

    @extend_schema(responses=BenchPageSerializer, operation_id="take")
    def get(self, request: Request, take_id: int) -> Response:
        """All that the Bench shows."""
        return self.bench(self.take(request, take_id))

    @extend_schema(
        request=serializers.ReadInSerializer,
        responses=BenchPageSerializer,
        operation_id="set_read",
    )
    def patch(self, request: Request, take_id: int) -> Response:
        """Say that the take is read, or not."""
        take = self.take(request, take_id)
        services.set_read(take, _valid(serializers.ReadInSerializer, request)["read"])
        return self.bench(take)

    @extend_schema(responses={204: None}, operation_id="delete_take")
    def delete(self, request: Request, take_id: int) -> Response:
        """Delete the take with all its files."""
        services.delete_take(self.take(request, take_id))
        return Response(status=204)


class TakeProgressView(OwnTakeView):
    """How far the worker has got."""

    @extend_schema(responses=serializers.TakeSummarySerializer, operation_id="take_progress")
    def get(self, request: Request, take_id: int) -> Response:
        """The take in one line."""
        take = self.take(request, take_id)
        return Response(serializers.TakeSummarySerializer(selectors.summary(take)).data)


class MarksView(OwnTakeView):
    """The teacher's marks."""

    @extend_schema(
        request=serializers.MarkInSerializer,
        responses=BenchPageSerializer,
        operation_id="place_mark",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Place a landmark on one frame; it is followed again from there."""
        take = self.take(request, take_id)
        stands = services.place_mark(take, **_valid(serializers.MarkInSerializer, request))
        return self.bench(take, stands)

    @extend_schema(
        parameters=[serializers.MarkOutSerializer],
        responses={200: BenchPageSerializer},
        operation_id="remove_mark",
    )
    def delete(self, request: Request, take_id: int) -> Response:
        """Take a placed mark back."""
        take = self.take(request, take_id)
        given = serializers.MarkOutSerializer(data=request.query_params)
        given.is_valid(raise_exception=True)
        return self.bench(take, services.remove_mark(take, **given.validated_data))


class PhasesView(OwnTakeView):
    """The rehearsal marks."""

    @extend_schema(
        request=serializers.PhasesInSerializer,
        responses=BenchPageSerializer,
        operation_id="set_phases",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Set all rehearsal marks of the take."""
        take = self.take(request, take_id)
        given = _valid(serializers.PhasesInSerializer, request)
        phases = [Phase(**phase) for phase in given["phases"]]
        return self.bench(take, services.set_phases(take, phases))


class KnownLengthView(OwnTakeView):
    """A length in the picture that the teacher knows."""

    @extend_schema(
        request=serializers.KnownLengthInSerializer,
        responses=BenchPageSerializer,
        operation_id="set_known_length",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Say how long the marked length is."""
        take = self.take(request, take_id)
        given = _valid(serializers.KnownLengthInSerializer, request)
        return self.bench(take, services.set_known_length(take, given["known_mm"]))


class LookAgainView(OwnTakeView):
    """Reading a take anew."""

    @extend_schema(
        request=None, responses=serializers.TakeSummarySerializer, operation_id="look_again"
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Hand the take to the worker again, with the teacher's marks and phases."""
        take = self.take(request, take_id)
        services.look_again(take)
        return Response(serializers.TakeSummarySerializer(selectors.summary(take)).data)


class DecisionsView(OwnTakeView):
    """The teacher's answers to findings."""

    @extend_schema(
        request=serializers.DecisionInSerializer,
        responses=BenchPageSerializer,
        operation_id="decide",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Confirm a finding, dismiss it with a reason, or take the answer back."""
        take = self.take(request, take_id)
        services.decide(take, **_valid(serializers.DecisionInSerializer, request))
        return self.bench(take)


class ExportView(OwnTakeView):
    """Open files of a take."""

    @extend_schema(exclude=True)
    def get(self, request: Request, take_id: int, kind: str) -> HttpResponse:
        """``marks`` as COCO keypoints, ``report`` as the shell writes it."""
        take = self.take(request, take_id)
        make = selectors.marks_document if kind == "marks" else selectors.report_document
        response = JsonResponse(make(take), json_dumps_params={"indent": 1})
        response["Content-Disposition"] = f'attachment; filename="take-{take.pk}-{kind}.json"'
        return response
