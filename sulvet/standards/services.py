"""Writes of a teacher's own standards."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import Max
from pydantic import ValidationError

from sulvet.accounts.errors import Refused
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.standards.models import OwnStandard
from sulvet.standards.selectors import versions_of

Figures = dict[str, dict[str, float | None]]


def wanted(
    teacher: User, instrument: str, edges: Figures, school: str = ""
) -> tuple[Standard, Figures]:
    """The standard with these figures, and those of them that differ from the shipped ones.

    school  the teacher's own default; empty is the shipped one

    Refused when a figure can't be.
    """
    try:
        shipped = shipped_standard(instrument)
        given = {key: Edges.model_validate(figures) for key, figures in edges.items()}
        last = versions_of(teacher, instrument).aggregate(Max("edition"))["edition__max"] or 0
        changed = shipped.changed(given, last + 1).with_school_first(school)
    except ValidationError as error:
        raise Refused(
            "{loc}: {msg}.", loc=error.errors()[0]["loc"][0], msg=error.errors()[0]["msg"]
        ) from error
    except StandardError as error:
        raise Refused(str(error)) from error
    old = {band.key: band for band in shipped.all_bands}
    names = Edges.model_fields
    differ: Figures = {
        band.key: {name: getattr(band, name) for name in names}
        for band in changed.bands
        if any(getattr(band, name) != getattr(old[band.key], name) for name in names)
    }
    return changed, differ


def save(teacher: User, instrument: str, edges: Figures, words: str, school: str = "") -> Standard:
    """A new version. The older ones stay on record."""
    changed, differ = wanted(teacher, instrument, edges, school)
    OwnStandard.objects.create(
        teacher=teacher,
        instrument=instrument,
        edition=changed.edition,
        edges=differ,
        school=school,
        words=words,
    )
    return changed
