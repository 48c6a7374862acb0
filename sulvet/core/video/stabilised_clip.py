"""A take held still: every frame as the anchor frame shows the head, and the way back."""

from __future__ import annotations

from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.video.clip import Image

#: Mouth width in the stabilised picture, pixels. The windows of the follower are
#: tuned to it.
MOUTH = 120.0
SIZE = (400, 432)  # width, height
MOUTH_AT = (200.0, 292.0)


@dataclass(frozen=True)
class StabilisedClip:
    """Stabilised pictures of a take and the way back.

    pictures   (T, H, W) uint8
    to_stabilised  (T, 2, 3) similarity from upright clip pixels to stabilised pixels
    head_found       (T,) False where the head was lost
    noise      (T,) residual of the head fit, stabilised pixels
    anchor     row all others were brought onto
    turn       (T, 2) how far the head has turned since the anchor, to the picture's right and
               downward, as a sine: what lies one width of the mouth before the plane of its
               corners has moved by that many widths; 0 from the side
    inward     (2,) from a landmark to the skin that is followed in its place, stabilised
               pixels: on a profile the landmark lies on the edge, half before the wall
    """

    pictures: NDArray[np.uint8]
    to_stabilised: Floats
    head_found: Bools
    noise: Floats
    anchor: int
    turn: Floats
    inward: Floats = field(default_factory=lambda: np.zeros(2))

    def to_stabilised_pixels(self, row: int, xy: Floats) -> Floats:
        """Clip pixels (..., 2) to stabilised pixels on one frame."""
        matrix = self.to_stabilised[row]
        return np.asarray(xy @ matrix[:, :2].T + matrix[:, 2])

    def parallax(self, landmark: str) -> Floats:
        """(T, 2) how far the head's turn since the anchor has moved a landmark, by its depth."""
        return np.asarray(depths((landmark,))[0] * MOUTH * self.turn)

    def scale(self, row: int) -> float:
        """Stabilised pixels per clip pixel on one frame."""
        return float(np.hypot(self.to_stabilised[row, 0, 0], self.to_stabilised[row, 1, 0]))


def back(matrices: Floats, xy: Floats) -> Floats:
    """(T, L, 2) stabilised pixels to clip pixels."""
    moved = xy - matrices[:, None, :, 2]
    inverse = np.linalg.inv(matrices[:, :, :2])
    return np.asarray(np.einsum("tij,tlj->tli", inverse, moved))


def warp(gray: Image, matrix: Floats, scale: float, rows: int = SIZE[1]) -> Image:
    """The upper ``rows`` of one stabilised picture; ``scale`` is working pixels per clip pixel."""
    working = matrix.copy()
    working[:, :2] /= scale
    # Pixel centres: a picture shrunk by s maps x to s (x + 0.5) - 0.5.
    working[:, 2] += matrix[:, :2] @ np.full(2, 0.5 / scale - 0.5)
    return np.asarray(
        cv2.warpAffine(
            gray, working, (SIZE[0], rows), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        ),
        dtype=np.uint8,
    )
