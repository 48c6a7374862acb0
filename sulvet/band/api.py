"""Students and standards over HTTP."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.downloads import CSV, download
from sulvet.accounts.errors import Refused
from sulvet.accounts.shapes import valid
from sulvet.accounts.types import teacher_of
from sulvet.band import serializers, services, transfer
from sulvet.band.selectors import own_retention_of, school_retention_of, shown_students, student_of
from sulvet.core.consent import WARNING_DAYS
from sulvet.core.formats import clip_names, roster, sheets
from sulvet.core.judgement.standards import shipped_standard, shipped_standards

#: Bytes of a class list at most.
LARGEST_TABLE = 1_000_000


def _facts(request: Request) -> services.StudentFacts:
    given = serializers.StudentInSerializer(data=request.data)
    given.is_valid(raise_exception=True)
    return services.StudentFacts(**given.validated_data)


class StudentsView(APIView):
    """New chairs."""

    @extend_schema(
        request=serializers.StudentInSerializer,
        responses={201: serializers.StudentIdSerializer},
        operation_id="add_student",
    )
    def post(self, request: Request) -> Response:
        """Add a student to the teacher's band."""
        student = services.add_student(services.band_of(teacher_of(request)), _facts(request))
        return Response(serializers.StudentIdSerializer(student).data, status=201)


class StudentFactsView(APIView):
    """What is known of one student."""

    @extend_schema(
        request=serializers.StudentInSerializer,
        responses=serializers.StudentIdSerializer,
        operation_id="change_student",
    )
    def put(self, request: Request, student_id: int) -> Response:
        """Change name, instrument, school or consent."""
        student = student_of(teacher_of(request), student_id)
        services.change_student(student, _facts(request))
        return Response(serializers.StudentIdSerializer(student).data)


class RosterView(APIView):
    """A class list as CSV or xlsx."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": serializers.RosterInSerializer},
        responses=serializers.RosterSerializer,
        operation_id="roster",
    )
    def post(self, request: Request) -> Response:
        """Check a list, or import it: all of it or nothing."""
        given = serializers.RosterInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        band = services.band_of(teacher_of(request))
        table = given.validated_data["table"]
        if table.size > LARGEST_TABLE:
            raise Refused(sheets.TOO_LARGE)
        keep = given.validated_data["keep"]
        order = given.validated_data["dates"] or None
        load = services.add_roster if keep else services.read_roster
        read = load(band, table.read(), order)
        stored = keep and read.ready
        page = {
            "lines": [
                {**line.facts, "number": line.number, "wrong": line.errors, "known": line.known,
                 "skipped": line.skipped,
                 "changes": [{"field": key, "old": str(old or ""), "new": str(new or "")}
                             for key, old, new in line.changes]}
                for line in read.lines
            ],
            "ignored": read.ignored,
            "asks": read.asks,
            "added": sum(not (line.known or line.skipped) for line in read.lines) if stored else 0,
            "changed": sum(bool(line.changes) for line in read.lines) if stored else 0,
        }  # fmt: skip
        return Response(serializers.RosterSerializer(page).data)


class RosterTemplateView(APIView):
    """A class list to fill in."""

    @extend_schema(responses={(200, "text/csv"): bytes}, operation_id="roster_template")
    def get(self, request: Request) -> HttpResponse:
        """The columns of a class list with two made-up rows, as CSV."""
        return download(roster.template(), CSV, "class-list", "csv")


class ConsentView(APIView):
    """One consent for many students."""

    @extend_schema(
        request=serializers.ConsentInSerializer,
        responses=serializers.CountSerializer,
        operation_id="set_consent",
    )
    def post(self, request: Request) -> Response:
        """Set the dates of the parents' consent for all these students."""
        facts = valid(serializers.ConsentInSerializer, request)
        changed = services.set_consent(
            services.band_of(teacher_of(request)),
            facts["students"], facts["consent_on"], facts["consent_until"],
        )  # fmt: skip
        return Response({"count": changed})


class BandNameView(APIView):
    """What the band and its sections are called."""

    @extend_schema(
        request=serializers.BandNamesSerializer,
        responses=serializers.BandNamesSerializer,
        operation_id="rename_band",
    )
    def put(self, request: Request) -> Response:
        """Rename the band and its sections, and choose rows and seats."""
        facts = valid(serializers.BandNamesSerializer, request)
        sections = [services.SectionFacts(**one) for one in facts["sections"]]
        services.rename(services.band_of(teacher_of(request)), facts["name"], sections)
        return Response(facts)


class ColleaguesView(APIView):
    """The other teachers of the school."""

    @extend_schema(responses=serializers.ColleagueSerializer(many=True), operation_id="colleagues")
    def get(self, request: Request) -> Response:
        """To whom a student may go; nobody where the school has one teacher."""
        beside = transfer.teachers_beside(teacher_of(request))
        return Response(serializers.ColleagueSerializer(beside, many=True).data)


class TransferView(APIView):
    """A student who goes to another teacher."""

    @extend_schema(
        request=serializers.TransferSerializer, responses={204: None}, operation_id="transfer"
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Move a student to a colleague, with everything that is kept."""
        by = teacher_of(request)
        given = valid(serializers.TransferSerializer, request)
        transfer.transfer(student_of(by, student_id), by, given["to"])
        return Response(status=204)


class ClipNamesView(APIView):
    """Whose clips are in a folder."""

    @extend_schema(
        request=serializers.ClipNamesSerializer,
        responses=serializers.ClipMatchSerializer(many=True),
        operation_id="match_clips",
    )
    def post(self, request: Request) -> Response:
        """Match file names to students; nothing is stored."""
        given = serializers.ClipNamesSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        players = {
            student.pk: clip_names.Player(
                student.name, shipped_standard(student.instrument).film[0]
            )
            for student in shown_students(teacher_of(request))
        }
        found = clip_names.match(given.validated_data["files"], players)
        return Response(serializers.ClipMatchSerializer(found, many=True).data)


class RetentionView(APIView):
    """Deleting what is over."""

    @extend_schema(responses=serializers.RetentionSerializer, operation_id="retention")
    def get(self, request: Request) -> Response:
        """What the teacher agreed to."""
        return self._answer(teacher_of(request))

    @extend_schema(
        request=serializers.RetentionSerializer,
        responses=serializers.RetentionSerializer,
        operation_id="agree_to_deletion",
    )
    def put(self, request: Request) -> Response:
        """Agree, once, that Sulvet deletes what is over; or change the days of warning."""
        given = serializers.RetentionSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        services.agree_to_deletion(teacher_of(request), given.validated_data["days"])
        return self._answer(teacher_of(request))

    @extend_schema(responses=serializers.RetentionSerializer, operation_id="delete_by_hand")
    def delete(self, request: Request) -> Response:
        """Take that back: nothing is deleted by itself."""
        services.delete_by_hand(teacher_of(request))
        return self._answer(teacher_of(request))

    def _answer(self, teacher: User) -> Response:
        rule, school = own_retention_of(teacher), school_retention_of(teacher)
        page = {
            "agreed_on": rule.agreed_on if rule else None,
            "days": rule.days if rule else WARNING_DAYS,
            "school_days": school.days if school else None,
        }
        return Response(serializers.RetentionSerializer(page).data)


class StandardsView(APIView):
    """What Sulvet knows of instruments."""

    @extend_schema(responses=serializers.StandardSerializer(many=True), operation_id="standards")
    def get(self, request: Request) -> Response:
        """Instruments and their schools."""
        return Response(
            serializers.StandardSerializer(list(shipped_standards().values()), many=True).data
        )
