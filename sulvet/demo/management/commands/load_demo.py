"""Load the demo band once; a second call changes nothing."""

from __future__ import annotations

import datetime
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand
from django.db import transaction

from sulvet.accounts import local_time
from sulvet.band.models import Student
from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.booth import links
from sulvet.closeups.services import Placed, keep_close_up, mark_close_up
from sulvet.core import sandbox
from sulvet.core.simulate import script
from sulvet.demo import readings
from sulvet.demo.closeups import DemoCloseUp
from sulvet.demo.lessons import lead_up
from sulvet.demo.scenario import BAND, STUDENTS
from sulvet.plans.models import Practice
from sulvet.plans.selectors import take_for
from sulvet.plans.services import PlanFacts, accept, practise, start_plan
from sulvet.records.services import add_note
from sulvet.reeds.services import ReedFacts, add_reed, played
from sulvet.takes.decisions import decide, observe, set_read
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Take
from sulvet.takes.uploads import add_read_take

NAME, PASSWORD = "demo", "sulvet-demo"


class Command(BaseCommand):
    """``manage.py load_demo``."""

    help = "Load the demo band, if it is not there yet."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        """Band, chairs, and the takes as they were read; all of it or nothing."""
        if User.objects.filter(username=NAME).exists():
            return
        self.stdout.write("== loading the demo band")
        today = local_time.today()
        teacher = User.objects.create_user(NAME, password=PASSWORD, is_staff=True)
        band = band_of(teacher)
        band.name = BAND
        band.save()
        consent = today - datetime.timedelta(days=60)
        for chair in STUDENTS:
            student = add_student(
                band,
                StudentFacts(
                    chair.name,
                    chair.instrument,
                    chair.school,
                    consent_on=consent if chair.consent else None,
                ),
            )
            for take in chair.takes:
                kept = add_read_take(
                    student,
                    take.clip,
                    TakeFacts(
                        script.load(take.script).view,
                        Take.Purpose.RECHECK if take.recheck else Take.Purpose.CHECK,
                        today - datetime.timedelta(days=take.days),
                    ),
                    readings.load(take.reading),
                    readings.heard(take.reading),
                )
                # What is older than the student's last take has been looked at.
                if take.days > min(t.days for t in chair.takes):
                    set_read(kept, True)
            if chair.plan is not None:
                _begin_plan(teacher, student, *chair.plan)
            for row in chair.reeds:
                _put_in(student, *row)
            if chair.heard:
                newest = student.takes.first()
                assert newest is not None
                observe(newest, list(chair.heard))
            if chair.close_up is not None:
                _look_at(student, chair.close_up)
            for text in chair.notes:
                add_note(student, text)
            lead_up(student)


def _put_in(student: Student, strength: str, opened: int, hours: float, last: int) -> None:
    """A reed that was played half an hour a day, the last time so many days ago; what is
    missing then was played on its first day."""
    today = local_time.today()
    day = today - datetime.timedelta(days=last)
    first = today - datetime.timedelta(days=opened)
    reed = add_reed(student, ReedFacts(strength, first))
    left = round(hours * 60)
    while left > 0:
        minutes = min(left, 120 if day == first else 30)
        played(reed, day, minutes)
        left -= minutes
        day = max(day - datetime.timedelta(days=1), first)
        if day == first and reed.plays.filter(date=first).exists():
            break


def _look_at(student: Student, one: DemoCloseUp) -> None:
    """A close-up of the reed as it was marked."""
    kept = one.marks()
    day = local_time.today() - datetime.timedelta(days=one.days)
    width, height = kept["size"]
    data = one.picture.read_bytes()
    row = keep_close_up(student, data, sandbox.Photo(width, height, False), one.picture.name, day)
    marks = {name: (x, y) for name, (x, y) in kept["marks"].items()}
    mark_close_up(row, Placed(marks, frozenset(kept["hidden"]), frozenset()))


def _begin_plan(teacher: User, student: Student, name: str, fault: str) -> None:
    """The focus confirmed, two weeks begun, the first recheck taken over."""
    take = student.takes.get(original_name=f"{name}.mp4")
    decide(take, fault, "hold", "confirmed", "")
    take.refresh_from_db()
    plan = start_plan(teacher, take, PlanFacts("instrument", 8, take.filmed_on))
    today = local_time.today()
    for ahead in PRACTISED:
        date = take.filmed_on + datetime.timedelta(days=ahead)
        if date < today and date.weekday() < 5:
            practise(plan, date, True)
    for ahead in TICKED:
        date = take.filmed_on + datetime.timedelta(days=ahead)
        if date < today:
            practise(plan, date, True, Practice.By.STUDENT)
    links.make(student, plan.view, LINK_DAYS, page=True, pictures=True)
    add_note(student, HARD, by_student=True)
    week = plan.rechecks.get(day=7)
    if take_for(week) is not None:
        accept(teacher, week)


#: Days of the strip on which the demo's student has practised.
PRACTISED = (1, 2, 4, 5, 6, 7, 8, 11, 12, 13)
#: Those that the student ticked, how long the link to the student's page is valid, and what was
#: hard.
TICKED, LINK_DAYS = (3, 9, 10, 13), 30
HARD = "My chin comes up again when I play the low notes."
