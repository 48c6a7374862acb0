"""Reads of bands and students, each bound to its teacher."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import Count, QuerySet
from django.shortcuts import get_object_or_404

from sulvet.accounts.schools import ours
from sulvet.band.models import Band, Retention, Rule, SchoolRetention, Student


def students_of(teacher: User) -> QuerySet[Student]:
    """All students of all bands of one teacher, in seating order."""
    return Student.objects.filter(section__band__teacher=teacher).select_related("section__band")


def bands_of(teacher: User) -> QuerySet[Band]:
    """All of one teacher's bands with their ``size`` in students, the one shown first."""
    bands = Band.objects.filter(teacher=teacher).annotate(size=Count("sections__students"))
    return bands.order_by("archived", "-shown", "pk")


def shown_band(teacher: User) -> Band | None:
    """The band that the teacher works with now; None before there is one."""
    return bands_of(teacher).first()


def band_by_id(teacher: User, band_id: int) -> Band:
    """One of the teacher's own bands; 404 for anybody else's."""
    return get_object_or_404(bands_of(teacher), pk=band_id)


def shown_students(teacher: User) -> QuerySet[Student]:
    """The students of the band that the teacher works with now, in seating order."""
    return students_of(teacher).filter(section__band=shown_band(teacher))


def student_of(teacher: User, student_id: int) -> Student:
    """One of the teacher's own students; 404 for anybody else's."""
    return get_object_or_404(students_of(teacher), pk=student_id)


def school_retention_of(teacher: User) -> SchoolRetention | None:
    """The word of the teacher's school that Sulvet deletes what is over; None without one."""
    return SchoolRetention.objects.filter(ours(teacher)).first()


def own_retention_of(teacher: User) -> Retention | None:
    """The teacher's own word that Sulvet deletes what is over; None while it was not given."""
    return Retention.objects.filter(teacher=teacher).first()


def retention_of(teacher: User) -> Rule | None:
    """The word that Sulvet deletes what is over: the teacher's own or the school's, whichever
    warns for fewer days; None while neither was given."""
    both = own_retention_of(teacher), school_retention_of(teacher)
    given: list[Rule] = [rule for rule in both if rule is not None]
    return min(given, key=lambda rule: rule.days, default=None)
