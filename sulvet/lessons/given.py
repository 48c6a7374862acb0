"""Drills and routines that a student practises without a fault."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, replace

from django.db import transaction

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import inside, said
from sulvet.core.lessons.ladder import routine
from sulvet.lessons.models import GivenDrill

#: So many days of an exercise raise its level (Sulvet default).
ENOUGH = 3


@dataclass(frozen=True)
class Given:
    """What a teacher gives; see ``GivenDrill``.

    days  for how many days from today on
    """

    drill: str = ""
    routine: str = ""
    stage: str = ""
    tempo: int | None = None
    rounds: int | None = None
    level: int = 0
    days: int = 7
    again: str = ""


@transaction.atomic
def give(students: list[Student], what: Given) -> list[GivenDrill]:
    """Give a drill or a routine to some students; refused where it is not for an instrument."""
    if bool(what.drill) == bool(what.routine):
        raise Refused("Choose a drill or a routine.")
    if not students:
        raise Refused("Choose at least one student.")
    for student in students:
        _check(student, what)
    today = local_time.today()
    until = today + datetime.timedelta(days=what.days - 1)
    return [
        GivenDrill.objects.create(
            student=student, drill=what.drill, routine=what.routine, stage=what.stage,
            tempo=what.tempo, rounds=what.rounds, level=what.level, given_on=today, until=until,
            again=what.again,
        )
        for student in students
    ]  # fmt: skip


def _check(student: Student, what: Given) -> None:
    standard = shipped_standard(student.instrument)
    who = said("{name} plays the {instrument}", name=student.name, instrument=inside(standard.name))
    if what.tempo is not None and not common().tempo.allows(what.tempo):
        slow, quick = common().tempo.slowest, common().tempo.quickest
        raise Refused(
            "The tempo must be between {slow} and {quick} beats per minute.", slow=slow, quick=quick
        )
    try:
        if what.routine:
            if not routine(what.routine).suits(standard):
                raise Refused("{who}: this routine is for other instruments.", who=who)
            return
        drill = common().drill(what.drill)
    except KeyError:
        raise Refused("There is no such drill or routine. Reload the page.") from None
    if not drill.suits(standard.family):
        raise Refused("{who}: “{name}” is for other instruments.", who=who, name=drill.name)
    if what.stage not in drill.stages:
        raise Refused("“{name}” is not done there. Choose another stage.", name=drill.name)
    if not 0 <= what.level <= len(drill.levels):
        raise Refused("“{name}” has {count} levels.", name=drill.name, count=len(drill.levels))


def mark_done(given: GivenDrill, day: datetime.date, done: bool, at_home: bool = False) -> None:
    """Tick a day, or take one's own tick away.

    at_home  the student says so, not the teacher
    """
    if not given.given_on <= day <= given.until:
        raise Refused("This day is not part of the exercise.")
    if day > local_time.today():
        raise Refused("This date is in the future.")
    column = "done_at_home" if at_home else "done"
    days = set(getattr(given, column)) - {day.isoformat()}
    setattr(given, column, sorted(days | {day.isoformat()} if done else days))
    given.save(update_fields=[column])


def may_rise(given: GivenDrill) -> str:
    """The next level, once an exercise was done on enough days; empty where there is none."""
    levels = common().drill(given.drill).levels if given.drill else ()
    if len(given.days_done) < ENOUGH or not 0 < given.level < len(levels):
        return ""
    return levels[given.level]


def raise_level(given: GivenDrill) -> GivenDrill:
    """The same at the next level, for as long again."""
    if not may_rise(given):
        raise Refused("The level rises once the exercise was done on {enough} days.", enough=ENOUGH)
    days = (given.until - given.given_on).days + 1
    what = Given(given.drill, "", given.stage, given.tempo, given.rounds, given.level + 1, days)
    (higher,) = give([given.student], what)
    return higher


def hand_in_again(given: GivenDrill, why: str) -> GivenDrill:
    """The same for as long again, with a sentence why."""
    if not why.strip():
        raise Refused("Say in a sentence why it is done again.")
    days = (given.until - given.given_on).days + 1
    what = Given(
        given.drill, given.routine, given.stage, given.tempo, given.rounds, given.level, days
    )
    (again,) = give([given.student], replace(what, again=why.strip()))
    return again
