"""Takes over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import transaction
from django.http import HttpResponse, JsonResponse
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.exceptions import APIException
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.plain import valid
from sulvet.accounts.types import teacher_of
from sulvet.band.selectors import student_of
from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.phases import Phase
from sulvet.core.video.clip import MAX_BYTES
from sulvet.takes import bench, edits, marks_file, selectors, serializers, services
from sulvet.takes.aims import Aim
from sulvet.takes.ear_page import ear_page
from sulvet.takes.models import Hearing, Take
from sulvet.takes.serializers import BenchPageSerializer


class TooLarge(APIException):
    """The clip is over the limit; said before it is read from the wire."""

    status_code = 413


class StudentView(APIView):
    """One student's page."""

    @extend_schema(responses=serializers.StudentPageSerializer, operation_id="student")
    def get(self, request: Request, student_id: int) -> Response:
        """The student with all takes."""
        student = student_of(teacher_of(request), student_id)
        return Response(serializers.StudentPageSerializer(selectors.student_page(student)).data)

    @extend_schema(responses={204: None}, operation_id="delete_student")
    def delete(self, request: Request, student_id: int) -> Response:
        """Delete the student with all takes, records and files."""
        services.delete_student(student_of(teacher_of(request), student_id))
        return Response(status=204)


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
        given = valid(serializers.ClipInSerializer, request)
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


IF_MATCH = OpenApiParameter(
    "If-Match", int, OpenApiParameter.HEADER,
    description="The take's revision the edit was begun on; refused (412) when it has moved on.",
)  # fmt: skip


def _revision(request: Request) -> int | None:
    """The revision of ``If-Match`` (RFC 9110, section 13.1.1); None when none is given."""
    given = request.headers.get("If-Match", "").strip().strip('"')
    if not given:
        return None
    if not given.isdigit():
        raise Refused("If-Match must be the number that came as the take's revision.")
    return int(given)


class OwnTakeView(APIView):
    """Base of all views on one take."""

    @contextmanager
    def editing(self, request: Request, take_id: int) -> Iterator[Take]:
        """The teacher's own take for one edit, begun on the revision the teacher sees."""
        take = self.take(request, take_id)
        with transaction.atomic():
            edits.claim(take, _revision(request))
            yield take

    def take(self, request: Request, take_id: int) -> Take:
        """The teacher's own take; 404 for anybody else's."""
        return selectors.take_of(teacher_of(request), take_id)

    def bench(self, take: Take, stands: services.Standing | None = None) -> Response:
        """The Bench as it stands now; ``stands`` when an edit has just worked it out."""
        take.refresh_from_db()
        page = bench.bench_page(take, stands or services.standing(take))
        return Response(BenchPageSerializer(page).data)


class TakeView(OwnTakeView):
    """One take on the Bench."""

    @extend_schema(responses=BenchPageSerializer, operation_id="take")
    def get(self, request: Request, take_id: int) -> Response:
        """All that the Bench shows."""
        return self.bench(self.take(request, take_id))

    @extend_schema(
        request=serializers.ReadInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="set_read",
    )
    def patch(self, request: Request, take_id: int) -> Response:
        """Say that the take is read, or not."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.ReadInSerializer, request)
            services.set_read(take, given["read"])
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
        request=serializers.MarksInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="place_marks",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Place landmarks; they are followed again from there."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.MarksInSerializer, request)
            stands = services.place_marks(take, _placed(given["marks"]))
        return self.bench(take, stands)

    @extend_schema(
        parameters=[serializers.MarkOutSerializer, IF_MATCH],
        responses={200: BenchPageSerializer},
        operation_id="remove_mark",
    )
    def delete(self, request: Request, take_id: int) -> Response:
        """Take a placed mark back."""
        with self.editing(request, take_id) as take:
            given = serializers.MarkOutSerializer(data=request.query_params)
            given.is_valid(raise_exception=True)
            stands = services.remove_mark(take, **given.validated_data)
        return self.bench(take, stands)


def _placed(rows: list[dict[str, Any]]) -> list[services.PlacedMark]:
    return [services.PlacedMark(**row) for row in rows]


class MarksFileView(OwnTakeView):
    """Marks from another program."""

    @extend_schema(
        request=serializers.MarksFileSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="take_over_marks",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Take over the placed marks of a COCO keypoints document."""
        with self.editing(request, take_id) as take:
            stands = marks_file.take_over(take, request.data)
        return self.bench(take, stands)


