"""What a side view shows of lips and chin.

Lengths are pixels of the rest scale; ``table.py`` says in what unit they are
reported. The line that all chin measures hang on runs from ``li`` to ``pg``.
"""

from __future__ import annotations

from functools import cache

import numpy as np
import scipy

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.anatomy.profile import SideView

#: Points along the contour on which everything is read off.
FINE = 80
#: So many points below the lip's border tell how the skin runs there, and with it what an error
#: along the skin does to the line: a stretch as long as that border errs beside a mouthpiece.
NEAR_LIP = FINE // 4

#: A bump of the contour lower than this share of lip to chin is none: what the edge of a
#: lens-blurred contour wavers by (made-up heads; 0.3 mm of a common 18).
LEAST_FOLD = 0.016
#: Smoothing of the contour before bumps are counted: the weight of bending against fit.
FOLD_SMOOTHING = 0.3


@cache
def _spline() -> Floats:
    """From the contour's places to ``FINE`` points of a cubic spline through them: one matrix for
    all frames, since the places are evenly spaced."""
    count = len(CONTOUR_IDS)
    through = scipy.interpolate.CubicSpline(np.arange(count), np.eye(count))
    return np.asarray(through(np.linspace(0, count - 1, FINE)))


def _contour(view: SideView) -> Floats:
    """(T, N, 2) the skin from the lower lip's border downward."""
    if not set(CONTOUR_IDS) <= set(view.ids):
        return np.full((len(view.face), len(CONTOUR_IDS), 2), np.nan)
    return view.face[:, [view.ids.index(name) for name in CONTOUR_IDS]]


def _low(view: SideView) -> Floats:
    """(T,) height of ``pg``, where it was at rest when it is not seen."""
    resting = view.rest[view.ids.index("pg"), 1] if "pg" in view.ids else np.nan
    low = view.point("pg")[:, 1]
    return np.where(np.isfinite(low), low, resting)


def _lip_on_skin(view: SideView, fine: Floats) -> Floats:
    """(T, 2) where the contour is at the height of ``li``: the border of the red is known far
    better across the skin's edge than along it."""
    first, later = fine[:, 0], fine[:, NEAR_LIP]
    height = view.point("li")[:, 1]
    height = np.where(np.isfinite(height), height, first[:, 1])
    with np.errstate(all="ignore"):
        slope = np.nan_to_num((later[:, 0] - first[:, 0]) / (later[:, 1] - first[:, 1]))
    return np.stack([first[:, 0] + slope * (height - first[:, 1]), height], axis=-1)


def _depth(view: SideView) -> tuple[Floats, Floats, Bools]:
    """Along the contour of each frame: depth behind the line ``li``-``pg`` and height.

    Returns (T, FINE) depth and height, and (T, FINE) which points lie between the two
    ends.
    """
    if "depth" not in view.memo:
        fine = np.einsum("fn,tnk->tfk", _spline(), _contour(view))
        y = np.maximum.accumulate(fine[..., 1], axis=1)
        low = np.minimum(_low(view), y[:, -1])
        between = y < low[:, None]
        # The front of the chin: where the contour crosses that height.
        after = np.minimum(between.sum(axis=1), FINE - 1)
        rows = np.arange(len(fine))
        y1, y0 = y[rows, after], y[rows, np.maximum(after - 1, 0)]
        with np.errstate(all="ignore"):
            part = np.clip(np.nan_to_num((low - y0) / (y1 - y0)), 0, 1)
        start = _lip_on_skin(view, fine)
        x_end = fine[rows, np.maximum(after - 1, 0), 0] * (1 - part) + fine[rows, after, 0] * part
        line = np.stack([x_end, low], axis=-1) - start
        with np.errstate(all="ignore"):
            way = line / np.linalg.norm(line, axis=-1, keepdims=True)
        off = fine - start[:, None]
        depth = off[..., 1] * way[:, None, 0] - off[..., 0] * way[:, None, 1]
        view.memo["depth"] = np.stack([depth, fine[..., 1], between], axis=0)
    depth, height, between = view.memo["depth"]
    return depth, height, between.astype(bool)


def chin_hollow(view: SideView) -> Floats:
    """(T,) how far the skin lies behind the line from ``li`` to ``pg``, pixels.

    The greatest signed distance: positive is hollow, negative a bulge before the
    line. ``pg`` is the front of the chin as it was marked at rest, followed with the
    skin: on a bulging chin the most forward point would be the bulge itself. The
    line is that of the groove's depth in H. Legan and C. Burstone, J Oral Surg
    1980 (from memory).
    """
    depth, _, between = _depth(view)
    inside = np.where(between, depth, 0.0)
    deepest, highest = inside.max(axis=1), -inside.min(axis=1)
    value = np.where(deepest >= highest, deepest, -highest)
    known = np.isfinite(depth).all(axis=1) & (between.sum(axis=1) > 4)
    return np.where(known, value, np.nan)


