"""Where following starts: landmarks on single frames, and what becomes of one over a take."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.language import said
from sulvet.core.video.stabilised_clip import MOUTH

#: There and back again may miss the start by this much, stabilised pixels (mouth = 120).
ROUND_TRIP = 0.8
#: No landmark moves farther from its keyframe's place, stabilised pixels.
FARTHEST = 0.30 * MOUTH
#: Sigma of the best match, stabilised pixels.
FLOOR = 0.35
#: A placed key within this many frames of a found one stands in its place.
CLOSE_BY = 15
#: By what a face is measured, from the front and from the side; nearer than this they are on one
#: point, clip pixels.
ENDS = {
    ("ch_r", "ch_l"): "The two corners of the mouth are marked on the same point. Mark each where "
    "it is.",
    ("n", "pg"): "Nose root and chin are marked on the same point. Mark each where it is.",
}
LEAST = 2.0


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


def on_one_point(keys: Iterable[Keyframe]) -> str:
    """The sentence for ends of a face that are placed on one point of one frame; empty for none.

    A face is measured by how far they lie apart: such a mark is a slip of the hand.
    """
    seen = {(key.landmark, key.frame): (key.x, key.y) for key in keys if not key.hidden}
    for (one, other), words in ENDS.items():
        for (name, frame), place in seen.items():
            there = seen.get((other, frame)) if name == one else None
            if there is not None and np.hypot(*np.subtract(place, there)) < LEAST:
                return said(words)
    return ""


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
