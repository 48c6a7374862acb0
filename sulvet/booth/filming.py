"""Takes that students film of themselves: looked at at once, analysed later."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.core.files.uploadedfile import UploadedFile
from django.utils import timezone

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
    before = _again(booth, student, again)
    facts = TakeFacts(view, Take.Purpose.CHECK, timezone.localdate())
    asked = stretches(booth.counts)
    prompts = [{"name": name, "start": a, "end": b} for name, (a, b) in asked.items()]
    take = uploads.add_take(student, upload, facts, prompts)
    BoothTake.objects.create(booth=booth, student=student, take=take)
    if before is not None:
        uploads.delete_take(before)
    advice = _look(booth, take)
    return Filmed(take.pk, not advice, advice)


def _again(booth: Booth, student: Student, number: int | None) -> Take | None:
    """The take that is filmed again; only one of this booth and this student, not yet looked at."""
    if number is None:
        return None
    found = BoothTake.objects.filter(booth=booth, student=student, take=number)
    kept = found.select_related("take").first()
    return kept.take if kept is not None and kept.take.read_at is None else None


def _look(booth: Booth, take: Take) -> str:
    asked = stretches(booth.counts)
    standard = standard_of(booth.teacher, take.student.instrument)
    try:
        return sandbox.first_look(
            take.clip, take.view, standard.family, asked["rest"], asked["hold"],
            playing_range(standard),
        )  # fmt: skip
    except (ClipError, sandbox.ChildEnded) as error:
        return str(error)
