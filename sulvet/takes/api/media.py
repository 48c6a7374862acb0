"""Clips and frames, to the teacher who owns them and to nobody else."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_safe

from sulvet.accounts.types import teacher_of
from sulvet.band.consent import refusal
from sulvet.core.video.clip import ClipError
from sulvet.takes.api.ranged import serve
from sulvet.takes.models import Take
from sulvet.takes.selectors import take_of
from sulvet.takes.stills import still


def _own(request: HttpRequest, take_id: int) -> Take:
    if not request.user.is_authenticated:
        raise Http404
    return take_of(teacher_of(request), take_id)


@require_safe
def clip(request: HttpRequest, take_id: int) -> HttpResponseBase:
    """The review copy, with byte ranges."""
    take = _own(request, take_id)
    closed = refusal(take.student)
    if closed is not None:
        return closed
    try:
        return serve(request, take.proxy, "video/mp4")
    except FileNotFoundError:
        raise Http404 from None


@require_safe
def frame(request: HttpRequest, take_id: int, number: int) -> HttpResponse:
    """One exact frame as JPEG."""
    take = _own(request, take_id)
    closed = refusal(take.student)
    if closed is not None:
        return closed
    if number >= len(take.frame_times) or not take.proxy.exists():
        raise Http404
    try:
        data = still(take, number)
    except ClipError as error:
        return HttpResponse(str(error), status=422, content_type="text/plain")
    return HttpResponse(data, content_type="image/jpeg")
