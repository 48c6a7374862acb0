"""What a school and a teacher have changed in a standard; the shipped one stays as it is."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from sulvet.accounts.models import School


class Version(models.Model):
    """One version of one instrument's standard; the newest counts.

    edges   band key → low, high, watch_low, watch_high, only of the bands that differ from what
            lies beneath; empty is that again
    words   what it is for
    """

    instrument = models.CharField(max_length=30)
    edition = models.PositiveIntegerField()
    edges = models.JSONField(default=dict)
    words = models.CharField(max_length=200, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        abstract = True
        ordering = ["instrument", "-edition"]


class SharedStandard(Version):
    """A version for all teachers of a school; beneath it lies the shipped standard.

    school  None where there is only one
    style   the embouchure style of students for whom none is chosen; empty is the shipped default
    """

    school = models.ForeignKey(
        School, on_delete=models.CASCADE, null=True, related_name="standards"
    )
    style = models.CharField(max_length=30, blank=True)

    class Meta(Version.Meta):
        constraints = [
            models.UniqueConstraint(
                fields=["school", "instrument", "edition"], name="one_shared_edition"
            ),
            models.UniqueConstraint(
                fields=["instrument", "edition"], condition=models.Q(school=None),
                name="one_shared_edition_without_schools",
            ),
        ]  # fmt: skip


class OwnStandard(Version):
    """A teacher's own version; beneath it lies the school's, where there is one, or the shipped.

    school  the embouchure style of students for whom none is chosen; empty is the default
    """

    teacher = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="standards"
    )
    school = models.CharField(max_length=30, blank=True)

    class Meta(Version.Meta):
        constraints = [
            models.UniqueConstraint(fields=["teacher", "instrument", "edition"], name="one_edition")
        ]
