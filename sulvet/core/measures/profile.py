"""What a side view shows: the hollow of the chin, the red of the lips, the nod.

Lengths are given in hundredths of the student's own distance from lower lip to
front of the chin at rest (some 16 to 20 mm), since a side view has no scale of
its own.
"""

from __future__ import annotations

import numpy as np
from scipy.interpolate import CubicSpline

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.anatomy.profile import SideView

#: The front of the chin lies at least this far under the lower lip, share of the
#: distance at rest; nearer points of the contour belong to the lip.
LOWEST_SHARE = 0.45
FINE = 60


def _contour(view: SideView) -> Floats:
    """(T, N, 2) the skin from the lower lip's border downward."""
    rest = view.rest
    if not set(CONTOUR_IDS) <= set(view.ids) or not len(rest):
        return np.full((len(view.face), len(CONTOUR_IDS), 2), np.nan)
    return view.face[:, [view.ids.index(name) for name in CONTOUR_IDS]]


def chin_hollow(view: SideView) -> Floats:
    """(T,) how far the skin lies behind the line from ``li`` to ``pg``, hundredths of that.

    The greatest signed distance: positive is hollow, negative a bulge before the
    line. ``pg`` is where a line from ``li`` touches the chin: the most forward
    point says nothing on a receding chin. The definition is that of the groove's
    depth in H. Legan and C. Burstone, J Oral Surg 1980 (from memory).
    """
    out = np.full(len(view.face), np.nan)
    contour = _contour(view)
    for row in np.flatnonzero(np.isfinite(contour).all(axis=(1, 2))):
        line = contour[row]
        along = np.linspace(0, 1, len(line))
        smooth = CubicSpline(along, line)(np.linspace(0, 1, FINE))
        li = smooth[0]
        drop = smooth[:, 1] - li[1]
        low = drop > LOWEST_SHARE * view.unit
        if not low.any():
            continue
        lean = np.where(low, (smooth[:, 0] - li[0]) / np.maximum(drop, 1e-6), -np.inf)
        pg = int(lean.argmax())
        way = smooth[pg] - li
        way /= np.linalg.norm(way)
        off = smooth[: pg + 1] - li
        depth = off[:, 1] * way[0] - off[:, 0] * way[1]
        deepest, highest = depth.max(), -depth.min()
        out[row] = (deepest if deepest >= highest else -highest) / view.unit * 100
    return out


def _length(view: SideView, a: str, b: str) -> Floats:
    return np.asarray(np.linalg.norm(view.point(a) - view.point(b), axis=1))


def lower_red_side(view: SideView) -> Floats:
    """(T,) where the lips meet to the lower border of the red, pixels of the rest scale."""
    return _length(view, "sto", "li")


def upper_red_side(view: SideView) -> Floats:
    """(T,) upper border of the red to where the lips meet, pixels of the rest scale."""
    return _length(view, "ls", "sto")


def lip_line_order(view: SideView) -> Floats:
    """(T,) how far the upper lip stands before the lower one, hundredths of lip to chin."""
    return np.asarray((view.point("ls") - view.point("li"))[:, 0] / view.unit * 100)


def head_nod(view: SideView) -> Floats:
    """(T,) how far the head is raised against rest, degrees."""
    return -view.turn
