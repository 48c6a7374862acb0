"""The two-week plan: a strip of fourteen days, rechecks on day 7 and 14, and how it goes on.

Day 1 is the day after the focus was set. Days off are shown and not practised; a
recheck that falls on one moves to the next school day.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Literal

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA, common
from sulvet.core.judgement.drill_schema import Drill
from sulvet.core.judgement.schema import Fault
from sulvet.core.language import said


class _Figures(Strict):
    version: int
    days: int
    rechecks: tuple[int, ...]


_FIGURES = read_table(DATA / "shared" / "plan.toml", _Figures)
#: How long a plan runs, and on which of its days it is filmed again.
DAYS, RECHECKS = _FIGURES.days, _FIGURES.rechecks
Stage = Literal["lips", "mouthpiece", "instrument"]
STAGES: tuple[Stage, ...] = ("lips", "mouthpiece", "instrument")
#: The stages in a sentence.
WITH: dict[Stage, str] = {
    "lips": "the lips alone", "mouthpiece": "the mouthpiece", "instrument": "the instrument",
}  # fmt: skip
PASSED, NEXT_STAGE, CARRY_ON, STEP_BACK, REPEAT, FILM_AGAIN = (
    "passed", "next stage", "carry on", "step back", "repeat", "film again",
)  # fmt: skip


@dataclass(frozen=True)
class Calendar:
    """When there is no practice.

    weekdays  days of the week off, Monday 0
    free      from and until, both off, such as holidays
    """

    weekdays: tuple[int, ...] = (5, 6)
    free: tuple[tuple[datetime.date, datetime.date], ...] = ()

    def is_off(self, day: datetime.date) -> bool:
        """Whether nothing is practised or rechecked on a day."""
        return day.weekday() in self.weekdays or any(a <= day <= b for a, b in self.free)

    def next_on(self, day: datetime.date) -> datetime.date:
        """The day itself, or the first one after it that is not off.

        ValueError when there is none within a year.
        """
        for ahead in range(366):
            found = day + datetime.timedelta(days=ahead)
            if not self.is_off(found):
                return found
        raise ValueError(said("There is no school day within a year. Check the days off."))


@dataclass(frozen=True)
class Day:
    """One day of the strip."""

    number: int
    date: datetime.date
    off: bool


def strip(start: datetime.date, calendar: Calendar) -> tuple[Day, ...]:
    """The fourteen days after ``start``.

    >>> days = strip(datetime.date(2026, 11, 26), Calendar())
    >>> [d.number for d in days if d.off]
    [2, 3, 9, 10]
    """
    days = []
    for number in range(1, DAYS + 1):
        date = start + datetime.timedelta(days=number)
        days.append(Day(number, date, calendar.is_off(date)))
    return tuple(days)


def rechecks(start: datetime.date, calendar: Calendar) -> dict[int, datetime.date]:
    """Day number → the day its recheck is due, shifted over days off."""
    due = {}
    for number in RECHECKS:
        due[number] = calendar.next_on(start + datetime.timedelta(days=number))
    return due


def drills_for(fault: Fault, stage: Stage, limit: int) -> tuple[Drill, ...]:
    """One or two drills of a fault that go at a stage, within so many minutes a day.

    The usual one always; the second when the minutes allow. A drill that can't be done at
    the stage is left out unless none can. Each is in the words of the stage.
    """
    drills = [common().drill(drill_id) for drill_id in fault.drills]
    fitting = [d for d in drills if stage in d.stages] or drills
    taken = fitting[:1]
    for drill in fitting[1:2]:
        if sum(d.minutes for d in taken) + drill.minutes <= limit:
            taken.append(drill)
    return tuple(drill.for_stage(stage) for drill in taken)


@dataclass(frozen=True)
class Outcome:
    """What a recheck says: the answer, why, and at which stage it goes on (None: at its end)."""

    answer: str
    why: str
    stage: Stage | None


def outcome(
    day: int, verdict: str, stage: Stage, worse: bool = False, not_played: str = ""
) -> Outcome:
    """How a plan goes on after a recheck.

    day      7 or 14
    verdict  of the focus on the recheck's take: ``fault``, ``watch``, ``in band`` or
             ``can't tell``
    stage    at which the drills are done now
    worse    the fault stands clearly farther out than when the plan began
    not_played  what was not right in the exercises as they were played: a face that holds while
                they fail has not passed

    >>> outcome(14, "in band", "instrument").answer
    'passed'
    """
    last = day == RECHECKS[-1]
    at = STAGES.index(stage)
    if verdict == "can't tell":
        return Outcome(
            FILM_AGAIN, said("The take does not show it. Film again from the same side."), stage
        )
    if verdict == "in band" and not_played:
        if last:
            return Outcome(
                REPEAT,
                said(
                    "The face is right. The exercise is not yet: {not_played} Two more weeks of "
                    "the same drills.",
                    not_played=not_played,
                ),
                stage,
            )
        return Outcome(
            CARRY_ON,
            said(
                "The face is right now. The exercise is not yet: {not_played}",
                not_played=not_played,
            ),
            stage,
        )
    if verdict == "in band":
        if last and at + 1 < len(STAGES):
            return Outcome(
                NEXT_STAGE,
                said(
                    "It holds with {before}. Now with {after}.",
                    before=said(WITH[stage]),
                    after=said(WITH[STAGES[at + 1]]),
                ),
                STAGES[at + 1],
            )
        if last:
            return Outcome(PASSED, said("It holds after two weeks."), None)
        return Outcome(CARRY_ON, said("It is right now. Keep going for the second week."), stage)
    if worse and at > 0:
        return Outcome(STEP_BACK, said("It has got worse: one stage back."), STAGES[at - 1])
    if not last:
        return Outcome(CARRY_ON, said("Not there yet. Continue with the same drills."), stage)
    if verdict == "watch":
        return Outcome(REPEAT, said("Close. Two more weeks of the same drills."), stage)
    if at > 0:
        return Outcome(
            STEP_BACK, said("It does not hold yet: the same drill, one stage back."), STAGES[at - 1]
        )
    return Outcome(
        REPEAT, said("It does not hold yet. Two more weeks, and check the equipment."), stage
    )
