"""The outline of the cheeks at the height of the mouth, each side by itself.

The outline lies far behind eyes and nose. A head that turns a little carries it to one
side against them: that is taken off by the turn that the nose shows. The nose tells a turn
no better than to a degree or two; but what a turn leaves moves one cheek out and the other
in by as much, and no cheek is puffed by the other one sinking in. So of two cheeks that move
opposite ways only that counts by which one moves farther than the other.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("ck_r", "ck_l", "ex_r", "ex_l", "al_r", "al_l")
>>> points = np.array([[(-70.0, 30), (68.0, 30), (-45, -40), (45, -40), (-18.0, 0), (18.0, 0)]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> float(cheek_out_r(view)[0]), float(cheek_out_l(view)[0])
(70.0, 68.0)
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures import posture
from sulvet.core.measures.view import FaceView

#: How far the outline lies behind the features that carry the face frame, over the distance
#: of the outer eye corners (made-up heads: 61 of 84 mm).
BEHIND = 0.72


def _carried(view: FaceView) -> Floats:
    """(T,) how far the turn of the head moves the outline to the picture's left, pixels."""
    return np.asarray(np.nan_to_num(BEHIND * posture.eye_width(view) * posture.turn(view)))


#: What of the outline's way in a turned head is not known, share of it: people's faces are
#: more or less deep, and another part of the cheek makes the outline (made-up heads).
UNKNOWN = 0.3


def turn_error(view: FaceView) -> Floats:
    """(T,) standard deviation of the outline's place that the head's turn adds, pixels."""
    if view.turned is None:
        return np.zeros(len(view.face))
    deep = abs(float(depths(("ck_r",))[0])) * view.rest_mouth_width
    return np.asarray(UNKNOWN * deep * np.abs(view.turned))


def _out(view: FaceView) -> Floats:
    """(2, T) how far out the right and the left outline lies, the nose's turn taken off."""
    carried = _carried(view)
    return np.stack([
        -view.point("ck_r")[:, 0] - carried, view.point("ck_l")[:, 0] + carried
    ])  # fmt: skip


def _turned(view: FaceView) -> Floats:
    """(T,) by how much both outlines moved the same way since rest, to the picture's left,
    pixels: where one lies farther out and the other farther in, the smaller of the two."""
    now, rest = _out(view), _out(view.at_rest())
    right, left = now - rest
    opposite = np.nan_to_num(right) * np.nan_to_num(left) < 0
    both = np.minimum(np.abs(right), np.abs(left)) * np.sign(right)
    return np.asarray(np.where(opposite, both, 0.0))


def cheek_out_r(view: FaceView) -> Floats:
    """(T,) how far out the right cheek's outline lies, pixels of the rest scale.

    Along the face's horizontal; the student's own right is on the picture's left.
    """
    return np.asarray(_out(view)[0] - _turned(view))


def cheek_out_l(view: FaceView) -> Floats:
    """(T,) how far out the left cheek's outline lies, pixels of the rest scale."""
    return np.asarray(_out(view)[1] + _turned(view))
