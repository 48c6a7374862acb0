"""Every measure along time, with its uncertainty, and the face it was compared with."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from sulvet.core.anatomy.frame import RestFace
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.measures.evaluation import evaluate
from sulvet.core.measures.frames import FaceFrame, FrontFrame, SideFrame, TakeContext
from sulvet.core.measures.uncertainty import uncertainty
from sulvet.core.measures.view import FaceView


@dataclass(frozen=True)
class Series:
    """One measure along time.

    value  (T,) in the measure's unit; NaN where it can't be told
    sigma  (T,) standard deviation, same unit
    """

    measure: str
    unit: str
    value: Floats
    sigma: Floats


@dataclass(frozen=True)
class Measured:
    """All series of a take, the face they are compared with, and the head's turn.

    view    the marks of a front take in the face frame, ``side`` those of a side take;
            None without a usable rest face
    scales  what turns pixels of the rest scale into millimetres
    yaw     (T,) estimated turn to the side, degrees; NaN where it can't be told
    """

    series: dict[str, Series]
    rest: RestFace | None
    yaw: Floats
    view: FaceView | None
    side: SideView | None = None
    scales: Scales = field(default_factory=Scales)


def measure(marks: Marks, at_rest: Bools, context: TakeContext | None = None) -> Measured:
    """Measure a take.

    at_rest  (T,) which frames belong to the phase ``rest``

    Without a usable rest face every series is NaN.
    """
    context = context or TakeContext()
    table = catalogue().on_frames(context.view, context.instrument)
    frame: FaceFrame = (SideFrame if context.view == "side" else FrontFrame)(marks, at_rest)
    if frame.view is None:
        return _nothing(marks, table)
    scales = Scales(tuple(frame.scales(context)))
    possible = tuple(m for m in table if _has_marks(frame.marks, m))
    values = evaluate(frame, context.instrument, possible, scales, frame.view, frame.base())
    sigmas = uncertainty(frame, context.instrument, possible, scales)
    series = {}
    for m in table:
        if m.id not in values or (m.scaled_to in ("mm", "mm2") and scales.at(m.plane) is None):
            series[m.id] = _blank(m, marks)
            continue
        value, sigma = values[m.id], sigmas[m.id]
        for name in m.must_see:
            value = np.where(marks.hidden[:, marks.column(name)], np.nan, value)
        series[m.id] = Series(m.id, m.unit, value, np.where(np.isnan(value), np.nan, sigma))
    series |= _signals(marks, at_rest, context.view)
    yaw = frame.yaw()
    if "head_yaw" in series:
        # The mesh tells the turn at rest better than a nose does.
        series["head_yaw"] = replace(series["head_yaw"], value=yaw)
    return Measured(series, frame.rest, yaw, frame.front, frame.side, scales)


def _nothing(marks: Marks, table: tuple[Measure, ...]) -> Measured:
    nothing = np.full(len(marks), np.nan)
    blank = {m.id: _blank(m, marks) for m in table}
    return Measured(blank, None, nothing, None)


def _blank(m: Measure, marks: Marks) -> Series:
    nothing = np.full(len(marks), np.nan)
    return Series(m.id, m.unit, nothing, nothing)


def _signals(marks: Marks, at_rest: Bools, view: str) -> dict[str, Series]:
    """What was read off the picture itself, over rest."""
    found = {}
    for m in catalogue().of_source("picture", view):
        value, noise = m.value("")(marks, at_rest)
        change = value - (1.0 if m.against == "ratio" else 0.0)
        found[m.id] = Series(m.id, m.unit, value, np.hypot(noise, m.error.sigma(change)))
    return found


def _has_marks(marks: Marks, m: Measure) -> bool:
    return all(
        name in marks.ids and bool(np.isfinite(marks.xy[:, marks.column(name), 0]).any())
        for name in m.must_see
    )
