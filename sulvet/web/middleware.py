"""Headers of every answer."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase

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


class HeadWithoutBody:
    """To HEAD the head alone (RFC 9110, section 9.3.2), with the length that GET would have."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponseBase]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        """The answer; without its body where only the head was asked for."""
        response = self.get_response(request)
        if request.method != "HEAD":
            return response
        if isinstance(response, StreamingHttpResponse):
            response.streaming_content = []
        elif isinstance(response, HttpResponse):
            response.headers.setdefault("Content-Length", str(len(response.content)))
            response.content = b""
        return response
