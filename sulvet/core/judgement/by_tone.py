"""What the face did during each tone of a take, by its series along time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import CANT_TELL, FAULT, WATCH, verdict
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.sound.tones import Tone

#: The answers from the worst on.
WORST_FIRST = (FAULT, WATCH)


@dataclass(frozen=True)
class ToneFace:
    """One measure of the face while a tone sounds.

    value, half_width  the median over the tone and its 95 % uncertainty
    """

    measure: str
    value: float
    half_width: float
    verdict: str


def faces(
    tone: Tone,
    series: Mapping[str, tuple[Floats, Floats]],
    seconds: Floats,
    standard: Standard,
    view: str,
    school: str,
) -> tuple[ToneFace, ...]:
    """What is measured of the face in one tone, where the standard has a limit for it.

    series   measure → (T,) values and (T,) half widths of their 95 % intervals, NaN where untold
    seconds  (T,) of the take's frames

    The worst first; a measure that is seen in less than half of the tone is left out.
    """
    inside = (seconds >= tone.start) & (seconds <= tone.end)
    found = []
    for name, (along, widths_along) in series.items():
        measure = catalogue().measure(name)
        band = standard.band(measure.id, view, school)
        if band is None or measure.view != view or measure.source != "marks":
            continue
        values, widths = along[inside], widths_along[inside]
        known = np.isfinite(values) & np.isfinite(widths)
        if not len(known) or known.mean() < common().limits.min_visible_share:
            continue
        value, width = float(np.median(values[known])), float(np.median(widths[known]))
        found.append(ToneFace(measure.id, value, width, verdict(value, width, band)))
    order = {answer: n for n, answer in enumerate(WORST_FIRST)}
    return tuple(sorted(found, key=lambda f: order.get(f.verdict, len(order))))


def drifted(rows: list[tuple[ToneFace, ...]]) -> dict[str, float]:
    """Measure → by how much it has changed from the first tone to the last, where surely."""
    if len(rows) < 2:
        return {}
    last = {face.measure: face for face in rows[-1]}
    changes = {}
    for face in rows[0]:
        then = last.get(face.measure)
        if then is None or CANT_TELL in (face.verdict, then.verdict):
            continue
        by = then.value - face.value
        if abs(by) > float(np.hypot(face.half_width, then.half_width)):
            changes[face.measure] = by
    return changes


@dataclass(frozen=True)
class Step:
    """Where a measure changes most from one tone to the next: which tone, from 1, by how much."""

    measure: str
    tone: int
    by: float


def greatest_steps(rows: list[tuple[ToneFace, ...]]) -> list[Step]:
    """For each measure that surely changes between two neighbours, where it changes most."""
    steps: dict[str, Step] = {}
    for n, (before, after) in enumerate(pairwise(rows), 2):
        for measure, by in drifted([before, after]).items():
            if measure not in steps or abs(by) > abs(steps[measure].by):
                steps[measure] = Step(measure, n, by)
    return list(steps.values())
