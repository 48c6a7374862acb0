"""How much the corners move while they should not."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.view import FaceView

#: Points that do not move in the face frame: what moves there is the noise of
#: following, and is taken off.
FIXED = ("al_r", "al_l")
CORNERS = ("ch_r", "ch_l")


def displacement(view: FaceView, group: tuple[str, ...] = CORNERS) -> Floats:
    """(T,) root mean square distance of a group from its median place, % of MW.

    The median is taken over the frames of ``view``: hand in one phase.
    """
    moved = []
    for name in group:
        track = view.point(name)
        if np.isfinite(track[:, 0]).sum() < 3:
            return np.full(len(track), np.nan)
        moved.append(((track - np.nanmedian(track, axis=0)) ** 2).sum(-1))
    return np.asarray(np.sqrt(np.mean(moved, axis=0)) / view.rest_mouth_width * 100)


def rms(values: Floats) -> float:
    """Root mean square of the finite values; NaN when there are none."""
    finite = values[np.isfinite(values)]
    return float(np.sqrt((finite**2).mean())) if len(finite) else float("nan")


def stillness(view: FaceView, seconds: Floats) -> tuple[float, float]:
    """Movement of the corners over one phase: value and standard deviation, % of MW.

    Root mean square around the phase median, with the noise seen on fixed skin
    taken off in squares. The standard deviation holds the sampling error of an
    RMS over movements that last about a fifth of a second, and half of what
    was taken off.
    """
    whole = rms(displacement(view, CORNERS))
    noise = rms(displacement(view, FIXED))
    noise = 0.0 if np.isnan(noise) else min(noise, whole)
    value = float(np.sqrt(max(whole**2 - noise**2, 0.0)))
    independent = max((seconds[-1] - seconds[0]) / 0.2, 2.0)
    return value, float(np.hypot(value / np.sqrt(2 * independent), (whole - value) / 2 + 0.05))
