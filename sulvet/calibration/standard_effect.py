"""What a changed standard does to the takes that are stored: shown before, written after.

The analyses keep the name of the standard that made them: they count as out of date, and are
made anew from their marks. Until then the verdicts are right already.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Prefetch

from sulvet.core.judgement.common import common
from sulvet.core.judgement.lips import lips_of
from sulvet.core.judgement.rejudge import (
    StoredTake,
    changed_measures,
    measures_judged_with,
    rejudged_findings,
    rejudged_readings,
)
from sulvet.core.judgement.results import FAULT, Evidence, Worst
from sulvet.core.judgement.results import Finding as Found
from sulvet.core.judgement.results import Reading as Read
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import ENGLISH, speaking
from sulvet.core.phases import Phase
from sulvet.takes.analysis import finding_rows
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
    return _changes(teacher, old, new).effect


def rejudge_all(teacher: User, old: Standard, new: Standard) -> Effect:
    """Write those changes, all or none."""
    # What is kept is English; it is translated where it is shown.
    with speaking(ENGLISH):
        changes = _changes(teacher, old, new)
    with transaction.atomic():
        Reading.objects.bulk_update(changes.readings, ["verdict", "reason"], batch_size=400)
        Finding.objects.filter(take__in=[take.pk for take, _ in changes.findings]).delete()
        Finding.objects.bulk_create(
            (row for take, found in changes.findings for row in finding_rows(take, found)),
            batch_size=400,
        )
    return changes.effect


@dataclass
class _Changes:
    """What would be written: readings with another verdict, and takes with other findings."""

    effect: Effect = field(default_factory=Effect)
    readings: list[Reading] = field(default_factory=list)
    findings: list[tuple[Take, tuple[Found, ...]]] = field(default_factory=list)


def _changes(teacher: User, old: Standard, standard: Standard) -> _Changes:
    changes, only = _Changes(), changed_measures(old, standard)
    effect = changes.effect
    readings = Reading.objects.filter(measure__in=measures_judged_with(only))
    takes = (
        Take.objects.filter(
            student__section__band__teacher=teacher,
            student__instrument=standard.instrument,
            state=Take.State.READY,
        )
        .select_related("student")
        .prefetch_related("phases", Prefetch("readings", readings), "findings")
        .only("view", "student__instrument", "student__school", "student__lip_share")
    )
    for take in takes:
        effect.takes += 1
        own = standard.for_lips(lips_of(take.student.lip_share))
        rows, stored = list(take.readings.all()), _stored(take, own)
        for row, again in zip(rows, rejudged_readings(stored, own), strict=True):
            if row.verdict != again.verdict:
                row.verdict, row.reason = again.verdict, again.reason
                changes.readings.append(row)
        new = rejudged_findings(stored, own, only)
        before, after = _faults(stored.findings), _faults(new)
        effect.came.update(after - before)
        effect.went.update(before - after)
        if stored.findings != new:
            changes.findings.append((take, new))
    effect.readings = len(changes.readings)
    return changes


def _faults(found: tuple[Found, ...]) -> set[str]:
    return {f.fault for f in found if f.verdict == FAULT}


def _stored(take: Take, standard: Standard) -> StoredTake:
    return StoredTake(
        take.view,
        standard.school(take.student.school or None).id,
        tuple(Phase(p.name, p.start, p.end, p.confidence) for p in take.phases.all()),
        tuple(
            Read(
                r.measure, r.phase, r.value, r.uncertainty, r.unit, r.verdict, r.reason,
                Worst(**r.worst) if r.worst else None,
            )
            for r in take.readings.all()
        ),
        tuple(
            Found(
                f.fault, f.verdict, f.phase, f.start, f.end, f.worst_frame,
                tuple(Evidence(**e) for e in f.evidence), f.reason, tuple(f.holds),
            )
            for f in take.findings.all()
        ),
    )  # fmt: skip
