"""Reads of takes, each bound to its teacher."""

from __future__ import annotations

import datetime
from typing import Any

import numpy as np
from django.contrib.auth.models import User
from django.db.models import OuterRef, QuerySet, Subquery
from django.shortcuts import get_object_or_404
from django.utils import timezone
from numpy.typing import NDArray

from sulvet.band.models import Band, Student
from sulvet.band.selectors import students_of
from sulvet.core.anatomy.landmarks import TAKE_IDS, asked
from sulvet.core.anatomy.marks import SOURCES, Marks
from sulvet.core.drawing.front import front_drawing
from sulvet.core.formats import coco, report
from sulvet.core.judgement.judge import (
    ASKED_ALWAYS,
    CANT_TELL,
    FAULT,
    WATCH,
    Z95,
    Judged,
    view_of,
)
from sulvet.core.judgement.standards import Standard, common, standard
from sulvet.core.phases import frames_of
from sulvet.takes import services, tracks
from sulvet.takes.models import Decision, Finding, Take


def takes_of(teacher: User) -> QuerySet[Take]:
    """All takes of a teacher's students."""
    return Take.objects.filter(student__section__band__teacher=teacher).select_related(
        "student__section__band"
    )


def take_of(teacher: User, take_id: int) -> Take:
    """One of the teacher's own takes; 404 for anybody else's."""
    return get_object_or_404(takes_of(teacher), pk=take_id)


def takes_of_student(student: Student) -> QuerySet[Take]:
    """A student's takes, newest first, with findings and decisions."""
    return _summed(student.takes.all())


def _summed(takes: QuerySet[Take]) -> QuerySet[Take]:
    """With all that ``summary`` needs, and without what is long."""
    return (
        takes.prefetch_related("findings", "decisions")
        .select_related("student")
        .defer("frame_times", "notes")
    )


def _answers(take: Take) -> dict[tuple[str, str], Decision]:
    return {(d.fault, d.phase): d for d in take.decisions.all()}


def focus_of(take: Take) -> Finding | None:
    """The one thing to fix: the first fault not dismissed, a confirmed one before others."""
    answers = _answers(take)
    stands = [
        finding
        for finding in take.findings.all()
        if finding.verdict != CANT_TELL
        and (
            (
                (answer := answers.get((finding.fault, finding.phase))) is None
                and finding.verdict == FAULT
            )
            or (answer is not None and answer.answer == Decision.Answer.CONFIRMED)
        )
    ]
    return stands[0] if stands else None


def summary(take: Take) -> dict[str, Any]:
    """A take in one line."""
    focus = focus_of(take)
    answer = _answers(take).get((focus.fault, focus.phase)) if focus else None
    if take.state != Take.State.READY:
        result = ""
    elif focus is not None:
        result = "fault"
    elif any(f.verdict == CANT_TELL for f in take.findings.all()):
        result = "cant-tell"
    elif any(f.verdict == WATCH for f in take.findings.all()):
        result = "watch"
    else:
        result = "clear"
    return {
        "id": take.pk,
        "student": take.student_id,
        "view": take.view,
        "purpose": take.purpose,
        "filmed_on": take.filmed_on,
        "original_name": take.original_name,
        "seconds": take.clip_seconds,
        "state": take.state,
        "stage": take.stage,
        "share": take.share,
        "message": take.message,
        "read": take.read_at is not None,
        "result": result,
        "focus": focus.fault if focus else None,
        "focus_name": common().fault(focus.fault).name if focus else None,
        "answer": answer.answer if answer else None,
    }


def _chair(student: Student, newest: dict[str, Any] | None, day: datetime.date) -> dict[str, Any]:
    if not student.may_be_filmed(day):
        state = "no-consent"
    elif newest is None:
        state = "nothing-filmed"
    elif newest["state"] in (Take.State.WAITING, Take.State.WORKING):
        state = "being-read"
    elif newest["state"] == Take.State.FAILED:
        state = "failed"
    elif newest["state"] == Take.State.NEEDS_MARKS:
        state = "needs-marks"
    elif not newest["read"] and newest["answer"] is None:
        state = "new-take"
    elif newest["result"] == "fault":
        state = "focus"
    else:
        state = newest["result"]
    return {
        "id": student.pk,
        "name": student.name,
        "instrument": student.instrument,
        "school": student.school,
        "consent_on": student.consent_on,
        "consent_until": student.consent_until,
        "state": state,
        "take": newest,
    }


