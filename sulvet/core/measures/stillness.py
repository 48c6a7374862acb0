"""How much points of the face move while they should not.

>>> import numpy as np
>>> round(rms(np.array([3.0, -4.0, np.nan])), 3)
3.536
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from sulvet.core.anatomy.marks import Floats

#: Movements of the face last about so long, s: so often an RMS is drawn anew.
MOVEMENT = 0.2


def displacement(tracks: list[Floats], unit: float) -> Floats:
    """(T,) root mean square distance of some points from their median places, % of ``unit``.

    tracks  (T, 2) each, in the face frame; NaN where a point is not seen
    """
    moved = []
    for track in tracks:
        if np.isfinite(track[:, 0]).sum() < 3:
            return np.full(len(track), np.nan)
        moved.append(((track - np.nanmedian(track, axis=0)) ** 2).sum(-1))
    return np.asarray(np.sqrt(np.mean(moved, axis=0)) / unit * 100)


def rms(values: Floats) -> float:
    """Root mean square of the finite values; NaN when there are none."""
    finite = values[np.isfinite(values)]
    return float(np.sqrt((finite**2).mean())) if len(finite) else float("nan")


def stillness(
    point: Callable[[str], Floats],
    moving: tuple[str, ...],
    fixed: tuple[str, ...],
    unit: float,
    seconds: Floats,
) -> tuple[float, float]:
    """Movement of some points over one phase: value and standard deviation, % of ``unit``.

    point    landmark → (T, 2) in the face frame, of the frames of one phase
    fixed    points that do not move in the face frame: what moves there is the noise of
             following, and is taken off in squares

    The standard deviation holds the sampling error of an RMS over movements that last
    about a fifth of a second, and half of what was taken off.
    """
    whole = rms(displacement([point(name) for name in moving], unit))
    noise = rms(displacement([point(name) for name in fixed], unit))
    noise = 0.0 if np.isnan(noise) else min(noise, whole)
    value = float(np.sqrt(max(whole**2 - noise**2, 0.0)))
    independent = max((seconds[-1] - seconds[0]) / MOVEMENT, 2.0)
    return value, float(np.hypot(value / np.sqrt(2 * independent), (whole - value) / 2 + 0.05))
