"""Steady first: every frame turned, shifted and zoomed onto the anchor face.

What remains moving in a stabilised picture is the face's own movement, small
enough to be followed with small windows.

From the front the head is taken for a solid body: features at several depths (eyes, bridge,
tip and wings of the nose) tell how far it has turned and nodded beside where it went, and the
similarity is that of the plane of the mouth's corners. One similarity through all of them would
bend with every turn.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import map_coordinates

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.anatomy.solid import solid_fit
from sulvet.core.video.clip import Image

DATA = Path(__file__).parent / "data"
#: Mouth width in the stabilised picture, pixels. The windows of the follower are
#: tuned to it.
MOUTH = 120.0
SIZE = (400, 432)  # width, height
MOUTH_AT = (200.0, 292.0)
FLOW: dict[str, Any] = {
    "winSize": (21, 21),
    "criteria": (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 15, 0.02),
}
#: Of a side view: nose root to chin, as long as at the front's scale on an average
#: face, and how far the mouth lies from the middle toward the edge it looks at.
SIDE_SPAN, SIDE_MOUTH = 225.0, 66
INWARD = 11.0
FEATURES = 60
#: Rows kept below the lowest feature, for its window and the head's own movement.
BELOW = 40
MIN_FEATURES = 8
#: The turn of a head is not known better than this, as a sine, where the features lie in one
#: plane and tell none: a turn this large is taken for likely.
LIKELY_TURN = 0.06
#: Noise of a followed feature, and the residual from which one counts less and less, pixels.
FEATURE_NOISE, OUTLIER = 0.3, 1.2
#: How a head is looked for: turned by so many degrees against where it was last, on so
#: many levels of the pyramid (each doubles how far it may have gone). First as it moves
#: from frame to frame; then farther and turned, as long as it is lost.
TRIES = ((0.0, 2), (0.0, 3), (5.0, 3), (-5.0, 3), (10.0, 3), (-10.0, 3), (16.0, 3), (-16.0, 3))


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


def anchor_matrix(points: dict[str, Floats]) -> Floats:
    """The similarity that puts the mouth level, 120 pixels wide, in its place.

    points  landmarks on the anchor frame, at least both mouth corners; of a side
            view (one that has the nose root) nose root, tip, lips and chin
    """
    if "n" in points:
        return side_matrix(points)
    right, left = points["ch_r"], points["ch_l"]
    pair = next(
        (points[r], points[le])
        for r, le in (("ex_r", "ex_l"), ("en_r", "en_l"), ("al_r", "al_l"), ("ch_r", "ch_l"))
        if r in points and le in points
    )
    axis = pair[1] - pair[0]
    angle = np.arctan2(axis[1], axis[0])
    zoom = MOUTH / float(np.linalg.norm(left - right))
    cos, sin = zoom * np.cos(-angle), zoom * np.sin(-angle)
    turn = np.array([[cos, -sin], [sin, cos]])
    return np.hstack([turn, (MOUTH_AT - turn @ ((left + right) / 2))[:, None]])


def facing(points: dict[str, Floats]) -> int:
    """Which way a profile looks in the picture: -1 left, 1 right."""
    down = points["pg"] - points["n"]
    nose = points["prn"] - points["n"]
    return 1 if nose[0] * down[1] - nose[1] * down[0] > 0 else -1


def side_matrix(points: dict[str, Floats]) -> Floats:
    """The similarity that puts a profile upright, its mouth in its place toward the edge."""
    down = points["pg"] - points["n"]
    length = float(np.linalg.norm(down))
    zoom = SIDE_SPAN / length
    cos, sin = zoom * down[1] / length, zoom * down[0] / length
    turn = np.array([[cos, -sin], [sin, cos]])
    mouth = (points["ls"] + points["li"]) / 2
    there = np.array([SIZE[0] / 2 + facing(points) * SIDE_MOUTH, MOUTH_AT[1]])
    return np.hstack([turn, (there - turn @ mouth)[:, None]])


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


def stabilise(
    grays: NDArray[np.uint8], scale: float, anchor: int, points: dict[str, Floats]
) -> StabilisedClip:
    """Stabilise a take.

    grays   (T, h, w) working pictures
    scale   working pixels per clip pixel
    anchor  row on which ``points`` (clip pixels) lie
    """
    count = len(grays)
    first = anchor_matrix(points)
    reference = warp(grays[anchor], first, scale)
    features = cv2.goodFeaturesToTrack(
        reference, FEATURES, 0.008, 7, mask=head_mask(points, first), blockSize=5
    )
    # Only the part with features is looked at for the head's place.
    top = reference if features is None else reference[: int(features[..., 1].max()) + BELOW]
    pictures = np.empty((count, *SIZE[::-1]), np.uint8)
    to_stabilised = np.empty((count, 2, 3))
    head_found = np.ones(count, bool)
    noise, turn = np.zeros(count), np.zeros((count, 2))
    depth = None if features is None or "n" in points else feature_depths(features)
    pictures[anchor], to_stabilised[anchor] = reference, first
    enough = features is not None and len(features) >= MIN_FEATURES
    for rows in (range(anchor + 1, count), range(anchor - 1, -1, -1)):
        matrix = first
        for row in rows:
            fitted = None
            # A head that nods or leans faster than from frame to frame is looked for turned.
            for lean, levels in TRIES if enough else ():
                guess = matrix if not lean else _compose(_turned(lean, features), matrix)
                picture = warp(grays[row], guess, scale, len(top))
                fitted = _fit(top, picture, features, depth, levels)
                if fitted is not None:
                    matrix = guess
                    break
            if fitted is None:
                head_found[row] = False
                noise[row], turn[row] = np.nan, turn[row - rows.step]
            else:
                change, noise[row], turn[row] = fitted
                matrix = _compose(change, matrix)
            pictures[row], to_stabilised[row] = warp(grays[row], matrix, scale), matrix
    inward = np.array([-INWARD * facing(points), 0.0]) if "n" in points else np.zeros(2)
    return StabilisedClip(pictures, to_stabilised, head_found, noise, anchor, turn, inward)


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


def _turned(degrees: float, features: NDArray[np.float32]) -> Floats:
    """A turn about the middle of the features."""
    middle = features.reshape(-1, 2).mean(axis=0)
    return np.asarray(cv2.getRotationMatrix2D(tuple(map(float, middle)), degrees, 1.0))


def _compose(outer: Floats, inner: Floats) -> Floats:
    return np.hstack(
        [outer[:, :2] @ inner[:, :2], (outer[:, :2] @ inner[:, 2] + outer[:, 2])[:, None]]
    )


def _fit(
    reference: Image,
    picture: Image,
    features: NDArray[np.float32],
    depth: Floats | None,
    levels: int,
) -> tuple[Floats, float, Floats] | None:
    """The similarity that brings ``picture`` onto ``reference``, its residual in pixels, and how
    far the head is turned.

    depth  (N,) of the features, pixels; None to take them for flat
    """
    flow = FLOW | {"maxLevel": levels}
    there, ok, _ = cv2.calcOpticalFlowPyrLK(reference, picture, features, None, **flow)
    again, ok2, _ = cv2.calcOpticalFlowPyrLK(picture, reference, there, None, **flow)
    good = (ok[:, 0] == 1) & (ok2[:, 0] == 1)
    good &= np.linalg.norm(again - features, axis=2)[:, 0] < 0.7
    if good.sum() < MIN_FEATURES:
        return None
    source, target = there[good, 0], features[good, 0]
    if depth is not None:
        return _solid(source.astype(float), target.astype(float), depth[good])
    matrix, inliers = cv2.estimateAffinePartial2D(
        source, target, method=cv2.RANSAC, ransacReprojThreshold=1.5, maxIters=500
    )
    if matrix is None or inliers.sum() < max(MIN_FEATURES, 0.35 * len(source)):
        return None
    keep = inliers[:, 0] == 1
    residual = source[keep] @ matrix[:, :2].T + matrix[:, 2] - target[keep]
    sigma = float(np.sqrt((residual**2).sum(1).mean() / 2) / np.sqrt(keep.sum() / 4))
    return np.asarray(matrix, dtype=float), sigma, np.zeros(2)


def _solid(source: Floats, target: Floats, depth: Floats) -> tuple[Floats, float, Floats] | None:
    """The same for features of a solid head: each lies where its place in the plane of the
    mouth's corners goes, and beside it by its depth times the head's turn.

    Least squares with Tukey's weights (common practice, no source).
    """
    count = len(source)
    weight, off = np.ones(count), np.zeros(count)
    # A turn is as likely as ``LIKELY_TURN`` says; the rest is free.
    prior = FEATURE_NOISE / LIKELY_TURN
    for _ in range(8):
        found = solid_fit(target, source, depth, weight, prior)
        off = np.linalg.norm(found.moved(target, depth) - source, axis=1)
        wide = max(OUTLIER, 3.0 * float(np.median(off)))
        weight = np.clip(1 - (off / wide) ** 2, 0, 1) ** 2
    inside = off < OUTLIER
    if inside.sum() < max(MIN_FEATURES, 0.35 * count):
        return None
    undo = np.linalg.inv(found.turned)
    matrix = np.hstack([undo, -(undo @ found.shift)[:, None]])
    sigma = float(np.sqrt((off[inside] ** 2).mean() / 2) / np.sqrt(inside.sum() / 4))
    return matrix, sigma, found.turn
