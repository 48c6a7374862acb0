"""Marks in the hold: what is held to the mouth, and the lips beside it, as the looks see them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from sulvet.core.anatomy.landmarks import ALL_EQUIPMENT, CORNER_IDS, FRONT_HELD
from sulvet.core.anatomy.marks import Marks
from sulvet.core.phases import Phase
from sulvet.core.review.footage import Footage
from sulvet.core.review.looks import bare_rows, during_hold, middle, surely_seen
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.stabilised_clip import MOUTH, StabilisedClip

#: Several looks at a corner in the hold are off alike, those at rest in another way: by so many
#: times their sigma. What was followed falls short by up to this share of what it moved, beside
#: its drift. Both were set on 27 corners of 15 made-up players whom nothing else knows.
LOOK_OFF, SHORT = 1.3, 0.35
#: The border of a lip that is drawn in or out moves otherwise than the skin that is followed, by
#: this share of the mouth's width (14 made-up profiles of further players).
ROLLED = 0.04

#: Of a profile's lips and chin, what is looked for again where a mouthpiece or a plate has pulled
#: it away from where it can be followed.
PROFILE_HELD = ("ls", "sto", "li", "sl", "pg")
#: What is looked for in any case: a smile stretches and folds the skin that is followed, a lip that
#: is drawn in takes its border out of sight.
MOVING = (*CORNER_IDS, "ls", "sto", "li")


def held_keys(
    footage: Footage, stabilised: StabilisedClip, hold: Phase | None, view: str, marks: Marks
) -> list[Keyframe]:
    """What is held to the mouth during the hold, and the lips beside it, on one of its frames.

    marks  as followed from rest. What it lost is looked for, corners and lips in any case

    Everything is the median over all looks during the hold. Nothing where most of them
    see nothing held.
    """
    kind, seen = during_hold(footage, stabilised, hold, view)
    if not seen:
        return []
    on = seen[len(seen) // 2]
    own = [mark.id for mark in ALL_EQUIPMENT[kind]]
    lips = PROFILE_HELD if view == "side" else FRONT_HELD.get(kind, ())
    lost = _lost_in(marks, hold)
    wanted = (*own, *(name for name in lips if name in lost or name in MOVING))
    keys = []
    for name in wanted:
        shown = surely_seen(footage, stabilised, seen, name) if name in CORNER_IDS else seen
        key = middle(footage, stabilised, name, shown, on)
        if key is not None and name in CORNER_IDS:
            key = _as_at_rest(footage, stabilised, key)
        if key is not None and name in MOVING and name not in lost:
            key = _also_followed(key, marks, stabilised)
        if key is not None:
            keys.append(key)
    return keys


def _as_at_rest(footage: Footage, stabilised: StabilisedClip, found: Keyframe) -> Keyframe:
    """A corner in the hold where the bare face's finder would see it: what is seen in one way at
    rest and in another way in the hold would seem to have moved."""
    aside = [
        stabilised.to_stabilised[row][:, :2] @ footage.faces[row][0].aside[found.landmark]
        for row in bare_rows(footage)
        if found.landmark in footage.faces[row][0].aside and row < found.frame
    ]
    if not aside:
        return found
    back = np.linalg.inv(stabilised.to_stabilised[found.frame][:, :2])
    x, y = back @ np.median(aside, axis=0)
    return replace(found, x=found.x + float(x), y=found.y + float(y))


def _also_followed(found: Keyframe, marks: Marks, stabilised: StabilisedClip) -> Keyframe:
    """A corner or lip in the hold as it is found again and as it was followed there from rest.

    Following errs the more the more has moved, a look alike always; what a look is off by at
    rest and in the hold need not be the same.
    """
    column = marks.column(found.landmark)
    if marks.hidden[found.frame, column]:
        return found
    followed, drift = marks.xy[found.frame, column], float(marks.drift[found.frame, column])
    here, anchor = (
        stabilised.to_stabilised_pixels(row, marks.xy[row, column])
        for row in (found.frame, stabilised.anchor)
    )
    moved = float(np.linalg.norm(here - anchor)) / stabilised.scale(found.frame)
    drift = float(np.hypot(drift, SHORT * moved))
    if found.landmark not in CORNER_IDS:
        drift = float(np.hypot(drift, ROLLED * MOUTH / stabilised.scale(found.frame)))
    own = LOOK_OFF * found.sigma
    share = drift**2 / (drift**2 + own**2)
    x, y = share * np.array([found.x, found.y]) + (1 - share) * followed
    apart = float(np.hypot(found.x - followed[0], found.y - followed[1]))
    sigma = float(np.hypot(share * own, (1 - share) * drift))
    if apart > 3 * np.hypot(own, drift):
        sigma = max(sigma, apart / 2)
    return replace(found, x=float(x), y=float(y), sigma=sigma)


def _lost_in(marks: Marks, hold: Phase | None) -> set[str]:
    """Landmarks that following from rest has lost on most frames of the hold.

    The others, but for what moves otherwise than its skin, are surer followed than found again:
    what a mark is off by at rest it is off by in the hold, and drops out of the change.
    """
    if hold is None:
        return set()
    inside = hold.holds(marks.seconds)
    share = marks.hidden[inside].mean(axis=0) if inside.any() else np.ones(len(marks.ids))
    return {name for name, hidden in zip(marks.ids, share, strict=True) if hidden > 0.5}
