"""Reads of takes, each bound to its teacher."""

from __future__ import annotations

import datetime
from typing import Any

from django.contrib.auth.models import User
from django.db.models import OuterRef, QuerySet, Subquery
from django.shortcuts import get_object_or_404
from django.utils import timezone

from sulvet.band.models import Band, Student
from sulvet.band.selectors import students_of
from sulvet.core.drawing.sheet import EDITION
from sulvet.core.formats import coco, report
from sulvet.core.judgement.focus import CAUTION, SET_UP
from sulvet.core.judgement.judge import CANT_TELL, WATCH, Evidence, severity
from sulvet.core.judgement.standards import common
from sulvet.reeds.selectors import figures_beside
from sulvet.takes import services, tracks
from sulvet.takes.focus import Said, focus_of, said_of
from sulvet.takes.models import Take


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
        takes.prefetch_related("findings", "decisions", "student__reeds")
        .select_related("student")
        .annotate(reed_figures=figures_beside("student__section__band__teacher"))
        .defer("frame_times", "notes", "stills")
    )


def summary(take: Take) -> dict[str, Any]:
    """A take in one line."""
    said = said_of(take)
    focus = focus_of(take, said)
    answer = said.answers.get((focus.fault or "", focus.phase))
    verdicts = {finding.verdict for finding in said.findings}
    if take.state != Take.State.READY:
        result = ""
    elif focus.fault is not None or focus.reason in (CAUTION, SET_UP):
        result = "fault"
    elif CANT_TELL in verdicts:
        result = "cant-tell"
    elif WATCH in verdicts:
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
        "focus": focus.fault,
        "focus_name": common().fault(focus.fault).name if focus.fault else None,
        "answer": answer.answer if answer else None,
        "severity": _pressing(said, focus.fault),
        "drawing": _kept_drawing(take),
    }


def _pressing(said: Said, fault: str | None) -> float:
    """How far out the focus stands, in widths of its margin; 0 without one."""
    found = [f for f in said.findings if f.fault == fault]
    return round(max((severity(Evidence(**e) for e in f.evidence) for f in found), default=0.0), 2)


def _kept_drawing(take: Take) -> dict[str, Any] | None:
    """The drawing kept with a take, unless it is of an older edition."""
    kept: dict[str, Any] = take.drawn or {}
    return kept.get("drawing") if kept.get("edition") == EDITION else None


def _chair(student: Student, newest: dict[str, Any] | None, day: datetime.date) -> dict[str, Any]:
    focus = student.focus or (newest["focus"] if newest else None)
    if student.retain_until is not None and student.retain_until < day:
        state = "keep-over"
    elif not student.may_be_filmed(day):
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
        "retain_until": student.retain_until,
        "state": state,
        "focus": focus or None,
        "focus_name": common().fault(focus).name if focus else None,
        "take": newest,
        "due": None,
        "opens": state in OPENS,
    }


#: Chairs whose take waits for the teacher.
OPENS = ("new-take", "needs-marks")
#: What *Next for you* lists: what has a date first, then what was filmed, then what is missing.
NEXT_ORDER = (
    ("keep-over",), ("recheck-due",), ("needs-marks", "new-take"), ("failed",),
    ("nothing-filmed",), ("no-consent",),
)  # fmt: skip
#: Chairs that wait for nothing else: a recheck that is due shows on them.
SETTLED = ("focus", "watch", "clear", "cant-tell")
NEXT_WORDS = {
    "needs-marks": "Place the marks",
    "new-take": "Read the new take",
    "recheck-due": "Film the recheck",
    "failed": "The clip could not be read",
    "nothing-filmed": "Film the first take",
    "no-consent": "Ask for consent to film",
    "keep-over": "To be kept no longer: delete, or set another date",
}


def band_page(teacher: User, due: dict[int, datetime.date] | None = None) -> dict[str, Any]:
    """The seating plan and what comes next, in a few queries whatever the band's size.

    due  student → since when a recheck is due
    """
    due = due or {}
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
        if student.pk in due and chair["state"] in SETTLED:
            chair["state"], chair["due"] = "recheck-due", due[student.pk]
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
    listed = sorted((chair for chair in chairs if chair["state"] in NEXT_WORDS), key=_comes_next)
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
                "opens": chair["opens"],
            }
            for chair in listed
        ],
    }


def _comes_next(chair: dict[str, Any]) -> tuple[Any, ...]:
    """By what it is, then by due date, by severity, and by how long it has waited."""
    take, due = chair["take"], chair["due"] or chair["retain_until"]
    kind = next(n for n, states in enumerate(NEXT_ORDER) if chair["state"] in states)
    return (
        kind,
        due.toordinal() if due is not None and kind < 2 else 0,
        -take["severity"] if take else 0.0,
        take["filmed_on"].toordinal() if take else 0,
        chair["name"],
    )


def student_page(student: Student) -> dict[str, Any]:
    """One student with all takes."""
    takes = [summary(take) for take in takes_of_student(student)]
    return {
        **_chair(student, takes[0] if takes else None, timezone.localdate()),
        "section": student.section.name,
        "tape_mm": student.tape_mm,
        "tape_spread": student.tape_spread,
        "tape_on": student.tape_on,
        "takes": takes,
    }


def marks_document(take: Take) -> dict[str, Any]:
    """The take's marks as COCO keypoints."""
    return coco.dump(
        tracks.load(take), (take.width, take.height), take.original_name, services.phases_of(take)
    )


def report_document(take: Take) -> dict[str, Any]:
    """The same report the shell writes."""
    marks = tracks.load(take)
    which = services.standard_for(take)
    facts = {
        "clip": take.original_name,
        "size": [take.width, take.height],
        "mirrored": take.mirrored,
        "needs": take.message,
        "notes": take.notes,
        "instrument": which.instrument,
        "view": take.view,
        "school": which.school(take.student.school or None).id,
        "standard": which.label,
    }
    return report.document(facts, marks, services.phases_of(take), services.judged(take, marks))