class AcceptView(OwnTakeView):
    """Found marks that are right."""

    @extend_schema(
        request=None,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="accept_found",
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Accept all found marks at once."""
        with self.editing(request, take_id) as take:
            stands = services.accept_found(take)
        return self.bench(take, stands)


class PreviewView(OwnTakeView):
    """What a frame would measure while its marks are dragged."""

    @extend_schema(
        request=serializers.PreviewInSerializer,
        responses=serializers.PreviewSerializer,
        operation_id="preview",
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Measure one frame with some marks elsewhere; nothing is stored."""
        take = self.take(request, take_id)
        given = valid(serializers.PreviewInSerializer, request)
        return Response(bench.preview(take, given["frame"], _placed(given["marks"])))


class UndoView(OwnTakeView):
    """The teacher's last edit."""

    @extend_schema(
        request=None,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="undo",
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Take the last edit back."""
        with self.editing(request, take_id) as take:
            stands = services.take_back(take)
        return self.bench(take, stands)

    @extend_schema(
        request=None,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="redo",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Do again what was taken back last."""
        with self.editing(request, take_id) as take:
            stands = services.do_again(take)
        return self.bench(take, stands)


class PhasesView(OwnTakeView):
    """The rehearsal marks."""

    @extend_schema(
        request=serializers.PhasesInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="set_phases",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Set all rehearsal marks of the take."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.PhasesInSerializer, request)
            stands = services.set_phases(take, [Phase(**p) for p in given["phases"]])
        return self.bench(take, stands)


class KnownLengthView(OwnTakeView):
    """A length in the picture that the teacher knows."""

    @extend_schema(
        request=serializers.KnownLengthInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="set_known_length",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Say how long the marked length is."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.KnownLengthInSerializer, request)
            stands = services.set_known_length(take, given["known_mm"])
        return self.bench(take, stands)


class EarView(OwnTakeView):
    """What is heard of a take."""

    @extend_schema(responses=serializers.EarSerializer, operation_id="ear")
    def get(self, request: Request, take_id: int) -> Response:
        """Tones, staves and what they mean; listened to when nobody has yet."""
        take = selectors.take_of(teacher_of(request), take_id)
        return self._page(take, services.listened(take))

    @extend_schema(
        request=serializers.AimInSerializer,
        responses=serializers.EarSerializer,
        operation_id="aim",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Say what was to be played."""
        take = selectors.take_of(teacher_of(request), take_id)
        given = Aim(**valid(serializers.AimInSerializer, request))
        return self._page(take, services.aim(take, given))

    @staticmethod
    def _page(take: Take, hearing: Hearing) -> Response:
        return Response(serializers.EarSerializer(ear_page(take, hearing)).data)


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
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="decide",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Confirm, dismiss with a reason, add a finding, or take the answer back."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.DecisionInSerializer, request)
            services.decide(take, **given)
        return self.bench(take)


class FocusView(OwnTakeView):
    """The one thing to fix."""

    @extend_schema(
        request=serializers.FocusInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="choose_focus",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Make another finding the focus."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.FocusInSerializer, request)
            services.choose_focus(take, given["fault"])
        return self.bench(take)


class DepthView(OwnTakeView):
    """How deep the mouthpiece belongs."""

    @extend_schema(
        request=serializers.KeepInSerializer,
        responses=BenchPageSerializer,
        operation_id="keep_depth",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Keep this take's depth as the student's, or let it go."""
        take = self.take(request, take_id)
        services.keep_depth(take, valid(serializers.KeepInSerializer, request)["keep"])
        return self.bench(take)


class ObservationsView(OwnTakeView):
    """What no camera shows."""

    @extend_schema(
        request=serializers.ObservationsInSerializer,
        parameters=[IF_MATCH],
        responses=BenchPageSerializer,
        operation_id="observe",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Say all that was seen, heard and felt."""
        with self.editing(request, take_id) as take:
            given = valid(serializers.ObservationsInSerializer, request)
            services.observe(take, given["seen"])
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
