"""Every measure of a side view along time, with its uncertainty."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import ANCHORS, SideView, side_view
from sulvet.core.measures import profile
from sulvet.core.measures.series import Measured, Series

STEP = 0.05


@dataclass(frozen=True)
class SideMeasure:
    """One thing measured on every frame of a side view; see ``series.Measure``."""

    id: str
    unit: str
    against_rest: Literal["difference", "ratio", "nothing"]
    value: Callable[[SideView], Floats]
    needs: tuple[str, ...]
    thing: str = ""


MEASURES: tuple[SideMeasure, ...] = (
    SideMeasure("chin_hollow", "%", "nothing", profile.chin_hollow, CONTOUR_IDS),
    SideMeasure("chin_hollow_change", "%", "difference", profile.chin_hollow, CONTOUR_IDS),
    SideMeasure("lower_red_side", "ratio", "ratio", profile.lower_red_side, ("sto", "li")),
    SideMeasure("lip_line_order", "%", "nothing", profile.lip_line_order, ("ls", "li")),
    SideMeasure("head_nod", "deg", "nothing", profile.head_nod, ()),
)


def _values(view: SideView) -> dict[str, Floats]:
    base = view.at_rest()
    done: dict[Callable[[SideView], Floats], tuple[Floats, Floats]] = {}
    out = {}
    for measure in MEASURES:
        if measure.value not in done:
            done[measure.value] = measure.value(view), measure.value(base)
        value, resting = done[measure.value]
        if measure.against_rest == "difference":
            value = value - resting
        elif measure.against_rest == "ratio":
            value = value / resting
        out[measure.id] = value
    return out


def _spread(marks: Marks, at_rest: Bools, values: dict[str, Floats]) -> dict[str, Floats]:
    """Standard deviations, carried through numerically; first order in every mark.

    On a few frames of the take: they stand for their neighbours, since marks of
    one track are as sure on one frame as on the next.
    """
    rows = np.unique(np.linspace(0, len(marks) - 1, SAMPLES).astype(int))
    rows = np.unique(np.concatenate([rows, np.flatnonzero(at_rest)[:: max(1, at_rest.sum() // 6)]]))
    few = Marks(
        marks.ids, marks.frames[rows], marks.seconds[rows], marks.xy[rows], marks.sigma[rows],
        marks.drift[rows], marks.source[rows], marks.hidden[rows],
    )  # fmt: skip
    view = side_view(few, at_rest[rows])
    if view is None:
        return {name: np.full(len(marks), np.nan) for name in values}
    plain = _values(view)
    variance = {name: np.zeros(len(rows)) for name in values}
    matter = {*ANCHORS, "pg", *(name for measure in MEASURES for name in measure.needs)}
    sigma = np.nan_to_num(few.sigma)
    for column, name in enumerate(few.ids):
        if name not in matter or not np.isfinite(few.xy[:, column, 0]).any():
            continue
        for axis in (0, 1):
            xy = few.xy.copy()
            xy[:, column, axis] += STEP
            nudged = side_view(few.moved(xy), at_rest[rows])
            if nudged is None:
                continue
            # The rest profile of the marks as they are: the frame's own error alone.
            alone = SideView(nudged.ids, nudged.face, view.rest, nudged.turn)
            for key, value in _values(alone).items():
                slope = np.nan_to_num((value - plain[key]) / STEP)
                variance[key] += (slope * sigma[:, column]) ** 2
    every = np.arange(len(marks))
    return {
        name: np.interp(every, rows, np.sqrt(value)) + MODEL.get(name, 0.0)
        for name, value in variance.items()
    }


SAMPLES = 24
#: What no mark's own sigma holds, same unit as the measure: how the edge of a lens-blurred
#: contour lies to the skin, where on the lip's round its border is followed, and what the
#: nose's own movement does to the frame.
MODEL = {
    "chin_hollow": 0.6,
    "chin_hollow_change": 0.6,
    "lower_red_side": 0.03,
    "head_nod": 0.3,
}


def measure(marks: Marks, at_rest: Bools) -> Measured:
    """Measure a side take; every series is NaN without a usable rest profile."""
    view = side_view(marks, at_rest)
    nothing = np.full(len(marks), np.nan)
    if view is None:
        empty = {m.id: Series(m.id, m.unit, nothing, nothing) for m in MEASURES}
        return Measured(empty, None, nothing, None)
    values = _values(view)
    spread = _spread(marks, at_rest, values)
    series = {}
    for m in MEASURES:
        value = values[m.id].copy()
        for name in m.needs:
            value[marks.hidden[:, marks.column(name)]] = np.nan
        sigma = np.where(np.isnan(value), np.nan, spread[m.id])
        series[m.id] = Series(m.id, m.unit, value, sigma)
    return Measured(series, None, nothing, None)
