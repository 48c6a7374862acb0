"""What a student says on the own page: days practised, reeds played, a word on what was hard."""

from __future__ import annotations

import datetime

from django.shortcuts import get_object_or_404

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core import clock
from sulvet.lessons import given
from sulvet.lessons.models import GivenDrill
from sulvet.plans.models import Practice
from sulvet.plans.services import practise
from sulvet.practice_page.shapes import ReedPlayedIn, TickIn, WordIn
from sulvet.records.models import Note
from sulvet.records.selectors import running_plan
from sulvet.records.services import add_note
from sulvet.reeds.models import Reed
from sulvet.reeds.services import played

#: So many words a student may send on a day, and so far back a reed may be said to be played:
#: a phone may have been without a connection.
WORDS_A_DAY, BACK = 5, datetime.timedelta(days=14)


def tick(student: Student, told: TickIn) -> None:
    """A day practised, or not after all; what the teacher ticked stays as it is."""
    if told.exercise is not None:
        given.mark_done(_exercise(student, told.exercise), told.date, told.done, at_home=True)
        return
    plan = running_plan(student)
    if plan is None:
        raise Refused("Your two weeks are over. Ask your teacher what comes next.")
    practise(plan, told.date, told.done, Practice.By.STUDENT)


def play_reed(student: Student, told: ReedPlayedIn) -> None:
    """A reed was played, for as long as is usual."""
    reed = get_object_or_404(Reed.objects.filter(student=student), pk=told.reed)
    if told.date < local_time.today() - BACK:
        raise Refused("This is too long ago. Tell your teacher.")
    if not reed.plays.filter(date=told.date).exists():
        played(reed, told.date, None)


def say(student: Student, told: WordIn) -> None:
    """A word to the teacher; the same again, as after a lost answer, changes nothing."""
    since = clock.now() - datetime.timedelta(days=1)
    today = Note.objects.filter(student=student, by_student=True, written_on__gte=since)
    if today.filter(text=told.text.strip()).exists():
        return
    if today.count() >= WORDS_A_DAY:
        raise Refused("That is enough for today. Tell your teacher the rest.")
    if told.exercise is not None:
        exercise = _exercise(student, told.exercise)
        given.hand_in_again(exercise, told.text[:200])
    add_note(student, told.text, by_student=True)


def _exercise(student: Student, number: int) -> GivenDrill:
    return get_object_or_404(
        GivenDrill.objects.filter(student=student).select_related("student"), pk=number
    )
