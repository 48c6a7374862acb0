"""From marks to readings and findings: a pure function of marks and standard."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.findings import Rules, rules_for
from sulvet.core.judgement.readings import Readings
from sulvet.core.judgement.reasons import why_nothing
from sulvet.core.judgement.results import Judgement, focus_among, in_order
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.motion import Moved, motions
from sulvet.core.measures.series import Measured, Series, measure
from sulvet.core.phases import Phase, frames_of


def judge(
    marks: Marks,
    phases: list[Phase],
    standard: Standard,
    view: str,
    school: str,
    known_mm: float | None = None,
    still: bool = False,
) -> Judgement:
    """Measure and judge one take.

    marks     landmarks over time
    phases    rehearsal marks
    standard  the instrument's standard; ``school`` is one of its schools' ids
    known_mm  the length marked by ``kl_a`` and ``kl_b``, mm
    still     frames are photos that stand still: nothing moves that could be measured

    >>> from sulvet.core.judgement.standards import (shipped_standard)
    >>> nothing = Marks.empty(("ch_r", "ch_l"), [0.0, 0.1])
    >>> judged = judge(nothing, [], shipped_standard("horn"), "front", "two-thirds")
    >>> judged.readings[0].verdict
    "can't tell"
    """
    at_rest = frames_of(phases, "rest", marks.seconds)
    measured = measure(marks, at_rest, TakeContext(view, standard.instrument, known_mm))
    moved = [] if still else motions(marks, measured, phases)
    series = _with_motion(marks, measured, moved)
    why_not = why_nothing(marks, measured, phases, view)
    rules = rules_for(standard, view, school)
    readings = Readings(marks, phases, standard, view, school, measured, moved, rules, why_not)
    found = Rules(
        marks, phases, standard, view, school, series, readings.by_phase(), why_not
    ).findings()
    findings = in_order(found)
    return Judgement(
        tuple(readings.all()), findings, series, focus_among(findings), measured.view,
        measured.scales, measured.side,
    )  # fmt: skip


def _with_motion(marks: Marks, measured: Measured, moved: list[Moved]) -> dict[str, Series]:
    """What is measured on every frame, and what moves along its phase, for the drawing."""
    series = dict(measured.series)
    nothing = np.full(len(marks), np.nan)
    for one in moved:
        if one.along is None:
            continue
        name, before = one.measure.id, series.get(one.measure.id)
        along = np.where(
            np.isfinite(one.along), one.along, nothing if before is None else before.value
        )
        series[name] = Series(name, one.measure.unit, along, np.zeros(len(marks)))
    return series
