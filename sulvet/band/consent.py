"""What follows from consent: pictures of a student are closed without it."""

from __future__ import annotations

import datetime

from django.http import HttpResponse
from django.utils import timezone
from rest_framework.exceptions import PermissionDenied

from sulvet.band.models import Retention, Student
from sulvet.core.consent import ONE_DAY, deletion_day

CLOSED = (
    "Consent to film {name} has ended, so all clips are closed: they can't be looked at or read. "
    "Ask the parents again and enter the date, or delete the clips."
)


class Closed(PermissionDenied):
    """Pictures that may not be looked at any more."""


def closed(student: Student, day: datetime.date | None = None) -> str:
    """Why this student's pictures are closed, as a sentence; empty while they are open."""
    if student.may_be_filmed(day or timezone.localdate()):
        return ""
    return CLOSED.format(name=student.name)


def demand_open(student: Student) -> None:
    """Raise ``Closed`` when this student's pictures may not be looked at."""
    why = closed(student)
    if why:
        raise Closed(why)


def refusal(student: Student) -> HttpResponse | None:
    """What is answered instead of a picture of this student; None while it may be looked at."""
    why = closed(student)
    return HttpResponse(why, status=403, content_type="text/plain; charset=utf-8") if why else None


def over_since(
    student: Student, day: datetime.date
) -> tuple[datetime.date | None, datetime.date | None]:
    """Since when there is no consent, and since when all was to be deleted; None where not so."""
    kept = student.retain_until
    return (
        student.consent.ended_on(day),
        kept + ONE_DAY if kept is not None and kept < day else None,
    )


def deletions(
    student: Student, rule: Retention | None, day: datetime.date
) -> tuple[datetime.date | None, datetime.date | None]:
    """When Sulvet deletes the student's clips, and all that is kept of the student."""
    agreed, days = (rule.agreed_on, rule.days) if rule else (None, 0)
    clips, everything = over_since(student, day)
    return deletion_day(clips, agreed, days), deletion_day(everything, agreed, days)
