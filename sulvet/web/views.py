"""The page that holds the whole front end."""

from __future__ import annotations

from pathlib import Path

from django.conf import settings
from django.http import Http404, HttpRequest, HttpResponse
from django.utils.translation import get_language
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """``index.html`` for every address the front end routes by itself."""
    del request
    return _index()


@never_cache
def page_of_link(request: HttpRequest, token: str) -> HttpResponse:
    """The same for a link on a phone: nobody logs in there, so it gets no cookie."""
    del request, token
    return _index()


@never_cache
def practice_worker(request: HttpRequest) -> HttpResponse:
    """The worker of the student's page: beside the links, since it answers for what lies there."""
    del request
    return _built("practice-worker.js", "text/javascript; charset=utf-8")


def _index() -> HttpResponse:
    """The page in the language of the request: the front end speaks what it says."""
    answer = _built("index.html", "text/html; charset=utf-8")
    spoken = (get_language() or settings.LANGUAGE_CODE).split("-")[0]
    answer.content = answer.content.replace(b'<html lang="en">', f'<html lang="{spoken}">'.encode())
    answer["Content-Language"] = spoken
    return answer


def _built(name: str, kind: str) -> HttpResponse:
    file = settings.FRONTEND_DIST / name
    if not file.is_file():
        return HttpResponse(
            "The front end is not built. Run: python3 run.py setup",
            status=503,
            content_type="text/plain",
        )
    return HttpResponse(file.read_bytes(), content_type=kind)


def health(request: HttpRequest) -> HttpResponse:
    """That the server answers, to what started it or stands before it."""
    del request
    return HttpResponse("ok\n", content_type="text/plain")


def authority(request: HttpRequest) -> HttpResponse:
    """Who signs for this computer, to be trusted by the devices of the room; 404 where another
    server speaks HTTPS, or nobody does."""
    del request
    file = Path(settings.CERTIFICATE) / "authority.crt"
    if not settings.CERTIFICATE or not file.is_file():
        raise Http404
    return HttpResponse(file.read_bytes(), content_type="application/x-x509-ca-cert")
