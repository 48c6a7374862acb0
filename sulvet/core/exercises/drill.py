"""What a drill asks to be played: the row it names, or what it counts aloud."""

from __future__ import annotations

from sulvet.core.exercises.schema import (
    BREATHS,
    Asked,
    Element,
    Wanted,
    asked,
    exercise,
)
from sulvet.core.judgement.drill_schema import Beat, Counting, Drill


def beats_of(counting: Counting) -> list[Beat]:
    """All beats of a drill in a row."""
    return [beat for one in counting.rounds for _ in range(one.times) for beat in one.beats]


def asked_of(drill: Drill) -> Asked | None:
    """What a take of a drill is held against; None where nothing of it can be heard."""
    if drill.exercise:
        return Asked(drill.name, asked(exercise(drill.exercise)).rows)
    wanted = () if drill.counting is None else _counted(drill.counting)
    return Asked(drill.name, (wanted,)) if wanted else None


def _counted(counting: Counting) -> tuple[Wanted, ...]:
    """Its tones and breaths."""
    wanted: list[Wanted] = []
    number, at = 0, 0.0
    for one in counting.rounds:
        for _ in range(one.times):
            for beat in one.beats:
                if beat.do != "hold" and beat.do != "rest":
                    element = Element(do=beat.do, counts=beat.counts)
                    wanted.append(Wanted(element, number, None if beat.do in BREATHS else at))
                at += beat.counts
            number += 1
    return tuple(wanted)
