"""The student's page over HTTP: for whoever has the address, where the teacher opened it."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import Any

from django.http import HttpResponse
from django.http.response import HttpResponseBase
from django.urls import reverse
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response

from sulvet.accounts.errors import Refused
from sulvet.accounts.preferences import zone_of
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.band.models import Student
from sulvet.booth import links
from sulvet.booth.link_api import FromPhone
from sulvet.booth.models import CaptureLink
from sulvet.eye.films import serve_loop
from sulvet.eye.pages import gallery
from sulvet.eye.shapes import GalleryRow
from sulvet.practice_page import services
from sulvet.practice_page.manifest import manifest
from sulvet.practice_page.page import practice_page, then_now
from sulvet.practice_page.shapes import Compared, PracticePage, ReedPlayedIn, TickIn, WordIn

#: The phone's own time zone, by which its days are counted where the teacher has set none.
ZONE = "X-Time-Zone"
CLOSED = "Your teacher has not opened this page. You can still send a clip."


class OwnPage(FromPhone):
    """Base of views under a link with the student's page."""

    def page(self, request: Request, token: str) -> Response:
        """The page as it stands; refused where the teacher has not opened it."""
        link = _opened(token)
        with _zone(request, link):
            return answer(practice_page(link))

    def told(
        self, request: Request, token: str, kind: type[Any], do: Callable[[Student, Any], None]
    ) -> Response:
        """Do what the student says, and answer with the page as it then stands."""
        link, given = _opened(token), checked(shape(kind), request.data)
        with _zone(request, link):
            do(link.student, given)
        return self.page(request, token)


def _opened(token: str) -> CaptureLink:
    link = links.link_at(token)
    if not link.page:
        raise Refused(CLOSED)
    return link


def _zone(request: Request, link: CaptureLink) -> AbstractContextManager[None]:
    return zone_of(link.student.section.band.teacher, request.headers.get(ZONE, ""))


class PracticePageView(OwnPage):
    """What to practise."""

    @extend_schema(responses=shape(PracticePage), operation_id="practice_page", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """All of it."""
        return self.page(request, token)


class ThenNowView(OwnPage):
    """Then and now."""

    @extend_schema(responses=shape(Compared), operation_id="own_then_and_now", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """Two takes that the teacher has reviewed, over one another."""
        return answer(Compared(then_now(_opened(token))))


class PairsView(OwnPage):
    """Which one is it?"""

    @extend_schema(responses=shape(GalleryRow, many=True), operation_id="own_pairs", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """Made-up players of the student's instrument: right ones and faults, to be told apart."""
        student = _opened(token).student
        return answer(
            gallery(student.instrument, lambda one: reverse("own-pair-film", args=[token, one.id]))
        )


class PairFilmView(OwnPage):
    """One of those."""

    @extend_schema(exclude=True)
    def get(self, request: Request, token: str, loop: str) -> HttpResponseBase:
        """A film with byte ranges, or a tone as WAV; 404 for what is not in the library."""
        _opened(token)
        return serve_loop(request, loop)


class TicksView(OwnPage):
    """Days that were practised."""

    @extend_schema(
        request=shape(TickIn), responses=shape(PracticePage), operation_id="tick_own_day", auth=[]
    )
    def post(self, request: Request, token: str) -> Response:
        """Tick one, or take the own tick away."""
        return self.told(request, token, TickIn, services.tick)


class ReedsPlayedView(OwnPage):
    """Reeds that were played."""

    @extend_schema(
        request=shape(ReedPlayedIn),
        responses=shape(PracticePage),
        operation_id="play_own_reed",
        auth=[],
    )
    def post(self, request: Request, token: str) -> Response:
        """This reed, on this day."""
        return self.told(request, token, ReedPlayedIn, services.play_reed)


class WordsView(OwnPage):
    """Words to the teacher."""

    @extend_schema(
        request=shape(WordIn), responses=shape(PracticePage), operation_id="say_to_teacher", auth=[]
    )
    def post(self, request: Request, token: str) -> Response:
        """What was hard; or why an exercise was done again."""
        return self.told(request, token, WordIn, services.say)


class ManifestView(FromPhone):
    """What a phone wants to know to put the page on its home screen."""

    @extend_schema(exclude=True)
    def get(self, request: Request, token: str) -> HttpResponse:
        """A web application manifest (W3C) that begins at this link."""
        return HttpResponse(
            manifest(links.path_of(links.link_at(token))), content_type="application/manifest+json"
        )
