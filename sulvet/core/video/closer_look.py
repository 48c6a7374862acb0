"""Parts of the mouth as finely as the picture shows them: the third and the fourth network.

The second network sees the whole mouth in as few pixels as a thumbnail has. There the last
millimetres of the lips are thinner than a pixel, and of what a corner moves it sees about half.
These look at a corner, and at the middle of the lips, by themselves.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.crops import (
    CLOSER_SIDE,
    CLOSER_STRIDE,
    CORNER_WIDE,
    LIPS_WIDE,
    crop_matrix,
    cut,
    inverse,
    through,
)
from sulvet.core.video.network_points import LIPS
from sulvet.core.video.networks import answer, read_maps

#: The network knows the subject's right corner; the left one is shown to it in a mirror.
MIRRORED = "ch_l"
#: Farther than this from where it was looked for, in widths of the mouth, it is looked at again.
OFF_MIDDLE = 0.1
#: Nothing is known better than to this many pixels of the picture.
PIXEL = 1.0
#: The second network's place counts as this many times less sure than it claims: of what corners
#: move it sees half. Where both lie farther apart than so many sigmas, it alone counts: the
#: picture is too coarse or too dim for a closer look. (208 pictures of 8 people by lot; the same
#: holds of the lips in 21 takes of further ones, where both together were off by no more than
#: either.)
SECOND_LESS_SURE, DISAGREE = 1.5, 2.5
#: A closer look that is less sure than this share of the mouth's width has seen nothing that it
#: knows (a grin with all teeth, which no training picture shows): the second network alone counts.
#: On faces by lot a look at a corner that shows claims 1 to 2 %.
LOST = 0.045


@dataclass(frozen=True)
class Spot:
    """A landmark in a picture.

    at     (2,) pixels
    sigma  standard deviation of each coordinate, pixels
    seen   how likely it is there and not covered, 0..1
    """

    at: Floats
    sigma: float
    seen: float


def fine_corner(rgb: Image, name: str, second: Spot, unit: float, roll: float) -> Spot:
    """A corner of the mouth as a closer look finds it.

    rgb     (H, W, 3)
    name    ``ch_r`` or ``ch_l``
    second  what the second network says
    unit    the mouth's width at rest, pixels
    roll    of the head, degrees clockwise
    """

    def look(at: Floats) -> Spot:
        return _look(rgb, "corner", CORNER_WIDE, at, unit, roll, name == MIRRORED)[0]

    found = look(second.at)
    if np.linalg.norm(found.at - second.at) > OFF_MIDDLE * unit:
        found = look(found.at)
    return _together(found, second, unit)


def fine_lips(rgb: Image, second: Mapping[str, Spot], unit: float, roll: float) -> dict[str, Spot]:
    """The middle of the lips as a closer look finds it: ``LIPS`` by name.

    second  what the second network says of each; the rest as for ``fine_corner``
    """

    def middle(spots: Mapping[str, Spot]) -> Floats:
        return np.asarray((spots["ls"].at + spots["li"].at) / 2)

    def look(at: Floats) -> dict[str, Spot]:
        looks = [_look(rgb, "lips", LIPS_WIDE, at, unit, roll, mirror) for mirror in (False, True)]
        return {name: _mean(*two) for name, *two in zip(LIPS, *looks, strict=True)}

    found = look(middle(second))
    if np.linalg.norm(middle(found) - middle(second)) > OFF_MIDDLE * unit:
        found = look(middle(found))
    return {name: _together(found[name], second[name], unit) for name in LIPS}


def _mean(one: Spot, other: Spot) -> Spot:
    """Two looks of one network: their mean, no surer than either, less where they differ."""
    apart = float(np.linalg.norm(one.at - other.at)) / 2
    return Spot(
        (one.at + other.at) / 2, max((one.sigma + other.sigma) / 2, apart),
        (one.seen + other.seen) / 2,
    )  # fmt: skip


def _together(fine: Spot, second: Spot, unit: float) -> Spot:
    """Both by their sigmas, which don't shrink one another: they see the same picture. Whether a
    point shows, the two together tell better than either."""
    if fine.sigma > LOST * unit:
        return second
    apart = float(np.linalg.norm(fine.at - second.at))
    if apart > DISAGREE * np.hypot(fine.sigma, second.sigma):
        return replace(second, sigma=max(second.sigma, apart / 2))
    own, other = fine.sigma**-2, (SECOND_LESS_SURE * second.sigma) ** -2
    share = own / (own + other)
    return Spot(
        share * fine.at + (1 - share) * second.at,
        float(np.sqrt(share * fine.sigma**2 + (1 - share) * second.sigma**2)),
        (fine.seen + second.seen) / 2,
    )  # fmt: skip


def _look(
    rgb: Image, network: str, wide: float, at: Floats, unit: float, roll: float, mirror: bool
) -> list[Spot]:
    """One look at a crop so many mouths wide, as it is or in a mirror; its points in order."""
    matrix = crop_matrix(at, unit, wide, roll, CLOSER_SIDE)
    crop = cut(rgb, matrix, CLOSER_SIDE)
    said = answer(network, np.ascontiguousarray(crop[:, ::-1]) if mirror else crop)
    places, sigmas, shown = read_maps(said, CLOSER_STRIDE)
    if mirror:
        places = places * (-1, 1) + (CLOSER_SIDE - 1, 0)
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    return [
        Spot(through(inverse(matrix), place), float(np.hypot(sigma / scale, PIXEL)), float(seen))
        for place, sigma, seen in zip(places, sigmas, shown, strict=True)
    ]
