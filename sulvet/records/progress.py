"""How a student's mouth stands against an earlier take, said to the student; reads only."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.judgement.change import BETTER, OTHER, SAME, WORSE
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import on_day, said
from sulvet.plans.models import Plan
from sulvet.records import compare
from sulvet.takes.analysis import drawing_of, stills_of
from sulvet.takes.models import Take

#: How it stands, said to a child.
KIND = {
    BETTER: "Clearly better than on {day}. Keep it up!",
    WORSE: "On {day} it was closer to where it should be. You can get there again.",
    OTHER: "It has changed since {day}.",
    SAME: "About the same as on {day}. Now it's time for a change.",
}


@dataclass(frozen=True)
class Progress:
    """A take beside the one before it.

    then      the earlier one; None where there is none that shows the same
    pair      both on one sheet (the take twice without an earlier one); None where that can't be
    phase     in which they are compared
    measures  what the focus rests on
    words     how it stands, to a child;  figures  the same measured; both may be empty
    """

    then: Take | None
    pair: compare.Pair | None
    phase: str
    measures: tuple[str, ...]
    words: str
    figures: str


def progress(
    student: Student, plan: Plan | None, take: Take, fault: str, standard: Standard, face: bool
) -> Progress:
    """Lay a take beside an earlier one.

    fault  what the student works on;  face  show the eyes as well, not the mouth alone
    """
    then = _then(student, plan, take)
    measures = compare.focus_measures(fault, take.view, take, *([then] if then else []))
    phase = next((f.phase for f in take.findings.all() if f.fault == fault), compare.PHASE)
    pair = _pair(then or take, take, phase, face)
    words = figures = ""
    if then is not None and pair is not None:
        school = standard.school(student.school or None).id
        rows = compare.changes(pair, standard, school, measures)
        first = next((row for row in rows if row["focus"]), None)
        if first is not None and first["answer"] in KIND:
            day = on_day(then.filmed_on)
            words, figures = said(KIND[first["answer"]], day=day), first["sentence"]
    return Progress(then, pair, phase, measures, words, figures)


def _pair(then: Take, now: Take, phase: str, face: bool) -> compare.Pair | None:
    """Both on one sheet; None when they can't be laid there."""
    try:
        return compare.pair_of(then, now, phase, face)
    except Refused:
        return None


def _then(student: Student, plan: Plan | None, take: Take) -> Take | None:
    """The take to lay beside this one: the plan's, else the one before."""
    takes = list(compare.takes_to_compare(student))
    chosen = compare.proposed([t for t in takes if t.filmed_on <= take.filmed_on], plan, take.pk)
    if chosen is None or chosen[1].pk != take.pk:
        return None
    then = compare.whole(student, chosen[0].pk)
    fault = compare.focus_for(student, plan, take)
    measures = compare.focus_measures(fault, take.view, take, then)
    readings = compare.readings_of(then, compare.PHASE)
    if measures and (measures[0] not in readings or readings[measures[0]].value is None):
        # Of a mouth without its mouthpiece a student learns nothing about the mouthpiece.
        return None
    return then if drawing_of(then) and stills_of(then) else None
