"""Takes that students film of themselves: looked at at once, analysed later."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.db.models import Q

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.booth.models import Booth, BoothTake
from sulvet.core import sandbox
from sulvet.core.judgement.intended_note import playing_range
from sulvet.core.lessons.booth import stretches
from sulvet.core.video.clip import ClipError
from sulvet.standards.selectors import standard_of
from sulvet.takes import uploads
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Take

Stretch = tuple[float, float]
NOT_HERE = "You are not on this screen's list. Ask your teacher."


@dataclass(frozen=True)
class Filmed:
    """A take as its student sees it: whether it can be read, and what to do if not."""

    take: int
    readable: bool
    advice: str


def student_in(booth: Booth, number: int) -> Student:
    """A student of the booth's section; refused for anybody else."""
    found = booth.section.students.filter(pk=number).select_related("section__band").first()
    if found is None:
        raise Refused(NOT_HERE)
    return found


def film(
    booth: Booth, student: Student, view: str, upload: UploadedFile[Any], again: int | None
) -> Filmed:
    """Take a clip in, and look at once whether it can be read.

    again  the take of this booth that is filmed again: it goes once this one is there
    """
    before = _again(booth, student, view, again)
    facts = TakeFacts(view, Take.Purpose.CHECK, local_time.today())
    asked = stretches(booth.counts)
    prompts = [{"name": name, "start": a, "end": b} for name, (a, b) in asked.items()]
    take = uploads.add_take(student, upload, facts, prompts, urgency="booth")
    kept = BoothTake.objects.create(booth=booth, student=student, take=take)
    for old in before:
        uploads.delete_take(old)
    filmed = looked_at(take, asked["rest"], asked["hold"])
    kept.readable = filmed.readable
    kept.save(update_fields=["readable"])
    return filmed


def _again(booth: Booth, student: Student, view: str, number: int | None) -> list[Take]:
    """What is filmed again: that take, and what could not be read from this side before.

    Only takes of this booth and this student that the teacher has not looked at.
    """
    mine = BoothTake.objects.filter(booth=booth, student=student, take__read_at=None)
    unread = Q(readable=False, take__view=view)
    found = mine.filter(unread if number is None else unread | Q(take=number))
    return [kept.take for kept in found.select_related("take")]


def looked_at(take: Take, rest: Stretch, playing: Stretch) -> Filmed:
    """Whether a take can be read, by some pictures of the relaxed face and by its sound.

    rest, playing  when the student was to relax and to play, s
    """
    student = take.student
    standard = standard_of(student.section.band.teacher, student.instrument)
    try:
        advice = sandbox.first_look(
            take.clip, take.view, standard.family, rest, playing, playing_range(standard)
        )
    except (ClipError, sandbox.ChildEnded) as error:
        advice = str(error)
    return Filmed(take.pk, not advice, advice)
