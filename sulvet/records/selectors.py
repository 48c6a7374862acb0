"""Reads of records, each bound to its teacher."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.core.drawing import stills as core
from sulvet.core.drawing.sheet import Shape
from sulvet.core.judgement.judge import CANT_TELL, view_of
from sulvet.core.judgement.plan import RECHECKS
from sulvet.core.judgement.standards import Standard, common
from sulvet.plans.models import Plan
from sulvet.records import compare
from sulvet.records.models import Note
from sulvet.standards.selectors import standard_of
from sulvet.takes.focus import answers_of, findings_of, focus_of
from sulvet.takes.models import Decision, Reading, Take


def notes_of(teacher: User) -> QuerySet[Note]:
    """All notes of a teacher's students."""
    return Note.objects.filter(student__section__band__teacher=teacher)


def note_of(teacher: User, note_id: int) -> Note:
    """One of the teacher's own notes; 404 for anybody else's."""
    return get_object_or_404(notes_of(teacher), pk=note_id)


def note_row(note: Note) -> dict[str, Any]:
    """A note as it is shown."""
    return {"id": note.pk, "take": note.take_id, "seconds": note.seconds, "text": note.text,
            "written_on": timezone.localtime(note.written_on).date()}  # fmt: skip


def running_plan(student: Student) -> Plan | None:
    """The plan a student works by, with what hangs on it."""
    return (
        Plan.objects.filter(student=student, state=Plan.State.RUNNING)
        .prefetch_related("practised", "rechecks")
        .first()
    )


# -- then and now -----------------------------------------------------------------


def then_and_now(
    student: Student, then_id: int | None, now_id: int | None, phase: str, face: bool
) -> dict[str, Any]:
    """Two takes side by side, with what has changed; without two alike only the list of takes."""
    takes, plan = list(compare.takes_to_compare(student)), running_plan(student)
    page: dict[str, Any] = {
        "student": student.pk,
        "name": student.name,
        "takes": [
            {"id": t.pk, "view": t.view, "filmed_on": t.filmed_on, "name": t.original_name}
            for t in takes
        ],
        "pair": None,
    }
    chosen = compare.proposed(takes, plan, now_id)
    if then_id is None or now_id is None:
        if chosen is None:
            return page
        then_id, now_id = (chosen[0].pk if then_id is None else then_id), chosen[1].pk
    then, now = compare.whole(student, then_id), compare.whole(student, now_id)
    pair = compare.pair_of(then, now, phase or compare.PHASE, face)
    standard = standard_of(student.section.band.teacher, student.instrument)
    school = standard.school(student.school or None).id
    worked_on = compare.focus_for(student, plan, now)
    # What is over is worth seeing too: the older take's fault, when the newer one has none.
    fault = worked_on or focus_of(then).fault or ""
    measures = compare.focus_measures(fault, now.view, now, then)
    page["pair"] = {
        "view": now.view,
        "phase": pair.phase,
        "phases": [p for p in pair.then.stills.phases() if p in pair.now.stills.phases()],
        "focus": fault or None,
        "focus_name": common().fault(fault).name if fault else None,
        "slip": bool(worked_on),
        "measures": measures,
        "seen_from": compare.seen_from(fault),
        "then": _side(pair, pair.then, pair.frames[0], face),
        "now": _side(pair, pair.now, pair.frames[1], face),
        "mirrored": _mirrored(then) != _mirrored(now),
        "changes": compare.changes(pair, standard, school, measures),
    }
    return page


def _mirrored(take: Take) -> bool:
    return bool((take.drawn or {}).get("drawing", {}).get("facing", 1) < 0)


def _side(
    pair: compare.Pair, side: compare.Side, proposed: core.Still, face: bool
) -> dict[str, Any]:
    readings = compare.readings_of(side.take, pair.phase)
    words = {m.id: m for m in common().measures}
    return {
        "take": side.take.pk,
        "filmed_on": side.take.filmed_on,
        "drawing": side.drawing.small(),
        "proposed": proposed.frame,
        "frames": [
            {
                "frame": frame.frame,
                "picture": compare.address(side, frame, pair.then.take, face),
                "shape": _shape(frame, side.onto),
                "rim": core.brought_rim(frame.rim, side.onto),
            }
            for frame in side.stills.of_phase(pair.phase)
        ],
        "readings": [
            {"measure": r.measure, "value": r.value, "uncertainty": r.uncertainty, "unit": r.unit,
             "decimals": words[r.measure].decimals, "verdict": r.verdict}
            for r in readings.values()
        ],
    }  # fmt: skip


def _shape(frame: core.Still, by: core.Onto) -> dict[str, Any]:
    shape = core.brought_shape(Shape(frame.points, frame.covered), by)
    return {"points": shape.points, "covered": shape.covered}


# -- over time --------------------------------------------------------------------


