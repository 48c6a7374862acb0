"""Frames on the common sheet of two takes, to the teacher who owns both."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.views.decorators.http import require_safe

from sulvet.accounts.errors import Refused
from sulvet.accounts.numbers import number_of
from sulvet.accounts.types import teacher_of
from sulvet.band.consent import refusal
from sulvet.core.video.clip import ClipError
from sulvet.records import compare
from sulvet.records.pictures import frame_of, picture
from sulvet.takes.selectors import take_of


@require_safe
def onto(request: HttpRequest, take_id: int, other_id: int, number: int) -> HttpResponse:
    """A kept frame of one take as it lies on the sheet of another."""
    if not request.user.is_authenticated:
        raise Http404
    teacher = teacher_of(request)
    student = take_of(teacher, take_id).student
    closed = refusal(student)
    if closed is not None:
        return closed
    then, now = compare.whole(student, other_id), compare.whole(student, take_id)
    try:
        pair = compare.pair_of(then, now, face=request.GET.get("face") == "1")
        frame = frame_of(pair.now.stills.frames, number)
        if frame is None:
            raise Http404
        width = number_of(request.GET.get("width", ""))
        data = picture(pair, pair.now, frame, compare.SCREEN if width is None else width)
    except (ClipError, Refused) as error:
        return HttpResponse(str(error), status=422, content_type="text/plain")
    return HttpResponse(data, content_type="image/jpeg")