def flesh_forward(view: SideView) -> Floats:
    """(T,) how far the skin under the lip stands before the line from ``li`` to the groove,
    pixels; 0 when it does not, or where there is no groove. The groove (sublabiale) is the
    deepest point behind the line from ``li`` to ``pg``."""
    depth, _, between = _depth(view)
    fine = np.einsum("fn,tnk->tfk", _spline(), _contour(view))
    inside = np.where(between, depth, -np.inf)
    at = inside.argmax(axis=1)
    rows = np.arange(len(fine))
    line = fine[rows, at] - fine[:, 0]
    with np.errstate(all="ignore"):
        way = line / np.linalg.norm(line, axis=-1, keepdims=True)
    off = fine - fine[:, :1]
    behind = off[..., 1] * way[:, None, 0] - off[..., 0] * way[:, None, 1]
    above = np.arange(FINE) < at[:, None]
    with np.errstate(all="ignore"):
        forward = np.maximum(-np.where(above, behind, 0.0).min(axis=1), 0.0)
    forward = np.where(inside.max(axis=1) > LEAST_FOLD * view.unit, forward, 0.0)
    known = np.isfinite(depth).all(axis=1) & (between.sum(axis=1) > 4)
    return np.where(known, forward, np.nan)


def fold_count(view: SideView) -> Floats:
    """(T,) bumps of the contour between ``li`` and ``pg``.

    A bump is a place where the depth behind the line falls and rises again by more
    than the noise. The depth is smoothed by a cubic spline first (smoothing spline with
    a penalty on the second derivative); the least height that counts is ``LEAST_FOLD``.
    """
    depth, _, between = _depth(view)
    out = np.full(len(depth), np.nan)
    points = between.sum(axis=1)
    for row in np.flatnonzero(np.isfinite(depth).all(axis=1) & (points > 8)):
        smooth = _smoothing(points[row]) @ depth[row, : points[row]]
        out[row] = bumps(smooth, LEAST_FOLD * view.unit)
    return out


@cache
def _smoothing(count: int) -> Floats:
    """(N, N) from ``count`` evenly spaced values to the smoothed ones: it is linear in them, so
    the spline is solved for each number of points once."""
    at = np.arange(count, dtype=float)
    return np.asarray(
        scipy.interpolate.make_smoothing_spline(at, np.eye(count), lam=FOLD_SMOOTHING)(at)
    )


def bumps(depth: Floats, least: float) -> int:
    """How often the depth falls by more than ``least`` and rises again by more than that.

    >>> bumps(np.array([0.0, 3.0, 1.0, 3.0, 0.0]), 0.5)
    1
    >>> bumps(np.array([0.0, 3.0, 2.8, 3.0, 0.0]), 0.5)
    0
    """
    count, falling = 0, True
    extreme = depth[0]
    for value in depth:
        extreme = max(extreme, value) if falling else min(extreme, value)
        if falling and value < extreme - least:
            falling, extreme = False, value
        elif not falling and value > extreme + least:
            count, falling, extreme = count + 1, True, value
    return count


def _length(view: SideView, a: str, b: str) -> Floats:
    return np.asarray(np.linalg.norm(view.point(a) - view.point(b), axis=1))


def lower_red_side(view: SideView) -> Floats:
    """(T,) where the lips meet to the lower border of the red, pixels."""
    return _length(view, "sto", "li")


def upper_red_side(view: SideView) -> Floats:
    """(T,) the upper border of the red to where the upper lip ends, pixels.

    That is where the lips meet, or with a mouthpiece between them where the upper lip
    ends on it.
    """
    met, on_beak = _length(view, "ls", "sto"), _length(view, "ls", "mp_lip")
    return np.where(np.isfinite(on_beak), on_beak, met)


def chin_length_side(view: SideView) -> Floats:
    """(T,) ``li`` to ``pg``, pixels."""
    return _length(view, "li", "pg")


def lip_line_order(view: SideView) -> Floats:
    """(T,) how far the upper lip stands before the lower one, pixels."""
    return (view.point("ls") - view.point("li"))[:, 0]


def head_nod(view: SideView) -> Floats:
    """(T,) how far the head is raised against rest, degrees."""
    return view.turn
