"""Shapes of what plans answer and take."""

from __future__ import annotations

from rest_framework import serializers as s

from sulvet.accounts.shapes import Plain
from sulvet.plans.models import STAGES, Plan


class BeatSerializer(Plain):
    """Something done for so many counts."""

    do = s.ChoiceField([(one, one) for one in ("in", "out", "tone", "hold", "rest")])
    counts = s.IntegerField()


class CountingSerializer(Plain):
    """A drill counted aloud: its beats one after the other, each as often as it comes."""

    tempo = s.IntegerField()
    beats = BeatSerializer(many=True)


class DrillSerializer(Plain):
    """A drill with its steps."""

    id = s.CharField()
    name = s.CharField()
    steps = s.ListField(child=s.CharField())
    counts = s.CharField()
    minutes = s.IntegerField()
    pass_mark = s.CharField()
    caution = s.CharField(allow_blank=True)
    counting = CountingSerializer(allow_null=True)


class DaySerializer(Plain):
    """One day of the strip; ``done`` as the teacher says, ``student`` as the student does."""

    number = s.IntegerField()
    date = s.DateField()
    off = s.BooleanField()
    done = s.BooleanField()
    student = s.BooleanField()
    today = s.BooleanField()
    ahead = s.BooleanField()


class SaysSerializer(Plain):
    """What a recheck says, until the teacher accepts it."""

    answer = s.CharField()
    why = s.CharField()


class RecheckSerializer(Plain):
    """A look after one week or two."""

    id = s.IntegerField()
    day = s.IntegerField()
    due_on = s.DateField()
    take = s.IntegerField(allow_null=True)
    read = s.BooleanField()
    says = SaysSerializer(allow_null=True)
    heard = s.CharField(allow_blank=True)
    answer = s.CharField(allow_blank=True)
    due = s.BooleanField()


class PlanSerializer(Plain):
    """One plan with its strip and rechecks."""

    id = s.IntegerField()
    fault = s.CharField()
    name = s.CharField()
    child = s.CharField()
    stage = s.ChoiceField(STAGES)
    state = s.ChoiceField(Plan.State.choices)
    started_on = s.DateField()
    take = s.IntegerField(allow_null=True)
    minutes = s.IntegerField()
    drills = DrillSerializer(many=True)
    days = DaySerializer(many=True)
    rechecks = RecheckSerializer(many=True)


class StudentPlansSerializer(Plain):
    """The running plan of a student, and those before it."""

    running = PlanSerializer(allow_null=True)
    before = PlanSerializer(many=True)


class PlanInSerializer(Plain):
    """How a plan begins."""

    stage = s.ChoiceField(STAGES, default="lips")
    minutes = s.IntegerField(min_value=2, max_value=30, default=8)
    started_on = s.DateField(required=False)


class PracticeInSerializer(Plain):
    """A tick on the strip."""

    date = s.DateField()
    done = s.BooleanField()


class FreeSerializer(Plain):
    """A stretch without school."""

    first = s.DateField()
    last = s.DateField()
    words = s.CharField(max_length=60, allow_blank=True, default="")


class SchoolDaysSerializer(Plain):
    """Days off and minutes a day."""

    weekdays_off = s.ListField(child=s.IntegerField(min_value=0, max_value=6))
    minutes = s.IntegerField(min_value=2, max_value=30)
    free = FreeSerializer(many=True)
