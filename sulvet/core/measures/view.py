"""What a measure gets to see: the marks in the face frame and in the picture."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.frame import RestFace, head_turn, into_face
from sulvet.core.anatomy.marks import Bools, Floats, Marks


@dataclass(frozen=True)
class FaceView:
    """Marks of T frames in two coordinate systems.

    ids      L landmark ids
    face     (T, L, 2) face frame, pixels of the rest scale
    picture  (T, L, 2) pixels of the upright picture
    rest     the rest face both are compared with
    covered  (T, L) where a point can't be seen and stands at its rest place
    turned   (T,) how far the head has turned to the picture's right since rest, as a sine
    memo     what several measures of this view need, worked out once
    """

    ids: tuple[str, ...]
    face: Floats
    picture: Floats
    rest: RestFace
    covered: Bools | None = None
    turned: Floats | None = None
    memo: dict[str, Floats] = field(default_factory=dict, compare=False, repr=False)

    @staticmethod
    def of(marks: Marks, rest: RestFace) -> FaceView:
        """The view of a whole take."""
        turned = (head_turn(marks) - rest.turn)[:, 0]
        return FaceView(marks.ids, into_face(marks, rest), marks.xy, rest, marks.hidden, turned)

    def at_rest(self) -> FaceView:
        """One frame that shows the rest face itself."""
        points = self.rest.points[None]
        return FaceView(self.ids, points, points, self.rest)

    def frames(self, which: Bools | NDArray[np.int64]) -> FaceView:
        """The view of some frames."""
        covered = None if self.covered is None else self.covered[which]
        turned = None if self.turned is None else self.turned[which]
        face, picture = self.face[which], self.picture[which]
        return FaceView(self.ids, face, picture, self.rest, covered, turned)

    def is_covered(self, landmark: str) -> Bools:
        """(T,) where a landmark can't be seen."""
        if self.covered is None or landmark not in self.ids:
            return np.zeros(len(self.face), dtype=bool)
        return self.covered[:, self.ids.index(landmark)]

    def point(self, landmark: str) -> Floats:
        """(T, 2) one landmark in the face frame; NaN throughout if the take has none."""
        return self._pick(self.face, landmark)

    def in_picture(self, landmark: str) -> Floats:
        """(T, 2) one landmark in the picture; NaN throughout if the take has none."""
        return self._pick(self.picture, landmark)

    def _pick(self, points: Floats, landmark: str) -> Floats:
        if landmark not in self.ids:
            return np.full((len(points), 2), np.nan)
        return points[:, self.ids.index(landmark)]

    @property
    def rest_mouth_width(self) -> float:
        """MW: distance of the mouth corners at rest, pixels of the rest scale."""
        right, left = (self.rest.points[self.ids.index(name)] for name in ("ch_r", "ch_l"))
        return float(np.linalg.norm(left - right))
