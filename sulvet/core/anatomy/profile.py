"""The side face frame: a profile with sway, nod and zoom taken out.

Origin subnasale at rest, y down the line from nose root to chin at rest, x
forward, whichever way the student looks in the picture.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.frame import apply, similarity
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.middle import middle

#: Weight of each anchor: what sits on bone, and the base of the nose, which hardly moves.
ANCHORS: dict[str, float] = {"n": 1.0, "prn": 1.0, "sn": 0.3}

#: Where the nose root lies, seen from ``sn``: forward of the line to ``pg`` and down it, lengths of
#: that line, and how far people differ (60 made-up heads by lot; nose and lower face are about as
#: long as one another in common proportions).
ROOT, ROOT_SD = (-0.164, -0.963), (0.041, 0.065)


def nose_root(prn: Floats, sn: Floats, pg: Floats) -> tuple[Floats, float]:
    """Where the nose root is likely to be when the picture ends below it.

    prn, sn, pg  (2,) pixels
    Returns (2,) pixels and the standard deviation of each coordinate.
    """
    down = pg - sn
    forward = np.array([down[1], -down[0]])
    if (prn - sn) @ forward < 0:
        forward = -forward
    spread = float(np.hypot(*ROOT_SD) / np.sqrt(2) * np.linalg.norm(down))
    return np.asarray(sn + ROOT[0] * forward + ROOT[1] * down), spread


@dataclass(frozen=True)
class SideView:
    """Marks of T frames in the side face frame.

    ids      L landmark ids
    face     (T, L, 2) forward and down, pixels of the rest scale
    picture  (T, L, 2) pixels of the upright picture
    rest     (L, 2) the rest profile in the face frame
    turn     (T,) how far the head is raised against rest, degrees
    turned   (2, 2) from the picture at rest to the face frame; mirrors where ``way`` is -1
    way      1 where the student looks to the picture's right, -1 to the left
    memo     what several measures of this view need, worked out once
    """

    ids: tuple[str, ...]
    face: Floats
    picture: Floats
    rest: Floats
    turn: Floats
    turned: Floats
    way: float
    memo: dict[str, Floats] = field(default_factory=dict, compare=False, repr=False)

    def point(self, landmark: str) -> Floats:
        """(T, 2) one landmark; NaN throughout if the take has none."""
        if landmark not in self.ids:
            return np.full((len(self.face), 2), np.nan)
        return self.face[:, self.ids.index(landmark)]

    def in_picture(self, landmark: str) -> Floats:
        """(T, 2) one landmark in the picture; NaN throughout if the take has none."""
        if landmark not in self.ids:
            return np.full((len(self.picture), 2), np.nan)
        return self.picture[:, self.ids.index(landmark)]

    def at_rest(self) -> SideView:
        """One frame that shows the rest profile itself."""
        points = self.rest[None]
        return SideView(self.ids, points, points, self.rest, np.zeros(1), self.turned, self.way)

    def frames(self, which: Bools | NDArray[np.int64]) -> SideView:
        """The view of some frames."""
        return SideView(
            self.ids, self.face[which], self.picture[which], self.rest, self.turn[which],
            self.turned, self.way,
        )  # fmt: skip

    @property
    def unit(self) -> float:
        """Lower lip to front of the chin at rest, pixels."""
        li, pg = (self.rest[self.ids.index(name)] for name in ("li", "pg"))
        return float(np.linalg.norm(pg - li))


def side_view(marks: Marks, at_rest: Bools) -> SideView | None:
    """The view of a whole side take; None without nose, lip and chin at rest.

    at_rest  (T,) which frames belong to ``rest``
    """
    needed = ("n", "prn", "sn", "li", "pg")
    if not at_rest.any() or not set(needed) <= set(marks.ids):
        return None
    xy = np.where(marks.hidden[..., None], np.nan, marks.xy)
    weights = np.array([ANCHORS.get(name, 0.0) for name in marks.ids])
    weights = np.where(marks.hidden | ~np.isfinite(marks.xy[..., 0]), 0.0, weights)
    resting = xy[at_rest]
    if not all(np.isfinite(resting[:, marks.column(name), 0]).any() for name in needed):
        return None
    first = int(np.argmax((weights[at_rest] > 0).sum(axis=1)))
    a, b, shift = similarity(resting, resting[first], weights[at_rest])
    lined = apply(a, b, shift, resting)
    with np.errstate(all="ignore"):
        known = np.isfinite(lined[..., 0]).any(axis=0)
        rest = np.full(lined.shape[1:], np.nan)
        rest[known] = middle(lined[:, known])
    n, prn, sn, pg = (rest[marks.column(name)] for name in ("n", "prn", "sn", "pg"))
    down = (pg - n) / np.linalg.norm(pg - n)
    forward = np.array([down[1], -down[0]])
    way = 1.0 if (prn - n) @ forward > 0 else -1.0
    frame = np.stack([way * forward, down])
    rest = (rest - sn) @ frame.T
    # A mirrored frame is no similarity: the picture is mirrored first, then brought onto rest.
    flat = marks.xy @ frame.T
    a, b, shift = similarity(flat, rest, weights)
    face = apply(a, b, shift, flat)
    turn = np.degrees(np.arctan2(b, a))
    return SideView(marks.ids, face, marks.xy, rest, turn, frame, way)
