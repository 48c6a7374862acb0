"""A brass rim from the places round it that the landmark network names."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.landmark_network import Landmarks
from sulvet.core.video.network_points import RIM
from sulvet.core.video.rim_edge import Ring, round_it, sharpened

#: Where the five points of a rim lie, degrees from the subject's left over the top.
RIM_AT = (90.0, 150.0, 205.0, 335.0, 30.0)
#: Where the network's places lie, radians likewise.
TURN = np.radians(90.0 - np.arange(len(RIM)) * 360.0 / len(RIM))
#: A mark of a rim: id, pixels, standard deviation.
Held = list[tuple[str, Floats, float]]


def rim_from_front(found: Landmarks, rgb: Image) -> Held:
    """Five marks on the rim's outer edge in an (H, W, 3) picture.

    Shank and cup hide the lower half: centre and radius are all that is asked of the places,
    and the edge itself then says better.
    """
    places, weight, spread = _places(found)
    lean = float(np.radians(found.roll))
    way = round_it(TURN, lean)
    none, one = np.zeros(len(RIM)), np.ones(len(RIM))
    design = np.concatenate([
        np.column_stack([one, none, way[:, 0]]), np.column_stack([none, one, way[:, 1]])
    ])  # fmt: skip
    twice = np.tile(weight, 2)
    (x, y, radius), *_ = np.linalg.lstsq(
        design * twice[:, None], places.T.ravel() * twice, rcond=None
    )
    if radius < 1:
        return []
    centre = np.array([x, y])
    unsure = _sigma(places, centre + radius * way, weight, spread)
    ring = sharpened(rgb, Ring(centre, float(radius), lean, unsure))
    edge = ring.at(np.radians(RIM_AT))
    return [(f"rim_{n}", place, ring.sigma) for n, place in enumerate(edge, 1)]


def rim_from_side(found: Landmarks) -> Held:
    """The rim's upper and lower end: one ellipse through all places.

    A circle seen from anywhere is centre + A cos + B sin of the angle round it.
    """
    places, weight, spread = _places(found)
    design, wanted = (
        np.stack([np.ones_like(t), np.cos(t), np.sin(t)], -1)
        for t in (TURN, np.radians([90.0, 270.0]))
    )
    shape, *_ = np.linalg.lstsq(design * weight[:, None], places * weight[:, None], rcond=None)
    sigma = _sigma(places, design @ shape, weight, spread)
    return [
        (name, place, sigma)
        for name, place in zip(("rs_top", "rs_low"), wanted @ shape, strict=True)
    ]


def under_rim(held: Held, place: Floats, spread: float) -> bool:
    """Whether a point lies under a rim seen from the front, or so near its edge that it may.

    held  the marks of the rim; its circle is theirs by least squares (I. Kåsa, IEEE Transactions
          on Instrumentation and Measurement 25, 1976)
    """
    edge = np.array([at for _, at, _ in held])
    if len(edge) < 3:
        return False
    design = np.column_stack([2 * edge, np.ones(len(edge))])
    (x, y, rest), *_ = np.linalg.lstsq(design, (edge**2).sum(axis=1), rcond=None)
    radius = float(np.sqrt(max(rest + x**2 + y**2, 0.0)))
    return bool(np.hypot(place[0] - x, place[1] - y) < radius + spread)


def _places(found: Landmarks) -> tuple[Floats, Floats, Floats]:
    """(8, 2) places round the rim, what each counts, and how unsure it is."""
    places = np.array([found.at(name) for name in RIM])
    spread = np.array([found.spread(name) for name in RIM])
    sure = np.array([found.sure(name) for name in RIM])
    return places, (0.1 + sure) / spread, spread


def _sigma(places: Floats, fitted: Floats, weight: Floats, spread: Floats) -> float:
    """How unsure any place of the fitted rim is, pixels: its places err together."""
    share = weight / weight.sum()
    off = float(np.sqrt((share @ ((places - fitted) ** 2)).sum() / 2))
    return float(np.hypot(share @ spread, off))
