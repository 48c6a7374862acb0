"""Reads of standards, each as its teacher wants it."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import QuerySet

from sulvet.core.judgement.lips import lips_of
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.standards.models import OwnStandard


def versions_of(teacher: User, instrument: str) -> QuerySet[OwnStandard]:
    """The teacher's own versions, newest first."""
    return OwnStandard.objects.filter(teacher=teacher, instrument=instrument)


def standard_of(teacher: User, instrument: str, lip_share: float | None = None) -> Standard:
    """The standard that counts for this teacher.

    lip_share  of a student at rest: the limits move with it; None leaves them
    """
    own = versions_of(teacher, instrument).first()
    standard = shipped_standard(instrument)
    if own is not None:
        standard = by_edges(instrument, own.edges, own.edition).with_school_first(own.school)
    return standard.for_lips(lips_of(lip_share))


def by_edges(instrument: str, edges: dict[str, dict[str, float | None]], edition: int) -> Standard:
    """A shipped standard with other figures. What the shipped one no longer has is left out."""
    shipped = shipped_standard(instrument)
    known = {band.key for band in shipped.all_bands}
    given = {key: Edges.model_validate(e) for key, e in edges.items() if key in known}
    try:
        return shipped.changed(given, edition)
    except StandardError:
        # Shipped figures have moved so that the teacher's no longer fit: the shipped count.
        return shipped.model_copy(update={"edition": edition})
