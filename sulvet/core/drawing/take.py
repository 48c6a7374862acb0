"""The measured drawing of a judged take."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Marks
from sulvet.core.drawing import front, side
from sulvet.core.drawing.front import FrontSheet, front_drawing
from sulvet.core.drawing.sheet import Drawing, FrameAnchors, Place, Stroke
from sulvet.core.drawing.side import SideSheet, side_drawing
from sulvet.core.judgement.results import FAULT, WATCH, Judgement
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.series import measure
from sulvet.core.phases import Phase, frames_of


@dataclass(frozen=True)
class Lines:
    """What is drawn of every mouth, zones and dimensions aside: the same for all of a view."""

    front: tuple[Stroke, ...]
    side: tuple[Stroke, ...]


def lines() -> Lines:
    """The lines of today's edition."""
    return Lines(front.strokes_with({}), side.strokes_with({}))


def without_lines(drawing: Drawing) -> dict[str, Any]:
    """A drawing as it is kept: its lines are the same for all of its view and edition."""
    return {**drawing.plain(), "strokes": [], "dimensions": []}


def with_lines(kept: dict[str, Any]) -> dict[str, Any]:
    """The same with its lines again, as plain data."""
    view = front if kept["view"] == "front" else side
    return {
        **kept,
        "strokes": [asdict(one) for one in view.strokes_with(kept["zones"])],
        "dimensions": [asdict(one) for one in view.DIMENSIONS],
    }


def drawing_of(
    judged: Judgement, marks: Marks, phases: list[Phase], standard: Standard, view: str, school: str
) -> tuple[Drawing, FrameAnchors] | None:
    """Front or side, over the hold, and where every frame lies; None without a face to draw."""
    held = frames_of(phases, "hold", marks.seconds)
    bands = {m: standard.band(m, view, school) for m in judged.series}
    flagged = frozenset(r.measure for r in judged.readings if r.verdict in (FAULT, WATCH))
    if judged.view is not None:
        return front_drawing(judged.view, marks, held, bands, flagged)
    if judged.side is not None:
        depth = judged.series.get("depth")
        return side_drawing(
            judged.side, marks, held, bands, standard.instrument, judged.scales,
            None if depth is None else depth.value,
        )  # fmt: skip
    return None


@dataclass(frozen=True)
class FrameMeasures:
    """What one frame measures: values by measure, NaN where it can't be told, and the derived
    anchors that can be told."""

    values: dict[str, float]
    anchors: dict[str, Place]


def measure_frame(
    marks: Marks, phases: list[Phase], frame: int, context: TakeContext
) -> FrameMeasures:
    """Measure one frame of a take against its rest, fast enough to follow a hand.

    frame  row of ``marks``
    """
    at_rest = frames_of(phases, "rest", marks.seconds)
    rows = np.append(np.flatnonzero(at_rest), frame)
    few = marks.rows(rows)
    resting = np.append(np.ones(len(rows) - 1, dtype=bool), False)
    measured = measure(few, resting, context)
    values = {name: float(series.value[-1]) for name, series in measured.series.items()}
    derived: dict[str, np.ndarray[tuple[int, ...], np.dtype[np.float64]]] = {}
    if measured.view is not None:
        derived = FrontSheet.of(measured.view, few).derived()
    elif measured.side is not None:
        depth = measured.series.get("depth")
        sheet = SideSheet.of(measured.side, few, measured.scales)
        derived = sheet.derived(None if depth is None else depth.value)
    places = {name: (float(p[-1, 0]), float(p[-1, 1])) for name, p in derived.items()}
    return FrameMeasures(values, {n: p for n, p in places.items() if np.isfinite(p).all()})
