"""Corners of the mouth that something held to it covers: hidden, whatever looks like them there."""

from __future__ import annotations

import cv2
import numpy as np

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, CORNER_IDS
from sulvet.core.anatomy.marks import PLACED, Bools, Marks
from sulvet.core.phases import Phase
from sulvet.core.review.footage import Footage
from sulvet.core.review.looks import during_hold, surely_seen
from sulvet.core.video.stabilised_clip import StabilisedClip

RIM = tuple(mark.id for mark in ALL_EQUIPMENT["rim"])


def without_covered_corners(
    marks: Marks, footage: Footage, stabilised: StabilisedClip, hold: Phase | None
) -> Marks:
    """``marks`` with corners hidden where they were followed onto a rim, or wherever something
    else is held to the mouth, if the looks during the hold don't see them.

    What the teacher has placed in the hold stays.
    """
    kind, looks = during_hold(footage, stabilised, hold, "front")
    if hold is None or not looks:
        return marks
    inside = hold.holds(marks.seconds)
    out = marks.copied()
    for corner in CORNER_IDS:
        column = out.column(corner)
        placed = (out.source[inside, column] == PLACED).any()
        if not placed and not surely_seen(footage, stabilised, looks, corner):
            out.hidden[:, column] |= _on_the_rim(out, column) if kind == "rim" else inside
    return out


def _on_the_rim(marks: Marks, column: int) -> Bools:
    """(T,) frames on which a landmark lies on or within the rim that is at the mouth."""
    rim = [marks.column(name) for name in RIM]
    out = np.zeros(len(marks), dtype=bool)
    for row in np.flatnonzero(~marks.hidden[:, rim].any(axis=1)):
        points = marks.xy[row, rim]
        if np.isfinite(points).all():
            centre, radius = cv2.minEnclosingCircle(points.astype(np.float32))
            out[row] = np.linalg.norm(marks.xy[row, column] - centre) <= radius
    return out
