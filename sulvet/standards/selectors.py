"""Reads of standards, each as its teacher wants it."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import QuerySet

from sulvet.accounts.schools import ours
from sulvet.core.judgement.lips import lips_of
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.standards.models import OwnStandard, SharedStandard


def versions_of(teacher: User, instrument: str) -> QuerySet[OwnStandard]:
    """The teacher's own versions, newest first."""
    return OwnStandard.objects.filter(teacher=teacher, instrument=instrument)


def shared_of(teacher: User, instrument: str) -> SharedStandard | None:
    """What the teacher's school has changed in a standard, as it counts now; None for nothing."""
    return SharedStandard.objects.filter(ours(teacher), instrument=instrument).first()


def base_of(teacher: User, instrument: str) -> Standard:
    """What counts where the teacher has changed nothing: the school's, else the shipped one."""
    shared, shipped = shared_of(teacher, instrument), shipped_standard(instrument)
    if shared is None:
        return shipped
    # Of an embouchure style that is not shipped any more nothing is left to put first.
    known = shared.style in {one.id for one in shipped.schools}
    made = by_edges(shipped, shared.edges, 0).with_school_first(shared.style if known else "")
    return made.model_copy(update={"shared": shared.edition})


def standard_of(teacher: User, instrument: str, lip_share: float | None = None) -> Standard:
    """The standard that counts for this teacher.

    lip_share  of a student at rest: the limits move with it; None leaves them
    """
    own = versions_of(teacher, instrument).first()
    standard = base_of(teacher, instrument)
    if own is not None:
        standard = by_edges(standard, own.edges, own.edition).with_school_first(own.school)
    return standard.for_lips(lips_of(lip_share))


def by_edges(base: Standard, edges: dict[str, dict[str, float | None]], edition: int) -> Standard:
    """A standard with other figures. What it no longer has is left out."""
    known = {band.key for band in base.all_bands}
    given = {key: Edges.model_validate(e) for key, e in edges.items() if key in known}
    try:
        return base.changed(given, edition)
    except StandardError:
        # Its figures have moved so that these no longer fit: its own count.
        return base.model_copy(update={"edition": edition})
