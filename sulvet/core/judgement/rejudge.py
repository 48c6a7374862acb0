"""Judging what is stored again by another standard, without its marks.

Good for seeing what a changed band would do to hundreds of takes at once. Readings keep
their values; findings keep their place in the take.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from sulvet.core.judgement.common import common
from sulvet.core.judgement.corroboration import (
    Corroboration,
    corroborated_findings,
    corroborations,
    merged,
    rests_on_sound,
)
from sulvet.core.judgement.findings import cannot
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    WATCH,
    Finding,
    Reading,
    band_view,
    in_order,
    judged,
    nearer_edge,
    outside_band,
)
from sulvet.core.judgement.schema import Rule
from sulvet.core.judgement.several_holds import HOLD
from sulvet.core.judgement.standards import Standard
from sulvet.core.phases import Phase


@dataclass(frozen=True)
class StoredTake:
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
    before, after = ({b.key: b for b in standard.all_bands} for standard in (old, new))
    if old.schools != new.schools:
        return frozenset(b.measure for b in (*before.values(), *after.values()))
    return frozenset(
        band.measure for key, band in (before | after).items() if before.get(key) != after.get(key)
    )


def rejudged_readings(stored: StoredTake, standard: Standard) -> tuple[Reading, ...]:
    """The readings with their verdicts by this standard."""
    return tuple(
        r
        if r.value is None or r.uncertainty is None
        else judged(
            r, standard.band(r.measure, band_view(r.measure, stored.view), stored.school, r.phase)
        )
        for r in stored.readings
    )


def measures_judged_with(measures: frozenset[str]) -> frozenset[str]:
    """These measures, and those that are judged together with one of them."""
    return measures.union(*(p.measures for p in corroborations() if p.measures & measures))


def rejudged_findings(
    stored: StoredTake, standard: Standard, only: frozenset[str] | None = None
) -> tuple[Finding, ...]:
    """The findings by this standard; where nothing was read it still can't be told.

    only  measures whose bands have changed: findings that rest on others stay as they are,
          and no readings are needed but theirs and what is ``measures_judged_with`` them; None
          takes all
    """
    by_band = [
        rule for rule in _by_band(stored, standard) if only is None or rule.all[0].measure in only
    ]
    faults = {rule.fault for rule in by_band}
    corroborating = [p for p in corroborations() if only is None or p.measures & only]
    anew = {pair.fault for pair in corroborating}
    kept = [f for f in stored.findings if rests_on_sound(f) and f.fault not in anew]
    for found in stored.findings:
        if not rests_on_sound(found) and (found.fault not in faults or _untold(found, stored)):
            same = only is not None and not _rests_on(found, only)
            kept.append(found if same else _surer(found, standard, stored))
    untold = {(f.fault, f.phase) for f in kept if f.verdict == CANT_TELL}
    made = (
        _whole_phase(rule, phase, stored, standard)
        for rule in by_band
        for phase in _once(stored.phases)
        if phase.name in rule.phases and (rule.fault, phase.name) not in untold
    )
    # Where the ear was surer of a fault, the eye's own finding is not stored: it comes back
    # when the take is opened, since that judges from the marks.
    by_eye = [*kept, *(f for f in made if f is not None)]
    return in_order(merged(by_eye, _by_ear(corroborating, stored, standard)))


def _by_ear(
    corroborating: list[Corroboration], stored: StoredTake, standard: Standard
) -> Iterator[Finding]:
    """The findings of ear and eye; each keeps the place of the tone it was heard in."""
    if not corroborating:
        return
    readings = rejudged_readings(stored, standard)
    tones: dict[str, Finding | Phase] = {f.fault: f for f in stored.findings if rests_on_sound(f)}
    hold = next((p for p in stored.phases if p.name == HOLD), None)
    for found in corroborated_findings(
        standard, readings, stored.view, stored.school, corroborating
    ):
        at = tones.get(found.fault, hold)
        yield found if at is None else replace(found, start=at.start, end=at.end)


def _untold(found: Finding, stored: StoredTake) -> bool:
    """Whether nothing was read that could tell it: no other band changes that."""
    looked = {r.all[0].measure for r in common().rules if r.fault == found.fault and r.all}
    return found.verdict == CANT_TELL and not any(
        r.measure in looked and r.phase == found.phase and r.value is not None
        for r in stored.readings
    )


def _rests_on(found: Finding, measures: frozenset[str]) -> bool:
    return any(e.measure in measures for e in found.evidence)


def _by_band(stored: StoredTake, standard: Standard) -> list[Rule]:
    """Rules that rest on one measure's band over a whole phase."""
    return [
        rule
        for rule in common().rules
        if rule.applies(standard, stored.view, stored.school)
        and len(rule.all) == 1
        and rule.all[0].outside
    ]


def _once(phases: tuple[Phase, ...]) -> Iterator[Phase]:
    """The phases, of several holds the first: their readings are one."""
    held = False
    for phase in phases:
        if phase.name != HOLD or not held:
            yield phase
        held |= phase.name == HOLD


def _whole_phase(
    rule: Rule, phase: Phase, stored: StoredTake, standard: Standard
) -> Finding | None:
    condition = rule.all[0]
    reading = next(
        (r for r in stored.readings if r.measure == condition.measure and r.phase == phase.name),
        None,
    )
    if reading is None or reading.value is None or reading.uncertainty is None:
        return None
    band = standard.band(condition.measure, stored.view, stored.school, phase.name)
    holds: tuple[int, ...] = ()
    value, uncertainty = reading.value, reading.uncertainty
    if reading.worst is not None:
        # In which of them it stands beyond is known of the worst alone.
        value, uncertainty = reading.worst.value, reading.worst.uncertainty
        holds = (reading.worst.nth,)
    now = judged(replace(reading, value=value, uncertainty=uncertainty), band)
    beyond = outside_band(condition, now, band)
    if beyond is None:
        if now.verdict == CANT_TELL and not rule.quiet and phase.name == HOLD:
            return cannot(rule, HOLD, now.reason)
        return None
    same = (f for f in stored.findings if (f.fault, f.phase) == (rule.fault, phase.name))
    old = next(same, None)
    worst = old.worst_frame if old else None
    start, end = phase.start, phase.end
    if old is not None and old.holds:
        start, end, holds = old.start or start, old.end or end, old.holds
    return Finding(
        rule.fault, now.verdict, phase.name, start, end, worst, (beyond[1],), holds=holds
    )


def _surer(found: Finding, standard: Standard, stored: StoredTake) -> Finding:
    """A finding on several limits: whether it stands clear of the bands as they now are."""
    if found.verdict == CANT_TELL or not found.evidence:
        return found
    evidence = []
    for e in found.evidence:
        band = standard.band(e.measure, stored.view, stored.school, found.phase)
        edge = nearer_edge(e.limit, e.value > e.edge, band)
        evidence.append(replace(e, edge=edge))
    sure = all(abs(e.value - e.edge) > e.uncertainty for e in evidence)
    return replace(found, verdict=FAULT if sure else WATCH, evidence=tuple(evidence))
