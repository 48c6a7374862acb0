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

#: From the contour's places to 80 points of a cubic spline through them: one matrix for
#: all frames, since the places are evenly spaced.
SPLINE = CubicSpline(np.arange(len(CONTOUR_IDS)), np.eye(len(CONTOUR_IDS)))(
    np.linspace(0, len(CONTOUR_IDS) - 1, 80)
)


def _contour(view: SideView) -> Floats:
    """(T, N, 2) the skin from the lower lip's border downward."""
    if not set(CONTOUR_IDS) <= set(view.ids):
        return np.full((len(view.face), len(CONTOUR_IDS), 2), np.nan)
    return view.face[:, [view.ids.index(name) for name in CONTOUR_IDS]]


def chin_hollow(view: SideView) -> Floats:
    """(T,) how far the skin lies behind the line from ``li`` to ``pg``, hundredths of that.

    The greatest signed distance: positive is hollow, negative a bulge before the
    line. ``pg`` is the front of the chin as it was marked at rest, followed with the
    skin: on a bulging chin the most forward point would be the bulge itself. The
    line is that of the groove's depth in H. Legan and C. Burstone, J Oral Surg
    1980 (from memory).
    """
    out = np.full(len(view.face), np.nan)
    contour = _contour(view)
    resting = view.rest[view.ids.index("pg"), 1] if "pg" in view.ids else np.nan
    low = view.point("pg")[:, 1]
    low = np.where(np.isfinite(low), low, resting)
    fine = np.einsum("fn,tnk->tfk", SPLINE, contour)
    for row in np.flatnonzero(np.isfinite(fine).all(axis=(1, 2)) & np.isfinite(low)):
        x, y = fine[row].T
        if low[row] <= y[0]:
            continue
        y = np.maximum.accumulate(y)
        above = y < low[row]
        end = np.array([[np.interp(low[row], y, x), min(low[row], y[-1])]])
        off = np.concatenate([fine[row, above], end]) - fine[row, 0]
        way = off[-1] / np.linalg.norm(off[-1])
        depth = off[:, 1] * way[0] - off[:, 0] * way[1]
        deepest, highest = depth.max(), -depth.min()
        out[row] = (deepest if deepest >= highest else -highest) / view.unit * 100
    return out


def _length(view: SideView, a: str, b: str) -> Floats:
    return np.asarray(np.linalg.norm(view.point(a) - view.point(b), axis=1))


def lower_red_side(view: SideView) -> Floats:
    """(T,) where the lips meet to the lower border of the red, pixels of the rest scale."""
    return _length(view, "sto", "li")


def lip_line_order(view: SideView) -> Floats:
    """(T,) how far the upper lip stands before the lower one, hundredths of lip to chin."""
    return np.asarray((view.point("ls") - view.point("li"))[:, 0] / view.unit * 100)


def head_nod(view: SideView) -> Floats:
    """(T,) how far the head is raised against rest, degrees."""
    return view.turn
