"""The measured drawing of a judged take."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Marks
from sulvet.core.drawing.front import front_drawing, rim_of
from sulvet.core.drawing.sheet import Drawing
from sulvet.core.drawing.side import side_drawing
from sulvet.core.judgement.judge import FAULT, WATCH, Judgement
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.series import TakeContext, measure
from sulvet.core.phases import Phase, frames_of


def drawing_of(
    judged: Judgement, marks: Marks, phases: list[Phase], standard: Standard, view: str, school: str
) -> Drawing | None:
    """Front or side, over the hold; None when there is no face to draw."""
    held = frames_of(phases, "hold", marks.seconds)
    bands = {m: standard.band(m, view, school) for m in judged.series}
    flagged = frozenset(r.measure for r in judged.readings if r.verdict in (FAULT, WATCH))
    if judged.view is not None:
        return front_drawing(judged.view, marks, held, bands, flagged)
    if judged.side is not None:
        return side_drawing(judged.side, marks, held, bands, standard.instrument, judged.scales)
    return None


@dataclass(frozen=True)
class FrameNow:
    """What one frame measures: values by measure, NaN where it can't be told, and the rim."""

    values: dict[str, float]
    rim: tuple[float, float, float, float] | None


def frame_now(marks: Marks, phases: list[Phase], frame: int, facts: TakeContext) -> FrameNow:
    """Measure one frame of a take against its rest, fast enough to follow a hand.

    frame  row of ``marks``
    """
    at_rest = frames_of(phases, "rest", marks.seconds)
    rows = np.append(np.flatnonzero(at_rest), frame)
    few = marks.rows(rows)
    resting = np.append(np.ones(len(rows) - 1, dtype=bool), False)
    measured = measure(few, resting, facts)
    values = {name: float(series.value[-1]) for name, series in measured.series.items()}
    rim = None if measured.view is None else rim_of(measured.view, few)
    return FrameNow(values, rim)
