"""Every measure on every frame, compared with rest, in its unit."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.scale import Scales
from sulvet.core.measures.catalogue import Measure
from sulvet.core.measures.frames import FaceFrame


def evaluate(
    frame: FaceFrame,
    instrument: str,
    table: tuple[Measure, ...],
    scales: Scales,
    view: object,
    base: object,
) -> dict[str, Floats]:
    """Each measure on each frame of ``view``, against ``base``, in its unit.

    instrument  whose sizes the functions are given
    """
    done: dict[str, tuple[Floats, Floats]] = {}
    out = {}
    for m in table:
        if m.function not in done:
            function = m.value(instrument)
            done[m.function] = function(view), function(base)
        value, resting = done[m.function]
        if m.against == "difference":
            value = value - resting
        elif m.against == "ratio":
            with np.errstate(divide="ignore", invalid="ignore"):
                value = value / resting
        out[m.id] = _scaled(frame, m, value, scales, m.known_length(instrument))
    return out


def _scaled(
    frame: FaceFrame, m: Measure, value: Floats, scales: Scales, known: tuple[float, float] | None
) -> Floats:
    """A value in pixels of the rest scale in the measure's own unit."""
    if m.scaled_to == "MW":
        return value / frame.unit()
    if m.scaled_to == "%":
        return value / frame.unit() * 100
    if m.scaled_to in ("mm", "mm2"):
        scale = scales.at(m.plane)
        factor = np.nan if scale is None else scale.mm_per_px ** (2 if m.scaled_to == "mm2" else 1)
        value = value * factor
        return value if known is None else known[0] - value
    return value
