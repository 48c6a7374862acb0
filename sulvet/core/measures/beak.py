"""What a side view shows of the instrument: how deep, at which angle, how it is turned.

In the side face frame x points forward and y down along the face. Angles are
given against that vertical; 0 would hang down along the face, 90 stand out from it.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.profile import SideView


def _axis(view: SideView) -> Floats:
    return view.point("ax_b") - view.point("ax_a")


def lip_to_mark(view: SideView) -> Floats:
    """(T,) from where the upper lip ends to the near mark, along the axis, pixels."""
    axis = _axis(view)
    with np.errstate(all="ignore"):
        along = axis / np.linalg.norm(axis, axis=1, keepdims=True)
    return np.asarray(((view.point("ax_a") - view.point("mp_lip")) * along).sum(axis=1))


def axis_length(view: SideView) -> Floats:
    """(T,) between the two marks on the axis, pixels: a known length."""
    return np.asarray(np.linalg.norm(_axis(view), axis=1))


def _from_vertical(way: Floats) -> Floats:
    return np.asarray(np.degrees(np.arctan2(way[:, 0], way[:, 1])))


def instrument_angle(view: SideView) -> Floats:
    """(T,) between the instrument's axis and the face's vertical, degrees."""
    return _from_vertical(_axis(view))


def rim_way(view: SideView) -> Floats:
    """(T, 2) along the shank of a brass mouthpiece, away from the face: square to its rim."""
    edge = view.point("rs_low") - view.point("rs_top")
    return np.stack([edge[:, 1], -edge[:, 0]], axis=1)


def rim_height(view: SideView) -> Floats:
    """(T,) the rim's diameter as seen from the side, pixels: a known length."""
    return np.asarray(np.linalg.norm(view.point("rs_low") - view.point("rs_top"), axis=1))


def shank_angle(view: SideView) -> Floats:
    """(T,) between the shank of a brass mouthpiece and the face's vertical, degrees."""
    return _from_vertical(rim_way(view))


def down(way: Floats) -> Floats:
    """(T,) degrees under the horizontal of something that points forward, y down."""
    return np.asarray(np.degrees(np.arctan2(way[:, 1], np.abs(way[:, 0]))))


def axis_level(view: SideView) -> Floats:
    """(T,) the axis under the picture's horizontal, degrees."""
    return down(view.in_picture("ax_b") - view.in_picture("ax_a"))


def shank_level(view: SideView) -> Floats:
    """(T,) a brass mouthpiece under the picture's horizontal, degrees."""
    edge = view.in_picture("rs_low") - view.in_picture("rs_top")
    # Square to the rim, on the side away from the face.
    lean = np.degrees(np.arctan2(edge[:, 0], edge[:, 1]))
    return np.asarray(lean * view.way * -1.0)


def rim_forward(view: SideView) -> Floats:
    """(T,) how far the rim's upper edge stands before the upper lip along the shank, pixels."""
    way = rim_way(view)
    with np.errstate(all="ignore"):
        way = way / np.linalg.norm(way, axis=1, keepdims=True)
    return np.asarray(((view.point("rs_top") - view.point("ls")) * way).sum(axis=1))


def plate_down(view: SideView) -> Floats:
    """(T,) the lip plate from its inner to its outer edge, degrees under the face's horizontal."""
    return down(view.point("ps_out") - view.point("ps_in"))


def plate_roll(view: SideView, size: dict[str, float]) -> Floats:
    """(T,) how far the lip plate is rolled in from where the hole looks straight up, degrees.

    size  ``level``: its slope under the face's horizontal there, degrees
    """
    return np.asarray(size["level"] - plate_down(view))