#: What comes first in *Next for you*: what blocks, then what is new, then what is missing.
NEXT_ORDER = ("needs-marks", "new-take", "failed", "nothing-filmed", "no-consent")
NEXT_WORDS = {
    "needs-marks": "Place the marks",
    "new-take": "Read the new take",
    "failed": "The clip could not be read",
    "nothing-filmed": "Film the first take",
    "no-consent": "Ask for consent to film",
}


def band_page(teacher: User) -> dict[str, Any]:
    """The seating plan and what comes next, in a few queries whatever the band's size."""
    band = Band.objects.filter(teacher=teacher).first()
    day = timezone.localdate()
    sections: dict[int, dict[str, Any]] = {}
    chairs: list[dict[str, Any]] = []
    newest = Take.objects.filter(student=OuterRef("pk")).values("pk")[:1]
    students = list(students_of(teacher).annotate(newest=Subquery(newest)))
    takes = {
        take.pk: summary(take)
        for take in _summed(Take.objects.filter(pk__in=[s.newest for s in students]))
    }
    for student in students:
        chair = _chair(student, takes.get(student.newest), day)
        section = sections.setdefault(
            student.section_id,
            {
                "id": student.section_id,
                "name": student.section.name,
                "arc": student.section.arc,
                "chairs": [],
            },
        )
        section["chairs"].append(chair)
        chairs.append(chair)
    listed = sorted(
        (chair for chair in chairs if chair["state"] in NEXT_ORDER),
        key=lambda chair: (NEXT_ORDER.index(chair["state"]), _severity(chair)),
    )
    return {
        "name": band.name if band else "",
        "sections": list(sections.values()),
        "next": [
            {
                "student": chair["id"],
                "name": chair["name"],
                "state": chair["state"],
                "what": NEXT_WORDS[chair["state"]],
                "take": chair["take"]["id"] if chair["take"] else None,
            }
            for chair in listed
        ],
    }


def _severity(chair: dict[str, Any]) -> tuple[int, Any]:
    take = chair["take"]
    if take is None:
        return (1, 0)
    return (0 if take["result"] == "fault" else 1, take["filmed_on"].toordinal())


def student_page(student: Student) -> dict[str, Any]:
    """One student with all takes."""
    takes = [summary(take) for take in takes_of_student(student)]
    return {
        **_chair(student, takes[0] if takes else None, timezone.localdate()),
        "section": student.section.name,
        "takes": takes,
    }


def _numbers(values: NDArray[np.float64], digits: int) -> list[float | None]:
    return [None if np.isnan(v) else round(float(v), digits) for v in values]


def _track(marks: Marks, name: str) -> dict[str, Any]:
    column = marks.column(name)
    return {
        "landmark": name,
        "x": _numbers(marks.xy[:, column, 0], 2),
        "y": _numbers(marks.xy[:, column, 1], 2),
        "sigma": _numbers(marks.sigma[:, column], 2),
        "source": [SOURCES[s] for s in marks.source[:, column]],
        "hidden": [bool(h) for h in marks.hidden[:, column]],
    }


def _asked(take: Take, which: Standard) -> dict[str, Any]:
    """The marks a teacher is asked for: on a frame at rest, and on one of the hold."""
    wanted = asked(take.view, which.family)
    return {
        "thing": wanted.thing,
        "asked_rest": wanted.rest,
        "asked_hold": wanted.hold,
        "asked_pair": wanted.pair,
    }


#: Measures whose bands the drawing shows.
DRAWN = ("corner_rise", "mouth_width", "rim_upper_share")


