"""Reads of close-ups, each bound to its teacher."""

from __future__ import annotations

import datetime
from dataclasses import asdict
from typing import Any

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from sulvet.accounts.errors import Conflict
from sulvet.band.models import Student
from sulvet.closeups.models import CloseUp
from sulvet.core import ENGINE_VERSION
from sulvet.core.drawing.equipment import equipment_drawing
from sulvet.core.equipment.kinds import kind, ticks
from sulvet.core.equipment.results import Measured
from sulvet.core.judgement import reeds
from sulvet.core.judgement.closeups import VIEW, JudgedCloseUp, judge_close_up
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import FAULT, WATCH
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import inside, retold, said
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.reeds.selectors import habits_of, plain
from sulvet.standards.selectors import standard_of

ALL_RIGHT = "Tip, sides and ligature are as they should be. Now look at the mouth."
ALL_RIGHT_DOUBLE = "The reed opens as it should. Now look at the mouth."
NOT_MARKED = "Place the marks that are asked for; findings appear after the last one."
NO_REED = (
    "{name} plays the {instrument} now, which has no reed, so this close-up can't be judged. "
    "Delete it, or set the instrument that it was taken for."
)
CLEAN = "Reeds and mouthpieces belong to one player: clean them before anyone else tries them."


def close_ups_of(teacher: User) -> QuerySet[CloseUp]:
    """All close-ups of the teacher's own students."""
    mine = CloseUp.objects.filter(student__section__band__teacher=teacher)
    return mine.select_related("student__section__band__teacher", "reed")


def close_up_of(teacher: User, close_up_id: int) -> CloseUp:
    """One of them; 404 for anybody else's."""
    return get_object_or_404(close_ups_of(teacher), pk=close_up_id)


def judged(row: CloseUp, standard: Standard) -> JudgedCloseUp:
    """What a close-up tells by a standard; nothing before it is marked."""
    measured = Measured.of(row.measured) if row.measured else Measured()
    hidden, ticked = frozenset(row.hidden), frozenset(row.ticks)
    return judge_close_up(measured, hidden, ticked, standard, _of_the_box(row))


def _of_the_box(row: CloseUp) -> dict[str, str]:
    """What the box says of a reed that was played out, and of a box that has too few."""
    if row.reed is None or not row.measured:
        return {}
    by = habits_of(row.student.section.band.teacher)
    box = plain(r for r in row.student.reeds.all() if r.condition != "retired")
    verdicts = {}
    if next((reeds.status(r, by) for r in box if r.slot == row.reed.slot), "") == "worn":
        verdicts["reed-worn"] = FAULT
    if reeds.missing(box, by):
        verdicts["too-few-reeds"] = WATCH
    return verdicts


def standing(row: CloseUp, standard: Standard) -> list[str]:
    """The faults a close-up shows and the teacher has not sent away, in the order of mending.

    None where the student has gone to an instrument without a reed.
    """
    if standard.family not in reeds.FAMILIES:
        return []
    return [
        f.fault
        for f in judged(row, standard).findings
        if f.verdict == FAULT and f.fault not in row.dismissed
    ]


def looked_at(student: Student, day: datetime.date, days: int) -> list[str] | None:
    """What the newest marked close-up near a day shows to be wrong; None without one."""
    near = [
        row
        for row in student.close_ups.all()
        if row.measured and abs((row.taken_on - day).days) <= days
    ]
    if not near:
        return None
    newest = max(near, key=lambda row: (row.taken_on, row.pk))
    standard = standard_of(student.section.band.teacher, student.instrument)
    return [common().fault(fault).name for fault in standing(newest, standard)]


def rows(student: Student) -> list[dict[str, Any]]:
    """A student's close-ups, the newest first, with what each shows first."""
    standard = standard_of(student.section.band.teacher, student.instrument)
    return [_row(row, standard) for row in student.close_ups.select_related("reed")]


def _row(row: CloseUp, standard: Standard) -> dict[str, Any]:
    faults = standing(row, standard)
    return {
        "id": row.pk,
        "taken_on": row.taken_on,
        "slot": row.reed.slot if row.reed else None,
        "marked": bool(row.measured),
        "shows": [common().fault(fault).name for fault in faults],
    }


