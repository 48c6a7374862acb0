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
#: How far they stand before what carries the eye corners from frame to frame: features of
#: eyes and nose together, nearer to the wings than the eyes are (made-up heads: 0.6 of it).
CARRIED_PROTRUSION = 0.145

#: Of the sideways turn that the features of eyes and nose tell, the head's own share: on swaying
#: made-up heads it comes out a third too large (its nod does not).
TURN_SHARE = 0.72


def head_roll(view: FaceView) -> Floats:
    """(T,) angle of the face axis against the picture's horizontal, degrees.

    Positive when the head leans clockwise as seen. NaN when only the mouth
    gave the axis.
    """
    if not view.rest.tells_roll:
        return np.full(len(view.picture), np.nan)
    right, left = (view.in_picture(name) for name in view.rest.axis)
    return np.asarray(np.degrees(np.arctan2(left[:, 1] - right[:, 1], left[:, 0] - right[:, 0])))


def _eyes(view: FaceView) -> tuple[Floats, Floats]:
    """Middle of the outer eye corners (T, 2) and their distance (T,)."""
    outer = view.point("ex_r"), view.point("ex_l")
    return (outer[0] + outer[1]) / 2, np.linalg.norm(outer[1] - outer[0], axis=1)


def yaw(view: FaceView) -> Floats:
    """(T,) estimated turn of the head to the side, degrees; 0 is face on.

    The nose wings stand in front of the eye corners, so a turn shifts their
    middle sideways between the eyes. NaN without eye corners or wings. Good to
    about five degrees: noses are not symmetric.
    """
    middle, width = _eyes(view)
    wings = (view.point("al_r") + view.point("al_l"))[:, 0] / 2
    with np.errstate(invalid="ignore"):
        return np.asarray(np.degrees(np.arctan((wings - middle[:, 0]) / (WING_PROTRUSION * width))))


def turn(view: FaceView) -> Floats:
    """(T,) how the nose wings stand between the eyes, as a sine; only its change from rest
    means something: how far the head has turned since, positive toward the picture's right."""
    middle, width = _eyes(view)
    wings = (view.point("al_r") + view.point("al_l"))[:, 0] / 2
    with np.errstate(invalid="ignore"):
        return np.asarray((wings - middle[:, 0]) / (CARRIED_PROTRUSION * width))


def eye_width(view: FaceView) -> Floats:
    """(T,) distance of the outer eye corners, pixels of the rest scale."""
    return _eyes(view)[1]
