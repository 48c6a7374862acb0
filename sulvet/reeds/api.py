"""Reed boxes over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts import local_time
from sulvet.accounts.downloads import CSV, download
from sulvet.accounts.shapes import valid
from sulvet.accounts.types import teacher_of
from sulvet.band.models import Student
from sulvet.band.selectors import student_of
from sulvet.core.formats import tables
from sulvet.reeds import selectors, serializers, services


def _box(request: Request, student: Student, status: int = 200) -> Response:
    """The box as it stands now."""
    by = selectors.habits_of(teacher_of(request))
    page = selectors.box(student, by, local_time.today())
    return Response(serializers.BoxSerializer(page).data, status=status)


class BoxView(APIView):
    """A student's reeds."""

    @extend_schema(responses=serializers.BoxSerializer, operation_id="reed_box")
    def get(self, request: Request, student_id: int) -> Response:
        """All reeds that are not retired."""
        return _box(request, student_of(teacher_of(request), student_id))

    @extend_schema(
        request=serializers.ReedInSerializer,
        responses={201: serializers.BoxSerializer},
        operation_id="add_reed",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Put a new reed into the first free slot."""
        student = student_of(teacher_of(request), student_id)
        given = valid(serializers.ReedInSerializer, request)
        services.add_reed(student, services.ReedFacts(**given))
        return _box(request, student, 201)


class ReedView(APIView):
    """One reed."""

    @extend_schema(
        request=serializers.ReedInSerializer,
        responses=serializers.BoxSerializer,
        operation_id="change_reed",
    )
    def put(self, request: Request, reed_id: int) -> Response:
        """Other strength, day or condition."""
        reed = selectors.reed_of(teacher_of(request), reed_id)
        given = valid(serializers.ReedInSerializer, request)
        services.change_reed(reed, services.ReedFacts(**given))
        return _box(request, reed.student)

    @extend_schema(
        request=serializers.PlayedInSerializer,
        responses=serializers.BoxSerializer,
        operation_id="played_reed",
    )
    def post(self, request: Request, reed_id: int) -> Response:
        """Say that it was played."""
        reed = selectors.reed_of(teacher_of(request), reed_id)
        services.played(reed, **valid(serializers.PlayedInSerializer, request))
        return _box(request, reed.student)


class BoxesView(APIView):
    """All reed boxes of the band."""

    @extend_schema(responses=serializers.BandBoxesSerializer, operation_id="reed_boxes")
    def get(self, request: Request) -> Response:
        """Boxes, what to buy, and the figures they are judged by."""
        page = selectors.band_boxes(teacher_of(request), local_time.today())
        return Response(serializers.BandBoxesSerializer(page).data)

    @extend_schema(
        request=serializers.HabitsSerializer,
        responses=serializers.BandBoxesSerializer,
        operation_id="set_reed_habits",
    )
    def put(self, request: Request) -> Response:
        """Other figures."""
        services.set_habits(teacher_of(request), valid(serializers.HabitsSerializer, request))
        return self.get(request)


class ShoppingView(APIView):
    """What to buy, as a table."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> HttpResponse:
        """A line each instrument and strength."""
        page = selectors.band_boxes(teacher_of(request), local_time.today())
        rows = [(row["instrument"], row["strength"], row["count"]) for row in page["buy"]]
        data = tables.dump(("instrument", "strength", "count"), rows)
        return download(data, CSV, "reeds-to-buy", "csv")
