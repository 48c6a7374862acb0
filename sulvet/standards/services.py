"""Writes of a teacher's own standards, and of those a school shares."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Max
from pydantic import ValidationError

from sulvet.accounts.errors import Refused
from sulvet.accounts.schools import school_of
from sulvet.core.judgement.schema import Edges
from sulvet.core.judgement.standards import Standard, StandardError, shipped_standard
from sulvet.standards.models import OwnStandard, SharedStandard
from sulvet.standards.selectors import base_of, standard_of, versions_of

Figures = dict[str, dict[str, float | None]]


def wanted(
    teacher: User, instrument: str, edges: Figures, school: str = ""
) -> tuple[Standard, Figures]:
    """The standard with these figures, and those of them that differ from what counts without.

    school  the teacher's own default style; empty is the school's or the shipped one

    Refused when a figure can't be.
    """
    try:
        base = base_of(teacher, instrument)
        given = {key: Edges.model_validate(figures) for key, figures in edges.items()}
        last = versions_of(teacher, instrument).aggregate(Max("edition"))["edition__max"] or 0
        changed = base.changed(given, last + 1).with_school_first(school)
    except ValidationError as error:
        raise Refused(
            "{loc}: {msg}.", loc=error.errors()[0]["loc"][0], msg=error.errors()[0]["msg"]
        ) from error
    except StandardError as error:
        raise Refused(str(error)) from error
    return changed, _differing(changed, base)


def _differing(changed: Standard, base: Standard) -> Figures:
    """The figures of those bands in which one standard differs from another."""
    old = {band.key: band for band in base.all_bands}
    names = Edges.model_fields
    return {
        band.key: {name: getattr(band, name) for name in names}
        for band in changed.bands
        if any(getattr(band, name) != getattr(old[band.key], name) for name in names)
    }


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


def share(by: User, instrument: str, words: str) -> None:
    """What counts for an administrator counts for all teachers of the school from now on.

    Where teachers have changed limits themselves, theirs go on counting. The administrator's own
    are the school's now, and follow them.
    """
    now, shipped = standard_of(by, instrument), shipped_standard(instrument)
    style = now.school(None).id
    with transaction.atomic():
        _new_shared(
            by, instrument, words, _differing(now, shipped),
            "" if style == shipped.school(None).id else style,
        )  # fmt: skip
        if now.edition:
            OwnStandard.objects.create(
                teacher=by, instrument=instrument, edition=now.edition + 1, words=words
            )


def stop_sharing(by: User, instrument: str) -> None:
    """The shipped standard counts again where teachers have changed nothing themselves."""
    _new_shared(by, instrument, "", {}, "")


def _new_shared(by: User, instrument: str, words: str, edges: Figures, style: str) -> None:
    mine = SharedStandard.objects.filter(school=school_of(by), instrument=instrument)
    last = mine.aggregate(Max("edition"))["edition__max"] or 0
    SharedStandard.objects.create(
        school=school_of(by), instrument=instrument, edition=last + 1, edges=edges, style=style,
        words=words,
    )  # fmt: skip
