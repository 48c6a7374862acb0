"""The looks of a clip: which of them show a bare face, what is held, or a corner of the mouth."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from sulvet.core.anatomy.landmarks import REQUIRED, SIDE_REQUIRED
from sulvet.core.anatomy.marks import FOUND
from sulvet.core.phases import Phase
from sulvet.core.review.footage import Footage
from sulvet.core.video.finder import of_looks
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.stabilised_clip import MOUTH, StabilisedClip

#: A face whose lips are covered more surely than this is not bare.
MAX_COVERED = 0.50
#: Something is held to the mouth where so many of the looks see the same.
MOSTLY = 0.5
#: A look that is less sure of a corner than this, standard deviation as a share of the mouth's
#: width, has not seen it: on 15 made-up players whom nothing else knows such looks were off by
#: 7 to 13 %, all others by 3 % at most.
UNSURE = 0.028
#: A corner that fewer of the looks see is covered; one that only some of them see may be at the
#: very edge of what covers it.
SELDOM = 0.25


def bare_rows(footage: Footage, view: str = "front") -> list[int]:
    """Looked-at rows whose widest face is bare, seen from this view, with all it needs.

    A profile may end below the nose root.
    """
    needed = set(SIDE_REQUIRED) - {"n"} if view == "side" else set(REQUIRED)
    return [
        row
        for row, faces in sorted(footage.faces.items())
        if faces
        and faces[0].view == view
        and faces[0].covered <= MAX_COVERED
        and needed <= set(faces[0].points)
    ]


def during_hold(
    footage: Footage, stabilised: StabilisedClip, hold: Phase | None, view: str
) -> tuple[str, list[int]]:
    """What is held to the mouth during the hold, and the looked-at rows that show it.

    Nothing where most looks see nothing held.
    """
    kinds = {
        row: faces[0].equipment
        for row, faces in sorted(footage.faces.items())
        if hold is not None
        and faces
        and faces[0].view == view
        and stabilised.head_found[row]
        and hold.start <= footage.seconds[row] <= hold.end
    }
    seen = [kind for kind in kinds.values() if kind]
    if not seen:
        return "", []
    kind = max(seen, key=seen.count)
    rows = [row for row, one in kinds.items() if one == kind]
    return (kind, rows) if len(rows) >= MOSTLY * len(kinds) else ("", [])


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


def middle(
    footage: Footage, stabilised: StabilisedClip, landmark: str, rows: list[int], on: int
) -> Keyframe | None:
    """A landmark's median over looked-at rows in the stabilised face, as a key on one row."""
    seen = [row for row in rows if landmark in footage.faces[row][0].points]
    if not seen:
        return None
    there = np.array([
        stabilised.to_stabilised_pixels(row, footage.faces[row][0].points[landmark])
        for row in seen
    ])  # fmt: skip
    middle = np.median(there, axis=0)
    inverse = np.linalg.inv(np.vstack([stabilised.to_stabilised[on], [0, 0, 1]]))[:2]
    place = inverse[:, :2] @ middle + inverse[:, 2]
    own = float(np.median([footage.faces[row][0].spread(landmark) for row in seen]))
    # Where the looks disagree by more than they claim, that counts.
    apart = float(np.sqrt(((there - middle) ** 2).mean())) / stabilised.scale(on)
    sigma = float(np.hypot(of_looks(own, len(seen)), apart / np.sqrt(len(seen))))
    return Keyframe(landmark, on, float(place[0]), float(place[1]), sigma, FOUND)
