"""Close-ups over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.views.decorators.http import require_safe
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.shapes import valid
from sulvet.accounts.types import teacher_of
from sulvet.band.consent import refusal
from sulvet.band.selectors import student_of
from sulvet.closeups import selectors, serializers, services
from sulvet.closeups.models import CloseUp
from sulvet.reeds.selectors import reed_of


def _own(request: Request, close_up_id: int) -> CloseUp:
    return selectors.close_up_of(teacher_of(request), close_up_id)


def _page(row: CloseUp, status: int = 200) -> Response:
    page = selectors.page(row)
    return Response(serializers.CloseUpSerializer(page).data, status=status)


class StudentCloseUpsView(APIView):
    """A student's close-ups."""

    parser_classes = (MultiPartParser,)

    @extend_schema(responses=serializers.CloseUpRowSerializer(many=True), operation_id="close_ups")
    def get(self, request: Request, student_id: int) -> Response:
        """All, the newest first."""
        rows = selectors.rows(student_of(teacher_of(request), student_id))
        return Response(serializers.CloseUpRowSerializer(rows, many=True).data)

    @extend_schema(
        request={"multipart/form-data": serializers.CloseUpInSerializer},
        responses={201: serializers.CloseUpSerializer},
        operation_id="add_close_up",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Take a photo or a short clip in."""
        student = student_of(teacher_of(request), student_id)
        given = valid(serializers.CloseUpInSerializer, request)
        return _page(services.add_close_up(student, given["photo"], given["taken_on"]), 201)


class CloseUpView(APIView):
    """One close-up."""

    @extend_schema(responses=serializers.CloseUpSerializer, operation_id="close_up")
    def get(self, request: Request, close_up_id: int) -> Response:
        """Its page."""
        return _page(_own(request, close_up_id))

    @extend_schema(
        request=serializers.CloseUpPlacedInSerializer,
        responses=serializers.CloseUpSerializer,
        operation_id="mark_close_up",
    )
    def put(self, request: Request, close_up_id: int) -> Response:
        """Other marks; measured at once."""
        row = _own(request, close_up_id)
        given = valid(serializers.CloseUpPlacedInSerializer, request)
        marks = {one["id"]: (one["x"], one["y"]) for one in given["marks"]}
        placed = services.Placed(marks, frozenset(given["hidden"]), frozenset(given["ticks"]))
        services.mark_close_up(row, placed)
        return _page(row)

    @extend_schema(responses={204: None}, operation_id="delete_close_up")
    def delete(self, request: Request, close_up_id: int) -> Response:
        """Delete it with its picture."""
        _own(request, close_up_id).delete()
        return Response(status=204)


class CloseUpRefreshView(APIView):
    """A close-up that an older engine measured."""

    @extend_schema(
        request=None, responses=serializers.CloseUpSerializer, operation_id="refresh_close_up"
    )
    def post(self, request: Request, close_up_id: int) -> Response:
        """Measure it anew."""
        row = _own(request, close_up_id)
        services.refresh(row)
        return _page(row)


class WhichReedView(APIView):
    """Which reed of the box a close-up shows."""

    @extend_schema(
        request=serializers.CloseUpReedSerializer,
        responses=serializers.CloseUpSerializer,
        operation_id="close_up_reed",
    )
    def put(self, request: Request, close_up_id: int) -> Response:
        """Say which, or none."""
        row = _own(request, close_up_id)
        chosen = valid(serializers.CloseUpReedSerializer, request)["reed"]
        reed = None if chosen is None else reed_of(teacher_of(request), chosen)
        services.say_which_reed(row, reed)
        return _page(row)


class NotSoView(APIView):
    """What the teacher says of a close-up's findings."""

    @extend_schema(
        request=serializers.CloseUpAnswerSerializer,
        responses=serializers.CloseUpSerializer,
        operation_id="answer_close_up",
    )
    def put(self, request: Request, close_up_id: int) -> Response:
        """Send a finding away, or take it back."""
        row = _own(request, close_up_id)
        services.answer(row, **valid(serializers.CloseUpAnswerSerializer, request))
        return _page(row)


@require_safe
def picture(request: HttpRequest, close_up_id: int) -> HttpResponse:
    """The picture, to the teacher who owns it."""
    if not request.user.is_authenticated:
        raise Http404
    row = selectors.close_up_of(teacher_of(request), close_up_id)
    closed = refusal(row.student) if row.shows_face else None
    return closed or HttpResponse(bytes(row.picture.jpeg), content_type="image/jpeg")
