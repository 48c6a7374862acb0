"""A student goes to another teacher of the same school, with all that is kept of them."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from sulvet.accounts import access_log, local_time
from sulvet.accounts.errors import Refused
from sulvet.accounts.schools import colleagues_of
from sulvet.band.models import Student, Transfer
from sulvet.band.services import band_of, seat_in

NO_CONSENT = (
    "There is no filming consent on file for {name} today, and there are takes. Ask the parents "
    "whether {teacher} may see them and enter the date, or delete the takes."
)


def teachers_beside(teacher: User) -> QuerySet[User]:
    """To whom a student may go: the other teachers of the school who may log in."""
    return colleagues_of(teacher).filter(is_active=True).exclude(pk=teacher.pk)


def transfer(student: Student, by: User, to: int) -> Transfer:
    """Move a student, and note with which consent; refused without one while there are takes.

    by  the student's teacher;  to  a colleague's account; 404 for anybody of another school
    """
    teacher = get_object_or_404(teachers_beside(by), pk=to)
    if student.takes.exists() and not student.may_be_filmed(local_time.today()):
        raise Refused(NO_CONSENT, name=student.name, teacher=teacher.get_username())
    before = student.section
    with transaction.atomic():
        seat_in(student, band_of(teacher))
        student.save(update_fields=["section", "seat"])
        # The links of the phone at home were the other teacher's to give.
        student.links.filter(revoked=False).update(revoked=True)
        made = Transfer.objects.create(
            student=student, left=by, joined=teacher, consent_on=student.consent_on,
            consent_until=student.consent_until,
        )  # fmt: skip
        if not before.students.exists():
            before.delete()
    access_log.note(by.get_username(), access_log.MOVED, f"student {student.pk}")
    return made
