"""A close-up of a student's reed, what the teacher marked on it, and its picture."""

from __future__ import annotations

from django.db import models

from sulvet.accounts import local_time
from sulvet.band.models import Student
from sulvet.reeds.models import Reed


class CloseUp(models.Model):
    """One picture of a mouthpiece with its reed, or of a double reed from its tip.

    reed       which of the box it shows, where that was said
    shows_face  a face was found in it: it needs consent as a clip does
    marks      [x, y] in pixels by what is marked; hidden: what something lies over
    ticks      faults that the teacher sees; dismissed: findings that are not so
    measured   ``Measured.plain`` of these marks by this ``engine``; empty while none are there
    """

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="close_ups")
    reed = models.ForeignKey(
        Reed, null=True, blank=True, on_delete=models.SET_NULL, related_name="close_ups"
    )
    taken_on = models.DateField(default=local_time.today)
    original_name = models.CharField(max_length=200)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    shows_face = models.BooleanField(default=False)
    marks = models.JSONField(default=dict)
    hidden = models.JSONField(default=list)
    ticks = models.JSONField(default=list)
    dismissed = models.JSONField(default=list)
    measured = models.JSONField(default=dict)
    engine = models.CharField(max_length=10, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-taken_on", "-id"]

    def __str__(self) -> str:
        return f"{self.student}, reed {self.taken_on}"


class CloseUpPicture(models.Model):
    """The picture itself, JPEG: small enough to lie beside its row, and gone with it."""

    close_up = models.OneToOneField(CloseUp, on_delete=models.CASCADE, related_name="picture")
    jpeg = models.BinaryField()
