"""Takes over HTTP: thin views, each bound to the logged-in teacher."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from django.conf import settings
from django.http import HttpResponse
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts import local_time
from sulvet.accounts.downloads import JSON, download
from sulvet.accounts.shapes import Plain, answer, checked, shape, valid
from sulvet.accounts.types import teacher_of
from sulvet.band.consent import demand_open
from sulvet.band.selectors import student_of
from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.language import said
from sulvet.core.measures.catalogue import catalogue
from sulvet.takes import analysis, facts, files, jobs, listening, photos, space, uploads
from sulvet.takes.api import requests
from sulvet.takes.api.base import TakeView
from sulvet.takes.api.edits import READ, placed
from sulvet.takes.first_said import say_first
from sulvet.takes.intended import IntendedNote
from sulvet.takes.models import Take
from sulvet.takes.pages import documents
from sulvet.takes.pages.band import StudentPage, student_page
from sulvet.takes.pages.bench import preview
from sulvet.takes.pages.bench_shapes import BenchPage, Preview
from sulvet.takes.pages.landmarks import LandmarkRow
from sulvet.takes.pages.measures import MeasureRow, measure_row
from sulvet.takes.pages.shapes import PURPOSES, VIEWS
from sulvet.takes.pages.sound import SoundPage, sound_page
from sulvet.takes.pages.summary import TakeSummary, summary


class TakeFactsSerializer(Plain):
    """What is said of a clip; a form can't hold nested data."""

    view = serializers.ChoiceField(VIEWS)
    purpose = serializers.ChoiceField(PURPOSES)
    filmed_on = serializers.DateField()
    mirrored = serializers.BooleanField(default=False)


class ClipInSerializer(TakeFactsSerializer):
    """A clip as it comes in."""

    clip = serializers.FileField(allow_empty_file=True)


class CorrectionSerializer(TakeFactsSerializer):
    """What was said of a clip, put right."""

    student = serializers.IntegerField()


@dataclass(frozen=True)
class LeftOver:
    """What could not be done yet, as a sentence."""

    detail: str


#: Gone altogether, or gone from the band while its files are still on the disk.
DELETED: dict[int, Any] = {204: None, 202: shape(LeftOver)}


def deleted(finished: bool) -> Response:
    """The answer to a deletion."""
    if finished:
        return Response(status=204)
    sentence = said(files.STILL_THERE, folder=settings.CLIPS_DIR)
    return answer(LeftOver(sentence), 202)


class StudentView(APIView):
    """One student's page."""

    @extend_schema(responses=shape(StudentPage), operation_id="student")
    def get(self, request: Request, student_id: int) -> Response:
        """The student with all takes."""
        return answer(student_page(student_of(teacher_of(request), student_id)))

    @extend_schema(responses=DELETED, operation_id="delete_student")
    def delete(self, request: Request, student_id: int) -> Response:
        """Delete the student with all takes, records and files."""
        return deleted(uploads.delete_student(student_of(teacher_of(request), student_id)))


class StudentTakesView(APIView):
    """New clips of a student."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": ClipInSerializer},
        responses={201: shape(TakeSummary)},
        operation_id="add_take",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """Take a clip in and hand it to the worker."""
        student = student_of(teacher_of(request), student_id)
        space.demand(int(request.META.get("CONTENT_LENGTH") or 0))
        given = valid(ClipInSerializer, request)
        clip = given.pop("clip")
        take = uploads.add_take(student, clip, facts.TakeFacts(**given))
        return answer(summary(take), 201)


class PhotosInSerializer(Plain):
    """Photos that become takes; a form can't hold nested data."""

    photos = serializers.ListField(child=serializers.FileField(), max_length=photos.MOST)
    rest = serializers.FileField(required=False, allow_null=True, default=None)
    view = serializers.ChoiceField(VIEWS)
    filmed_on = serializers.DateField(required=False, allow_null=True, default=None)
    mirrored = serializers.BooleanField(default=False)


