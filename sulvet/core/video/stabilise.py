"""Steady first: every frame turned, shifted and zoomed onto the anchor face.

What remains moving in a stabilised picture is the face's own movement, small
enough to be followed with small windows.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.language import said
from sulvet.core.video.clip import ClipError
from sulvet.core.video.head_features import facing
from sulvet.core.video.head_fit import Reference, compose, looked_for
from sulvet.core.video.keyframes import ENDS, LEAST
from sulvet.core.video.nose_edge import NoseEdge
from sulvet.core.video.stabilised_clip import MOUTH, MOUTH_AT, SIZE, StabilisedClip, warp

#: Of a side view: nose root to chin, as long as at the front's scale on an average
#: face, and how far the mouth lies from the middle toward the edge it looks at.
SIDE_SPAN, SIDE_MOUTH = 225.0, 66
INWARD = 11.0
#: Where this share of the features or fewer is still found, later ones are followed as well.
RENEWED = 0.5


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
    zoom = MOUTH / _apart(points, ("ch_r", "ch_l"))
    cos, sin = zoom * np.cos(-angle), zoom * np.sin(-angle)
    turn = np.array([[cos, -sin], [sin, cos]])
    return np.hstack([turn, (MOUTH_AT - turn @ ((left + right) / 2))[:, None]])


def _apart(points: dict[str, Floats], ends: tuple[str, str]) -> float:
    """How far the ends of a face lie apart, px; ClipError where they are on one point."""
    length = float(np.linalg.norm(points[ends[1]] - points[ends[0]]))
    if length < LEAST:
        raise ClipError(said(ENDS[ends]))
    return length


def side_matrix(points: dict[str, Floats]) -> Floats:
    """The similarity that puts a profile upright, its mouth in its place toward the edge."""
    down = points["pg"] - points["n"]
    length = _apart(points, ("n", "pg"))
    zoom = SIDE_SPAN / length
    cos, sin = zoom * down[1] / length, zoom * down[0] / length
    turn = np.array([[cos, -sin], [sin, cos]])
    mouth = (points["ls"] + points["li"]) / 2
    there = np.array([SIZE[0] / 2 + facing(points) * SIDE_MOUTH, MOUTH_AT[1]])
    return np.hstack([turn, (there - turn @ mouth)[:, None]])


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
    start = Reference.of(reference, points, first, np.zeros(2))
    nose = NoseEdge.of(reference, points, first) if "n" in points else None
    for rows in (range(anchor + 1, count), range(anchor - 1, -1, -1)):
        matrix, known = first, [start] if start is not None else []
        for row in rows:
            fitted, guess = looked_for(known, grays[row], matrix, scale, turn[row - rows.step])
            if fitted is None:
                head_found[row] = False
                noise[row], turn[row] = np.nan, turn[row - rows.step]
            else:
                noise[row], turn[row] = fitted.sigma, fitted.turn
                matrix = compose(fitted.matrix, guess)
            pictures[row], to_stabilised[row] = warp(grays[row], matrix, scale), matrix
            if nose is not None and fitted is not None:
                to_stabilised[row] = compose(nose.onto(pictures[row]), matrix)
                pictures[row] = warp(grays[row], to_stabilised[row], scale)
            if fitted is not None and fitted.count < RENEWED * len(known[-1].features):
                # Before the head is lost: what is seen of it now is looked for as well.
                later = Reference.of(pictures[row], points, first, fitted.turn)
                known = [*known[:1], *([later] if later is not None else known[1:])]
    inward = np.array([-INWARD * facing(points), 0.0]) if "n" in points else np.zeros(2)
    return StabilisedClip(pictures, to_stabilised, head_found, noise, anchor, turn, inward)
