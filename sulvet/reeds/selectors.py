"""Reads of reed boxes, each bound to its teacher."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import User
from django.db.models import OuterRef, QuerySet, Subquery
from django.shortcuts import get_object_or_404

from sulvet.band.models import Student
from sulvet.band.selectors import shown_students
from sulvet.core.judgement import reeds as core
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.language import said
from sulvet.reeds.models import Reed, ReedHabits

NOTHING_KNOWN = (
    "Add the reeds one by one: then you see which is next, which is worn and what to buy."
)
NEW_REED = (
    "Play a new reed {minutes} minutes a day for the first {days} days, and wipe it dry afterwards."
)


def habits_of(teacher: User) -> core.Habits:
    """The teacher's figures."""
    own = ReedHabits.objects.filter(teacher=teacher).first()
    return with_own(own.figures if own else None)


def figures_beside(teacher: str) -> Subquery:
    """The teacher's own figures beside each row of a query; None where there are none.

    teacher  the way from the row to its teacher
    """
    own = ReedHabits.objects.filter(teacher=OuterRef(teacher))
    return Subquery(own.values("figures")[:1])


def with_own(figures: dict[str, Any] | None) -> core.Habits:
    """The shipped figures with a teacher's own."""
    return core.habits().model_copy(update=figures or {})


def reed_of(teacher: User, reed_id: int) -> Reed:
    """One of the teacher's own students' reeds; 404 for anybody else's."""
    mine: QuerySet[Reed] = Reed.objects.filter(student__section__band__teacher=teacher)
    return get_object_or_404(mine.select_related("student__section__band__teacher"), pk=reed_id)


def plain(reeds: Iterable[Reed]) -> list[core.Reed]:
    """Reeds as the rules see them."""
    return [
        core.Reed(r.slot, r.strength, r.opened_on, _condition(r), r.minutes, r.days, r.last_on)
        for r in reeds
    ]


def _condition(reed: Reed) -> core.Condition:
    return next(c for c in core.CONDITIONS if c == reed.condition)


def box(student: Student, by: core.Habits, today: datetime.date) -> dict[str, Any]:
    """A student's box: the reeds, which is next, what is to be done."""
    rows = [reed for reed in student.reeds.all() if reed.condition != "retired"]
    facts = plain(rows)
    following = [reed.slot for reed in core.rotation(facts, by)]
    states = {reed.slot: core.status(reed, by) for reed in facts}
    notes = []
    buy = core.missing(facts, by)
    if not rows:
        notes.append(said(NOTHING_KNOWN))
    if buy:
        notes.append(f"{common().fault('too-few-reeds').shows} {said('Buy {count}.', count=buy)}")
    if any(state == "new" for state in states.values()):
        notes.append(said(NEW_REED, minutes=by.break_in_minutes, days=by.break_in_days))
    return {
        "student": student.pk,
        "name": student.name,
        "instrument": shipped_standard(student.instrument).name,
        "strength": core.usual_strength(facts),
        "buy": buy,
        "soak_seconds": by.soak_seconds,
        "a_day": by.a_day,
        "notes": notes,
        "reeds": [
            {
                "id": row.pk,
                "slot": row.slot,
                "strength": row.strength,
                "opened_on": row.opened_on,
                "condition": row.condition,
                "minutes": row.minutes,
                "days": row.days,
                "last_on": row.last_on,
                "today": row.last_on == today,
                "share": round(core.worn(fact, by), 3),
                "status": states[row.slot],
                "turn": following.index(row.slot) + 1 if row.slot in following else None,
            }
            for row, fact in zip(rows, facts, strict=True)
        ],
    }


def players(teacher: User) -> list[Student]:
    """The band's students whose instrument has a reed, with their reeds."""
    kinds = [s.instrument for s in shipped_standards().values() if s.family in core.FAMILIES]
    return list(shown_students(teacher).filter(instrument__in=kinds).prefetch_related("reeds"))


def band_boxes(teacher: User, today: datetime.date) -> dict[str, Any]:
    """All boxes, what to retire, and what to buy for everybody."""
    by = habits_of(teacher)
    students = players(teacher)
    boxes = [box(student, by, today) for student in students]
    wanted = core.shopping([(b["instrument"], b["strength"], _kept(s))
                            for b, s in zip(boxes, students, strict=True)], by)  # fmt: skip
    return {
        "habits": by.model_dump(),
        "boxes": boxes,
        "buy": [
            {"instrument": instrument, "strength": strength, "count": count}
            for instrument, strength, count in wanted
        ],
    }


def _kept(student: Student) -> list[core.Reed]:
    return plain(reed for reed in student.reeds.all() if reed.condition != "retired")
