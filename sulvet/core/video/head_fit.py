"""Where the head is in a picture: its features looked for, and the movement that they tell.

From the front the head is taken for a solid body: features at several depths (eyes, bridge,
tip and wings of the nose) tell how far it has turned and nodded beside where it went, and the
similarity is that of the plane of the mouth's corners. One similarity through all of them would
bend with every turn.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.solid import solid_fit, undone
from sulvet.core.video.clip import Image
from sulvet.core.video.head_features import feature_depths, features_of
from sulvet.core.video.stabilised_clip import MOUTH, warp

FLOW: dict[str, Any] = {
    "winSize": (21, 21),
    "criteria": (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 15, 0.02),
}
#: Rows kept below the lowest feature, for its window and the head's own movement.
BELOW = 40
#: Fewer than these tell nothing; with fewer than those a later picture may tell more.
MIN_FEATURES, FEW = 8, 16
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
class Reference:
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
    ) -> Reference | None:
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
class Fit:
    """The similarity that brings a picture onto the anchor's, its residual, how far the head is
    turned, and how many features say so."""

    matrix: Floats
    sigma: float
    turn: Floats
    count: int


def _turned(degrees: float, features: NDArray[np.float32]) -> Floats:
    """A turn about the middle of the features."""
    middle = features.reshape(-1, 2).mean(axis=0)
    return np.asarray(cv2.getRotationMatrix2D(tuple(map(float, middle)), degrees, 1.0))


def compose(outer: Floats, inner: Floats) -> Floats:
    """(2, 3) one movement after another."""
    return np.hstack(
        [outer[:, :2] @ inner[:, :2], (outer[:, :2] @ inner[:, 2] + outer[:, 2])[:, None]]
    )


def looked_for(
    known: list[Reference], gray: Image, matrix: Floats, scale: float, before: Floats
) -> tuple[Fit | None, Floats]:
    """The head in a working picture, and where it was looked for: as the anchor shows it, or as it
    was last well seen where few features of the anchor are left.

    matrix, before  where it was and how far it was turned on the frame beside
    """
    best: Fit | None = None
    there = matrix
    for reference in known:
        # A head that nods or leans faster than from frame to frame is looked for turned.
        for lean, levels in TRIES:
            guess = compose(_turned(lean, reference.features), matrix) if lean else matrix
            picture = warp(gray, guess, scale, len(reference.picture))
            fitted = _fit(reference, picture, before, levels)
            if fitted is not None:
                if best is None or fitted.count > best.count:
                    best, there = fitted, guess
                break
        if best is not None and best.count >= FEW:
            break
    return best, there


def _fit(reference: Reference, picture: Image, before: Floats, levels: int) -> Fit | None:
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
        return solid_head(source, target, depth[good])
    matrix, inliers = cv2.estimateAffinePartial2D(
        source, target, method=cv2.RANSAC, ransacReprojThreshold=1.5, maxIters=500
    )
    if matrix is None or inliers.sum() < max(MIN_FEATURES, 0.35 * len(source)):
        return None
    keep = inliers[:, 0] == 1
    residual = source[keep] @ matrix[:, :2].T + matrix[:, 2] - target[keep]
    sigma = float(np.sqrt((residual**2).sum(1).mean() / 2) / np.sqrt(keep.sum() / 4))
    return Fit(np.asarray(matrix, dtype=float), sigma, np.zeros(2), int(keep.sum()))


def solid_head(source: Floats, target: Floats, depth: Floats) -> Fit | None:
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
    undo = undone(found.turned)
    matrix = np.hstack([undo, -(undo @ found.shift)[:, None]])
    sigma = float(np.sqrt((off[inside] ** 2).mean() / 2) / np.sqrt(inside.sum() / 4))
    return Fit(matrix, sigma, found.turn, int(inside.sum()))
