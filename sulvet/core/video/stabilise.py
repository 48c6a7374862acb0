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
#: Of these on the nose, and how far up from its wings, widths of the mouth.
NOSE_FEATURES, NOSE_UP = 24, 0.55
#: Of a profile's nose: how far up from its tip and round it it is looked at, how far it may have
#: gone right or left and up or down, pixels, and how alike it must be.
NOSE_HIGH, NOSE_ROUND, NOSE_REACH, NOSE_LIKE = 70, 14, (26, 10), 0.6
NOSE_STEPS = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 30, 1e-4)
#: Rows kept below the lowest feature, for its window and the head's own movement.
BELOW = 40
#: Fewer than these tell nothing; with fewer than those a later picture may tell more, one of a
#: frame on which this share of the features was still found.
MIN_FEATURES, FEW, RENEWED = 8, 16, 0.5
#: The turn of a head is not known better than this, as a sine, where the features lie in one
#: plane and tell none: a turn this large is taken for likely.
LIKELY_TURN = 0.06
#: Noise of a followed feature, and the residual beyond which one does not count, pixels.
FEATURE_NOISE, OUTLIER = 0.3, 1.2
#: A face's depth differs from the average one's by this much, widths of the mouth; times the turn
#: it moves a feature and makes none an outlier.
DEPTH_OFF = 0.06
#: The residual that counts at first, pixels, and its part that does from round to round: a fit that
#: begins strict takes the few features of the nose for outliers of the many at the eyes.
FIRST_OUTLIER, STRICTER, ROUNDS = 12.0, 0.7, 12
#: How a head is looked for: turned by so many degrees against where it was last, on so
#: many levels of the pyramid (each doubles how far it may have gone). First as it moves
#: from frame to frame; then farther and turned, as long as it is lost.
TRIES = ((0.0, 2), (0.0, 3), (5.0, 3), (-5.0, 3), (10.0, 3), (-10.0, 3), (16.0, 3), (-16.0, 3))


@dataclass(frozen=True)
class _Reference:
    """A stabilised picture whose features are looked for in others.

    features  (N, 1, 2) where they are in it, pixels; plane (N, 2) where they would be if the head
              were turned as on the anchor frame
    depth     (N,) pixels before the plane of the mouth's corners; None to take them for flat
    """

    picture: Image
    features: NDArray[np.float32]
    plane: Floats
    depth: Floats | None

    @classmethod
    def of(
        cls, picture: Image, points: dict[str, Floats], first: Floats, turn: Floats
    ) -> _Reference | None:
        """None where too little can be followed."""
        features = features_of(picture, points, first)
        if len(features) < MIN_FEATURES:
            return None
        # Only the part with features is looked at for the head's place.
        top = picture[: int(features[..., 1].max()) + BELOW]
        plane = features[:, 0].astype(float)
        if "n" in points:
            return cls(top, features, plane, None)
        depth = feature_depths(features)
        return cls(top, features, plane - depth[:, None] * turn, depth)


