"""Who shares a focus, grouped for a rehearsal; reads only."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.selectors import shown_students
from sulvet.core.judgement.common import common
from sulvet.core.judgement.sectionals import Grouping, Member, Rotation, groups_of, rotation
from sulvet.plans.models import Plan
from sulvet.takes.focus import focus_of
from sulvet.takes.models import Take


@dataclass(frozen=True)
class Wanted:
    """What the teacher sets: days to look back, sizes, minutes of a turn and of all, stations."""

    days: int = 14
    least: int = 2
    most: int = 4
    minutes: int = 8
    total: int = 40
    stations: int = 1


def members_of(teacher: User, days: int) -> list[Member]:
    """Students with a focus: of the running plan, else of the newest takes of the last days.

    The newest from the front and the newest from the side count: what an older one showed and
    a newer one no longer shows is over.
    """
    since = local_time.today() - datetime.timedelta(days=days)
    students = list(shown_students(teacher))
    plans = dict(
        Plan.objects.filter(
            student__section__band__teacher=teacher, state=Plan.State.RUNNING
        ).values_list("student_id", "fault")
    )
    takes = (
        Take.objects.filter(
            student__section__band__teacher=teacher, filmed_on__gte=since, state=Take.State.READY
        )
        .select_related("student")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes")
    )
    newest: dict[tuple[int, str], Take] = {}
    for take in takes:
        newest.setdefault((take.student_id, take.view), take)
    found: dict[int, str] = {}
    for (student_id, _), take in newest.items():
        fault, before = focus_of(take).fault, found.get(student_id)
        if fault and (before is None or common().place(fault) < common().place(before)):
            found[student_id] = fault
    members = []
    for student in students:
        works_on = plans.get(student.pk) or found.get(student.pk)
        if works_on:
            members.append(
                Member(student.pk, student.name, student.section.called, works_on,
                       common().place(works_on))
            )  # fmt: skip
    return members


def planned(teacher: User, wanted: Wanted) -> tuple[Grouping, Rotation]:
    """Groups and their turns, and who is left over."""
    try:
        found = groups_of(members_of(teacher, wanted.days), wanted.least, wanted.most)
    except ValueError as error:
        raise Refused(str(error)) from error
    return found, rotation(found.groups, wanted.minutes, wanted.total, wanted.stations)


def page(teacher: User, wanted: Wanted) -> dict[str, Any]:
    """The plan for a rehearsal as it is shown."""
    found, turns = planned(teacher, wanted)
    when = {turn.group: turn for turn in turns.turns}
    families = {student.pk: student.family for student in shown_students(teacher)}
    return {
        "groups": [
            {
                "number": number + 1,
                **_fault(group.fault, _family(group.members, families)),
                "child": common().fault(group.fault, _family(group.members, families)).child,
                "members": [_member(m) for m in group.members],
                "start": when[number].start if number in when else None,
                "end": when[number].end if number in when else None,
                "station": when[number].station + 1 if number in when else None,
            }
            for number, group in enumerate(found.groups)
        ],
        "singles": [{**_member(m), **_fault(m.fault, families[m.student])} for m in found.singles],
    }


def _member(member: Member) -> dict[str, Any]:
    return {"student": member.student, "name": member.name, "section": member.section}


def _family(members: Iterable[Member], families: dict[int, str]) -> str:
    """The family of instruments that all of a group play; empty where they differ."""
    played = {families[member.student] for member in members}
    return played.pop() if len(played) == 1 else ""


def _fault(fault: str, family: str = "") -> dict[str, str]:
    known = common().fault(fault, family)
    return {"fault": fault, "focus": known.name, "drill": common().drill(known.drills[0]).name}


COLUMNS = ("group", "focus", "drill", "student", "section", "station", "from_minute", "to_minute")


def rows(teacher: User, wanted: Wanted) -> list[tuple[Any, ...]]:
    """The same as a table, a line each student; single lessons have no group."""
    told = page(teacher, wanted)
    grouped = [
        (g["number"], g["focus"], g["drill"], m["name"], m["section"], g["station"], g["start"],
         g["end"])
        for g in told["groups"]
        for m in g["members"]
    ]  # fmt: skip
    alone = [
        (None, s["focus"], s["drill"], s["name"], s["section"], None, None, None)
        for s in told["singles"]
    ]
    return grouped + alone
