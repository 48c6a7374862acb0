"""Bodies of requests: never more than an address takes, never half of one for the whole."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse

from sulvet.core.language import gettext_noop, said
from sulvet.core.video.clip import MAX_BYTES

#: What a form around a file adds at most, bytes.
AROUND = 1_000_000
TRIM = gettext_noop("Trim it to the few seconds that matter, or film at a lower resolution.")
#: By address: the largest body, bytes, and what to do; a band's archive, what holds a clip or
#: photos, anything else.
LIMITS = (
    (re.compile(r"^/api/archive"), 200_000_000_000, gettext_noop("Restore it from the shell.")),
    (re.compile(r"^/api/(students/\d+/(takes|close-ups|photos)/|booth/takes/|film/)"), MAX_BYTES,
     TRIM),
    (re.compile(""), 25_000_000, gettext_noop("Send less at once.")),
)  # fmt: skip


class BodySizes:
    """Refuses by the announced length, before anything of a body is read."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer; 413 with a sentence where too much is announced."""
        _, most, advice = next(row for row in LIMITS if row[0].match(request.path))
        length = int(request.META.get("CONTENT_LENGTH") or 0)
        if length <= most + AROUND:
            return self.get_response(request)
        told = said(
            "This has {length:.0f} MB; the limit is {most:.0f} MB. {advice}",
            length=length / 1000000.0,
            most=most / 1000000.0,
            advice=said(advice),
        )
        return JsonResponse({"detail": told}, status=413)


WSGI = Callable[[dict[str, Any], Any], Iterable[bytes]]


def whole_bodies(application: WSGI) -> WSGI:
    """An application that fails where a connection ends before all of a body has come.

    Else half a clip would be taken for a whole one.
    """

    def run(environ: dict[str, Any], start_response: Any) -> Iterable[bytes]:
        length = environ.get("CONTENT_LENGTH") or "0"
        if length.isdecimal():
            environ["wsgi.input"] = _Counted(environ["wsgi.input"], int(length))
        return application(environ, start_response)

    return run


class _Counted:
    """A body that must have a length."""

    def __init__(self, body: Any, length: int) -> None:
        self.body, self.left = body, length

    def read(self, size: int = -1) -> bytes:
        """As of any file; OSError where it ends too early."""
        wanted = self.left if size < 0 else min(size, self.left)
        return self._counted(self.body.read(wanted), wanted)

    def readline(self, size: int = -1) -> bytes:
        """As of any file; OSError where it ends too early."""
        piece = self.body.readline(self.left if size < 0 else min(size, self.left))
        return self._counted(piece, 1 if self.left else 0)

    def _counted(self, piece: bytes, least: int) -> bytes:
        self.left -= len(piece)
        if len(piece) < least:
            raise OSError("The connection ended before all of it had come.")
        return piece