@dataclass(frozen=True)
class _Nose:
    """The nose's edge in the stabilised picture of a profile.

    What a side view measures lies on the midline, as the nose does; what the head is followed by,
    cheek and temple, lies up to 60 mm before it: a head that turns by 3 degrees moves the one
    3 mm against the other.

    at  (2,) upper left corner of the template, pixels
    """

    template: Image
    at: NDArray[np.int64]

    @classmethod
    def of(cls, picture: Image, points: dict[str, Floats], matrix: Floats) -> _Nose | None:
        """None where the nose lies at the edge of the picture."""
        there = np.array([points[k] @ matrix[:, :2].T + matrix[:, 2] for k in ("n", "prn", "sn")])
        top = max(there[0, 1], there[1, 1] - NOSE_HIGH)
        low = np.array([there[:, 0].min() - NOSE_ROUND, top]).astype(int)
        high = np.array([there[:, 0].max() + NOSE_ROUND, there[2, 1] + 3]).astype(int)
        reach = np.array(NOSE_REACH)
        if (low - reach < 0).any() or (high + reach > picture.shape[::-1]).any():
            return None
        return cls(picture[low[1] : high[1], low[0] : high[0]].copy(), low)

    def onto(self, picture: Image) -> Floats:
        """(2, 3) the movement that brings the nose to where it was on the anchor frame; none where
        it is not recognised.

        Turned and shifted by enhanced correlation (G. Evangelidis and E. Psarakis, IEEE PAMI 30,
        2008), from the best shift alone.
        """
        (x, y), (right, down) = self.at, NOSE_REACH
        height, width = self.template.shape
        part = picture[y - down : y + height + down, x - right : x + width + right]
        like = cv2.matchTemplate(part, self.template, cv2.TM_CCOEFF_NORMED)
        row, column = np.unravel_index(int(like.argmax()), like.shape)
        if like[row, column] < NOSE_LIKE or row in (0, 2 * down) or column in (0, 2 * right):
            return np.eye(2, 3)
        shift = np.array([[1, 0, column], [0, 1, row]], np.float32)
        alike, moved = cv2.findTransformECC(
            self.template, part, shift, cv2.MOTION_EUCLIDEAN, NOSE_STEPS, None, 5
        )
        if alike < NOSE_LIKE:
            return np.eye(2, 3)
        # From the template to the part, then from the anchor's picture to this one, and back.
        there = np.vstack([moved, [0, 0, 1]]).astype(float)
        to_part, from_part = np.eye(3), np.eye(3)
        to_part[:2, 2], from_part[:2, 2] = -self.at, self.at - np.array(NOSE_REACH)
        return np.asarray(np.linalg.inv(from_part @ there @ to_part)[:2])


@dataclass(frozen=True)
class _Fit:
    """The similarity that brings a picture onto the anchor's, its residual, how far the head is
    turned, and how many features say so."""

    matrix: Floats
    sigma: float
    turn: Floats
    count: int


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


def features_of(reference: Image, points: dict[str, Floats], matrix: Floats) -> NDArray[np.float32]:
    """(N, 1, 2) what of the anchor picture can be followed and moves with the head alone.

    From the front the nose has some of its own, faint as they are against the eyes: it is what
    lies before the rest and tells a turn.
    """
    mask = head_mask(points, matrix)
    found = _corners(reference, mask, FEATURES, 0.008, 7)
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
    pictures = np.empty((count, *SIZE[::-1]), np.uint8)
    to_stabilised = np.empty((count, 2, 3))
    head_found = np.ones(count, bool)
    noise, turn = np.zeros(count), np.zeros((count, 2))
    pictures[anchor], to_stabilised[anchor] = reference, first
    start = _Reference.of(reference, points, first, np.zeros(2))
    nose = _Nose.of(reference, points, first) if "n" in points else None
    for rows in (range(anchor + 1, count), range(anchor - 1, -1, -1)):
        matrix, known = first, [start] if start is not None else []
        for row in rows:
            fitted, guess = _looked_for(known, grays[row], matrix, scale, turn[row - rows.step])
            if fitted is None:
                head_found[row] = False
                noise[row], turn[row] = np.nan, turn[row - rows.step]
            else:
                noise[row], turn[row] = fitted.sigma, fitted.turn
                matrix = _compose(fitted.matrix, guess)
            pictures[row], to_stabilised[row] = warp(grays[row], matrix, scale), matrix
            if nose is not None and fitted is not None:
                to_stabilised[row] = _compose(nose.onto(pictures[row]), matrix)
                pictures[row] = warp(grays[row], to_stabilised[row], scale)
            if fitted is not None and fitted.count < RENEWED * len(known[-1].features):
                # Before the head is lost: what is seen of it now is looked for as well.
                later = _Reference.of(pictures[row], points, first, fitted.turn)
                known = [*known[:1], *([later] if later is not None else known[1:])]
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


