"""Points of the drawing that nobody marks: what is worked out from landmarks, frame by frame.

The browser draws landmarks where they are, also while a hand drags one; what is worked out
here comes along for every frame, and with the answer to a drag.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.drawing.sheet import Place

#: Landmarks from which the chin's line runs, and those between which an instrument is held.
CHIN_LINE = ("li", "pg")
HELD_LINES = {"ax": ("ax_a", "ax_b"), "rs": ("rs_top", "rs_low")}
#: How far from the mouth the angle of an instrument is drawn, units.
TURN = 0.4
#: Where the value of the chin's hollow stands: before its line, where no zone is, units.
CHIN_LABEL = (0.06, -0.03)


class Seen:
    """The landmarks of T frames on the sheet; what is hidden or unknown is NaN."""

    def __init__(self, points: dict[str, Floats], rest: dict[str, Place]) -> None:
        self.points, self.rest = points, rest
        self.count = len(next(iter(points.values()))) if points else 0

    def point(self, name: str) -> Floats:
        """(T, 2) a landmark."""
        nothing = np.full((self.count, 2), np.nan)
        return self.points.get(name, nothing)

    def or_rest(self, name: str) -> Floats:
        """(T, 2) a landmark, where it was at rest while it is not seen."""
        here = self.point(name)
        return np.where(np.isfinite(here), here, np.array(self.rest.get(name, (np.nan, np.nan))))


def front_anchors(seen: Seen, rims: Floats, lip_line: float) -> dict[str, Floats]:
    """Derived anchors of a front view, each (T, 2).

    rims      (T, 4) centre, half width and half height of the rim; NaN where it is not seen
    lip_line  height of the line of the lips at rest
    """
    return _middle(seen) | _hole(seen) | _rim(rims, lip_line)


def _middle(seen: Seen) -> dict[str, Floats]:
    upper, lower = seen.point("ls"), seen.point("li")
    both = np.isfinite(upper) & np.isfinite(lower)
    resting = (np.array(seen.rest.get("ls", (np.nan,) * 2))
               + np.array(seen.rest.get("li", (np.nan,) * 2))) / 2  # fmt: skip
    beak = (seen.point("mp_r") + seen.point("mp_l")) / 2
    low = np.minimum(seen.point("mp_r")[:, 1], seen.point("mp_l")[:, 1])
    return {
        "lips_middle": np.where(both, (upper + lower) / 2, resting),
        "mp_middle": np.stack([beak[:, 0], low], axis=1),
    }


def _hole(seen: Seen) -> dict[str, Floats]:
    """The blow hole: it is as deep on the side of the lip as on the far one."""
    right, left, far = (seen.point(name) for name in ("hole_r", "hole_l", "hole_far"))
    centre = (right + left) / 2
    half = np.linalg.norm(left - right, axis=1) / 2
    deep = np.abs(centre[:, 1] - far[:, 1])
    return {
        "hole_centre": centre,
        "hole_side": centre + np.stack([half, np.zeros_like(half)], axis=1),
        "hole_near": centre + np.stack([np.zeros_like(deep), deep], axis=1),
    }


def _rim(rims: Floats, lip_line: float) -> dict[str, Floats]:
    x, y, wide, tall = rims.T
    line = np.where(np.isfinite(y), lip_line, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        reach = wide * np.sqrt(np.maximum(0.0, 1 - ((lip_line - y) / tall) ** 2))
    places = {
        "rim_centre": (x, y),
        "rim_side": (x + wide, y),
        "rim_top": (x, y + tall),
        "rim_low": (x, y - tall),
        "rim_line": (x, line),
        "rim_line_r": (x - reach, line),
        "rim_line_l": (x + reach, line),
        "rim_upper": (x, (y + tall + line) / 2),
    }
    return {name: np.stack(place, axis=1) for name, place in places.items()}


def side_anchors(seen: Seen, taken: Floats) -> dict[str, Floats]:
    """Derived anchors of a side view, each (T, 2).

    taken  (T,) how much of the mouthpiece is in the mouth, units; NaN where it can't be told
    """
    lip, mark = seen.point("mp_lip"), seen.point("ax_a")
    with np.errstate(invalid="ignore", divide="ignore"):
        back = (lip - mark) / np.linalg.norm(lip - mark, axis=1, keepdims=True)
    return {"mp_tip": lip + taken[:, None] * back} | _chin(seen) | _turns(seen)


def _chin(seen: Seen) -> dict[str, Floats]:
    """The farthest that the skin lies behind the line from lip to chin, or before it."""
    start, end = (seen.or_rest(name) for name in CHIN_LINE)
    line = end - start
    with np.errstate(invalid="ignore", divide="ignore"):
        length = np.linalg.norm(line, axis=1)
        way = line / length[:, None]
    contour = np.stack([seen.point(name) for name in CONTOUR_IDS], axis=1)
    from_start = contour - start[:, None]
    along = np.einsum("tnk,tk->tn", from_start, way)
    behind = from_start[..., 0] * way[:, None, 1] - from_start[..., 1] * way[:, None, 0]
    inside = (along > 0) & (along < length[:, None])
    far = np.where(inside, np.abs(behind), -1.0).argmax(axis=1)
    rows = np.arange(seen.count)
    known = inside[rows, far][:, None]
    deepest = np.where(known, contour[rows, far], np.nan)
    foot = np.where(known, start + along[rows, far, None] * way, np.nan)
    label = np.stack([np.maximum(deepest[:, 0], foot[:, 0]), deepest[:, 1]], axis=1)
    return {
        "chin_from": start, "chin_to": end, "chin_deepest": deepest, "chin_foot": foot,
        "chin_label": label + np.array(CHIN_LABEL),
    }  # fmt: skip


def _turns(seen: Seen) -> dict[str, Floats]:
    """From straight down to the way an instrument is held: the middle of that arc and its end."""
    anchors = {}
    for name, (first, second) in HELD_LINES.items():
        start, end = seen.point(first), seen.point(second)
        with np.errstate(invalid="ignore", divide="ignore"):
            way = (end - start) / np.linalg.norm(end - start, axis=1, keepdims=True)
            half = way + np.array([0.0, -1.0])
            half = half / np.linalg.norm(half, axis=1, keepdims=True)
        anchors[f"{name}_half"] = start + TURN * half
        anchors[f"{name}_turn"] = start + TURN * way
    return anchors
