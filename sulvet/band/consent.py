"""What follows from consent: pictures of a student are closed without it."""

from __future__ import annotations

import datetime

from django.http import HttpResponse
from rest_framework.exceptions import PermissionDenied

from sulvet.accounts import local_time
from sulvet.band.models import Rule, Student
from sulvet.core.consent import deletion_day
from sulvet.core.language import said

CLOSED = (
    "Consent to film {name} has ended, so all clips are locked: they can't be viewed or "
    "analysed. Ask the parents again and enter the date, or delete the clips."
)


class Closed(PermissionDenied):
    """Pictures that may not be looked at any more."""


def closed(student: Student, day: datetime.date | None = None) -> str:
    """Why this student's pictures are closed, as a sentence; empty while they are open."""
    if student.may_be_filmed(day or local_time.today()):
        return ""
    return said(CLOSED, name=student.name)


def demand_open(student: Student) -> None:
    """Raise ``Closed`` when this student's pictures may not be looked at."""
    why = closed(student)
    if why:
        raise Closed(why)


def refusal(student: Student) -> HttpResponse | None:
    """What is answered instead of a picture of this student; None while it may be looked at."""
    why = closed(student)
    return HttpResponse(why, status=403, content_type="text/plain; charset=utf-8") if why else None


def deletions(
    student: Student, rule: Rule | None, day: datetime.date
) -> tuple[datetime.date | None, datetime.date | None]:
    """When Sulvet deletes the student's clips, and all that is kept of the student.

    The warning counts from the day on which Sulvet saw that they are over: neither a computer
    that was off for weeks nor a clock that was wrong may take it away.
    """
    agreed, days = (rule.agreed_on, rule.days) if rule else (None, 0)
    missing = None if student.may_be_filmed(day) else student.consent_missing_since or day
    over = (student.over_since or day) if is_over(student, day) else None
    return deletion_day(missing, agreed, days), deletion_day(over, agreed, days)


def is_over(student: Student, day: datetime.date) -> bool:
    """Whether the time for which all is kept has passed."""
    return student.retain_until is not None and student.retain_until < day
