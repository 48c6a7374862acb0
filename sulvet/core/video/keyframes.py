"""Where following starts: landmarks on single frames, and what becomes of one over a take."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.stabilised_clip import MOUTH

#: There and back again may miss the start by this much, stabilised pixels (mouth = 120).
ROUND_TRIP = 0.8
#: No landmark moves farther from its keyframe's place, stabilised pixels.
FARTHEST = 0.30 * MOUTH
#: Sigma of the best match, stabilised pixels.
FLOOR = 0.35
#: A placed key within this many frames of a found one stands in its place.
CLOSE_BY = 15


@dataclass(frozen=True)
class Keyframe:
    """A landmark on one frame, found or placed: clip pixels."""

    landmark: str
    frame: int
    x: float
    y: float
    sigma: float
    source: int
    hidden: bool = False


@dataclass
class Track:
    """One landmark over a take.

    xy      (T, 2) stabilised pixels; drift (T,) its standard deviation against the keyframe
    hidden  (T,) where it can't be seen
    """

    xy: Floats
    drift: Floats
    hidden: NDArray[np.bool_]


def apart(a: Floats, b: Floats) -> Floats:
    """(N,) distances of points."""
    return np.asarray(np.linalg.norm(a - b, axis=1))
