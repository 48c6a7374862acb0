"""What is over goes: clips without consent, and all of students kept long enough.

Only after the warning that the teacher agreed to once; until then it is only said.
"""

from __future__ import annotations

import datetime
import logging

from django.contrib.auth.models import User
from django.db.models import Exists, OuterRef

from sulvet.accounts import access_log, local_time
from sulvet.accounts.preferences import zone_of
from sulvet.band.consent import deletions, is_over
from sulvet.band.models import Student
from sulvet.band.selectors import retention_of
from sulvet.takes import uploads
from sulvet.takes.models import Take

#: What the access log says of it.
DELETED = "deleted after the warning"
log = logging.getLogger(__name__)


def note_what_is_over(day: datetime.date) -> None:
    """Write down on which day it was seen first, and take back what is not so (any more)."""
    filmed = Exists(Take.objects.filter(student=OuterRef("pk")))
    for student in Student.objects.annotate(filmed=filmed):
        for name, is_so in (
            ("consent_missing_since", student.filmed and not student.may_be_filmed(day)),
            ("over_since", is_over(student, day)),
        ):
            seen = getattr(student, name)
            # A day that has not come yet was seen by a clock that was wrong.
            right = min(seen or day, day) if is_so else None
            if seen != right:
                Student.objects.filter(pk=student.pk).update(**{name: right})


def delete_what_is_over(day: datetime.date | None = None) -> tuple[int, int]:
    """Delete what its teacher agreed to have deleted; how many takes, and how many students."""
    given = day
    note_what_is_over(given or local_time.today())
    takes = students = 0
    for teacher in User.objects.filter(bands__isnull=False).distinct():
        rule = retention_of(teacher)
        if rule is None:
            continue
        with zone_of(teacher):
            day = given or local_time.today()
        for student in Student.objects.filter(section__band__teacher=teacher):
            clips_on, all_on = deletions(student, rule, day)
            if all_on is not None and all_on <= day:
                access_log.note(teacher.get_username(), DELETED, f"student {student.pk}")
                uploads.delete_student(student)
                students += 1
            elif clips_on is not None and clips_on <= day:
                gone = list(student.takes.all())
                for take in gone:
                    access_log.note(teacher.get_username(), DELETED, f"take {take.pk}")
                    uploads.delete_take(take)
                student.close_ups.filter(shows_face=True).delete()
                takes += len(gone)
    if takes or students:
        log.warning("%s take(s) and %s student(s) deleted: over", takes, students)
    return takes, students
