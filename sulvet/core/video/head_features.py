"""What of a stabilised picture moves with the head alone, and how far before the mouth it lies."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.stabilised_clip import MOUTH, MOUTH_AT, SIZE

DATA = Path(__file__).parent / "data"
FEATURES = 60
#: How strong a feature is at least, against the strongest (an eye's white beside its iris). Where
#: fewer than ``SCARCE`` are, as on smooth or dim skin beside an eye, fainter ones count as well:
#: each is followed there and back before it is believed.
STRONG, FAINT, SCARCE = 0.008, 0.001, 24
#: Of these on the nose, and how far up from its wings, widths of the mouth.
NOSE_FEATURES, NOSE_UP = 24, 0.55


def facing(points: dict[str, Floats]) -> int:
    """Which way a profile looks in the picture: -1 left, 1 right."""
    down = points["pg"] - points["n"]
    nose = points["prn"] - points["n"]
    return 1 if nose[0] * down[1] - nose[1] * down[0] > 0 else -1


def _side_mask(there: dict[str, Floats], way: int) -> Image:
    """Eye, cheekbone and temple of a profile: skin that moves with the head alone."""
    mask = np.zeros(SIZE[::-1], np.uint8)
    front = int(there["n"][0] - way * 6)
    back = int(front - way * 190)
    top, bottom = int(there["n"][1] - 60), int(there["sn"][1] - 6)
    cv2.rectangle(mask, (min(front, back), max(top, 0)), (max(front, back), bottom), 255, -1)
    return mask


def head_mask(points: dict[str, Floats], matrix: Floats) -> Image:
    """Where to look for features that move with the head: eyes and nose, not the mouth."""
    there = {name: p @ matrix[:, :2].T + matrix[:, 2] for name, p in points.items()}
    if "n" in points:
        return _side_mask(there, facing(points))
    mask = np.zeros(SIZE[::-1], np.uint8)
    base = there["sn"][1] if "sn" in there else MOUTH_AT[1] - 50
    bottom = int(base - 4)
    if "ex_r" in there and "ex_l" in there:
        eyes = (there["ex_r"] + there["ex_l"]) / 2
        half = abs(there["ex_l"][0] - there["ex_r"][0]) / 2 * 1.05
        top = int(eyes[1] - 45)
        cv2.rectangle(
            mask, (int(eyes[0] - half), top), (int(eyes[0] + half), int(eyes[1] + 22)), 255, -1
        )
        nose = (int(eyes[0] - 0.55 * half), int(eyes[0] + 0.55 * half))
        cv2.rectangle(mask, (nose[0], top), (nose[1], bottom), 255, -1)
    else:
        # A close-up of the mouth: the nose is all that moves with the head alone.
        wings = [there[name] for name in ("al_r", "al_l") if name in there] or [there["sn"]]
        left, right = min(w[0] for w in wings) - 12, max(w[0] for w in wings) + 12
        cv2.rectangle(mask, (int(left), 0), (int(right), bottom), 255, -1)
    return mask


def features_of(reference: Image, points: dict[str, Floats], matrix: Floats) -> NDArray[np.float32]:
    """(N, 1, 2) what of the anchor picture can be followed and moves with the head alone.

    From the front the nose has some of its own, faint as they are against the eyes: it is what
    lies before the rest and tells a turn.
    """
    mask = head_mask(points, matrix)
    found = _corners(reference, mask, FEATURES, STRONG, 7)
    if len(found) < SCARCE:
        found = _corners(reference, mask, SCARCE, FAINT, 7)
    wings = [points[name] for name in ("al_r", "al_l") if name in points]
    if "n" in points or len(wings) < 2 or not len(found):
        return found
    (left, low), (right, low2) = (p @ matrix[:, :2].T + matrix[:, 2] for p in wings)
    nose = np.zeros_like(mask)
    bottom, reach = int(max(low, low2)), int(NOSE_UP * MOUTH)
    box = (int(left) - 4, max(bottom - reach, 0)), (int(right) + 4, bottom + 6)
    cv2.rectangle(nose, *box, 255, -1)
    own = _corners(reference, nose & mask, NOSE_FEATURES, 0.02, 5)
    apart = np.linalg.norm(own - found.reshape(1, -1, 2), axis=2).min(axis=1)
    return np.concatenate([found, own[apart > 3]])


def _corners(
    picture: Image, mask: Image, most: int, quality: float, apart: int
) -> NDArray[np.float32]:
    """(N, 1, 2) what can be followed under a mask."""
    found = cv2.goodFeaturesToTrack(picture, most, quality, apart, mask=mask, blockSize=5)
    return np.zeros((0, 1, 2), np.float32) if found is None else np.asarray(found, np.float32)


@cache
def _head_depth() -> Floats:
    return np.loadtxt(DATA / "head_depth.csv", delimiter=",")


def feature_depths(features: NDArray[np.float32]) -> Floats:
    """(N,) how far features (N, 1, 2) of a stabilised front view lie before the plane of the
    mouth's corners, pixels, on the average made-up head."""
    table = _head_depth()
    across, down = ((features[:, 0] - MOUTH_AT) / MOUTH).T
    x = np.clip((across + 1.5) / 0.1, 0, table.shape[1] - 1)
    y = np.clip((down + 2.6) / 0.1, 0, table.shape[0] - 1)
    return np.asarray(map_coordinates(table, [y, x], order=1) * MOUTH)
