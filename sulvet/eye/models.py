"""Rounds of judging made-up loops, and what was said."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from sulvet.core.eye.rounds import LEVELS


class EyeRound(models.Model):
    """A round of one teacher.

    loops  ids of the library, in the order in which they are shown
    """

    teacher = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="eye_rounds"
    )
    instrument = models.CharField(max_length=30)
    level = models.CharField(max_length=12, choices=[(one, one) for one in LEVELS])
    loops = models.JSONField(default=list)
    started_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]


class EyeAnswer(models.Model):
    """What was said of one loop of a round.

    place    from 0, in the round;  faults  ids; none for "nothing"
    untold   "can't be told from here";  seconds  how long it was looked at
    """

    round = models.ForeignKey(EyeRound, on_delete=models.CASCADE, related_name="answers")
    place = models.PositiveSmallIntegerField()
    faults = models.JSONField(default=list)
    untold = models.BooleanField(default=False)
    seconds = models.FloatField(default=0.0)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["place"]
        constraints = [models.UniqueConstraint(fields=["round", "place"], name="said_once")]
