"""Where rim, mouthpiece or lip plate sits on the mouth, as a front view shows it.

The lip line under a rim can't be seen. It is the line where the lips meet at
rest, carried with the head: the middle of the mouth stays there while the
corners go up and down.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("sto_s", "sto_i", "rim_1", "rim_2", "rim_3", "rim_4", "rim_5")
>>> rim = [(24 * np.sin(a), 24 * np.cos(a) - 8) for a in (0.3, 1.4, 2.6, 4.0, 5.3)]
>>> points = np.array([[(0.0, 0.0), (0.0, 0.0), *rim]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> round(float(rim_upper_share(view)[0]), 3)
0.667
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.view import FaceView

RIM = ("rim_1", "rim_2", "rim_3", "rim_4", "rim_5")


def rim_ellipse(view: FaceView) -> Floats:
    """(T, 4) the outer rim as an upright ellipse: centre x and y, half width, half height.

    Least squares through the five marked points, pixels of the rest scale. A
    round rim that points a little down or aside is an ellipse very nearly
    upright in the face frame; five free parameters would follow the marks' noise.
    """
    if "rim" not in view.memo:
        view.memo["rim"] = _fitted(view)
    return view.memo["rim"]


def _fitted(view: FaceView) -> Floats:
    points = np.stack([view.point(name) for name in RIM], axis=1)
    middle = points.mean(axis=1, keepdims=True)
    size = np.abs(points - middle).max(axis=(1, 2), keepdims=True)
    out = np.full((len(points), 4), np.nan)
    good = np.isfinite(points).all(axis=(1, 2)) & (size[:, 0, 0] > 0)
    if not good.any():
        return out
    x, y = np.moveaxis(((points - middle) / size)[good], -1, 0)
    # x² + c y² + d x + e y + f = 0, and the wish that c be 1: a weak one.
    one, zero = np.ones_like(x[:, :1]), np.zeros_like(x[:, :1])
    left = np.stack([y**2, x, y, np.ones_like(x)], axis=-1)
    wish = ROUND_WEIGHT * np.stack([one, zero, zero, zero], axis=-1)
    left = np.concatenate([left, wish], axis=1)
    right = np.concatenate([-(x**2), ROUND_WEIGHT * one], axis=1)
    normal = np.einsum("tki,tkj->tij", left, left)
    c, d, e, f = np.moveaxis(
        np.linalg.solve(normal, np.einsum("tki,tk->ti", left, right)[..., None])[..., 0], -1, 0
    )
    cx, cy = -d / 2, -e / (2 * c)
    reach = cx**2 + c * cy**2 - f
    with np.errstate(invalid="ignore"):
        shape = np.stack([cx, cy, np.sqrt(reach), np.sqrt(reach / c)], -1)
    scale = size[good, 0]
    out[good] = shape * scale
    out[good, :2] += middle[good, 0]
    return out


#: How strongly the rim is taken for a circle, against five marks on it.
ROUND_WEIGHT = 0.5


#: How far the ends of the blow hole stand above the line across it, share of its width
#: (made-up plate).
PLATE_ROUND = 0.027


def lip_line(view: FaceView) -> Floats:
    """(T,) height of the line where the lips meet at rest, in the face frame, y down.

    Half way between the red's borders where nobody marked the inner edges.
    """
    rest = view.at_rest()
    meet = (rest.point("sto_s")[0, 1] + rest.point("sto_i")[0, 1]) / 2
    red = (rest.point("ls")[0, 1] + rest.point("li")[0, 1]) / 2
    return np.full(len(view.face), meet if np.isfinite(meet) else red)


def rim_upper_share(view: FaceView) -> Floats:
    """(T,) share of the outer rim that lies above the lip line, 0..1."""
    ellipse = rim_ellipse(view)
    top = ellipse[:, 1] - ellipse[:, 3]
    return np.asarray((lip_line(view) - top) / (2 * ellipse[:, 3]))


def cup_upper_share(view: FaceView, size: dict[str, float]) -> Floats:
    """(T,) share of the cup's opening above the lip line.

    size  ``cup`` and ``mm``: diameters of the opening and of the rim
    """
    return 0.5 + (rim_upper_share(view) - 0.5) * size["mm"] / size["cup"]


def red_above_rim(view: FaceView) -> Floats:
    """(T,) upper red above the rim's top, pixels of the rest scale; 0 when there is none.

    Under the rim ``ls`` keeps its rest place, carried with the head.
    """
    ellipse = rim_ellipse(view)
    return np.asarray(np.maximum(ellipse[:, 1] - ellipse[:, 3] - view.point("ls")[:, 1], 0.0))


def rim_offset(view: FaceView) -> Floats:
    """(T,) rim centre from the midline toward the picture's right, pixels of the rest scale."""
    return rim_ellipse(view)[:, 0]


def rim_below_lip(view: FaceView) -> Floats:
    """(T,) how far the rim's lower edge lies under the lower lip's red at rest, pixels."""
    ellipse = rim_ellipse(view)
    border = view.at_rest().point("li")[0, 1]
    return np.asarray(ellipse[:, 1] + ellipse[:, 3] - border)


def mouthpiece_offset(view: FaceView) -> Floats:
    """(T,) middle of a reed mouthpiece from the midline, pixels of the rest scale."""
    return np.asarray((view.point("mp_r") + view.point("mp_l"))[:, 0] / 2)


def plate_tilt(view: FaceView) -> Floats:
    """(T,) lip plate against the lip line at rest, degrees; its left end up is positive."""

    def slope(right: Floats, left: Floats) -> Floats:
        d = left - right
        return np.asarray(np.degrees(np.arctan2(-d[:, 1], d[:, 0])))

    rest = view.at_rest()
    lips = slope(rest.point("ch_r"), rest.point("ch_l"))
    return slope(view.point("pl_r"), view.point("pl_l")) - lips


def _hole(view: FaceView) -> tuple[Floats, Floats, Floats]:
    """Middle of the hole (T, 2), and the heights of its near and far edge (T,).

    The near edge lies under the lip; the hole is as deep on that side as on the far one.
    The plate is round: the ends of the hole stand a little above the line from its near
    to its far edge.
    """
    ends = view.point("hole_r"), view.point("hole_l")
    middle = (ends[0] + ends[1]) / 2
    middle[:, 1] += PLATE_ROUND * np.linalg.norm(ends[1] - ends[0], axis=1)
    far = view.point("hole_far")[:, 1]
    return middle, 2 * middle[:, 1] - far, far


def hole_to_lip(view: FaceView) -> Floats:
    """(T,) near edge of the hole under the border of the lower lip, pixels of the rest scale."""
    _, near, _ = _hole(view)
    return np.asarray(near - view.point("li")[:, 1])


def hole_offset(view: FaceView) -> Floats:
    """(T,) middle of the hole from the middle of the opening, pixels, NaN where that is not seen.

    Positive toward the picture's right.
    """
    middle, _, _ = _hole(view)
    return np.asarray(middle[:, 0] - (view.point("ap_l") + view.point("ap_r"))[:, 0] / 2)


def hole_cover(view: FaceView) -> Floats:
    """(T,) part of the hole that the lip covers, 0..1: a round hole cut by a straight border."""
    _, near, far = _hole(view)
    share = np.clip((view.point("li")[:, 1] - near) / (far - near), 0, 1)
    angle = np.arccos(1 - 2 * share)
    return np.asarray((angle - np.sin(angle) * np.cos(angle)) / np.pi)
