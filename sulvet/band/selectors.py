"""Reads of bands and students, each bound to its teacher."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from sulvet.band.models import Retention, Student


def students_of(teacher: User) -> QuerySet[Student]:
    """All of one teacher's students, in seating order."""
    return Student.objects.filter(section__band__teacher=teacher).select_related("section__band")


def student_of(teacher: User, student_id: int) -> Student:
    """One of the teacher's own students; 404 for anybody else's."""
    return get_object_or_404(students_of(teacher), pk=student_id)


def retention_of(teacher: User) -> Retention | None:
    """The teacher's word that Sulvet deletes what is over; None while it was not given."""
    return Retention.objects.filter(teacher=teacher).first()
