"""Where a student stands on the first-lesson ladder, and the drills that are given without a
fault."""

from __future__ import annotations

from django.db import models

from sulvet.band.models import Student
from sulvet.core.lessons.ladder import step_ids

WITHOUT = [(word, word) for word in ("tongue", "loudness", "rhythm")]


class Standing(models.Model):
    """The step a student is at.

    step     an id of the ladder; empty once all are passed
    since    the day on which the student came to it
    heard    what is heard where there is no sound yet: an id of ``observations.toml``
    set_up   ticked lines of the set-up card
    without  what is left out while it is too much at once; empty: nothing
    """

    student = models.OneToOneField(Student, on_delete=models.CASCADE, related_name="standing")
    step = models.CharField(max_length=20, blank=True, default=step_ids()[0])
    since = models.DateField()
    heard = models.CharField(max_length=30, blank=True)
    set_up = models.JSONField(default=list)
    without = models.CharField(max_length=10, blank=True, choices=WITHOUT)

    def __str__(self) -> str:
        return f"{self.student}: {self.step}"


class LadderMove(models.Model):
    """A step that was passed, did not hold, or gave no sound; the newest first."""

    class What(models.TextChoices):
        PASSED = "passed"
        BACK = "back"
        NO_SOUND = "no-sound"

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="ladder_moves")
    step = models.CharField(max_length=20)
    what = models.CharField(max_length=10, choices=What.choices)
    on = models.DateField()

    class Meta:
        ordering = ["-on", "-id"]


class GivenDrill(models.Model):
    """A drill or a routine that a student practises, without a fault.

    drill, routine  one of them is an id, the other empty
    tempo, rounds   as it is to be played; None as it is usual
    level           of the drill's levels, from 1; 0 where it has none
    until           the last day on which it is practised
    done            days on which it was done, as ISO dates, as the teacher says
    done_at_home    the same as the student says on the own page
    again           why it is handed in again, in the student's words; empty for a new one
    """

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="given_drills")
    drill = models.CharField(max_length=30, blank=True)
    routine = models.CharField(max_length=30, blank=True)
    stage = models.CharField(max_length=12, blank=True)
    tempo = models.PositiveSmallIntegerField(null=True)
    rounds = models.PositiveSmallIntegerField(null=True)
    level = models.PositiveSmallIntegerField(default=0)
    given_on = models.DateField()
    until = models.DateField()
    done = models.JSONField(default=list)
    done_at_home = models.JSONField(default=list)
    again = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-given_on", "-id"]

    def __str__(self) -> str:
        return f"{self.student}: {self.drill or self.routine}"

    @property
    def days_done(self) -> list[str]:
        """Days on which it was done, whoever says so."""
        return sorted({*self.done, *self.done_at_home})
