"""Judging what is stored again by another standard, without its marks.

Good for seeing what a changed band would do to hundreds of takes at once. Readings keep
their values; findings keep their place in the take.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from sulvet.core.judgement.judge import (
    CANT_TELL,
    FAULT,
    WATCH,
    Finding,
    Reading,
    nearer_edge,
    outside_band,
    verdict,
)
from sulvet.core.judgement.standards import Rule, Standard, common
from sulvet.core.phases import Phase


@dataclass(frozen=True)
class Stored:
    """One take as it is stored."""

    view: str
    school: str
    phases: tuple[Phase, ...]
    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]


def changed_measures(old: Standard, new: Standard) -> frozenset[str]:
    """The measures whose verdicts may differ between two versions of a standard.

    All of them when another school is the default: other bands then count.
    """
    before, after = ({b.key: b for b in which.all_bands} for which in (old, new))
    if old.schools != new.schools:
        return frozenset(b.measure for b in (*before.values(), *after.values()))
    return frozenset(
        band.measure for key, band in (before | after).items() if before.get(key) != after.get(key)
    )


def readings_again(stored: Stored, which: Standard) -> tuple[Reading, ...]:
    """The readings with their verdicts by this standard."""
    return tuple(
        r
        if r.value is None or r.uncertainty is None
        else replace(r, verdict=verdict(
            r.value, r.uncertainty,
            which.band(r.measure, stored.view, stored.school, r.phase),
        ))
        for r in stored.readings
    )  # fmt: skip


def findings_again(
    stored: Stored, which: Standard, only: frozenset[str] | None = None
) -> tuple[Finding, ...]:
    """The findings by this standard; what can't be told stays so.

    only  measures whose bands have changed: findings that rest on others stay as they are,
          and readings of others are not needed; None takes all
    """
    by_band = [
        rule for rule in _by_band(stored, which) if only is None or rule.all[0].measure in only
    ]
    faults = {rule.fault for rule in by_band}
    kept = [
        f if only is not None and not _rests_on(f, only) else _surer(f, which, stored)
        for f in stored.findings
        if f.fault not in faults or f.verdict == CANT_TELL
    ]
    untold = {(f.fault, f.phase) for f in kept if f.verdict == CANT_TELL}
    made = []
    for rule in by_band:
        for phase in stored.phases:
            if phase.name in rule.phases and (rule.fault, phase.name) not in untold:
                found = _whole_phase(rule, phase, stored, which)
                if found is not None:
                    made.append(found)
    rank = {FAULT: 0, WATCH: 1, CANT_TELL: 2}
    order = common().place
    return tuple(
        sorted([*kept, *made], key=lambda f: (rank[f.verdict], order(f.fault), f.start or 0.0))
    )


def _rests_on(found: Finding, measures: frozenset[str]) -> bool:
    return any(e.measure in measures for e in found.evidence)


def _by_band(stored: Stored, which: Standard) -> list[Rule]:
    """Rules that rest on one measure's band over a whole phase."""
    return [
        rule
        for rule in common().rules
        if rule.applies(which, stored.view, stored.school)
        and len(rule.all) == 1
        and rule.all[0].outside
    ]


def _whole_phase(rule: Rule, phase: Phase, stored: Stored, which: Standard) -> Finding | None:
    condition = rule.all[0]
    reading = next(
        (r for r in stored.readings if r.measure == condition.measure and r.phase == phase.name),
        None,
    )
    if reading is None or reading.value is None or reading.uncertainty is None:
        return None
    band = which.band(condition.measure, stored.view, stored.school, phase.name)
    now = replace(reading, verdict=verdict(reading.value, reading.uncertainty, band))
    beyond = outside_band(condition, now, band)
    if beyond is None:
        return None
    same = (f for f in stored.findings if (f.fault, f.phase) == (rule.fault, phase.name))
    old = next(same, None)
    worst = old.worst_frame if old else None
    return Finding(rule.fault, now.verdict, phase.name, phase.start, phase.end, worst, (beyond[1],))


def _surer(found: Finding, which: Standard, stored: Stored) -> Finding:
    """A finding on several limits: whether it stands clear of the bands as they now are."""
    if found.verdict == CANT_TELL or not found.evidence:
        return found
    evidence = []
    for e in found.evidence:
        band = which.band(e.measure, stored.view, stored.school, found.phase)
        edge = nearer_edge(e.limit, e.value > e.edge, band)
        evidence.append(replace(e, edge=edge))
    sure = all(abs(e.value - e.edge) > e.uncertainty for e in evidence)
    return replace(found, verdict=FAULT if sure else WATCH, evidence=tuple(evidence))
