"""Sessions that nobody uses end.

When one was begun stands in it, and when it was used last in a signed cookie: looking at a page
writes nothing into the database.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.contrib.auth.signals import user_logged_in
from django.core.signing import BadSignature, TimestampSigner
from django.dispatch import receiver
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from sulvet.core import clock

COOKIE, BEGUN = "sulvet-used", "begun"
#: How often the cookie is written anew, s: not with every frame that is shown.
EVERY = 300
_signer = TimestampSigner(salt="sulvet.accounts.idle")


class IdleTimeout:
    """Logs out who has not asked for anything in ``IDLE_MINUTES``."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, as to nobody if the session was left alone."""
        key = request.session.session_key
        if key and request.user.is_authenticated and not _used(request, settings.IDLE_MINUTES * 60):
            logout(request)
        response = self.get_response(request)
        key = request.session.session_key
        if key and request.user.is_authenticated and not _signed(request, EVERY):
            response.set_cookie(
                COOKIE, _signer.sign(key), httponly=True, samesite="Lax",
                secure=settings.SESSION_COOKIE_SECURE,
            )  # fmt: skip
        return response


@receiver(user_logged_in)
def begin(request: HttpRequest, **_: Any) -> None:
    """Note in the session itself when it was begun: a login elsewhere must not revive it."""
    request.session[BEGUN] = clock.timestamp()


def _used(request: HttpRequest, seconds: int) -> bool:
    """Whether this session was begun or used in so many seconds."""
    begun = request.session.get(BEGUN, 0.0)
    return clock.timestamp() - begun < seconds or _signed(request, seconds)


def _signed(request: HttpRequest, seconds: int) -> bool:
    """Whether the cookie says that this session was used in so many seconds."""
    try:
        kept = _signer.unsign(request.COOKIES.get(COOKIE, ""), max_age=seconds)
    except BadSignature:
        return False
    return kept == request.session.session_key
