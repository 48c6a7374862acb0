"""Clips and frames, to the teacher who owns them and to nobody else."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse, HttpResponseRedirect
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_safe

from sulvet.accounts.types import teacher_of
from sulvet.band.consent import refusal
from sulvet.core.sound.excerpt import excerpt, wav
from sulvet.core.video.clip import ClipError
from sulvet.core.video.proxy import PROXY
from sulvet.takes import sound, storage
from sulvet.takes.api.ranged import serve
from sulvet.takes.models import Take
from sulvet.takes.selectors import take_of
from sulvet.takes.stills import still

#: A tone begins no further from when it is asked for, s.
SAME_TONE = 0.01


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
    elsewhere = storage.signed(take.folder, PROXY) if take.has(PROXY) else ""
    if elsewhere:
        return HttpResponseRedirect(elsewhere)
    try:
        return serve(request, take.proxy, "video/mp4")
    except FileNotFoundError:
        raise Http404 from None


@require_safe
def tone(request: HttpRequest, take_id: int) -> HttpResponse:
    """One tone alone as WAV, as loud as any other: which is said by when it begins."""
    take = _own(request, take_id)
    closed = refusal(take.student)
    if closed is not None:
        return closed
    kept = sound.current(take)
    heard = None if kept is None else sound.sound_analysis(kept)
    try:
        begins = float(request.GET.get("start", ""))
    except ValueError:
        raise Http404 from None
    near = [t for t in heard.tones if abs(t.start - begins) < SAME_TONE] if heard else []
    recording = sound.recording(take.clip) if near else None
    if recording is None:
        raise Http404
    return HttpResponse(
        wav(excerpt(recording, near[0].start, near[0].end)), content_type="audio/wav"
    )


@require_safe
def frame(request: HttpRequest, take_id: int, number: int) -> HttpResponse:
    """One exact frame as JPEG."""
    take = _own(request, take_id)
    closed = refusal(take.student)
    if closed is not None:
        return closed
    if number >= len(take.frame_times) or not take.has(PROXY):
        raise Http404
    try:
        data = still(take, number)
    except ClipError as error:
        return HttpResponse(str(error), status=422, content_type="text/plain")
    return HttpResponse(data, content_type="image/jpeg")
