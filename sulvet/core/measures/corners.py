"""The mouth corners: how high and how far apart.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("ch_r", "ch_l", "ls", "li")
>>> points = np.array([[[-30.0, -5.0], [30.0, -5.0], [0.0, -6.0], [0.0, 6.0]]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> round(float(corner_rise(view)[0]), 2)
9.46
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.measures.view import FaceView

#: Standard deviation of the middle of the lips carried from rest, share of rest mouth width.
CARRIED_SIGMA = 0.004


def mid_lip(view: FaceView) -> Floats:
    """(T, 2) the middle of the lips: mean of the red borders ``ls`` and ``li``.

    Where a rim or mouthpiece covers one of them it is their middle at rest, carried
    with the head: the lip that still shows would move the point by itself.
    """
    middle = (view.point("ls") + view.point("li")) / 2
    resting = (view.at_rest().point("ls") + view.at_rest().point("li")) / 2
    return np.where(mid_lip_covered(view)[:, None], resting, middle)


def mid_lip_covered(view: FaceView) -> Bools:
    """(T,) where the middle of the lips is carried from rest."""
    return view.is_covered("ls") | view.is_covered("li")


def carried_rise(view: FaceView) -> Floats:
    """(T,) standard deviation of a corner's angle that the carried middle adds, degrees."""
    arm = np.abs(view.point("ch_l") - view.point("ch_r"))[:, 0] / 2
    with np.errstate(all="ignore"):
        turn = np.degrees(CARRIED_SIGMA * view.rest_mouth_width / arm)
    return np.where(mid_lip_covered(view), turn, 0.0)


def _rise(view: FaceView, corner: str) -> Floats:
    arm = view.point(corner) - mid_lip(view)
    return np.asarray(np.degrees(np.arctan2(-arm[:, 1], np.abs(arm[:, 0]))))


def corner_rise_r(view: FaceView) -> Floats:
    """(T,) angle above the face's horizontal from mid-lip to the right corner, degrees."""
    return _rise(view, "ch_r")


def corner_rise_l(view: FaceView) -> Floats:
    """(T,) angle above the face's horizontal from mid-lip to the left corner, degrees."""
    return _rise(view, "ch_l")


def corner_rise(view: FaceView) -> Floats:
    """(T,) mean of both corners' angles, degrees; positive is up."""
    return (corner_rise_r(view) + corner_rise_l(view)) / 2


def corner_asymmetry(view: FaceView) -> Floats:
    """(T,) right minus left corner angle, degrees."""
    return corner_rise_r(view) - corner_rise_l(view)


def mouth_width(view: FaceView) -> Floats:
    """(T,) distance of the corners, pixels of the rest scale."""
    return np.asarray(np.linalg.norm(view.point("ch_l") - view.point("ch_r"), axis=1))