class StudentPhotosView(APIView):
    """New photos of a student."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        request={"multipart/form-data": PhotosInSerializer},
        responses={201: shape(TakeSummary, many=True)},
        operation_id="add_photos",
    )
    def post(self, request: Request, student_id: int) -> Response:
        """A take of each, handed to the worker."""
        student = student_of(teacher_of(request), student_id)
        space.demand(int(request.META.get("CONTENT_LENGTH") or 0))
        given = valid(PhotosInSerializer, request)
        told = facts.TakeFacts(
            given["view"], Take.Purpose.CHECK, local_time.today(), given["mirrored"]
        )
        made = photos.add_photos(student, given["photos"], given["rest"], told, given["filmed_on"])
        return answer([summary(take) for take in made], 201)


class LandmarksView(APIView):
    """What landmarks are called."""

    @extend_schema(responses=shape(LandmarkRow, many=True), operation_id="landmarks")
    def get(self, request: Request) -> Response:
        """All landmarks of face and instrument."""
        return answer(
            [LandmarkRow(m.id, said(m.label), said(m.term), said(m.where)) for m in BY_ID.values()]
        )


class MeasuresView(APIView):
    """What measures are."""

    @extend_schema(responses=shape(MeasureRow, many=True), operation_id="measures")
    def get(self, request: Request) -> Response:
        """All measures, each explained."""
        return answer([measure_row(one) for one in catalogue().measures])


class OneTakeView(TakeView):
    """One take on the Bench."""

    @extend_schema(responses=shape(BenchPage), operation_id="take")
    def get(self, request: Request, take_id: int) -> Response:
        """All that the Bench shows, as it stands."""
        return self.bench(request, take_id)

    patch = READ.method()

    @extend_schema(responses=DELETED, operation_id="delete_take")
    def delete(self, request: Request, take_id: int) -> Response:
        """Delete the take with all its files."""
        return deleted(uploads.delete_take(self.take(request, take_id)))


class RefreshView(TakeView):
    """An analysis that is out of date."""

    @extend_schema(request=None, responses=shape(BenchPage), operation_id="refresh")
    def post(self, request: Request, take_id: int) -> Response:
        """Make it anew if it is; the Bench as it then stands."""
        analysis.refresh(self.take(request, take_id))
        return self.bench(request, take_id)


class TakeProgressView(TakeView):
    """How far the worker has got."""

    @extend_schema(responses=shape(TakeSummary), operation_id="take_progress")
    def get(self, request: Request, take_id: int) -> Response:
        """The take in one line."""
        return answer(summary(self.take(request, take_id)))


class TakeFactsView(TakeView):
    """What was said of a clip when it came in."""

    @extend_schema(
        request=CorrectionSerializer, responses=shape(TakeSummary), operation_id="correct_take"
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Put it right; the take is analysed again where that changes what is seen."""
        take = self.take(request, take_id)
        demand_open(take.student)
        given = valid(CorrectionSerializer, request)
        student = student_of(teacher_of(request), given.pop("student"))
        facts.correct(take, student, facts.TakeFacts(**given))
        return answer(summary(take))


class RereadView(TakeView):
    """Reading a take anew."""

    @extend_schema(request=None, responses=shape(TakeSummary), operation_id="reread")
    def post(self, request: Request, take_id: int) -> Response:
        """Hand the take to the worker again, with the teacher's marks and phases."""
        take = self.take(request, take_id)
        demand_open(take.student)
        jobs.reread(take)
        return answer(summary(take))


class PreviewView(TakeView):
    """What a frame would measure while its marks are dragged."""

    @extend_schema(
        request=shape(requests.PreviewIn), responses=shape(Preview), operation_id="preview"
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Measure one frame with some marks elsewhere; nothing is stored."""
        take = self.take(request, take_id)
        given = checked(shape(requests.PreviewIn), request.data)
        return answer(preview(take, given.frame, placed(given.marks)))


class SoundView(TakeView):
    """What is heard of a take."""

    @extend_schema(responses=shape(SoundPage), operation_id="sound")
    def get(self, request: Request, take_id: int) -> Response:
        """Tones and what they mean, as far as anybody has listened."""
        return answer(sound_page(self.take(request, take_id)))

    @extend_schema(request=None, responses=shape(SoundPage), operation_id="listen")
    def post(self, request: Request, take_id: int) -> Response:
        """Listen to the take if nobody has; it is judged with that."""
        take = self.take(request, take_id)
        demand_open(take.student)
        listening.listen(take)
        return answer(sound_page(self.take(request, take_id)))

    @extend_schema(
        request=shape(requests.IntendedNoteIn),
        responses=shape(SoundPage),
        operation_id="set_intended_note",
    )
    def put(self, request: Request, take_id: int) -> Response:
        """Say what was to be played."""
        take = self.take(request, take_id)
        given = checked(shape(requests.IntendedNoteIn), request.data)
        listening.set_intended_note(
            take, IntendedNote(given.stage, given.pitch.strip(), given.a4, given.tempo)
        )
        return answer(sound_page(self.take(request, take_id)))


class SaidFirstView(TakeView):
    """What the teacher sees before the program says anything."""

    @extend_schema(
        request=shape(requests.SaidFirstIn), responses=shape(BenchPage), operation_id="say_first"
    )
    def post(self, request: Request, take_id: int) -> Response:
        """Keep it, once; then all is shown."""
        given = checked(shape(requests.SaidFirstIn), request.data)
        say_first(self.take(request, take_id), given.faults, given.untold)
        return self.bench(request, take_id)


class ExportView(TakeView):
    """Open files of a take."""

    @extend_schema(exclude=True)
    def get(self, request: Request, take_id: int, kind: str) -> HttpResponse:
        """``marks`` as COCO keypoints, ``report`` as the shell writes it."""
        take = self.take(request, take_id)
        make = documents.marks if kind == "marks" else documents.report_of
        text = json.dumps(make(take), indent=1)
        return download(text, JSON, f"take-{take.pk}-{kind}", "json", take.filmed_on)
