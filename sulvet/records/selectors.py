"""Reads of records, each bound to its teacher."""

from __future__ import annotations

import datetime
from collections.abc import Iterable
from typing import Any

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.drawing import stills as core
from sulvet.core.drawing.sheet import Shape
from sulvet.core.judgement.common import common
from sulvet.core.judgement.plan import RECHECKS
from sulvet.core.judgement.results import CANT_TELL
from sulvet.core.measures.catalogue import catalogue
from sulvet.plans.models import Plan
from sulvet.records import compare
from sulvet.records.models import Note
from sulvet.takes.analysis import coverage_of, drawing_of, is_stale, standard_for_student, stored
from sulvet.takes.focus import findings_on, focus_of
from sulvet.takes.models import Decision, Reading, Take

#: What a list of takes has no use for.
HEAVY = ("analysis__drawing", "analysis__stills", "analysis__frames")


def notes_of(teacher: User) -> QuerySet[Note]:
    """All notes of a teacher's students."""
    return Note.objects.filter(student__section__band__teacher=teacher)


def note_of(teacher: User, note_id: int) -> Note:
    """One of the teacher's own notes; 404 for anybody else's."""
    return get_object_or_404(notes_of(teacher), pk=note_id)


def note_row(note: Note) -> dict[str, Any]:
    """A note as it is shown."""
    return {"id": note.pk, "take": note.take_id, "seconds": note.seconds, "text": note.text,
            "by_student": note.by_student,
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
        "stale": [],
        "pair": None,
    }
    chosen = compare.proposed(takes, plan, now_id)
    if then_id is None or now_id is None:
        if chosen is None:
            return page
        then_id, now_id = (chosen[0].pk if then_id is None else then_id), chosen[1].pk
    then, now = compare.whole(student, then_id), compare.whole(student, now_id)
    standard = standard_for_student(student)
    stale = [take for take in (then, now) if is_stale(take, standard)]
    page["stale"] = [take.pk for take in stale]
    if any(drawing_of(take) is None for take in stale):
        # Made by an older Sulvet: there is nothing to lay side by side until it is made anew.
        return page
    pair = compare.pair_of(then, now, phase or compare.PHASE, face)
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
        "heard": _heard(then, now),
    }
    return page


def _heard(then: Take, now: Take) -> dict[str, Any] | None:
    """The tone both takes have, to be listened to one after the other; None without one."""
    tone = compare.same_tone_of(then, now)
    if tone is None:
        return None
    sides = {"then": (then, tone.then), "now": (now, tone.now)}
    return {"sentences": list(tone.sentences)} | {
        side: {"take": take.pk, "note": one.note, "start": one.start, "end": one.end}
        for side, (take, one) in sides.items()
    }


def _mirrored(take: Take) -> bool:
    drawing = drawing_of(take)
    return drawing is not None and drawing.facing < 0


def _side(
    pair: compare.Pair, side: compare.Side, proposed: core.Still, face: bool
) -> dict[str, Any]:
    readings = compare.readings_of(side.take, pair.phase)
    return {
        "take": side.take.pk,
        "filmed_on": side.take.filmed_on,
        "drawing": side.drawing,
        "proposed": proposed.frame,
        "frames": [
            {
                "frame": frame.frame,
                "picture": compare.address(side, frame, pair.then.take, face),
                "shape": _shape(frame, side.onto),
            }
            for frame in side.stills.of_phase(pair.phase)
        ],
        "readings": [
            {"measure": r.measure, "value": r.value, "uncertainty": r.uncertainty, "unit": r.unit,
             "decimals": catalogue().measure(r.measure).decimals, "verdict": r.verdict}
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

    Refused for a measure there is not.
    """
    if measure != "focus" and all(measure != one.id for one in catalogue().measures):
        raise Refused("Unknown measurement “{measure}”.", measure=measure)
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
    standard = standard_for_student(student)
    school = standard.school(student.school or None).id
    known = catalogue().measure(measure) if measure else None
    band = standard.band(measure, known.view, school) if known else None
    return {
        "measure": measure,
        "name": known.name if known else "",
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
            {"measure": m.id, "name": m.name} for m in catalogue().measures if m.id in there
        ],
    }  # fmt: skip


def record(student: Student) -> dict[str, Any]:
    """Findings over time, newest take first, and all notes of a student."""
    takes = list(
        student.takes.filter(state=Take.State.READY)
        .select_related("student", "analysis")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes", *HEAVY)
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
    found = findings_on(take)
    focus = focus_of(take, found).fault
    states: dict[str, str] = {}
    for finding in found.findings:
        if finding.verdict == CANT_TELL or finding.fault in states:
            continue
        if common().place(finding.fault) >= len(common().faults):
            continue
        said = found.decision(finding)
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
        .values_list("take__student__name", "take__student__instrument", "take__analysis__school",
                     "take_id", "take__filmed_on", "take__view", "phase", "measure", "value",
                     "uncertainty", "unit", "verdict", "take__analysis__standard",
                     "take__analysis__engine")
        .iterator(2000)
    )  # fmt: skip


def finding_rows(teacher: User, **only: Any) -> Iterable[tuple[Any, ...]]:
    """All findings with the teacher's answers, the teacher's own, and what was not checked."""
    takes = (
        Take.objects.filter(student__section__band__teacher=teacher, **only)
        .select_related("student", "analysis")
        .prefetch_related("findings", "decisions", "student__reeds")
        .defer("frame_times", "notes", *HEAVY)
        .order_by("student__name", "filmed_on", "pk")
    )
    for take in takes:
        found = findings_on(take)
        focus, made = focus_of(take, found).fault, stored(take)
        by = (made.school, made.standard, made.engine) if made else ("", "", "")
        for f in found.findings:
            said = found.decision(f)
            yield (
                take.student.name, take.student.instrument, by[0], take.pk, take.filmed_on,
                take.view, f.fault, f.phase, f.verdict, f.start, f.end,
                said.answer if said else None, said.reason if said else None,
                "yes" if f.fault == focus else None, by[1], by[2],
            )  # fmt: skip
        covered = coverage_of(take)
        for left in covered.unchecked if covered else ():
            yield (
                take.student.name, take.student.instrument, by[0], take.pk, take.filmed_on,
                take.view, left.area.lower(), "hold", "not checked", None, None, None, None, None,
                by[1], by[2],
            )  # fmt: skip
