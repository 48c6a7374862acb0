"""The page that holds the whole front end."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """``index.html`` for every address the front end routes by itself."""
    file = settings.FRONTEND_DIST / "index.html"
    if not file.is_file():
        return HttpResponse(
            "The front end is not built. Run: python3 run.py setup",
            status=503,
            content_type="text/plain",
        )
    return HttpResponse(file.read_bytes(), content_type="text/html; charset=utf-8")


def health(request: HttpRequest) -> HttpResponse:
    """That the server answers, to what started it or stands before it."""
    del request
    return HttpResponse("ok\n", content_type="text/plain")
