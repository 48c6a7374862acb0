"""A plan, what was practised, the rechecks, and the teacher's days off."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from sulvet.band.models import Student
from sulvet.takes.models import Take

STAGES = [(stage, stage) for stage in ("lips", "mouthpiece", "instrument")]


class SchoolDays(models.Model):
    """When a teacher's students don't practise, and how long they do on other days."""

    teacher = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="school_days"
    )
    #: Days of the week off, Monday 0.
    weekdays_off = models.JSONField(default=list)
    minutes = models.PositiveSmallIntegerField(default=8)


class FreeDays(models.Model):
    """A stretch without school, first and last day included."""

    school_days = models.ForeignKey(SchoolDays, on_delete=models.CASCADE, related_name="free")
    first = models.DateField()
    last = models.DateField()
    words = models.CharField(max_length=60, blank=True)

    class Meta:
        ordering = ["first", "id"]


class Plan(models.Model):
    """Two weeks on one focus."""

    class State(models.TextChoices):
        RUNNING = "running"
        PASSED = "passed"
        STOPPED = "stopped"

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="plans")
    #: The take that showed it; the plan goes on when the take is deleted.
    take = models.ForeignKey(Take, on_delete=models.SET_NULL, null=True, related_name="plans")
    fault = models.CharField(max_length=40)
    view = models.CharField(max_length=10, choices=Take.View.choices)
    #: How far out the focus stood: measure, value, uncertainty, edge; empty if not measured.
    began_at = models.JSONField(default=dict)
    stage = models.CharField(max_length=12, choices=STAGES)
    drills = models.JSONField(default=list)
    minutes = models.PositiveSmallIntegerField()
    started_on = models.DateField()
    state = models.CharField(max_length=10, choices=State.choices, default=State.RUNNING)

    class Meta:
        ordering = ["-started_on", "-id"]
        constraints = [
            models.UniqueConstraint(
                fields=["student"], condition=models.Q(state="running"), name="one_running_plan"
            )
        ]

    def __str__(self) -> str:
        return f"{self.student}: {self.fault}"


class Practice(models.Model):
    """A day on which the drills were done, as the teacher or the student says."""

    class By(models.TextChoices):
        TEACHER = "teacher"
        STUDENT = "student"

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="practised")
    date = models.DateField()
    by = models.CharField(max_length=10, choices=By.choices, default=By.TEACHER)

    class Meta:
        ordering = ["date"]
        constraints = [models.UniqueConstraint(fields=["plan", "date", "by"], name="once_a_day")]


class Recheck(models.Model):
    """A look after one week or two; ``answer`` is empty until the teacher has accepted one."""

    plan = models.ForeignKey(Plan, on_delete=models.CASCADE, related_name="rechecks")
    day = models.PositiveSmallIntegerField()
    due_on = models.DateField()
    take = models.ForeignKey(Take, on_delete=models.SET_NULL, null=True, related_name="rechecks")
    answer = models.CharField(max_length=12, blank=True)

    class Meta:
        ordering = ["day"]
