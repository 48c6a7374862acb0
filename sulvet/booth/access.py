"""Who may ask what of a booth: nobody is logged in there, and nothing else answers it.

Opening a booth logs the teacher out of the browser and puts the booth's number into a new session.
Every other address wants a logged-in teacher, so that a booth can't reach it.
"""

from __future__ import annotations

import datetime

from django.contrib.auth import authenticate, login, logout
from django.contrib.auth.models import AnonymousUser, User
from drf_spectacular.authentication import SessionScheme
from rest_framework.authentication import SessionAuthentication
from rest_framework.exceptions import PermissionDenied
from rest_framework.permissions import BasePermission
from rest_framework.request import Request
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.types import BOOTH
from sulvet.band.models import Section
from sulvet.booth.models import Booth
from sulvet.core import clock
from sulvet.core.language import said
from sulvet.core.lessons.booth import booth as shipped

#: A booth that nobody ends, ends by itself.
LONGEST = datetime.timedelta(hours=8)
WRONG = "This is not the password of the teacher who opened the booth."


class BoothAuthentication(SessionAuthentication):
    """The booth of a session, as ``request.auth``; nobody as its user."""

    def authenticate(self, request: Request) -> tuple[AnonymousUser, Booth] | None:
        """Nothing where this session is no booth, or one that has ended."""
        number = request._request.session.get(BOOTH, 0)
        found = Booth.objects.filter(pk=number).select_related("section__band", "teacher").first()
        if found is None or not found.open:
            return None
        self.enforce_csrf(request)
        return AnonymousUser(), found


CLOSED = "The booth is closed. Ask your teacher to open it again."


class InBooth(BasePermission):
    """Only from a booth that is open."""

    def has_permission(self, request: Request, view: APIView) -> bool:
        """Whether the session is that of an open booth; said as such where it is not."""
        if not isinstance(request.auth, Booth):
            raise PermissionDenied(said(CLOSED))
        return True


def booth_of(request: Request) -> Booth:
    """The booth of a view that only lets booths in."""
    assert isinstance(request.auth, Booth)
    return request.auth


def open_booth(
    request: Request, teacher: User, section: Section, counts: int, focus: bool = False
) -> Booth:
    """Hand this browser over to the students of a section.

    focus  each sees the one sentence of the own focus
    """
    if counts not in shipped().counts:
        raise Refused("Choose how many counts are played.")
    made = Booth.objects.create(
        teacher=teacher, section=section, counts=counts, focus=focus, until=clock.now() + LONGEST
    )  # fmt: skip
    logout(request._request)
    request._request.session.cycle_key()
    request._request.session[BOOTH] = made.pk
    return made


def end_booth(request: Request, booth: Booth, password: str) -> None:
    """Give the browser back to the teacher; refused without the password."""
    user = authenticate(request._request, username=booth.teacher.username, password=password)
    if user is None or user.pk != booth.teacher_id:
        raise Refused(WRONG)
    booth.ended = True
    booth.save(update_fields=["ended"])
    request._request.session.pop(BOOTH, None)
    login(request._request, user)


class BoothScheme(SessionScheme):  # type: ignore[no-untyped-call]
    """In the schema a booth is a session, as a teacher's login is."""

    target_class = "sulvet.booth.access.BoothAuthentication"
    name = "boothAuth"
