"""What the booth's screen knows: first names of one section, and the prompts."""

from __future__ import annotations

import datetime
from collections import Counter
from dataclasses import dataclass
from typing import Literal

from django.conf import settings

from sulvet.band.consent import closed
from sulvet.band.models import Student
from sulvet.booth.models import Booth, BoothTake
from sulvet.core.judgement.common import worded
from sulvet.core.judgement.intended_note import stage_label
from sulvet.core.language import said
from sulvet.core.lessons import booth as core
from sulvet.core.sound import notes
from sulvet.standards.selectors import standard_of

View = Literal["front", "side"]
NO_CONSENT = "Your teacher has to note your parents' consent first."


@dataclass(frozen=True)
class BoothStudent:
    """One who may sit down: how they are called here, what they have filmed, and why not.

    front, side  the take filmed in this booth, None while there is none
    target       the note to aim at, on what, and its Hz; empty without one
    focus        the one thing to work on, in a child's words; empty unless the teacher allows it
    """

    id: int
    name: str
    instrument: str
    front: int | None
    side: int | None
    why_not: str
    target: str
    target_on: str
    target_hz: float | None
    focus: str


@dataclass(frozen=True)
class BoothPrompt:
    """One thing that is asked for, for so many seconds; counted where ``counts`` is said."""

    id: str
    words: str
    side: str
    seconds: float
    counts: int | None


@dataclass(frozen=True)
class BoothPage:
    """All that the screen knows.

    stand_in  whether a made-up student may play where there is no camera
    """

    section: str
    until: datetime.datetime
    counts: int
    stand_in: bool
    prompts: list[BoothPrompt]
    students: list[BoothStudent]


def booth_page(booth: Booth) -> BoothPage:
    """Who may film, and what they are led through."""
    students = list(booth.section.students.select_related("section__band").order_by("name"))
    called = first_names(students)
    filmed = _filmed(booth)
    return BoothPage(
        booth.section.name, booth.until, booth.counts, stands_in(booth), _prompts(booth.counts),
        [_student(booth, one, called[one.pk], filmed.get(one.pk, {})) for one in students],
    )  # fmt: skip


def stands_in(booth: Booth) -> bool:
    """Whether the band of a booth is made up."""
    return booth.teacher.username in settings.STAND_IN_ACCOUNTS


def _student(booth: Booth, student: Student, name: str, filmed: dict[str, int]) -> BoothStudent:
    standard = standard_of(booth.teacher, student.instrument)
    target = next(
        (t for t in standard.targets if t.stage == "instrument"),
        next(iter(standard.targets), None),
    )
    words = "" if target is None else stage_label(standard, target.stage)
    return BoothStudent(
        student.pk, name, standard.name, filmed.get("front"), filmed.get("side"),
        said(NO_CONSENT) if closed(student) else "", "" if target is None else target.pitch, words,
        None if target is None else round(notes.hz_of(target.pitch), 2),
        worded(student.focus, student.family).child if booth.focus and student.focus else "",
    )  # fmt: skip


def first_names(students: list[Student]) -> dict[int, str]:
    """How each is called: the first name, with an initial where two have the same.

    The whole name only where that is not enough.
    """
    firsts = {one.pk: one.name.split()[0] for one in students}
    initials = {
        one.pk: " ".join([firsts[one.pk], *(f"{part[0]}." for part in one.name.split()[1:])])
        for one in students
    }
    once, twice = Counter(firsts.values()), Counter(initials.values())
    return {
        one.pk: firsts[one.pk]
        if once[firsts[one.pk]] == 1
        else initials[one.pk]
        if twice[initials[one.pk]] == 1
        else one.name
        for one in students
    }


def _filmed(booth: Booth) -> dict[int, dict[str, int]]:
    """Student → view → the newest take filmed in this booth that can be read."""
    found: dict[int, dict[str, int]] = {}
    rows = BoothTake.objects.filter(booth=booth, readable=True).order_by("pk")
    for student, take, view in rows.values_list("student", "take", "take__view"):
        found.setdefault(student, {})[view] = take
    return found


def _prompts(counts: int) -> list[BoothPrompt]:
    rows = []
    for prompt in core.booth().prompts:
        begin, end = core.stretches(counts)[prompt.phase]
        counted = counts if prompt.phase == "hold" else prompt.counts
        rows.append(
            BoothPrompt(prompt.id, prompt.words, prompt.side or prompt.words, end - begin, counted)
        )
    return rows
