"""The teacher's band, its sections and the chairs in it."""

from __future__ import annotations

import datetime

from django.conf import settings
from django.db import models

from sulvet.accounts.models import School
from sulvet.core.consent import WARNING_DAYS, Consent
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import said


class Band(models.Model):
    """One group of one teacher in one school year.

    year      as the school writes it, such as 2026/27; empty while nothing is said
    shown     whether it is the one that the teacher works with now
    archived  whether its year is over: it stays readable and is out of the way
    """

    teacher = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="bands"
    )
    name = models.CharField(max_length=80)
    year = models.CharField(max_length=20, blank=True)
    shown = models.BooleanField(default=False)
    archived = models.BooleanField(default=False)

    class Meta:
        ordering = ["archived", "-shown", "id"]
        constraints = [
            models.UniqueConstraint(
                fields=["teacher"], condition=models.Q(shown=True), name="one_shown_band"
            )
        ]

    def __str__(self) -> str:
        return self.name


class Section(models.Model):
    """Chairs that sit together; ``arc`` 1 is nearest to the teacher."""

    band = models.ForeignKey(Band, on_delete=models.CASCADE, related_name="sections")
    name = models.CharField(max_length=40)
    arc = models.PositiveSmallIntegerField()

    class Meta:
        ordering = ["arc", "name"]
        constraints = [
            models.UniqueConstraint(fields=["band", "name"], name="section_once_in_band")
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def called(self) -> str:
        """Its name; in the language that is spoken while it has the shipped one."""
        return said(self.name)


class Student(models.Model):
    """One student on one chair.

    school      one of the instrument's schools, empty for its default
    seat        place within the section, counted from 1; 0 while the section sits by names
    focus       the fault that the student works on, as the teacher set it last; empty if none
    consent_on  when consent to film was given; None when there is none on file
    consent_missing_since  first day on which Sulvet saw that it is not there, though there are
                takes; None while it is there, or none are
    over_since  first day on which Sulvet saw that ``retain_until`` has passed; None while not
    retain_until  until when pictures and records are kept; None while nothing is said
    lip_share   height of both lips at rest as a share of the mouth's width, as last seen from the
                front; None before it was
    tape_mm     how far from the tip of the mouthpiece the lip belongs, as the teacher kept it from
                a take, with its 95 % uncertainty and the day of that take; None while not kept
    """

    section = models.ForeignKey(Section, on_delete=models.CASCADE, related_name="students")
    name = models.CharField(max_length=80)
    seat = models.PositiveSmallIntegerField(default=0)
    instrument = models.CharField(max_length=30)
    school = models.CharField(max_length=30, blank=True)
    focus = models.CharField(max_length=40, blank=True)
    consent_on = models.DateField(null=True, blank=True)
    consent_until = models.DateField(null=True, blank=True)
    consent_missing_since = models.DateField(null=True, blank=True, editable=False)
    retain_until = models.DateField(null=True, blank=True)
    over_since = models.DateField(null=True, blank=True, editable=False)
    lip_share = models.FloatField(null=True, blank=True, editable=False)
    tape_mm = models.FloatField(null=True, blank=True)
    tape_spread = models.FloatField(null=True, blank=True)
    tape_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["section__arc", "section__name", "seat", "name", "id"]

    def __str__(self) -> str:
        return self.name

    @property
    def family(self) -> str:
        """Of the instrument: what is at the mouth, and what is asked, hangs on it."""
        return shipped_standard(self.instrument).family

    @property
    def consent(self) -> Consent:
        """What is on file."""
        return Consent(self.consent_on, self.consent_until)

    def may_be_filmed(self, day: datetime.date) -> bool:
        """Whether consent is on file for that day."""
        return self.consent.covers(day)


class Retention(models.Model):
    """A teacher's word that Sulvet deletes what is over: after so many days of warning."""

    teacher = models.OneToOneField(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="retention"
    )
    days = models.PositiveSmallIntegerField(default=WARNING_DAYS)
    agreed_on = models.DateField()

    class Meta:
        verbose_name = "automatic deletion"

    def __str__(self) -> str:
        return f"{self.days} days, since {self.agreed_on}"


class SchoolRetention(models.Model):
    """An administrator's word for all teachers of a school that what is over is deleted.

    school  None where there is only one
    """

    school = models.OneToOneField(
        School, on_delete=models.CASCADE, null=True, related_name="retention"
    )
    days = models.PositiveSmallIntegerField(default=WARNING_DAYS)
    agreed_on = models.DateField()

    class Meta:
        verbose_name = "automatic deletion of a school"

    def __str__(self) -> str:
        return f"{self.school}: {self.days} days, since {self.agreed_on}"


#: Days of warning and since when, whoever gave the word.
Rule = Retention | SchoolRetention


class Transfer(models.Model):
    """That a student went from one teacher to another, and the consent that was on file then."""

    student = models.ForeignKey(Student, on_delete=models.CASCADE, related_name="transfers")
    left = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    joined = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    consent_on = models.DateField(null=True)
    consent_until = models.DateField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-pk"]

    def __str__(self) -> str:
        return f"{self.student} from {self.left} to {self.joined}"
