"""Where a request comes from: the time zone of the school, its paper, and its language.

What the teacher has set is kept in the session, so that no request asks the database for it;
what is not set is told by the browser.
"""

from __future__ import annotations

import zoneinfo
from collections.abc import Callable
from contextlib import AbstractContextManager
from dataclasses import asdict, dataclass
from functools import cache
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.contrib.auth.signals import user_logged_in
from django.dispatch import receiver
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone, translation

from sulvet.accounts.errors import Refused
from sulvet.accounts.models import Preferences
from sulvet.core.formats.slip import PAPERS
from sulvet.core.language import speaking

#: The browser's time zone, as the page writes it down.
COOKIE = "sulvet-zone"
SESSION_KEY = "preferences"


@dataclass(frozen=True)
class Wishes:
    """What a teacher has set; empty where nothing."""

    time_zone: str = ""
    paper: str = ""
    language: str = ""


@cache
def time_zones() -> frozenset[str]:
    """All that can be chosen."""
    # Those with a slash are places; the others are old names and offsets.
    places = (name for name in zoneinfo.available_timezones() if "/" in name)
    return frozenset({"UTC"} | {n for n in places if not n.startswith(("Etc/", "SystemV/"))})


def known_paper(name: str) -> str:
    """The same name; refused where there is no such paper."""
    if name not in PAPERS:
        raise Refused("Paper is “a4” or “letter”.")
    return name


def paper_of(request: HttpRequest) -> str:
    """What to print on: what the teacher has set, else what the page asks for, else A4."""
    kept = request.session.get(SESSION_KEY, {}).get("paper")
    return kept or known_paper(request.GET.get("paper", "a4"))


def wishes_of(user: User) -> Wishes:
    """What a teacher has set."""
    row = Preferences.objects.filter(teacher=user).first()
    return Wishes(row.time_zone, row.paper, row.language) if row else Wishes()


def set_wishes(request: HttpRequest, user: User, wishes: Wishes) -> None:
    """Keep what a teacher wants: in this session from now on, in others from their next login.

    Refused where there is no such time zone, paper or language.
    """
    if wishes.time_zone and wishes.time_zone not in time_zones():
        raise Refused(
            "Unknown time zone “{time_zone}”. Choose one of the list.", time_zone=wishes.time_zone
        )
    if wishes.paper:
        known_paper(wishes.paper)
    if wishes.language and wishes.language not in dict(settings.LANGUAGES):
        raise Refused(
            "Sulvet does not speak “{language}”. Choose a language of the list.",
            language=wishes.language,
        )
    Preferences.objects.update_or_create(teacher=user, defaults=asdict(wishes))
    request.session[SESSION_KEY] = asdict(wishes)
    if wishes.time_zone:
        timezone.activate(wishes.time_zone)  # the answer counts days so already


def zone_of(user: User, otherwise: str = "") -> AbstractContextManager[None]:
    """The teacher's own time zone, where days are counted without a request of theirs.

    otherwise  the zone while the teacher has set none; nothing where there is no such zone
    """
    name = wishes_of(user).time_zone or (otherwise if otherwise in time_zones() else "")
    return timezone.override(zoneinfo.ZoneInfo(name) if name else None)


@receiver(user_logged_in)
def remember(request: HttpRequest, user: User, **_: Any) -> None:
    """Keep what is set in the session that begins."""
    request.session[SESSION_KEY] = asdict(wishes_of(user))


class SchoolPlace:
    """Every request in the time zone of its school, and in its language."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, with days as they are counted there and words as they are spoken there."""
        wishes = request.session.get(SESSION_KEY, {})
        zone = wishes.get("time_zone") or request.COOKIES.get(COOKIE, "")
        known = zoneinfo.ZoneInfo(zone) if zone in time_zones() else None
        spoken = wishes.get("language") or translation.get_language_from_request(request)
        with timezone.override(known), translation.override(spoken), speaking(spoken):
            return self.get_response(request)
