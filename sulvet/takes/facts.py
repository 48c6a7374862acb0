"""What a teacher says of a clip: when it comes in, or put right later."""

from __future__ import annotations

import datetime
from dataclasses import asdict, dataclass

from django.db import transaction
from django.db.models import F

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.anatomy.landmarks import other_side
from sulvet.core.video.proxy import PROXY
from sulvet.takes import stabilised, storage
from sulvet.takes.models import Mark, Take
from sulvet.takes.queue import enqueue

NO_CONSENT = (
    "There is no filming consent on file for {name} on {day}. Enter the date of the "
    "parents' consent on the student's page first, then try again."
)
NOT_YET = (
    "A clip can't have been filmed on {day}: that date is in the future. Set the date it "
    "was filmed."
)


@dataclass(frozen=True)
class TakeFacts:
    """What a teacher says of a clip."""

    view: str
    purpose: str
    filmed_on: datetime.date
    mirrored: bool = False


def demand_filmable(student: Student, day: datetime.date) -> None:
    """Refused where the student may not have been filmed that day, or the day is still to come."""
    # A clock a time zone ahead of the server's is no mistake.
    if day > local_time.today() + datetime.timedelta(days=1):
        raise Refused(NOT_YET, day=day.isoformat())
    if not student.may_be_filmed(day):
        raise Refused(NO_CONSENT, name=student.name, day=day.isoformat())


def correct(take: Take, student: Student, facts: TakeFacts) -> None:
    """Put right what was said of a clip. What was seen on it is analysed again where it changes.

    Marks placed by hand stay: a mirrored picture takes them to its other side, another view
    lets them go, since they name other places of the face. Notes go with the clip; plans and
    rechecks stay with the student who had them.
    """
    demand_filmable(student, facts.filmed_on)
    moved = student.pk != take.student_id
    turned, mirrored = facts.view != take.view, facts.mirrored != take.mirrored
    with transaction.atomic():
        if moved:
            take.teacher_notes.update(student=student)
            take.plans.update(take=None)
            take.rechecks.update(take=None)
        if turned:
            take.marks.all().delete()
        elif mirrored:
            _mirror_marks(take)
        if turned or mirrored:
            # What can be taken back names places of the picture as it was.
            take.edits.all().delete()
        take.student = student
        for name, value in asdict(facts).items():
            setattr(take, name, value)
        take.revision += 1
        take.save(update_fields=["student", "revision", *asdict(facts)])
        if moved or turned or mirrored:
            enqueue(take, "again")
    if mirrored:
        # The review copy shows the picture as it was.
        (take.directory / PROXY).unlink(missing_ok=True)
        storage.remove(take.folder, PROXY)
    if turned or mirrored:
        stabilised.forget(take)


def _mirror_marks(take: Take) -> None:
    """Marks as they lie in the mirrored picture: across, and named for the other side."""
    placed = take.marks.filter(source=Mark.Source.PLACED)
    placed.update(x=take.width - 1 - F("x"))
    rows = list(placed)
    for mark in rows:
        mark.landmark = other_side(mark.landmark)
    placed.delete()
    Mark.objects.bulk_create(rows)
