"""Writes to bands and students."""

from __future__ import annotations

import datetime
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max, QuerySet

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.accounts.schools import school_of
from sulvet.band.models import Band, Retention, SchoolRetention, Section, Student
from sulvet.band.selectors import shown_band
from sulvet.core.formats import roster
from sulvet.core.formats.dates import Order
from sulvet.core.judgement.standards import (
    Standard,
    StandardError,
    shipped_standard,
    shipped_standards,
)
from sulvet.core.language import ENGLISH, said, speaking


@dataclass(frozen=True)
class StudentFacts:
    """What a teacher says of a student."""

    name: str
    instrument: str
    school: str = ""
    consent_on: datetime.date | None = None
    consent_until: datetime.date | None = None
    retain_until: datetime.date | None = None


@dataclass(frozen=True)
class SectionFacts:
    """What a teacher says of a section.

    arc       its row; 1 is the front
    students  all who sit in it, in their order; empty leaves them as they sit
    """

    id: int
    name: str
    arc: int
    students: Sequence[int] = ()


def band_of(teacher: User) -> Band:
    """The band that the teacher works with, made at the first call."""
    there = shown_band(teacher)
    return there or Band.objects.create(teacher=teacher, name=said("Beginning band"), shown=True)


@transaction.atomic
def add_student(band: Band, facts: StudentFacts) -> Student:
    """A new chair, in the section of its instrument."""
    student = Student()
    _take_over(student, band, facts)
    return student


@transaction.atomic
def change_student(student: Student, facts: StudentFacts) -> Student:
    """Other facts for a chair. A change of school is judged by at the next look."""
    _take_over(student, student.section.band, facts)
    return student


def add_roster(band: Band, data: bytes, order: Order | None = None) -> roster.Roster:
    """All students of a class list, new and changed ones, if all of it can be imported.

    order  whether day or month comes first in dates such as 3/4/2026

    Returns the list as it was read; nothing was stored unless it is ``ready``.
    """
    read = read_roster(band, data, order)
    if read.ready:
        with transaction.atomic():
            there = {student.name.lower(): student for student in _students(band)}
            for line in read.lines:
                if line.skipped:
                    continue
                student = there.get(str(line.facts["name"]).lower(), Student())
                if not line.known or line.changes:
                    _take_over(student, band, StudentFacts(**line.facts))  # type: ignore[arg-type]
    return read


@transaction.atomic
def set_consent(
    band: Band,
    students: list[int],
    since: datetime.date | None,
    until: datetime.date | None,
) -> int:
    """One consent for many students of a band; how many they are."""
    rows = list(_students(band).filter(pk__in=students))
    for student in rows:
        _take_over(student, band, replace(facts_of(student), consent_on=since, consent_until=until))
    return len(rows)


def rename(band: Band, name: str, sections: list[SectionFacts]) -> None:
    """Call a band and its sections by other names, and seat sections and students otherwise."""
    there = dict(band.sections.values_list("pk", "name"))
    sitting: dict[int, set[int]] = {pk: set() for pk in there}
    for student, section in _students(band).values_list("pk", "section"):
        sitting[section].add(student)
    seated = [facts for facts in sections if facts.students]
    if not {facts.id for facts in sections} <= set(there) or any(
        sorted(facts.students) != sorted(sitting[facts.id]) for facts in seated
    ):
        raise Refused("The sections have changed meanwhile. Reload the page.")
    # A name that was only shown in another language has not been changed.
    new = {
        facts.id: there[facts.id] if facts.name == said(there[facts.id]) else facts.name
        for facts in sections
    }
    names = there | new
    if len({called.lower() for called in names.values()}) < len(names):
        raise Refused("Two sections have the same name. Give each its own.")
    with transaction.atomic():
        Band.objects.filter(pk=band.pk).update(name=name)
        # Names are unique: two that are swapped must not meet half way.
        for facts in sections:
            Section.objects.filter(pk=facts.id).update(name=f" {facts.id}")
        for facts in sections:
            Section.objects.filter(pk=facts.id).update(name=new[facts.id], arc=facts.arc)
        for facts in seated:
            places = [Student(pk=pk, seat=seat) for seat, pk in enumerate(facts.students, 1)]
            Student.objects.bulk_update(places, ["seat"])


def agree_to_deletion(teacher: User, days: int) -> None:
    """Sulvet may delete what is over, after so many days of warning, from today on."""
    Retention.objects.update_or_create(
        teacher=teacher,
        defaults={"days": days},
        create_defaults={"days": days, "agreed_on": local_time.today()},
    )


def agree_for_school(by: User, days: int) -> None:
    """The same for all teachers of an administrator's school."""
    SchoolRetention.objects.update_or_create(
        school=school_of(by),
        defaults={"days": days},
        create_defaults={"days": days, "agreed_on": local_time.today()},
    )


def leave_to_teachers(by: User) -> None:
    """Each teacher of the school decides again whether anything is deleted by itself."""
    SchoolRetention.objects.filter(school=school_of(by)).delete()


def delete_by_hand(teacher: User) -> None:
    """Nothing is deleted by itself any more, unless the school says so."""
    Retention.objects.filter(teacher=teacher).delete()


def read_roster(band: Band, data: bytes, order: Order | None = None) -> roster.Roster:
    """The rows of a class list: what is wrong with each, and what it would change."""
    known: dict[str, dict[str, roster.Cell] | None] = {}
    for student in _students(band):
        name = student.name.lower()
        known[name] = None if name in known else asdict(facts_of(student))
    try:
        return roster.load(data, known, order, local_time.today())
    except ValueError as error:
        raise Refused(str(error)) from error


def facts_of(student: Student) -> StudentFacts:
    """What the teacher has said of a student."""
    return StudentFacts(
        student.name, student.instrument, student.school, student.consent_on,
        student.consent_until, student.retain_until,
    )  # fmt: skip


def seat_in(student: Student, band: Band) -> None:
    """Give a student the last seat of the instrument's section of a band; not saved."""
    student.section = _section(band, shipped_standard(student.instrument))
    last = student.section.students.aggregate(last=Max("seat"))["last"]
    student.seat = last + 1 if last else 0


def _section(band: Band, standard: Standard) -> Section:
    """Where an instrument sits: with others of its standard's section, whatever it is called."""
    alike = [s.instrument for s in shipped_standards().values() if s.section == standard.section]
    there = band.sections.filter(students__instrument__in=alike).first()
    if there is not None:
        return there
    with speaking(ENGLISH):
        # Kept in one language, whoever adds the first student.
        name = shipped_standard(standard.instrument).section
    section, _ = Section.objects.get_or_create(band=band, name=name, defaults={"arc": standard.arc})
    return section


def _students(band: Band) -> QuerySet[Student]:
    return Student.objects.filter(section__band=band).select_related("section")


def _take_over(student: Student, band: Band, facts: StudentFacts) -> None:
    try:
        standard = shipped_standard(facts.instrument)
        standard.school(facts.school or None)
    except StandardError as error:
        raise Refused(str(error)) from error
    if facts.consent_on and facts.consent_until and facts.consent_until < facts.consent_on:
        raise Refused("Consent ends before it starts. Check both dates.")
    moves = student.pk is None or student.instrument != facts.instrument
    student.name, student.instrument, student.school = facts.name, facts.instrument, facts.school
    if moves:
        seat_in(student, band)
    student.consent_on, student.consent_until = facts.consent_on, facts.consent_until
    student.retain_until = facts.retain_until
    if student.may_be_filmed(local_time.today()):
        student.consent_missing_since = None
    student.save()
