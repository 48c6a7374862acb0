"""A close-up of a reed judged: readings against their bands, and what an eye tells better."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.equipment.kinds import kind, ticks
from sulvet.core.equipment.results import Measured
from sulvet.core.equipment.work import OF_FAMILY
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    NO_BAND,
    WATCH,
    Z95,
    Finding,
    Reading,
    judged,
    outside_band,
    severity,
)
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.catalogue import catalogue

VIEW = "close-up"
RAILS = frozenset({"rail_r", "rail_l"})


@dataclass(frozen=True)
class JudgedCloseUp:
    """Readings in the order of the measures; findings, the first to mend first, at most one a
    fault."""

    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]


def judge_close_up(
    measured: Measured,
    hidden: frozenset[str],
    ticked: frozenset[str],
    standard: Standard,
    known: dict[str, str] | None = None,
) -> JudgedCloseUp:
    """Judge a close-up.

    hidden  marks that something lies over
    ticked  faults that the teacher sees
    known   what the reed box tells beside the picture: fault → verdict
    """
    school = standard.schools[0].id
    readings = tuple(
        _reading(name, measured, standard, school) for name in OF_FAMILY[standard.family]
    )
    found = [
        Finding(fault, FAULT, "", None, None, None, ()) for fault in ticks() if fault in ticked
    ]
    found += _covered(hidden, standard)
    found += [
        Finding(fault, answer, "", None, None, None, ()) for fault, answer in (known or {}).items()
    ]
    by_measure = {r.measure: r for r in readings}
    for rule in common().rules:
        if not rule.applies(standard, VIEW, school):
            continue
        condition = rule.all[0]
        reading = by_measure[condition.measure]
        outside = outside_band(condition, reading, standard.band(condition.measure, VIEW, school))
        if outside is not None:
            found.append(Finding(rule.fault, reading.verdict, "", None, None, None, (outside[1],)))
    return JudgedCloseUp(readings, _one_each(found))


def _reading(name: str, measured: Measured, standard: Standard, school: str) -> Reading:
    """One measure with its verdict, or why it can't be told."""
    value = measured.values.get(name)
    if value is None:
        return Reading(
            name,
            "",
            None,
            None,
            catalogue().measure(name).unit,
            CANT_TELL,
            measured.unknown.get(name, ""),
        )
    band = standard.band(name, VIEW, school)
    unit = catalogue().measure(name).unit
    return judged(Reading(name, "", value.value, Z95 * value.sd, unit, NO_BAND), band)


def _covered(hidden: frozenset[str], standard: Standard) -> list[Finding]:
    """What follows from one thing lying over another.

    A reed over both sides of its mouthpiece is just wide.
    """
    wide = hidden & RAILS if hidden >= RAILS else frozenset()
    return [
        Finding(m.means, FAULT, "", None, None, None, (), f"{m.name}: {m.may_hide.lower()}.")
        for m in kind(standard.family).marks
        if m.means and m.id in hidden - wide
    ]


def _one_each(found: list[Finding]) -> tuple[Finding, ...]:
    """The strongest of each fault, in the order of mending; what is worth watching last."""
    rank = {FAULT: 0, WATCH: 1}
    found = sorted(found, key=lambda f: (rank[f.verdict], -severity(f.evidence)))
    first: dict[str, Finding] = {}
    for one in found:
        first.setdefault(one.fault, one)
    return tuple(sorted(first.values(), key=lambda f: (rank[f.verdict], common().place(f.fault))))
