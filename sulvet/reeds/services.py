"""Writes to reed boxes."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Count, Max, Sum
from pydantic import ValidationError

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.judgement import reeds as core
from sulvet.reeds.models import Reed, ReedHabits, ReedPlay
from sulvet.reeds.selectors import habits_of

#: A box has so many slots at most.
SLOTS = 20


@dataclass(frozen=True)
class ReedFacts:
    """What a teacher says of a reed."""

    strength: str = ""
    opened_on: datetime.date | None = None
    condition: core.Condition = "good"


@transaction.atomic
def add_reed(student: Student, facts: ReedFacts) -> Reed:
    """A new reed in the first free slot."""
    if student.family not in core.FAMILIES:
        raise Refused(
            "The {instrument} has no reed.", instrument=student.instrument.replace("-", " ")
        )
    taken = set(student.reeds.exclude(condition="retired").values_list("slot", flat=True))
    slot = next((n for n in range(1, SLOTS + 1) if n not in taken), None)
    if slot is None:
        raise Refused("The box is full: {slots} reeds. Retire one first.", slots=SLOTS)
    return Reed.objects.create(
        student=student, slot=slot, strength=facts.strength.strip(),
        opened_on=facts.opened_on or local_time.today(), condition=facts.condition,
    )  # fmt: skip


def change_reed(reed: Reed, facts: ReedFacts) -> None:
    """Other strength, day or condition. A retired reed frees its slot."""
    if reed.condition == "retired" and facts.condition != "retired":
        others = reed.student.reeds.exclude(condition="retired")
        if others.filter(slot=reed.slot).exists():
            raise Refused("Another reed is in slot {slot} now.", slot=reed.slot)
    reed.strength, reed.condition = facts.strength.strip(), facts.condition
    reed.opened_on = facts.opened_on or reed.opened_on
    reed.save()


@transaction.atomic
def played(reed: Reed, date: datetime.date | None, minutes: int | None) -> None:
    """This reed was played on a day; the same day again replaces what was said. No minutes
    count as a usual day, 0 takes the day away."""
    day = date or local_time.today()
    if day > local_time.today():
        raise Refused("This date is in the future.")
    if day < reed.opened_on:
        raise Refused("The reed was opened later than that. Change its date first.")
    if reed.condition == "retired":
        raise Refused("This reed is retired.")
    usual = habits_of(reed.student.section.band.teacher).a_day
    if minutes == 0:
        reed.plays.filter(date=day).delete()
    else:
        ReedPlay.objects.update_or_create(
            reed=reed, date=day, defaults={"minutes": usual if minutes is None else minutes}
        )
    total = reed.plays.aggregate(minutes=Sum("minutes"), days=Count("id"), last=Max("date"))
    reed.minutes, reed.days = total["minutes"] or 0, total["days"]
    reed.last_on = total["last"]
    reed.save(update_fields=["minutes", "days", "last_on"])


def set_habits(teacher: User, figures: dict[str, Any]) -> None:
    """The teacher's own figures; what equals the shipped ones is not kept."""
    shipped = core.habits().model_dump()
    own = {name: value for name, value in figures.items() if shipped.get(name) != value}
    try:
        core.Habits.model_validate(shipped | own)
    except ValidationError as error:
        first = error.errors()[0]
        raise Refused(
            "{loc}: {msg}.", loc=".".join(map(str, first["loc"])), msg=first["msg"].lower()
        ) from error
    ReedHabits.objects.update_or_create(teacher=teacher, defaults={"figures": own})
