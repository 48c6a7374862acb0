"""Exercises as they were played on a take: what plan or teacher asks for, else the likeliest."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from django.db.models import Q

from sulvet.core.exercises.drill import asked_of
from sulvet.core.exercises.row import Place, Row, likeliest, row_of
from sulvet.core.exercises.schema import Do
from sulvet.core.exercises.words import sentence, words
from sulvet.core.judgement.common import common
from sulvet.core.judgement.drill_schema import Drill
from sulvet.core.judgement.plan import Outcome, outcome
from sulvet.core.sound import notes
from sulvet.lessons.models import GivenDrill
from sulvet.plans.models import Plan, Recheck
from sulvet.plans.selectors import drills_of, stage_of
from sulvet.plans.verdicts import is_worse, verdict_on
from sulvet.takes import sound
from sulvet.takes.models import Take

Why = Literal["plan", "given", "likeliest"]


@dataclass(frozen=True)
class HeardPlace:
    """One place of an exercise: when, how many counts it lasted and should, and what is wrong.

    cents  over where it should be;  note  what is heard; empty for a breath and a slide
    words  what is wrong, or that it is right
    by     who plays it;  number  among the student's own, from 1
    """

    number: int | None
    do: Do
    start: float | None
    end: float | None
    heard: float | None
    counts: int | None
    cents: float | None
    note: str
    right: bool
    words: str
    by: Literal["student", "teacher"]


@dataclass(frozen=True)
class HeardExercise:
    """An exercise as it was played.

    why       who asks for it; the likeliest where nobody does
    expected  how many places the whole of it has;  right  of those in ``places``, ``of`` so many
    """

    name: str
    why: Why
    tempo: float
    pass_mark: str
    expected: int
    right: int
    of: int
    passed: bool
    sentence: str
    places: list[HeardPlace]


def exercises_heard(take: Take) -> list[HeardExercise]:
    """How the exercises of a take were played; empty where nobody has listened to it."""
    kept = sound.current(take)
    analysis = None if kept is None else sound.sound_analysis(kept)
    if kept is None or analysis is None:
        return []
    intended, a4 = sound.intended_of(kept), float(kept.heard["a4"])
    rows = []
    for why, drill, tempo in _asked(take):
        wanted = asked_of(drill)
        if wanted is None:
            continue
        at = intended.tempo or tempo or (drill.counting.tempo if drill.counting else None)
        at = at or common().tempo.usual
        rows.append(_page(row_of(analysis, wanted, at), why, at, drill.pass_mark, a4))
    if not any(row.places for row in rows):
        at = intended.tempo or common().tempo.usual
        found = likeliest(analysis, at)
        if found is not None:
            rows.append(_page(found, "likeliest", at, "", a4))
    return rows


def _asked(take: Take) -> list[tuple[Why, Drill, float | None]]:
    """The drills of a take's plan, then those given at the time, each once; with their tempo."""
    plan = _plan_at(take)
    found: list[tuple[Why, Drill, float | None]] = [
        ("plan", drill, None) for drill in (drills_of(plan) if plan else [])
    ]
    given = GivenDrill.objects.filter(
        student=take.student, given_on__lte=take.filmed_on, until__gte=take.filmed_on
    ).exclude(drill="")
    for one in given:
        if all(one.drill != drill.id for _, drill, _ in found):
            drill = common().drill(one.drill).for_stage(one.stage)
            found.append(("given", drill, one.tempo))
    return found


def _plan_at(take: Take) -> Plan | None:
    """The plan a take was filmed under: the one it rechecks, else the one that runs."""
    plans = Plan.objects.filter(student=take.student, started_on__lte=take.filmed_on)
    return plans.filter(Q(rechecks__take=take) | Q(state=Plan.State.RUNNING)).first()


def _page(row: Row, why: Why, tempo: float, pass_mark: str, a4: float) -> HeardExercise:
    own = {id(place): n for n, place in enumerate(row.judged, 1)}
    return HeardExercise(
        row.name, why, tempo, pass_mark, row.expected, row.right, len(row.judged), row.passed,
        sentence(row), [_place(place, own.get(id(place)), a4) for place in row.places],
    )  # fmt: skip


def _place(place: Place, number: int | None, a4: float) -> HeardPlace:
    return HeardPlace(
        number, place.do, place.start, place.end, place.heard, place.counts, place.cents,
        notes.nearest(place.hz, a4)[0] if place.hz else "", place.right, words(place), place.by,
    )  # fmt: skip


@dataclass(frozen=True)
class Rechecked:
    """What a recheck's take says, and how the plan's exercises were played, as a sentence."""

    outcome: Outcome
    heard: str


def rechecked(plan: Plan, recheck: Recheck, take: Take) -> Rechecked:
    """What a recheck's take says: of the focus, and of how the plan's exercises were played."""
    own = [one for one in exercises_heard(take) if one.why == "plan" and one.places]
    told = {one.name: f"{one.name}: {one.sentence}" for one in own}
    failed = [told[one.name] for one in own if not one.passed]
    says = outcome(
        recheck.day, verdict_on(plan, take), stage_of(plan), is_worse(plan, take),
        " ".join(failed),
    )  # fmt: skip
    return Rechecked(says, " ".join(told.values()))
