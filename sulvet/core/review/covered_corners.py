"""Corners of the mouth that something held to it covers: hidden, whatever looks like them there."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, CORNER_IDS
from sulvet.core.anatomy.marks import PLACED, Bools, Marks
from sulvet.core.phases import Phase
from sulvet.core.review.footage import Footage
from sulvet.core.video.stabilised_clip import MOUTH, StabilisedClip

#: A look that is less sure of a corner than this, standard deviation as a share of the mouth's
#: width, has not seen it: on 15 made-up players whom nothing else knows such looks were off by
#: 7 to 13 %, all others by 3 % at most.
UNSURE = 0.028
#: A corner that fewer of the looks see is covered; one that only some of them see may be at the
#: very edge of what covers it.
SELDOM = 0.25
#: Something is held to the mouth where so many of the looks see it.
MOSTLY = 0.5
RIM = tuple(mark.id for mark in ALL_EQUIPMENT["rim"])


def surely_seen(
    footage: Footage, stabilised: StabilisedClip, rows: Sequence[int], corner: str
) -> list[int]:
    """Looked-at rows on which the widest face shows a corner of its mouth; none where that is
    seldom."""
    seen = [
        row
        for row in rows
        if corner in footage.faces[row][0].points
        and footage.faces[row][0].spread(corner) * stabilised.scale(row) < UNSURE * MOUTH
    ]
    return seen if len(seen) >= SELDOM * len(rows) else []


def without_covered_corners(
    marks: Marks, footage: Footage, stabilised: StabilisedClip, hold: Phase | None
) -> Marks:
    """``marks`` with corners hidden where they were followed onto a rim, or wherever something
    else is held to the mouth, if the looks during the hold don't see them.

    What the teacher has placed in the hold stays.
    """
    if hold is None:
        return marks
    inside = hold.holds(marks.seconds)
    held = {row: faces[0].equipment for row, faces in footage.faces.items() if faces}
    held = {row: kind for row, kind in held.items() if inside[row]}
    looks = [row for row, kind in held.items() if kind]
    if len(looks) < MOSTLY * len(held) or not looks:
        return marks
    out = marks.copied()
    for corner in CORNER_IDS:
        column = out.column(corner)
        placed = (out.source[inside, column] == PLACED).any()
        if not placed and not surely_seen(footage, stabilised, looks, corner):
            rim = held[looks[0]] == "rim"
            out.hidden[:, column] |= _on_the_rim(out, column) if rim else inside
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
