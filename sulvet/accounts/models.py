"""Schools and who belongs to them, invitations, and what a teacher prefers."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Preferences(models.Model):
    """Of one account; empty leaves it to the browser or to the computer Sulvet runs on.

    time_zone  an IANA name such as Europe/Zurich
    paper      a4 or letter
    language   one of the settings' languages, such as de
    """

    teacher = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="preferences"
    )
    time_zone = models.CharField(max_length=60, blank=True)
    paper = models.CharField(max_length=10, blank=True)
    language = models.CharField(max_length=10, blank=True)

    class Meta:
        verbose_name_plural = "preferences"

    def __str__(self) -> str:
        return f"{self.teacher}: {self.time_zone} {self.paper}"


class School(models.Model):
    """A school of a district. Where there is only one, nothing need be said of it."""

    name = models.CharField(max_length=80, unique=True)

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """To which school an account belongs; one without belongs to the only school there is."""

    account = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="membership"
    )
    school = models.ForeignKey(School, on_delete=models.CASCADE, related_name="memberships")

    def __str__(self) -> str:
        return f"{self.account} at {self.school}"


class Invitation(models.Model):
    """A way in for somebody: to a band of their own, or to stand in for a teacher.

    host        who invites; a substitute sees this teacher's bands. None: whoever runs Sulvet
    school      which a new account belongs to; None where there is only one
    administrator  whether the teacher runs that school
    until       the substitute's last day; none for a teacher
    expires_at  until when it may be accepted
    guest       who accepted; ``made_account`` when it was made by that
    ended_at    when it was taken back
    """

    class Role(models.TextChoices):
        """What it lets somebody be."""

        TEACHER = "teacher"
        SUBSTITUTE = "substitute"

    host = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="invitations"
    )
    school = models.ForeignKey(
        School, on_delete=models.CASCADE, null=True, related_name="invitations"
    )
    administrator = models.BooleanField(default=False)
    role = models.CharField(max_length=10, choices=Role.choices)
    until = models.DateField(null=True, blank=True)
    expires_at = models.DateTimeField()
    guest = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True, related_name="invited_by"
    )
    made_account = models.BooleanField(default=False)
    ended_at = models.DateTimeField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.host or self.school} invites a {self.role}"
