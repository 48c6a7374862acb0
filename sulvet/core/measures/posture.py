"""How the head is held: roll as seen, and an estimate of yaw."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.view import FaceView

#: How far the nose wings stand in front of the outer eye corners, as a share of
#: the eye corners' distance. Estimate from adult averages (outer eye corners 87
#: mm apart: Farkas, from memory); a child's differs by a few hundredths, which
#: is part of why the yaw limit in the standards is as wide as it is.
WING_PROTRUSION = 0.24


def head_roll(view: FaceView) -> Floats:
    """(T,) angle of the face axis against the picture's horizontal, degrees.

    Positive when the head leans clockwise as seen. NaN when only the mouth
    gave the axis.
    """
    if not view.rest.tells_roll:
        return np.full(len(view.picture), np.nan)
    right, left = (view.in_picture(name) for name in view.rest.axis)
    return np.asarray(np.degrees(np.arctan2(left[:, 1] - right[:, 1], left[:, 0] - right[:, 0])))


def yaw(view: FaceView) -> Floats:
    """(T,) estimated turn of the head to the side, degrees; 0 is face on.

    The nose wings stand in front of the eye corners, so a turn shifts their
    middle sideways between the eyes. NaN without eye corners or wings. Good to
    about five degrees: noses are not symmetric.
    """
    outer = view.point("ex_r"), view.point("ex_l")
    width = np.linalg.norm(outer[1] - outer[0], axis=1)
    middle = (outer[0] + outer[1])[:, 0] / 2
    wings = (view.point("al_r") + view.point("al_l"))[:, 0] / 2
    with np.errstate(invalid="ignore"):
        return np.asarray(np.degrees(np.arctan((wings - middle) / (WING_PROTRUSION * width))))
