"""A corner of the mouth as finely as the picture shows it: the third network.

The second network sees the whole mouth in as few pixels as a thumbnail has. There the last
millimetres of the lips are thinner than a pixel, and of what a corner moves it sees about half.
This one looks at a corner by itself.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

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
#: No corner is known better than to this many pixels of the picture.
PIXEL = 1.0
#: The second network's place counts as this many times less sure than it claims: of what corners
#: move it sees half. Where both lie farther apart than so many sigmas, it alone counts: the
#: picture is too coarse or too dim for a closer look. (208 pictures of 8 people by lot.)
SECOND_LESS_SURE, DISAGREE = 1.5, 2.5
#: A closer look that is less sure than this share of the mouth's width has seen nothing that it
#: knows (a grin with all teeth, which no training picture shows): the second network alone counts.
#: On faces by lot a look at a corner that shows claims 1 to 2 %.
LOST = 0.045


@dataclass(frozen=True)
class Corner:
    """A corner in a picture.

    at     (2,) pixels
    sigma  standard deviation of each coordinate, pixels
    seen   how likely it is there and not covered, 0..1
    """

    at: Floats
    sigma: float
    seen: float


def fine_corner(rgb: Image, name: str, second: Corner, unit: float, roll: float) -> Corner:
    """A corner of the mouth as a closer look finds it.

    rgb     (H, W, 3)
    name    ``ch_r`` or ``ch_l``
    second  what the second network says
    unit    the mouth's width at rest, pixels
    roll    of the head, degrees clockwise
    """
    found = _look(rgb, name == MIRRORED, second.at, unit, roll)
    if np.linalg.norm(found.at - second.at) > OFF_MIDDLE * unit:
        found = _look(rgb, name == MIRRORED, found.at, unit, roll)
    return second if found.sigma > LOST * unit else _together(found, second)


def _together(fine: Corner, second: Corner) -> Corner:
    """Both by their sigmas, which don't shrink one another: they see the same picture."""
    apart = float(np.linalg.norm(fine.at - second.at))
    if apart > DISAGREE * np.hypot(fine.sigma, second.sigma):
        return replace(second, sigma=max(second.sigma, apart / 2))
    own, other = fine.sigma**-2, (SECOND_LESS_SURE * second.sigma) ** -2
    share = own / (own + other)
    return Corner(
        share * fine.at + (1 - share) * second.at,
        float(np.sqrt(share * fine.sigma**2 + (1 - share) * second.sigma**2)), fine.seen,
    )  # fmt: skip


def _look(rgb: Image, mirror: bool, at: Floats, unit: float, roll: float) -> Corner:
    matrix = crop_matrix(at, unit, CORNER_WIDE, roll, CORNER_SIDE)
    crop = cut(rgb, matrix, CORNER_SIDE)
    said = answer("corner", np.ascontiguousarray(crop[:, ::-1]) if mirror else crop)
    places, sigmas, shown = read_maps(said, CORNER_STRIDE)
    place = places[0] * (-1, 1) + (CORNER_SIDE - 1, 0) if mirror else places[0]
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    sigma = float(np.hypot(sigmas[0] / scale, PIXEL))
    return Corner(through(inverse(matrix), place), sigma, float(shown[0]))
