"""Several holds of one take as one: readings over all of them, and each fault once."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from sulvet.core.judgement.results import (
    CANT_TELL,
    SURENESS,
    Finding,
    Reading,
    Worst,
    judged,
    severity,
)
from sulvet.core.judgement.schema import Band

HOLD = "hold"


def over_holds(
    readings: Sequence[tuple[int | None, Reading]], band_of: Callable[[str], Band | None]
) -> list[Reading]:
    """The readings with those of several holds made one: the median, and the worst named.

    readings  with the place of their phase among the take's, in order
    band_of   the band of a measure in the hold
    """
    places = sorted({n for n, r in readings if r.phase == HOLD and n is not None})
    if len(places) < 2:
        return [reading for _, reading in readings]
    which = {place: n for n, place in enumerate(places, 1)}
    by_measure: dict[str, list[tuple[int, Reading]]] = defaultdict(list)
    for place, reading in readings:
        if reading.phase == HOLD and place is not None:
            by_measure[reading.measure].append((which[place], reading))
    out: list[Reading] = []
    for _, reading in readings:
        if reading.phase != HOLD:
            out.append(reading)
        elif reading.measure in by_measure:
            several = by_measure.pop(reading.measure)
            out.append(_over(several, len(places), band_of(reading.measure)))
    return out


def _over(several: list[tuple[int, Reading]], count: int, band: Band | None) -> Reading:
    """One measure over all holds. What is wrong in all alike is as unsure as in each of them."""
    told = [(n, r.value, r.uncertainty) for n, r in several
            if r.value is not None and r.uncertainty is not None]  # fmt: skip
    if not told:
        return several[0][1]
    values = np.array([value for _, value, _ in told])
    middle, width = float(np.median(values)), float(np.median([w for *_, w in told]))
    n, value, uncertainty = max(told, key=lambda one: _out(one[1], band, middle))
    known = next(r for _, r in several if r.value is not None)
    worst = Worst(n, count, value, uncertainty)
    return judged(replace(known, value=middle, uncertainty=width, worst=worst), band)


def _out(value: float, band: Band | None, middle: float) -> float:
    """How far out a value is: over its band's nearer edge, without a band from the middle."""
    if band is None:
        return abs(value - middle)
    over = -np.inf if band.high is None else value - band.high
    under = -np.inf if band.low is None else band.low - value
    return float(max(over, under))


def one_each(findings: Sequence[tuple[int | None, Finding]], holds: int) -> list[Finding]:
    """Each fault of several holds once: the worst of it, and in which holds it was found.

    findings  with the number of their hold from 1; None for what is in no hold, or in the only one

    What can't be told of one hold may be told by another: it stays only where none tells it.
    """
    out = [found for n, found in findings if n is None]
    by_fault: dict[str, list[tuple[int, Finding]]] = defaultdict(list)
    for n, found in findings:
        if n is not None:
            by_fault[found.fault].append((n, found))
    for several in by_fault.values():
        told = [(n, f) for n, f in several if f.verdict != CANT_TELL]
        if told:
            _, worst = min(told, key=lambda one: (SURENESS[one[1].verdict], -_severity(one[1])))
            out.append(replace(worst, holds=tuple(n for n, _ in told)))
        elif len(several) == holds:
            out.append(several[0][1])
    return out


def _severity(found: Finding) -> float:
    return severity(found.evidence)
