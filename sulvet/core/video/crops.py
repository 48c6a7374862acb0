"""What the landmark networks look at: the same cuts in training and in use."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats

#: Sides of what the networks see, pixels: the whole picture, the mouth's surroundings, and a part
#: of it from closer by.
LOCATE_SIDE, MARK_SIDE, CLOSER_SIDE = 160, 160, 96
#: Pixels of the whole picture for one cell of the first network's answer, and of the
#: crops for one cell of the others' maps.
LOCATE_STRIDE, MARK_STRIDE, CLOSER_STRIDE = 8, 4, 4
#: The crop is this many times as wide as the mouth: first with eyes and thing, then close.
WIDE, CLOSE = 3.2, 2.1
#: The crops round a corner and the middle of the lips are so many times as wide as the mouth.
CORNER_WIDE, LIPS_WIDE = 0.8, 1.1
#: The mouth's width in the wide crop, pixels.
USUAL_UNIT = MARK_SIDE / WIDE


def whole_matrix(width: int, height: int) -> Floats:
    """(2, 3) picture pixels to those of the first network: fitted in, the rest black."""
    scale = LOCATE_SIDE / max(width, height)
    shift = (LOCATE_SIDE - scale * np.array([width, height])) / 2 + 0.5 * scale - 0.5
    return np.array([[scale, 0.0, shift[0]], [0.0, scale, shift[1]]])


def crop_matrix(
    middle: Floats, unit: float, wide: float, roll: float = 0.0, side: int = MARK_SIDE
) -> Floats:
    """(2, 3) picture pixels to those of a crop.

    middle  (2,) of the crop, pixels of the picture
    unit    the mouth's width at rest, pixels
    wide    how many of these the crop spans
    roll    degrees clockwise that the head leans in the picture: the crop stands it upright
    side    of the crop, pixels
    """
    scale = side / (wide * unit)
    a = np.radians(-roll)
    turn = scale * np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
    to = np.full(2, side / 2 - 0.5)
    return np.hstack([turn, (to - turn @ np.asarray(middle))[:, None]])


def cut(picture: NDArray[np.uint8], matrix: Floats, side: int) -> NDArray[np.uint8]:
    """The picture through a matrix, black beyond its edges; shrunk without aliasing."""
    scale = float(np.hypot(matrix[0, 0], matrix[1, 0]))
    work = picture
    if scale < 0.6:
        work = cv2.GaussianBlur(picture, (0, 0), 0.45 / scale)
    return np.asarray(
        cv2.warpAffine(work, matrix, (side, side), flags=cv2.INTER_LINEAR, borderValue=0), np.uint8
    )


def through(matrix: Floats, xy: Floats) -> Floats:
    """(..., 2) places through a matrix."""
    return np.asarray(xy @ matrix[:, :2].T + matrix[:, 2])


def inverse(matrix: Floats) -> Floats:
    """The way back of a matrix."""
    return np.asarray(cv2.invertAffineTransform(matrix))
