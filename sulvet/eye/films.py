"""Films and tones of the library over HTTP."""

from __future__ import annotations

from django.http import Http404, HttpResponse
from django.http.response import HttpResponseBase
from rest_framework.request import Request

from sulvet.core.eye.catalogue import by_id
from sulvet.core.eye.library import film_of
from sulvet.core.eye.loop import Loop
from sulvet.core.eye.schema import EAR
from sulvet.core.eye.tones import heard
from sulvet.core.sound.excerpt import wav
from sulvet.takes.api.ranged import serve


def serve_one(request: Request, loops: list[Loop], place: int) -> HttpResponseBase:
    """What is shown at a place of a round; 404 where there is nothing."""
    if place >= len(loops):
        raise Http404
    one = loops[place]
    if one.view == EAR:
        return HttpResponse(wav(heard(one)), "audio/wav")
    if not film_of(one).is_file():
        raise Http404
    return serve(request._request, film_of(one), "video/mp4")


def serve_loop(request: Request, loop: str) -> HttpResponseBase:
    """One by its id; 404 for what is not in the library."""
    found = by_id().get(loop)
    return serve_one(request, [found] if found else [], 0)