def _looked_for(
    known: list[_Reference], gray: Image, matrix: Floats, scale: float, before: Floats
) -> tuple[_Fit | None, Floats]:
    """The head in a working picture, and where it was looked for: as the anchor shows it, or as it
    was last well seen where few features of the anchor are left.

    matrix, before  where it was and how far it was turned on the frame beside
    """
    best: _Fit | None = None
    there = matrix
    for reference in known:
        # A head that nods or leans faster than from frame to frame is looked for turned.
        for lean, levels in TRIES:
            turned = _turned(lean, reference.features)
            guess = matrix if not lean else _compose(turned, matrix)
            picture = warp(gray, guess, scale, len(reference.picture))
            fitted = _fit(reference, picture, before, levels)
            if fitted is not None:
                if best is None or fitted.count > best.count:
                    best, there = fitted, guess
                break
        if best is not None and best.count >= FEW:
            break
    return best, there


def _fit(reference: _Reference, picture: Image, before: Floats, levels: int) -> _Fit | None:
    """The head in one picture.

    before  (2,) how far the head was turned where it was last seen: a nose that a turn has carried
            far is looked for where it was then, or only what a turn does not move would be found
    """
    features, depth = reference.features, reference.depth
    flow = FLOW | {"maxLevel": levels, "flags": cv2.OPTFLOW_USE_INITIAL_FLOW}
    ahead = reference.plane if depth is None else reference.plane + depth[:, None] * before
    likely = ahead[:, None].astype(np.float32)
    shown = reference.picture
    there, ok, _ = cv2.calcOpticalFlowPyrLK(shown, picture, features, likely, **flow)
    again, ok2, _ = cv2.calcOpticalFlowPyrLK(picture, shown, there, features.copy(), **flow)
    good = (ok[:, 0] == 1) & (ok2[:, 0] == 1)
    good &= np.linalg.norm(again - features, axis=2)[:, 0] < 0.7
    if good.sum() < MIN_FEATURES:
        return None
    source, target = there[good, 0].astype(float), reference.plane[good]
    if depth is not None:
        return _solid(source, target, depth[good])
    matrix, inliers = cv2.estimateAffinePartial2D(
        source, target, method=cv2.RANSAC, ransacReprojThreshold=1.5, maxIters=500
    )
    if matrix is None or inliers.sum() < max(MIN_FEATURES, 0.35 * len(source)):
        return None
    keep = inliers[:, 0] == 1
    residual = source[keep] @ matrix[:, :2].T + matrix[:, 2] - target[keep]
    sigma = float(np.sqrt((residual**2).sum(1).mean() / 2) / np.sqrt(keep.sum() / 4))
    return _Fit(np.asarray(matrix, dtype=float), sigma, np.zeros(2), int(keep.sum()))


def _solid(source: Floats, target: Floats, depth: Floats) -> _Fit | None:
    """The same for features of a solid head: each lies where its place in the plane of the
    mouth's corners goes, and beside it by its depth times the head's turn.

    Least squares with Tukey's weights, from lenient to strict (graduated non-convexity: Yang and
    others, IEEE RA-L 2020, from memory).
    """
    count = len(source)
    weight, off, wide = np.ones(count), np.zeros(count), FIRST_OUTLIER
    # A turn is as likely as ``LIKELY_TURN`` says; the rest is free.
    prior = FEATURE_NOISE / LIKELY_TURN
    for round_ in range(ROUNDS):
        if (weight > 0).sum() < MIN_FEATURES:
            return None
        found = solid_fit(target, source, depth, weight, prior)
        off = np.linalg.norm(found.moved(target, depth) - source, axis=1)
        least = OUTLIER + 3.0 * DEPTH_OFF * MOUTH * float(np.linalg.norm(found.turn))
        wide = max(least, FIRST_OUTLIER * STRICTER**round_)
        weight = np.clip(1 - (off / wide) ** 2, 0, 1) ** 2
    inside = off < wide
    if inside.sum() < max(MIN_FEATURES, 0.35 * count):
        return None
    undo = np.linalg.inv(found.turned)
    matrix = np.hstack([undo, -(undo @ found.shift)[:, None]])
    sigma = float(np.sqrt((off[inside] ** 2).mean() / 2) / np.sqrt(inside.sum() / 4))
    return _Fit(matrix, sigma, found.turn, int(inside.sum()))
