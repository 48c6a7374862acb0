"""Who may do what: the one place where it is decided.

An administrator (``User.is_staff``) invites teachers, closes accounts, sets what counts for all of
the school and sees what could not be analysed there, and sees no other teacher's bands. A teacher
sees the own bands. A substitute sees and does in a teacher's bands what lessons need, until the
last day of the invitation, and none of what is listed here.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest, JsonResponse
from django.http.response import HttpResponseBase

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.accounts.models import Invitation
from sulvet.core.language import said

#: Under this name a session holds the teacher it stands in for.
ACTING = "acting_for"
READ = frozenset({"GET", "HEAD", "OPTIONS"})
CHANGE = frozenset({"POST", "PUT", "PATCH", "DELETE"})
DELETE = frozenset({"DELETE"})
#: Name of an address → what of it a substitute may not: all that takes pictures of children out of
#: the house, deletes, decides about consent, or is the teacher's own.
TEACHERS_ALONE: dict[str, frozenset[str]] = {
    "archive": READ | CHANGE, "encrypted-archive": CHANGE, "coming-archive": READ,
    "archive-piece": CHANGE, "archive-whole": CHANGE, "archives-out": CHANGE,
    "archive-out": READ | CHANGE, "student-data": READ,
    "band-table": READ, "table": READ, "export": READ,
    "student": DELETE, "take": DELETE, "close-up": DELETE, "one-of-bands": CHANGE, "bands": CHANGE,
    "band-names": CHANGE, "students": CHANGE, "student-facts": CHANGE, "roster": CHANGE,
    "consent": CHANGE, "retention": CHANGE, "links": CHANGE, "link": CHANGE, "open-booth": CHANGE,
    "own-standard": CHANGE, "shared-standard": CHANGE, "school": READ | CHANGE,
    "school-retention": CHANGE, "given-up": CHANGE, "school-days": CHANGE, "preferences": CHANGE,
    "hand": CHANGE, "reed-boxes": CHANGE, "transfer": CHANGE,
    "invitations": CHANGE, "invitation": CHANGE, "access-log": READ,
}  # fmt: skip
NOT_YOURS = "You are standing in for {name}. Only {name} can do this."


def hosts_of(account: User) -> list[Invitation]:
    """The teachers somebody stands in for today, by invitation."""
    today = local_time.today()
    return list(
        Invitation.objects.filter(
            guest=account, role=Invitation.Role.SUBSTITUTE, ended_at=None, until__gte=today,
            host__is_active=True,
        ).select_related("host")
    )  # fmt: skip


def act_for(request: HttpRequest, host: int | None) -> None:
    """From now on this session sees that teacher's bands; none: its own."""
    if host is None:
        request.session.pop(ACTING, None)
        request.acting_for = None  # type: ignore[attr-defined]
        return
    account = request.user
    assert isinstance(account, User)
    found = next((one.host for one in hosts_of(account) if one.host_id == host), None)
    if found is None:
        raise Refused("You don't stand in for this teacher, or not any more.")
    request.session[ACTING] = host
    request.acting_for = found  # type: ignore[attr-defined]


class Roles:
    """Knows for whom a request acts, and refuses what is not for its role."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer; ``request.acting_for`` is the teacher stood in for, or None."""
        number, account = request.session.get(ACTING), request.user
        host = None
        if number is not None and isinstance(account, User):
            host = next((one.host for one in hosts_of(account) if one.host_id == number), None)
        request.acting_for = host  # type: ignore[attr-defined]
        return self.get_response(request)

    def process_view(
        self, request: HttpRequest, view: Any, args: Any, kwargs: Any
    ) -> HttpResponseBase | None:
        """403 with a sentence for what a substitute may not."""
        del view, args, kwargs
        host, match = request.acting_for, request.resolver_match  # type: ignore[attr-defined]
        if host is None or match is None:
            return None
        if request.method not in TEACHERS_ALONE.get(match.url_name or "", frozenset()):
            return None
        name = host.get_username()
        return JsonResponse({"detail": said(NOT_YOURS, name=name)}, status=403)


def demand_administrator(account: User) -> None:
    """Refused for anybody else."""
    if not account.is_staff:
        raise Refused("Only an administrator can do this.")
