"""When a booth was opened, by whom, for which section."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from sulvet.band.models import Section, Student
from sulvet.core import clock
from sulvet.takes.models import Take


class Booth(models.Model):
    """A screen that was handed over to the students of a section.

    counts  how many counts are played;  until  it ends by itself then
    focus   whether each student sees the one sentence of the own focus
    """

    teacher = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    section = models.ForeignKey(Section, on_delete=models.CASCADE)
    counts = models.PositiveSmallIntegerField()
    focus = models.BooleanField(default=False)
    opened_at = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()
    ended = models.BooleanField(default=False)

    @property
    def open(self) -> bool:
        """Whether students may still film."""
        return not self.ended and clock.now() < self.until


class BoothTake(models.Model):
    """A take that was filmed in a booth: only there may its student film it again.

    readable  what the first look said; one that can't be read goes when it is filmed again
    """

    booth = models.ForeignKey(Booth, on_delete=models.CASCADE, related_name="takes")
    student = models.ForeignKey(Student, on_delete=models.CASCADE)
    take = models.OneToOneField(Take, on_delete=models.CASCADE)
    readable = models.BooleanField(default=False)


class CaptureLink(models.Model):
    """An address under which one student, or whoever helps, may send clips.

    page      whether the student's page is open under it as well
    pictures  whether that page shows pictures of the mouth, not the drawing alone
    day_of, sent, received  how many clips and bytes came on a day, so that nobody fills the disk
    """

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="links")
    view = models.CharField(max_length=10, choices=Take.View.choices)
    created_at = models.DateTimeField(auto_now_add=True)
    until = models.DateTimeField()
    revoked = models.BooleanField(default=False)
    page = models.BooleanField(default=False)
    pictures = models.BooleanField(default=False)
    day_of = models.DateField(null=True)
    sent = models.PositiveSmallIntegerField(default=0)
    received = models.PositiveBigIntegerField(default=0)

    @property
    def open(self) -> bool:
        """Whether clips may still be sent."""
        return not self.revoked and clock.now() < self.until