def trend(student: Student, measure: str) -> dict[str, Any]:
    """One measure over all takes, with the band and the days of the plans.

    measure  ``focus``: the focus's first, else corner rise
    """
    rows = list(
        Reading.objects.filter(
            take__student=student, phase=compare.PHASE, take__state=Take.State.READY
        ).values_list("measure", "take_id", "take__filmed_on", "value", "uncertainty", "unit",
                      "verdict")
        .order_by("take__filmed_on", "take_id")
    )  # fmt: skip
    there = {row[0] for row in rows if row[3] is not None}
    plans = list(Plan.objects.filter(student=student).prefetch_related("rechecks"))
    if measure == "focus":
        running = next((p for p in plans if p.state == Plan.State.RUNNING), None)
        fault, view = (running.fault, running.view) if running else (student.focus, "front")
        wanted = compare.focus_measures(fault, view) if fault else ()
        measure = next((m for m in (*wanted, "corner_rise") if m in there), "")
    words = {m.id: m for m in common().measures}
    standard = standard_of(student.section.band.teacher, student.instrument)
    school = standard.school(student.school or None).id
    known = words.get(measure)
    band = standard.band(measure, view_of(measure), school) if known else None
    return {
        "measure": measure,
        "name": known.name if known else "",
        "explains": known.explains if known else "",
        "decimals": known.decimals if known else 0,
        "unit": next((row[5] for row in rows if row[0] == measure), ""),
        "low": band.low if band else None,
        "high": band.high if band else None,
        "points": [
            {"take": take, "filmed_on": day, "value": value, "uncertainty": uncertainty,
             "verdict": verdict}
            for name, take, day, value, uncertainty, _, verdict in rows
            if name == measure
        ],
        "plans": [
            {"fault": common().fault(plan.fault).name, "started_on": plan.started_on,
             "ends_on": plan.started_on + datetime.timedelta(days=RECHECKS[-1]),
             "rechecks": [r.due_on for r in plan.rechecks.all()]}
            for plan in plans
        ],
        "measures": [
            {"measure": m.id, "name": m.name} for m in common().measures if m.id in there
        ],
    }  # fmt: skip


def record(student: Student) -> dict[str, Any]:
    """Findings over time, newest take first, and all notes of a student."""
    takes = list(
        student.takes.filter(state=Take.State.READY)
        .select_related("student")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes", "drawn", "stills")
    )
    seen: dict[str, dict[int, str]] = {}
    for take in takes:
        for fault, state in _states(take).items():
            seen.setdefault(fault, {})[take.pk] = state
    return {
        "takes": [{"id": t.pk, "view": t.view, "filmed_on": t.filmed_on} for t in takes],
        "findings": [
            {"fault": fault, "name": common().fault(fault).name,
             "cells": [seen[fault].get(take.pk, "") for take in takes]}
            for fault in sorted(seen, key=common().place)
        ],
        "notes": [note_row(note) for note in
                  Note.objects.filter(student=student).order_by("-written_on", "-id")],
    }  # fmt: skip


def _states(take: Take) -> dict[str, str]:
    """Fault → how it stands on a take: focus, fault, watch, or dismissed."""
    answers, focus = answers_of(take), focus_of(take).fault
    states: dict[str, str] = {}
    for finding in findings_of(take):
        if finding.verdict == CANT_TELL or finding.fault in states:
            continue
        if common().place(finding.fault) >= len(common().faults):
            continue
        said = answers.get((finding.fault, finding.phase))
        if said is not None and said.answer == Decision.Answer.DISMISSED:
            states[finding.fault] = "dismissed"
        elif finding.fault == focus:
            states[finding.fault] = "focus"
        else:
            states[finding.fault] = "watch" if finding.verdict == "watch" else "fault"
    return states


# -- tables -----------------------------------------------------------------------

READING_COLUMNS = (
    "student", "instrument", "school", "take", "filmed_on", "view", "phase", "measure", "value",
    "uncertainty", "unit", "verdict", "standard", "engine",
)  # fmt: skip
FINDING_COLUMNS = (
    "student", "instrument", "school", "take", "filmed_on", "view", "fault", "phase", "verdict",
    "start", "end", "answer", "answer_reason", "focus", "standard", "engine",
)  # fmt: skip


def reading_rows(teacher: User, **only: Any) -> Iterable[tuple[Any, ...]]:
    """All readings of a teacher's takes; ``only`` narrows them, such as by ``take_id``."""
    return (
        Reading.objects.filter(take__student__section__band__teacher=teacher, **only)
        .order_by("take__student__name", "take__filmed_on", "take_id", "id")
        .values_list("take__student__name", "take__student__instrument", "school",
                     "take_id", "take__filmed_on", "take__view", "phase", "measure", "value",
                     "uncertainty", "unit", "verdict", "standard", "engine")
        .iterator(2000)
    )  # fmt: skip


def finding_rows(teacher: User, **only: Any) -> Iterable[tuple[Any, ...]]:
    """All findings with the teacher's answers, and the teacher's own findings."""
    takes = (
        Take.objects.filter(student__section__band__teacher=teacher, **only)
        .select_related("student")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes", "drawn", "stills")
        .order_by("student__name", "filmed_on", "pk")
    )
    for take in takes:
        answers, focus = answers_of(take), focus_of(take).fault
        for f in findings_of(take):
            said = answers.get((f.fault, f.phase))
            yield (
                take.student.name, take.student.instrument, f.school, take.pk, take.filmed_on,
                take.view, f.fault, f.phase, f.verdict, f.start, f.end,
                said.answer if said else None, said.reason if said else None,
                "yes" if f.fault == focus else None, f.standard, f.engine,
            )  # fmt: skip


def standard_for(student: Student) -> Standard:
    """The standard a student is judged by."""
    return standard_of(student.section.band.teacher, student.instrument)
