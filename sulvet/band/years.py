"""Several bands of one teacher, and from one school year to the next."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from django.contrib.auth.models import User
from django.db import transaction

from sulvet.accounts.errors import Refused
from sulvet.band.models import Band, Section, Student
from sulvet.band.selectors import shown_band

LAST_ONE = "This is your only open band. Add another one first."
NOT_EMPTY = "“{name}” still has students. Archive it, or delete the students first."


@dataclass(frozen=True)
class NewBand:
    """What a teacher says of a new band.

    students  of the band shown now who move up into it, with all their takes
    archive   whether the band shown now is over
    """

    name: str
    year: str = ""
    students: tuple[int, ...] = ()
    archive: bool = False


@transaction.atomic
def add_band(teacher: User, facts: NewBand) -> Band:
    """A new band, shown from now on; students who move up keep their section and row."""
    before = shown_band(teacher)
    band = Band.objects.create(teacher=teacher, name=facts.name, year=facts.year)
    if before is not None:
        _move(before.sections.prefetch_related("students"), set(facts.students), band)
        if facts.archive:
            Band.objects.filter(pk=before.pk).update(archived=True)
    show(band)
    return band


def _move(sections: Iterable[Section], students: set[int], band: Band) -> None:
    for section in sections:
        moving = [one.pk for one in section.students.all() if one.pk in students]
        if not moving:
            continue
        own = Section.objects.create(band=band, name=section.name, arc=section.arc)
        Student.objects.filter(pk__in=moving).update(section=own)
        if not section.students.exists():
            section.delete()


@transaction.atomic
def show(band: Band) -> None:
    """Make it the band the teacher works with; one that was archived is open again."""
    Band.objects.filter(teacher=band.teacher, shown=True).update(shown=False)
    Band.objects.filter(pk=band.pk).update(shown=True, archived=False)


@transaction.atomic
def archive(band: Band) -> None:
    """Put a band away: readable, and out of the way. Another open one is shown then."""
    others = Band.objects.filter(teacher=band.teacher, archived=False).exclude(pk=band.pk)
    other = others.first()
    if other is None:
        raise Refused(LAST_ONE)
    Band.objects.filter(pk=band.pk).update(archived=True, shown=False)
    if band.shown:
        show(other)


def delete_band(band: Band) -> None:
    """Delete a band without students; refused while it has some, and where it is the only one."""
    if Student.objects.filter(section__band=band).exists():
        raise Refused(NOT_EMPTY, name=band.name)
    with transaction.atomic():
        archive(band)
        band.delete()
