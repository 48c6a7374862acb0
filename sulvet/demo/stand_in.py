"""A made-up student before a booth without a camera: takes of the demo, played as a stream."""

from __future__ import annotations

from functools import cache

from django.http import Http404
from django.http.response import HttpResponseBase
from django.urls import path
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.views import APIView

from sulvet.booth.access import BoothAuthentication, InBooth, booth_of
from sulvet.booth.filming import student_in
from sulvet.booth.pages import stands_in
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate.script import load
from sulvet.demo.scenario import STUDENTS, DemoTake
from sulvet.takes.api.ranged import serve


@cache
def stand_in_for(instrument: str, view: str) -> DemoTake | None:
    """A take of somebody made up on the same instrument, or one like it, from the same side."""
    there = [
        (chair.instrument, take)
        for chair in STUDENTS
        for take in chair.takes
        if load(take.script).view == view and load(take.script).sound is not None
    ]
    family = shipped_standard(instrument).family
    same = [take for name, take in there if name == instrument]
    like = [take for name, take in there if shipped_standard(name).family == family]
    return next(iter(same or like), None)


class StandInView(APIView):
    """The clip that plays before a booth of a made-up band."""

    authentication_classes = (BoothAuthentication,)
    permission_classes = (InBooth,)

    @extend_schema(exclude=True)
    def get(self, request: Request, student_id: int, view: str) -> HttpResponseBase:
        """With byte ranges; 404 in the booth of a real band."""
        booth = booth_of(request)
        student = student_in(booth, student_id)
        take = stand_in_for(student.instrument, view) if stands_in(booth) else None
        if take is None:
            raise Http404
        return serve(request._request, take.clip, "video/mp4")


urlpatterns = [
    path("stand-in/<int:student_id>-<str:view>.mp4", StandInView.as_view(), name="stand-in")
]
