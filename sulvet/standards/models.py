"""What a teacher has changed in a standard; the shipped one stays as it is."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class OwnStandard(models.Model):
    """One version of one instrument's standard; the newest counts.

    edges   band key → low, high, watch_low, watch_high, only of the bands that differ from
            the shipped ones; empty is the shipped standard again
    school  the school of students for whom none is chosen; empty is the shipped default
    """

    teacher = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="standards"
    )
    instrument = models.CharField(max_length=30)
    edition = models.PositiveIntegerField()
    edges = models.JSONField(default=dict)
    school = models.CharField(max_length=30, blank=True)
    words = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["instrument", "-edition"]
        constraints = [
            models.UniqueConstraint(fields=["teacher", "instrument", "edition"], name="one_edition")
        ]