def is_stale(row: CloseUp) -> bool:
    """Whether another engine measured it."""
    return bool(row.measured) and row.engine != ENGINE_VERSION


def page(row: CloseUp) -> dict[str, Any]:
    """Everything the close-up's screen shows."""
    student = row.student
    standard = standard_of(student.section.band.teacher, student.instrument)
    if standard.family not in reeds.FAMILIES:
        raise Conflict(NO_REED, name=student.name, instrument=inside(standard.name))
    found = judged(row, standard)
    measured = Measured.of(row.measured) if row.measured else Measured()
    drawing = equipment_drawing(measured, found, standard)
    family = kind(standard.family)
    return {
        "id": row.pk,
        "student": student.pk,
        "name": student.name,
        "instrument": standard.name,
        "taken_on": row.taken_on,
        "width": row.width,
        "height": row.height,
        "stands": family.stands,
        "asked": [m.model_dump(include={"id", "name", "guide", "may_hide"}) for m in family.marks],
        "marks": [
            {"id": m.id, "x": row.marks[m.id][0], "y": row.marks[m.id][1]}
            for m in family.marks
            if m.id in row.marks
        ],
        "hidden": row.hidden,
        "ticks": [
            {"id": one, "words": common().fault(one).shows, "ticked": one in row.ticks}
            for one in ticks()
        ],
        "reed": row.reed.pk if row.reed else None,
        "slots": [
            {"id": reed.pk, "slot": reed.slot, "strength": reed.strength}
            for reed in student.reeds.exclude(condition="retired")
        ],
        "lines": [
            {"name": name, "points": [{"x": x, "y": y} for x, y in ends]}
            for name, ends in measured.lines.items()
        ],
        "readings": [_reading(r, catalogue().measure(r.measure), standard) for r in found.readings]
        if row.measured
        else [],
        "findings": [_finding(f, row) for f in found.findings],
        "told": _told(row, standard),
        "caution": said(CLEAN),
        "stale": is_stale(row),
        "drawing": None if drawing is None else _drawing(drawing),
    }


def _told(row: CloseUp, standard: Standard) -> str:
    """The state in a sentence; empty where findings say it."""
    asked = {mark.id for mark in kind(standard.family).marks}
    if not asked <= {*row.marks, *row.hidden}:
        return said(NOT_MARKED)
    if standing(row, standard):
        return ""
    return said(ALL_RIGHT if standard.family == "single-reed" else ALL_RIGHT_DOUBLE)


def _reading(reading: Any, measure: Measure, standard: Standard) -> dict[str, Any]:
    band = standard.band(reading.measure, VIEW, standard.schools[0].id)
    return {
        **asdict(reading),
        "reason": retold(reading.reason),
        "name": measure.name,
        "decimals": measure.decimals,
        "low": band.low if band else None,
        "high": band.high if band else None,
    }


def _finding(found: Any, row: CloseUp) -> dict[str, Any]:
    fault = common().fault(found.fault)
    return {
        "fault": found.fault,
        "verdict": found.verdict,
        "reason": retold(found.reason),
        "measures": [e.measure for e in found.evidence],
        "dismissed": found.fault in row.dismissed,
        **fault.model_dump(
            include={"name", "shows", "why", "first_help", "confused_with", "child"}
        ),
    }


def _drawing(drawing: Any) -> dict[str, Any]:
    def place(at: tuple[float, float]) -> dict[str, float]:
        return {"x": at[0], "y": at[1]}

    def strokes(some: Any) -> list[dict[str, Any]]:
        return [
            {"part": s.part, "points": [place(p) for p in s.points], "closed": s.closed}
            for s in some
        ]

    return {
        "strokes": strokes(drawing.strokes),
        "zones": strokes(drawing.zones),
        "spans": [
            {"measure": s.measure, "start": place(s.start), "end": place(s.end), "out": s.out}
            for s in drawing.spans
        ],
        "panes": [
            dict(zip(("left", "low", "right", "high"), p.box, strict=True)) | {"name": p.name}
            for p in drawing.panes
        ],
    }
