"""Records over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

import tempfile
from typing import Any, cast

from django.conf import settings
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import FormParser, MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.downloads import CALENDAR, CSV, NOTES, PDF, WholeFile, dated, download
from sulvet.accounts.errors import Refused
from sulvet.accounts.numbers import number_of
from sulvet.accounts.preferences import paper_of
from sulvet.accounts.reach import reaches_phones, site_of
from sulvet.accounts.shapes import Plain, valid
from sulvet.accounts.types import teacher_of
from sulvet.band.consent import demand_open
from sulvet.band.selectors import shown_students, student_of, students_of
from sulvet.core.formats import ical, slip, tables, vtt
from sulvet.plans import selectors as plans
from sulvet.plans.models import Plan
from sulvet.records import (
    archive,
    restore,
    sectionals,
    selectors,
    serializers,
    services,
    slips,
    student_data,
)
from sulvet.records.archive_contents import checked_passphrase
from sulvet.takes.selectors import take_of


def _query(kind: type[Plain], request: Request) -> dict[str, Any]:
    given = kind(data=request.query_params)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


class ThenAndNowView(APIView):
    """Two takes of a student."""

    @extend_schema(
        parameters=[serializers.ThenAndNowInSerializer],
        responses=serializers.ThenAndNowSerializer,
        operation_id="then_and_now",
    )
    def get(self, request: Request, student_id: int) -> Response:
        """Two takes in one face frame, with what has changed."""
        student = student_of(teacher_of(request), student_id)
        demand_open(student)
        given = _query(serializers.ThenAndNowInSerializer, request)
        page = selectors.then_and_now(
            student, given.get("then"), given.get("now"), given["phase"], given["face"]
        )
        return Response(serializers.ThenAndNowSerializer(page).data)


class TrendView(APIView):
    """A measure over all takes of a student."""

    @extend_schema(responses=serializers.TrendSerializer, operation_id="trend")
    def get(self, request: Request, student_id: int, measure: str) -> Response:
        """Values with band and plan days; ``focus`` asks for what the focus rests on."""
        student = student_of(teacher_of(request), student_id)
        return Response(serializers.TrendSerializer(selectors.trend(student, measure)).data)


class RecordView(APIView):
    """What is on record of a student."""

    @extend_schema(responses=serializers.RecordSerializer, operation_id="record")
    def get(self, request: Request, student_id: int) -> Response:
        """Findings over time, and notes."""
        student = student_of(teacher_of(request), student_id)
        return Response(serializers.RecordSerializer(selectors.record(student)).data)

    @extend_schema(
        request=serializers.NoteInSerializer,
        responses={201: serializers.NoteSerializer},
        operation_id="add_note",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Write a note."""
        teacher = teacher_of(request)
        student = student_of(teacher, student_id)
        given = valid(serializers.NoteInSerializer, request)
        take = None
        if given["take"] is not None:
            take = take_of(teacher, given["take"])
            if take.student_id != student.pk:
                raise Refused("This take belongs to another student.")
        note = services.add_note(student, given["text"], take, given["seconds"])
        return Response(serializers.NoteSerializer(selectors.note_row(note)).data, status=201)


class NoteView(APIView):
    """One note."""

    @extend_schema(
        request=serializers.NoteTextSerializer,
        responses=serializers.NoteSerializer,
        operation_id="change_note",
    )
    def put(self, request: Request, note_id: int) -> Response:
        """Other words."""
        note = selectors.note_of(teacher_of(request), note_id)
        services.change_note(note, valid(serializers.NoteTextSerializer, request)["text"])
        return Response(serializers.NoteSerializer(selectors.note_row(note)).data)

    @extend_schema(responses={204: None}, operation_id="delete_note")
    def delete(self, request: Request, note_id: int) -> Response:
        """Take the note away."""
        selectors.note_of(teacher_of(request), note_id).delete()
        return Response(status=204)


class TimedNotesView(APIView):
    """Timed notes of a take as WebVTT."""

    @extend_schema(exclude=True)
    def get(self, request: Request, take_id: int) -> HttpResponse:
        """All timed notes of the take."""
        take = take_of(teacher_of(request), take_id)
        timed = [
            vtt.TimedNote(note.seconds, note.text)
            for note in take.teacher_notes.all()
            if note.seconds is not None
        ]
        end = take.frame_times[-1] if take.frame_times else take.clip_seconds or 0.0
        return download(vtt.dump(timed, end), NOTES, f"take-{take.pk}-notes", "vtt", take.filmed_on)


