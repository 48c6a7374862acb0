"""What a teacher prefers: where the school is, and its paper."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Preferences(models.Model):
    """Of one account; empty leaves it to the browser or to the computer Sulvet runs on.

    time_zone  an IANA name such as Europe/Zurich
    paper      a4 or letter
    """

    teacher = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preferences"
    )
    time_zone = models.CharField(max_length=60, blank=True)
    paper = models.CharField(max_length=10, blank=True)

    class Meta:
        verbose_name_plural = "preferences"

    def __str__(self) -> str:
        return f"{self.teacher}: {self.time_zone} {self.paper}"