def bench_page(take: Take, stands: services.Standing) -> dict[str, Any]:
    """All that the Bench shows of one take, as it now stands."""
    marks, judged = stands.marks, stands.judged
    which = standard(take.student.instrument)
    school = which.school(take.student.school or None)
    made = f"{which.instrument} {which.version}"
    drawing = None
    if judged is not None and judged.view is not None:
        bands = [which.band(m, take.view, school.id) for m in DRAWN]
        held = frames_of(services.phases_of(take), "hold", marks.seconds)
        drawing = front_drawing(judged.view, marks, held, *bands)
    words = {m.id: m for m in common().measures}
    faults = common()
    answers = _answers(take)
    return {
        "take": summary(take),
        "student_name": take.student.name,
        "instrument": which.name,
        "school": school.name,
        "school_sentence": school.sentence,
        "standard": made,
        "notes": take.notes,
        **_asked(take, which),
        "width": take.width,
        "height": take.height,
        "times": take.frame_times,
        "has_frames": bool(take.frame_times) and take.proxy.exists(),
        "phases": [
            {
                "name": p.name,
                "start": p.start,
                "end": p.end,
                "by_teacher": p.by_teacher,
                "confidence": p.confidence,
            }
            for p in take.phases.all()
        ],
        "tracks": [
            _track(marks, name)
            for name in TAKE_IDS
            if np.isfinite(marks.xy[:, marks.column(name), 0]).any()
        ],
        "marks": [
            {
                "landmark": m.landmark,
                "frame": m.frame,
                "x": m.x,
                "y": m.y,
                "hidden": m.hidden,
                "source": m.source,
            }
            for m in take.marks.all()
        ],
        "drawing": drawing,
        "known_mm": take.known_mm,
        "scale": _scale(judged),
        "series": [
            {
                "measure": m.id,
                "name": m.name,
                "stave": m.stave,
                "explains": m.explains,
                "decimals": m.decimals,
                "unit": judged.series[m.id].unit,
                "value": _numbers(judged.series[m.id].value, 3),
                "spread": _numbers(Z95 * judged.series[m.id].sigma, 3),
                "low": band.low if band else None,
                "high": band.high if band else None,
                "note": band.note if band else "",
            }
            for m in words.values()
            if judged is not None and _has_stave(m.id, take, judged)
            for band in [which.band(m.id, take.view, school.id)]
        ],
        "readings": [
            {
                "measure": r.measure,
                "name": words[r.measure].name,
                "decimals": words[r.measure].decimals,
                "phase": r.phase,
                "value": r.value,
                "uncertainty": r.uncertainty,
                "unit": r.unit,
                "verdict": r.verdict,
                "reason": r.reason,
            }
            for r in sorted(take.readings.all(), key=lambda r: r.phase != "hold")
        ],
        "findings": [
            {
                "fault": f.fault,
                "name": faults.fault(f.fault).name,
                "shows": faults.fault(f.fault).shows,
                "why": faults.fault(f.fault).why,
                "first_help": faults.fault(f.fault).first_help,
                "drill": faults.fault(f.fault).drill,
                "confused_with": faults.fault(f.fault).confused_with,
                "verdict": f.verdict,
                "phase": f.phase,
                "start": f.start,
                "end": f.end,
                "worst_frame": f.worst_frame,
                "evidence": [
                    {
                        **e,
                        "name": words[e["measure"]].name,
                        "decimals": words[e["measure"]].decimals,
                    }
                    for e in f.evidence
                ],
                "reason": f.reason,
                "answer": answer.answer if answer else None,
                "answer_reason": answer.reason if answer else "",
            }
            for f in take.findings.all()
            for answer in [answers.get((f.fault, f.phase))]
        ],
    }


def _has_stave(measure: str, take: Take, judged: Judged) -> bool:
    """What has a value somewhere has a stave; so has what every teacher looks for."""
    series = judged.series.get(measure)
    if series is None or view_of(measure) != take.view:
        return False
    return measure in ASKED_ALWAYS or bool(np.isfinite(series.value).any())


def _scale(judged: Judged | None) -> dict[str, Any] | None:
    """What millimetres rest on, and how sure they are, in hundredths."""
    known = judged.scales.known if judged is not None else ()
    if not known:
        return None
    best = min(known, key=lambda scale: scale.relative)
    return {"taken_from": best.source, "percent": round(100 * Z95 * best.relative, 1)}


def marks_document(take: Take) -> dict[str, Any]:
    """The take's marks as COCO keypoints."""
    return coco.dump(
        tracks.load(take), (take.width, take.height), take.original_name, services.phases_of(take)
    )


def report_document(take: Take) -> dict[str, Any]:
    """The same report the shell writes."""
    marks = tracks.load(take)
    which = standard(take.student.instrument)
    facts = {
        "clip": take.original_name,
        "size": [take.width, take.height],
        "mirrored": take.mirrored,
        "needs": take.message,
        "notes": take.notes,
        "instrument": which.instrument,
        "view": take.view,
        "school": which.school(take.student.school or None).id,
        "standard": f"{which.instrument} {which.version}",
    }
    return report.document(facts, marks, services.phases_of(take), services.judged(take, marks))
