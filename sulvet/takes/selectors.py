"""Takes from the database, each bound to its teacher; reads only."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from sulvet.band.models import Student
from sulvet.reeds.selectors import figures_beside
from sulvet.takes.models import Take

TEACHER = "student__section__band__teacher"
#: What is long of an analysis.
HEAVY = ("drawing", "stills", "frames")


def takes_of(teacher: User) -> QuerySet[Take]:
    """All takes of a teacher's students."""
    mine = Take.objects.filter(student__section__band__teacher=teacher)
    return mine.select_related(TEACHER)


def take_of(teacher: User, take_id: int) -> Take:
    """One of the teacher's own takes; 404 for anybody else's."""
    takes = takes_of(teacher).select_related("analysis")
    # Asked for many times a second while a mark is dragged.
    return get_object_or_404(takes.defer(*(f"analysis__{name}" for name in HEAVY)), pk=take_id)


def bench_take_of(teacher: User, take_id: int) -> Take:
    """The same with all that the Bench shows of it."""
    takes = takes_of(teacher).select_related("analysis", "sound")
    return get_object_or_404(
        takes.prefetch_related(
            "phases", "marks", "tracks", "readings", "findings", "decisions", "student__reeds"
        )
        .annotate(reed_figures=figures_beside(TEACHER))
        .defer("analysis__stills"),
        pk=take_id,
    )


def with_findings(takes: QuerySet[Take]) -> QuerySet[Take]:
    """With all that tells a take's focus, and without what is long."""
    return (
        takes.select_related("student", "analysis")
        .prefetch_related("findings", "decisions", "student__reeds")
        .annotate(reed_figures=figures_beside(TEACHER))
        .defer("frame_times", "notes", "analysis__stills", "analysis__frames")
    )


def takes_of_student(student: Student) -> QuerySet[Take]:
    """A student's takes, newest first, with findings and decisions."""
    return with_findings(student.takes.all())
