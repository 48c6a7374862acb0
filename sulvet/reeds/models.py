"""Reeds in a student's box, when they were played, and the teacher's own figures."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from sulvet.band.models import Student
from sulvet.core.judgement.reeds import CONDITIONS


class Reed(models.Model):
    """One reed in its slot; a slot is free again once its reed is retired.

    minutes, days, last_on  what its plays come to; kept with them
    """

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="reeds")
    slot = models.PositiveSmallIntegerField()
    strength = models.CharField(max_length=12, blank=True)
    opened_on = models.DateField()
    condition = models.CharField(
        max_length=10, choices=[(c, c) for c in CONDITIONS], default="good"
    )
    minutes = models.PositiveIntegerField(default=0)
    days = models.PositiveSmallIntegerField(default=0)
    last_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["slot", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["student", "slot"],
                condition=~models.Q(condition="retired"),
                name="one_reed_a_slot",
            )
        ]

    def __str__(self) -> str:
        return f"{self.student}, slot {self.slot}"


class ReedPlay(models.Model):
    """A day on which a reed was played."""

    reed = models.ForeignKey(Reed, on_delete=models.CASCADE, related_name="plays")
    date = models.DateField()
    minutes = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["date"]
        constraints = [models.UniqueConstraint(fields=["reed", "date"], name="reed_once_a_day")]


class ReedHabits(models.Model):
    """A teacher's own figures; those that are not named are the shipped ones."""

    teacher = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="reed_habits"
    )
    figures = models.JSONField(default=dict)
