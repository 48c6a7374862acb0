"""What a changed standard does to the takes that are stored: shown before, written after.

Rows keep the name of the standard that made them, so that a take is judged by its marks
once more when it is opened.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Prefetch

from sulvet.core.formats import report
from sulvet.core.judgement.judge import FAULT, Evidence
from sulvet.core.judgement.judge import Finding as Found
from sulvet.core.judgement.judge import Reading as Read
from sulvet.core.judgement.rejudge import (
    StoredTake,
    changed_measures,
    measures_judged_with,
    rejudged_findings,
    rejudged_readings,
)
from sulvet.core.judgement.standards import Standard, common
from sulvet.core.phases import Phase
from sulvet.takes.models import Finding, Reading, Take


@dataclass
class Effect:
    """What would change: takes looked at, readings with another verdict, faults come and gone."""

    takes: int = 0
    readings: int = 0
    came: Counter[str] = field(default_factory=Counter)
    went: Counter[str] = field(default_factory=Counter)

    def rows(self) -> list[dict[str, Any]]:
        """By fault, in the order of fixing."""
        faults = sorted(set(self.came) | set(self.went), key=common().place)
        return [
            {"fault": f, "name": common().fault(f).name, "came": self.came[f], "went": self.went[f]}
            for f in faults
        ]


def effect(teacher: User, old: Standard, new: Standard) -> Effect:
    """What another version of a standard would change in the stored takes of its instrument."""
    return _go_through(teacher, old, new, write=False)


@transaction.atomic
def rejudge_all(teacher: User, old: Standard, new: Standard) -> Effect:
    """Write those changes."""
    return _go_through(teacher, old, new, write=True)


def _go_through(teacher: User, old: Standard, standard: Standard, write: bool) -> Effect:
    told, only = Effect(), changed_measures(old, standard)
    readings = Reading.objects.filter(measure__in=measures_judged_with(only))
    takes = (
        Take.objects.filter(
            student__section__band__teacher=teacher,
            student__instrument=standard.instrument,
            state=Take.State.READY,
        )
        .select_related("student")
        .prefetch_related("phases", Prefetch("readings", readings), "findings")
        .only("view", "student__instrument", "student__school")
    )
    changed: list[Reading] = []
    gone: list[int] = []
    fresh: list[Finding] = []
    for take in takes:
        told.takes += 1
        rows, stored = list(take.readings.all()), _stored(take, standard)
        for row, again in zip(rows, rejudged_readings(stored, standard), strict=True):
            if row.verdict != again.verdict:
                row.verdict = again.verdict
                changed.append(row)
        found, new = stored.findings, rejudged_findings(stored, standard, only)
        before, after = _faults(found), _faults(new)
        told.came.update(after - before)
        told.went.update(before - after)
        if write and found != new:
            gone.append(take.pk)
            fresh += [_row(take, found) for found in new]
    told.readings = len(changed)
    if write:
        Reading.objects.bulk_update(changed, ["verdict"], batch_size=400)
        Finding.objects.filter(take__in=gone).delete()
        Finding.objects.bulk_create(fresh, batch_size=400)
    return told


def _faults(found: tuple[Found, ...]) -> set[str]:
    return {f.fault for f in found if f.verdict == FAULT}


def _row(take: Take, found: Found) -> Finding:
    # A finding can only come from a reading, so there is one or the other.
    first = next(iter(take.findings.all()), None) or next(iter(take.readings.all()))
    made = {"engine": first.engine, "standard": first.standard, "school": first.school}
    return Finding(take=take, **made, **report.finding(found))


def _stored(take: Take, standard: Standard) -> StoredTake:
    return StoredTake(
        take.view,
        standard.school(take.student.school or None).id,
        tuple(Phase(p.name, p.start, p.end, p.confidence) for p in take.phases.all()),
        tuple(
            Read(r.measure, r.phase, r.value, r.uncertainty, r.unit, r.verdict, r.reason)
            for r in take.readings.all()
        ),
        tuple(
            Found(
                f.fault, f.verdict, f.phase, f.start, f.end, f.worst_frame,
                tuple(Evidence(**e) for e in f.evidence), f.reason,
            )
            for f in take.findings.all()
        ),
    )  # fmt: skip
