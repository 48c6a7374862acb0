"""A corner of the mouth as finely as the picture shows it: the third network.

The second network sees the whole mouth in as few pixels as a thumbnail has. There the last
millimetres of the lips are thinner than a pixel, and of what a corner moves it sees about half.
This one looks at a corner by itself.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.crops import (
    CORNER_SIDE,
    CORNER_STRIDE,
    CORNER_WIDE,
    crop_matrix,
    cut,
    inverse,
    through,
)
from sulvet.core.video.networks import answer, read_maps

#: The network knows the subject's right corner; the left one is shown to it in a mirror.
MIRRORED = "ch_l"
#: Farther than this from where it was looked for, in widths of the mouth, it is looked at again.
OFF_MIDDLE = 0.1


def fine_corner(
    rgb: Image, name: str, at: Floats, unit: float, roll: float
) -> tuple[Floats, float, float]:
    """Place and sigma of a corner, pixels of the picture, and how likely it is seen, 0..1.

    rgb   (H, W, 3)
    name  ``ch_r`` or ``ch_l``
    at    (2,) about where it is, pixels
    unit  the mouth's width at rest, pixels
    roll  of the head, degrees clockwise
    """
    found = _look(rgb, name == MIRRORED, at, unit, roll)
    if np.linalg.norm(found[0] - at) > OFF_MIDDLE * unit:
        found = _look(rgb, name == MIRRORED, found[0], unit, roll)
    return found


def _look(
    rgb: Image, mirror: bool, at: Floats, unit: float, roll: float
) -> tuple[Floats, float, float]:
    matrix = crop_matrix(at, unit, CORNER_WIDE, roll, CORNER_SIDE)
    crop = cut(rgb, matrix, CORNER_SIDE)
    said = answer("corner", np.ascontiguousarray(crop[:, ::-1]) if mirror else crop)
    places, sigmas, shown = read_maps(said, CORNER_STRIDE)
    place = places[0] * (-1, 1) + (CORNER_SIDE - 1, 0) if mirror else places[0]
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    return through(inverse(matrix), place), float(sigmas[0]) / scale, float(shown[0])
