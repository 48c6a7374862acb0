"""Up and down the first-lesson ladder; rests on the band alone."""

from __future__ import annotations

from collections.abc import Iterable

from django.db import transaction

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.judgement.common import observations
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.judgement.triage import triage
from sulvet.core.lessons.ladder import (
    ladder_of,
    set_up_card,
    step_after,
    step_before,
    step_ids,
)
from sulvet.core.lessons.schema import Step
from sulvet.lessons.models import LadderMove, Standing

PASS, BACK, NO_SOUND = "pass", "back", "no-sound"


def standing_of(student: Student) -> Standing:
    """Where a student stands; at the first step while nothing was said, and not stored then."""
    return getattr(student, "standing", None) or Standing(student=student, since=local_time.today())


def steps_for(student: Student) -> tuple[Step, ...]:
    """The student's ladder, without what is left out."""
    return ladder_of(shipped_standard(student.instrument), standing_of(student).without)


def step_at(student: Student) -> Step | None:
    """The step a student is at; None once all are passed. One left out counts as the next."""
    steps, at = steps_for(student), standing_of(student).step
    found = next((step for step in steps if step.id == at), None)
    if found is None and at:
        later = step_after(steps, at)
        found = next((step for step in steps if step.id == later), None)
    return found


def has_passed(student: Student, step_id: str) -> bool:
    """Whether a student has a step behind. Who was never led up the ladder has all of them."""
    kept = Standing.objects.filter(student=student).first()
    if kept is None or not kept.step:
        return True
    order = step_ids()
    return order.index(kept.step) > order.index(step_id)


def heard_on(step: Step, family: str) -> list[str]:
    """What may be heard where there is no sound at a step: what there is a remedy for."""
    if not step.remedial:
        return []
    known = observations().of(family)
    return [one.id for one in known if triage({one.id}, family, set())]


@transaction.atomic
def move(students: Iterable[Student], do: str, heard: str = "") -> None:
    """Pass the step the students are at, take them back one, or say what is heard instead of a
    sound.

    heard  an observation; only where there is no sound
    """
    today = local_time.today()
    for student in students:
        kept, step = standing_of(student), step_at(student)
        if step is None:
            if do != BACK:
                continue
            last = steps_for(student)[-1]
            kept.step, kept.since, kept.heard = last.id, today, ""
            _record(kept, last.id, LadderMove.What.BACK)
            continue
        if do == NO_SOUND:
            if heard not in heard_on(step, student.family):
                raise Refused(
                    "{name} is at “{step}”. Say that there is no sound at a step that asks for "
                    "one, and choose what is heard from the list.",
                    name=student.name,
                    step=step.name,
                )
            kept.heard = heard
            if kept._state.adding:
                kept.since = today
            _record(kept, step.id, LadderMove.What.NO_SOUND)
            continue
        steps = steps_for(student)
        after = step_after(steps, step.id) if do == PASS else step_before(steps, step.id)
        if do == BACK and after is None:
            continue
        kept.step, kept.since, kept.heard = after or "", today, ""
        what = LadderMove.What.PASSED if do == PASS else LadderMove.What.BACK
        _record(kept, step.id, what)


def _record(kept: Standing, step: str, what: LadderMove.What) -> None:
    kept.save()
    LadderMove.objects.create(student=kept.student, step=step, what=what, on=local_time.today())


def tick(student: Student, lines: list[str]) -> None:
    """All ticked lines of the set-up card as they stand now."""
    known = [line.id for line in set_up_card(shipped_standard(student.instrument))]
    if not set(lines) <= set(known):
        raise Refused("This line is not on the set-up card. Reload the page.")
    kept = standing_of(student)
    kept.set_up = [line for line in known if line in lines]
    kept.save()


def leave_out(student: Student, without: str) -> None:
    """Leave something out while it is too much at once; an empty word takes that back."""
    kept = standing_of(student)
    kept.without = without
    kept.save()