class TimedNotesInView(APIView):
    """Timed notes from another program."""

    @extend_schema(
        request=serializers.NotesFileSerializer,
        responses=serializers.ImportedSerializer,
        operation_id="take_over_notes",
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Take over the notes of a WebVTT file."""
        take = take_of(teacher_of(request), take_id)
        text = valid(serializers.NotesFileSerializer, request)["text"]
        return Response({"added": services.add_timed_notes(take, text)})


def _slip_wishes(request: Request) -> tuple[bool, str, str]:
    """Whether the whole face is wanted, the paper, and where phones reach Sulvet, if they do."""
    site = site_of(request)
    face, paper = request.query_params.get("face") == "1", paper_of(request._request)
    return face, paper, site if reaches_phones(site) else ""


class PageView(APIView):
    """Base of views that are opened in a window of their own: a refusal is a sentence there,
    not data."""

    def handle_exception(self, exc: Exception) -> Response:
        """The sentence as plain text."""
        response = super().handle_exception(exc)
        if isinstance(exc, Refused):
            plain = HttpResponse(
                f"{exc.detail}\n", status=exc.status_code, content_type="text/plain; charset=utf-8"
            )
            return cast(Response, plain)
        return response


class SlipView(PageView):
    """A student's page."""

    @extend_schema(exclude=True)
    def get(self, request: Request, take_id: int) -> HttpResponse:
        """The slip of one take as PDF."""
        teacher = teacher_of(request)
        face, paper, site = _slip_wishes(request)
        page = slips.slip_of(teacher, take_of(teacher, take_id), face, site)
        return download(slip.pdf([page], paper), PDF, f"slip-take-{take_id}", "pdf", inline=True)


class SlipsView(PageView):
    """A class set."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> HttpResponse:
        """A page for each student named, or for the whole band, who has one thing to work on."""
        teacher = teacher_of(request)
        face, paper, site = _slip_wishes(request)
        named = request.query_params.get("students", "")
        students = students_of(teacher) if named else shown_students(teacher)
        if named:
            parts = named.split(",")
            numbers = [n for n in map(number_of, parts) if n is not None]
            if len(numbers) < len(parts):
                raise Refused("Name the students by their numbers, with commas between them.")
            students = students.filter(pk__in=numbers)
        pages = slips.class_set(teacher, list(students), face, site)
        return download(slip.pdf(pages, paper), PDF, "slips", "pdf", inline=True)


class SectionalsView(APIView):
    """Groups for a rehearsal."""

    @extend_schema(
        parameters=[serializers.SectionalsInSerializer],
        responses=serializers.SectionalsSerializer,
        operation_id="sectionals",
    )
    def get(self, request: Request) -> Response:
        """Who shares a focus, and who comes when."""
        wanted = sectionals.Wanted(**_query(serializers.SectionalsInSerializer, request))
        page = sectionals.page(teacher_of(request), wanted)
        return Response(serializers.SectionalsSerializer(page).data)


class SectionalsTableView(APIView):
    """The same as a table."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> HttpResponse:
        """A line each student."""
        wanted = sectionals.Wanted(**_query(serializers.SectionalsInSerializer, request))
        rows = sectionals.rows(teacher_of(request), wanted)
        return download(tables.dump(sectionals.COLUMNS, rows), CSV, "sectionals", "csv")


class TableView(APIView):
    """Readings or findings as CSV: of one take, one student, or the whole band."""

    @extend_schema(exclude=True)
    def get(self, request: Request, kind: str, of: str = "band", number: int = 0) -> HttpResponse:
        """A line each."""
        teacher = teacher_of(request)
        only: dict[str, int] = {}
        if of == "students":
            student_of(teacher, number)
            only = {"take__student_id" if kind == "readings" else "student_id": number}
        elif of == "takes":
            take_of(teacher, number)
            only = {"take_id" if kind == "readings" else "pk": number}
        if kind == "readings":
            data = tables.dump(selectors.READING_COLUMNS, selectors.reading_rows(teacher, **only))
        else:
            data = tables.dump(selectors.FINDING_COLUMNS, selectors.finding_rows(teacher, **only))
        return download(data, CSV, kind, "csv")


class RechecksView(APIView):
    """Rechecks of the whole band for any calendar program."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> HttpResponse:
        """All open rechecks of running plans as iCalendar (RFC 5545)."""
        running = plans.plans_of(teacher_of(request)).filter(state=Plan.State.RUNNING)
        data = ical.dump([event for plan in running for event in plans.events(plan, True)])
        return download(data, CALENDAR, "rechecks", "ics")


class StudentDataView(APIView):
    """All that is kept of one student."""

    @extend_schema(exclude=True)
    def get(self, request: Request, student_id: int) -> WholeFile:
        """For the family that asks for it; it is written to disk first, however large."""
        student = student_of(teacher_of(request), student_id)
        file = tempfile.TemporaryFile(dir=settings.FILE_UPLOAD_TEMP_DIR)  # noqa: SIM115
        student_data.write(student, file)
        file.seek(0)
        return WholeFile(file, as_attachment=True, filename=dated(f"student-{student.pk}", "zip"))


def _whole_band(request: Request, passphrase: str = "") -> WholeFile:
    """Everything of this teacher as a file; it is written to disk first, however large."""
    file = tempfile.TemporaryFile(dir=settings.FILE_UPLOAD_TEMP_DIR)  # noqa: SIM115
    archive.write(teacher_of(request), file, passphrase)
    file.seek(0)
    return WholeFile(file, as_attachment=True, filename=dated("sulvet-band", "zip"))


class EncryptedArchiveView(PageView):
    """The whole band as one encrypted file."""

    parser_classes = (FormParser,)

    @extend_schema(exclude=True)
    def post(self, request: Request) -> WholeFile:
        """Everything of this teacher behind a passphrase, which no address may hold."""
        passphrase = str(cast("dict[str, Any]", request.data).get("passphrase", ""))
        return _whole_band(request, checked_passphrase(passphrase))


class ArchiveView(APIView):
    """The whole band as one file."""

    parser_classes = (MultiPartParser,)

    @extend_schema(exclude=True)
    def get(self, request: Request) -> WholeFile:
        """Everything of this teacher, readable for whoever has the file."""
        return _whole_band(request)

    @extend_schema(
        request={"multipart/form-data": serializers.ArchiveInSerializer},
        responses={201: serializers.TakenSerializer},
        operation_id="take_in_archive",
    )
    def post(self, request: Request) -> Response:
        """Take a whole band into an account without students."""
        given = valid(serializers.ArchiveInSerializer, request)
        taken = restore.read(
            teacher_of(request),
            given["archive"].file,
            given["without_consent"],
            given["passphrase"],
        )
        return Response(serializers.TakenSerializer(taken).data, status=201)
