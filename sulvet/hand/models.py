"""What a teacher marked in the exercise that tells how sure the own hand is."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class HandMark(models.Model):
    """One landmark on one face of the exercise, in one of its two rounds.

    ``x`` and ``y`` are shares of the picture's width.
    """

    class Round(models.IntegerChoices):
        FIRST = 1
        SECOND = 2

    teacher = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="hand_marks"
    )
    round = models.PositiveSmallIntegerField(choices=Round.choices)
    face = models.PositiveSmallIntegerField()
    landmark = models.CharField(max_length=20)
    x = models.FloatField()
    y = models.FloatField()
    made_at = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["round", "face", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["teacher", "round", "face", "landmark"], name="one_mark_a_round"
            )
        ]
