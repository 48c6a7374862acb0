"""The home screen: the band as it sits, and what comes next; and one student with all takes."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Any

from django.contrib.auth.models import User
from django.db.models import OuterRef, Subquery

from sulvet.accounts import local_time
from sulvet.band.consent import closed, deletions, is_over
from sulvet.band.models import Rule, Student
from sulvet.band.selectors import retention_of, shown_band, students_of
from sulvet.core.drawing.take import Lines, lines
from sulvet.core.judgement.common import common
from sulvet.core.language import on_day, said
from sulvet.takes import space
from sulvet.takes.models import Take
from sulvet.takes.pages.shapes import ChairState
from sulvet.takes.pages.summary import NOTHING_FOUND, TakeSummary, summary
from sulvet.takes.selectors import takes_of_student, with_findings


@dataclass(frozen=True)
class Chair:
    """One student's place.

    due  since when a recheck is due;  deleted_on  when Sulvet deletes what is over
    """

    id: int
    name: str
    instrument: str
    school: str
    consent_on: datetime.date | None
    consent_until: datetime.date | None
    retain_until: datetime.date | None
    state: ChairState
    opens: bool
    due: datetime.date | None
    deleted_on: datetime.date | None
    focus: str | None
    focus_name: str | None
    take: TakeSummary | None


@dataclass(frozen=True)
class Section:
    """Chairs that sit together."""

    id: int
    name: str
    arc: int
    chairs: list[Chair]


@dataclass(frozen=True)
class Next:
    """One line of *Next for you*; ``clear`` when nothing was found on its take."""

    student: int
    name: str
    state: ChairState
    what: str
    take: int | None
    opens: bool
    clear: bool


@dataclass(frozen=True)
class BandPage:
    """The home screen; ``lines`` are what its chairs' mouths are drawn of.

    warning  of a disk that is nearly full; empty while it is not
    """

    name: str
    year: str
    warning: str
    sections: list[Section]
    next: list[Next]
    lines: Lines


@dataclass(frozen=True)
class StudentPage(Chair):
    """One student with all takes."""

    section: str
    tape_mm: float | None
    tape_spread: float | None
    tape_on: datetime.date | None
    closed: str
    takes: list[TakeSummary]
    lines: Lines


#: Chairs whose take waits for the teacher.
OPENS = ("new-take", "needs-marks")
#: What *Next for you* lists: what has a date first, then what was filmed, then what is missing.
NEXT_ORDER = (
    ("keep-over", "consent-ended"), ("recheck-due",), ("needs-marks", "new-take"), ("failed",),
    ("nothing-filmed",), ("no-consent",),
)  # fmt: skip
#: Chairs that wait for nothing else: a recheck that is due shows on them.
SETTLED = ("focus", "watch", "clear", "cant-tell", "unchecked")
NEXT_LABELS = {
    "needs-marks": "Place marks",
    "new-take": "Review the new take",
    "recheck-due": "Film the recheck",
    "failed": "The clip could not be analysed",
    "nothing-filmed": "Film the first take",
    "no-consent": "Ask for consent to film",
    "keep-over": "Past its keep-until date: delete, or set a new date",
    "consent-ended": "Consent has ended and clips are locked: ask again, or delete them",
}


def _state(student: Student, newest: TakeSummary | None, day: datetime.date) -> ChairState:
    if is_over(student, day):
        return "keep-over"
    if not student.may_be_filmed(day):
        return "no-consent" if newest is None else "consent-ended"
    if newest is None:
        return "nothing-filmed"
    if newest.state in (Take.State.WAITING, Take.State.WORKING):
        return "being-read"
    if newest.state == "failed" or newest.state == "needs-marks":
        return newest.state
    if not newest.read and newest.answer is None:
        return "new-take"
    if newest.result == "fault":
        return "focus"
    assert newest.result
    return newest.result


def _facts(
    student: Student,
    newest: TakeSummary | None,
    day: datetime.date,
    due: datetime.date | None = None,
    rule: Rule | None = None,
) -> dict[str, Any]:
    """The fields of a chair."""
    focus = student.focus or (newest.focus if newest else None)
    state = _state(student, newest, day)
    if due is not None and state in SETTLED:
        state = "recheck-due"
    return {
        "id": student.pk,
        "name": student.name,
        "instrument": student.instrument,
        "school": student.school,
        "consent_on": student.consent_on,
        "consent_until": student.consent_until,
        "retain_until": student.retain_until,
        "state": state,
        "opens": state in OPENS,
        "deleted_on": _deleted_on(student, state, rule, day),
        "due": due if state == "recheck-due" else None,
        "focus": focus or None,
        "focus_name": common().fault(focus).name if focus else None,
        "take": newest,
    }


def _deleted_on(
    student: Student, state: ChairState, rule: Rule | None, day: datetime.date
) -> datetime.date | None:
    clips, everything = deletions(student, rule, day)
    return {"keep-over": everything, "consent-ended": clips}.get(state)


def _what(chair: Chair) -> str:
    """What comes next for a chair, in a few words."""
    words = said(NEXT_LABELS[chair.state])
    if chair.deleted_on is None:
        return words
    return f"{words}. {said('Sulvet will delete on {day}', day=on_day(chair.deleted_on))}"


def band_page(teacher: User, due: dict[int, datetime.date] | None = None) -> BandPage:
    """The seating plan and what comes next, in a few queries whatever the band's size.

    due  student → since when a recheck is due
    """
    due = due or {}
    band = shown_band(teacher)
    day = local_time.today()
    rule = retention_of(teacher)
    newest = Take.objects.filter(student=OuterRef("pk")).values("pk")[:1]
    students = list(
        students_of(teacher).filter(section__band=band).annotate(newest=Subquery(newest))
    )
    takes = {
        take.pk: summary(take)
        for take in with_findings(Take.objects.filter(pk__in=[s.newest for s in students]))
    }
    sections: dict[int, Section] = {}
    chairs = []
    for student in students:
        facts = _facts(student, takes.get(student.newest), day, due.get(student.pk), rule)
        chair = Chair(**facts)
        section = sections.setdefault(
            student.section_id,
            Section(student.section_id, student.section.called, student.section.arc, []),
        )
        section.chairs.append(chair)
        chairs.append(chair)
    listed = sorted((chair for chair in chairs if chair.state in NEXT_LABELS), key=_comes_next)
    return BandPage(
        band.name if band else "",
        band.year if band else "",
        space.warning(),
        list(sections.values()),
        [
            Next(c.id, c.name, c.state, _what(c), c.take.id if c.take else None, c.opens,
                 c.state == "new-take" and c.take is not None and c.take.result in NOTHING_FOUND)
            for c in listed
        ],
        lines(),
    )  # fmt: skip


def _comes_next(chair: Chair) -> tuple[Any, ...]:
    """By what it is, then by due date, by severity, and by how long it has waited."""
    take, due = chair.take, chair.due or chair.retain_until
    kind = next(n for n, states in enumerate(NEXT_ORDER) if chair.state in states)
    return (
        kind,
        due.toordinal() if due is not None and kind < 2 else 0,
        -take.severity if take else 0.0,
        take.filmed_on.toordinal() if take else 0,
        chair.name,
    )


def student_page(student: Student) -> StudentPage:
    """One student with all takes."""
    takes = [summary(take) for take in takes_of_student(student)]
    rule = retention_of(student.section.band.teacher)
    return StudentPage(
        **_facts(student, takes[0] if takes else None, local_time.today(), rule=rule),
        closed=closed(student) if takes else "",
        section=student.section.called,
        tape_mm=student.tape_mm,
        tape_spread=student.tape_spread,
        tape_on=student.tape_on,
        takes=takes,
        lines=lines(),
    )
