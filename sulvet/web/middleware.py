"""Headers of every answer."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

#: Everything comes from this server. Frames are shown as object URLs (blob:);
#: inline styles are what positions the drawing.
POLICY = (
    "default-src 'self'; img-src 'self' blob: data:; media-src 'self' blob:; "
    "style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'self'; form-action 'self'"
)


class ContentSecurityPolicy:
    """Tells the browser to fetch nothing from elsewhere."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer with the header, unless a view has set its own."""
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response


#: What belongs to somebody, as against the program itself.
PRIVATE = ("/api/", "/private/")


class NothingKept:
    """Nothing of a band stays on a browser's disk."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """The answer, not to be stored."""
        response = self.get_response(request)
        if request.path.startswith(PRIVATE):
            response.headers["Cache-Control"] = "private, no-store"
        return response
