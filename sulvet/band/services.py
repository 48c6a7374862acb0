"""Writes to bands and students."""

from __future__ import annotations

import datetime
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from sulvet.accounts.errors import Refused
from sulvet.band.models import Band, Retention, Section, Student
from sulvet.core.formats import roster
from sulvet.core.judgement.standards import StandardError, shipped_standard


@dataclass(frozen=True)
class StudentFacts:
    """What a teacher says of a student."""

    name: str
    instrument: str
    school: str = ""
    consent_on: datetime.date | None = None
    consent_until: datetime.date | None = None
    retain_until: datetime.date | None = None


def band_of(teacher: User) -> Band:
    """The teacher's band, made at the first call."""
    band, _ = Band.objects.get_or_create(teacher=teacher, defaults={"name": "Beginning band"})
    return band


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


@transaction.atomic
def add_roster(band: Band, data: bytes) -> list[roster.Line]:
    """All students of a class list, if no line of it has an error; else nobody.

    Returns the lines with their errors.
    """
    lines = read_roster(band, data)
    if not any(line.errors for line in lines):
        for line in lines:
            add_student(band, StudentFacts(**line.facts))  # type: ignore[arg-type]
    return lines


def agree_to_deletion(teacher: User, days: int) -> None:
    """Sulvet may delete what is over, after so many days of warning, from today on."""
    Retention.objects.update_or_create(
        teacher=teacher,
        defaults={"days": days},
        create_defaults={"days": days, "agreed_on": timezone.localdate()},
    )


def delete_by_hand(teacher: User) -> None:
    """Nothing is deleted by itself any more."""
    Retention.objects.filter(teacher=teacher).delete()


def read_roster(band: Band, data: bytes) -> list[roster.Line]:
    """The lines of a class list, each with what is wrong with it."""
    names = Student.objects.filter(section__band=band).values_list("name", flat=True)
    try:
        return roster.load(data, {name.lower() for name in names})
    except ValueError as error:
        raise Refused(str(error)) from error


def _take_over(student: Student, band: Band, facts: StudentFacts) -> None:
    try:
        standard = shipped_standard(facts.instrument)
        standard.school(facts.school or None)
    except StandardError as error:
        raise Refused(str(error)) from error
    if facts.consent_on and facts.consent_until and facts.consent_until < facts.consent_on:
        raise Refused("Consent ends before it starts. Check both dates.")
    student.section, _ = Section.objects.get_or_create(
        band=band, name=standard.section, defaults={"arc": standard.arc}
    )
    student.name, student.instrument, student.school = facts.name, facts.instrument, facts.school
    student.consent_on, student.consent_until = facts.consent_on, facts.consent_until
    student.retain_until = facts.retain_until
    if student.may_be_filmed(timezone.localdate()):
        student.consent_missing_since = None
    student.save()
