"""The teacher's notes on a student, or at a moment of a take."""

from __future__ import annotations

from django.db import models

from sulvet.band.models import Student
from sulvet.takes.models import Take


class Note(models.Model):
    """Words of the teacher, or of the student about what was hard.

    take     the take it is about; None when it is about the student
    seconds  the moment of the take; None when it is about all of it
    """

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="teacher_notes")
    take = models.ForeignKey(
        Take, on_delete=models.CASCADE, null=True, blank=True, related_name="teacher_notes"
    )
    seconds = models.FloatField(null=True, blank=True)
    text = models.TextField()
    by_student = models.BooleanField(default=False)
    written_on = models.DateTimeField()

    class Meta:
        ordering = ["take_id", "seconds", "id"]

    def __str__(self) -> str:
        return self.text[:40]
