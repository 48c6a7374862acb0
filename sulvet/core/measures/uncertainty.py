"""How sure every measure is: the errors of its marks carried through, and what lies beside them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
from sulvet.core.measures.catalogue import Measure
from sulvet.core.measures.evaluation import evaluate
from sulvet.core.measures.frames import STEP, AnyView, FaceFrame
from sulvet.core.measures.view import FaceView

#: Uncertainty is worked out on so many frames; they stand for their neighbours, since
#: marks of one track are as sure on one frame as on the next.
SAMPLES = 12


def _rows(frame: FaceFrame) -> NDArray[np.int64]:
    count = len(frame.marks)
    rows = np.linspace(0, count - 1, min(SAMPLES, count)).astype(int)
    resting = np.flatnonzero(frame.at_rest)
    return np.asarray(
        np.unique(np.concatenate([rows, resting[:: max(1, len(resting) // 6)]])), dtype=np.int64
    )


def uncertainty(
    frame: FaceFrame, instrument: str, table: tuple[Measure, ...], scales: Scales
) -> dict[str, Floats]:
    """Standard deviation of every measure, carried through numerically, first order.

    The error that a mark shares with its rest keyframe moves rest and frame
    together; the drift moves the frame alone. What is counted is not propagated.
    """
    rows = _rows(frame)
    part = frame.some(rows)
    marks, view = part.marks, part.view
    assert view is not None
    base = frame.base()
    smooth = tuple(m for m in table if m.unit != "count")
    plain = evaluate(frame, instrument, table, scales, view, base)
    variance = {m.id: np.zeros(len(rows)) for m in table}
    shared = np.sqrt(np.maximum(np.nan_to_num(marks.sigma**2 - marks.drift**2), 0.0))
    drift = np.nan_to_num(marks.drift)
    known = np.asarray(np.isfinite(marks.xy[..., 0]).any(axis=0))
    used = {name for m in smooth for name in m.uses} | frame.frame
    nudges = [
        (column, axis)
        for column, name in enumerate(marks.ids)
        if name in used and known[column]
        for axis in (0, 1)
    ]
    # On the frames alone: all nudges side by side, as one long take with one rest face.
    alone = [n for n in nudges if drift[:, n[0]].any()]
    views = [part.nudged(column, axis) for column, axis in alone]
    if views:
        stacked = evaluate(frame, instrument, smooth, scales, _stack(view, views), base)
        for key, values in stacked.items():
            slopes = np.nan_to_num((values.reshape(len(alone), -1) - plain[key]) / STEP)
            weights = np.array([drift[:, column] for column, _ in alone])
            variance[key] += ((slopes * weights) ** 2).sum(axis=0)
    # Together with the rest face. What carries the face frame carries both alike, so only
    # what is not compared with rest can change.
    for column, axis in nudges:
        name = marks.ids[column]
        if not shared[:, column].any():
            continue
        if name in frame.frame:
            touched = tuple(m for m in smooth if m.against == "nothing" or name in m.uses)
        else:
            touched = tuple(m for m in smooth if name in m.uses)
        seen, resting = part.nudged_with_rest(column, axis)
        for key, value in evaluate(frame, instrument, touched, scales, seen, resting).items():
            slope = np.nan_to_num((value - plain[key]) / STEP)
            variance[key] += (slope * shared[:, column]) ** 2
    for m in table:
        known_length = m.known_length(instrument)
        variance[m.id] += _beside_marks(m, plain[m.id], view, scales, known_length) ** 2
    every = np.arange(len(frame.marks))
    return {
        key: np.interp(every, rows, np.sqrt(np.nan_to_num(value)))
        for key, value in variance.items()
    }


def _stack(view: AnyView, views: list[AnyView]) -> AnyView:
    """Several views of the same frames and rest face as one, one after the other."""
    face = np.concatenate([v.face for v in views])
    if isinstance(view, FaceView):
        picture = np.concatenate([v.picture for v in views])
        covered = None if view.covered is None else np.tile(view.covered, (len(views), 1))
        turned = None if view.turned is None else np.tile(view.turned, len(views))
        return FaceView(view.ids, face, picture, view.rest, covered, turned)
    turn = np.concatenate([v.turn for v in views if isinstance(v, SideView)])
    picture = np.tile(view.picture, (len(views), 1, 1))
    return replace(view, face=face, picture=picture, turn=turn, memo={})


def _beside_marks(
    m: Measure, value: Floats, view: AnyView, scales: Scales, known: tuple[float, float] | None
) -> Floats:
    """(T,) standard deviation from the scale, a known length, and what no mark accounts for."""
    parts = [m.error.sigma(value - (1.0 if m.against == "ratio" else 0.0))]
    if m.scaled_to in ("mm", "mm2"):
        scale = scales.at(m.plane)
        relative = 0.0 if scale is None else scale.relative * (2 if m.scaled_to == "mm2" else 1)
        measured = value if known is None else known[0] - value
        parts.append(relative * np.nan_to_num(np.abs(measured)))
    if known is not None:
        parts.append(np.full(len(value), known[1]))
    further = m.further()
    if further is not None:
        scale = scales.at(m.plane) if m.scaled_to == "mm" else None
        parts.append(np.nan_to_num(further(view)) * (scale.mm_per_px if scale else 1.0))
    return np.asarray(np.sqrt(sum(part**2 for part in parts)))
