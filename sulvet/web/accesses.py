"""Which requests are told in the access log, and as what."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest
from django.http.response import HttpResponseBase

from sulvet.accounts import access_log
from sulvet.accounts.access_log import DELETED, EXPORTED, OPENED

#: Name of an address → what is done there, and to what; in braces what the address says.
TOLD: dict[str, tuple[str, str]] = {
    "take": (OPENED, "take {take_id}"),
    "clip": (OPENED, "clip of take {take_id}"),
    "then-and-now": (OPENED, "comparison of student {student_id}"),
    "student": (OPENED, "student {student_id}"),
    "close-up": (OPENED, "close-up {close_up_id}"),
    "slip": (EXPORTED, "slip of take {take_id}"),
    "slips": (EXPORTED, "slips"),
    "encrypted-archive": (EXPORTED, "whole band, encrypted"),
    "archive": (EXPORTED, "whole band"),
    "archive-out": (EXPORTED, "whole band, to be moved"),
    "student-data": (EXPORTED, "all of student {student_id}"),
    "band-table": (EXPORTED, "{kind} of the band"),
    "table": (EXPORTED, "{kind} of {of} {number}"),
    "export": (EXPORTED, "{kind} of take {take_id}"),
    "notes-vtt": (EXPORTED, "notes of take {take_id}"),
    "sectionals-csv": (EXPORTED, "sectionals"),
    "rechecks-ics": (EXPORTED, "rechecks"),
}


class AccessLog:
    """Notes who opened, exported and deleted what."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer; noted if it was one."""
        response = self.get_response(request)
        match = request.resolver_match
        told = TOLD.get(match.url_name or "") if match else None
        if told is None or match is None or response.status_code >= 400:
            return response
        action, what = told
        if request.method == "DELETE":
            action = DELETED
        elif request.method != "GET" and match.url_name != "encrypted-archive":
            return response
        if request.user.is_authenticated:
            done, who = what.format(**match.kwargs), request.user.get_username()
            host = getattr(request, "acting_for", None)
            # Whose band it is sees what was done there in their place.
            done, who = (f"{done}, by {who}", host.get_username()) if host else (done, who)
            access_log.note(who, action, done)
        return response
