"""Sessions that nobody uses end."""

from __future__ import annotations

import time
from collections.abc import Callable

from django.conf import settings
from django.contrib.auth import logout
from django.http import HttpRequest
from django.http.response import HttpResponseBase

SEEN = "seen"
#: How often it is written down that a session is used, s: not with every frame that is shown.
EVERY = 300.0


class IdleTimeout:
    """Logs out who has not asked for anything in ``IDLE_MINUTES``."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, as to nobody if the session was left alone."""
        if request.session.session_key and request.user.is_authenticated:
            now, seen = time.time(), request.session.get(SEEN)
            if seen is not None and now - seen > settings.IDLE_MINUTES * 60:
                logout(request)
            elif seen is None or now - seen > EVERY:
                request.session[SEEN] = now
        return self.get_response(request)
