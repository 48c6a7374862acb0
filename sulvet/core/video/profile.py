"""The edge of the skin in a side view, from the lower lip to under the chin, on every frame.

Marks on a smooth edge slide along it, so the edge itself is looked for: along
each row of the stabilised picture, near where the marks of the rest frame say,
where brightness changes most in the way it does there, as one unbroken line.
"""

from __future__ import annotations

import cv2
import numpy as np
import scipy
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import FOLLOWED, PLACED, Floats, Marks
from sulvet.core.video.stabilised_clip import StabilisedClip, back

#: How far from the marks the edge is looked for, stabilised pixels either way.
REACH = 14
#: Cost of the line's bending, per squared pixel from row to row, against an edge as
#: strong as at rest.
BEND = 0.10
#: Cost of leaving the line that is expected, per squared pixel: the marks' own on their
#: frame, on every other the line of the frame beside it.
LEAVE_MARKS, LEAVE_BEFORE = 0.02, 0.008
MOST_BEND = 2
#: Rows looked at above the lower lip and below the front of the chin, stabilised pixels.
ABOVE, UNDER = 10, 22
#: An edge weaker than this share of the rest frame's is none.
WEAKEST = 0.25
SIGMA = 0.45
#: A chin that stands out from the wall by less than this (grey levels from pixel to
#: pixel) is lost among pores and noise: its edge is then not claimed.
PALEST = 3.0


def contour(
    stabilised: StabilisedClip,
    marks: Marks,
    points: dict[str, Floats],
    drawn: dict[int, Floats] | None = None,
) -> Marks:
    """``marks`` with the places of the chin's contour filled in, and ``li`` brought onto it
    where nobody placed it.

    points  li, pg and, where it shows, sl on the anchor frame, clip pixels
    drawn   frame → (N, 2) the contour as the teacher drew it there, clip pixels: it stands
            on that frame, and the edge is looked for from it on the frames beside
    """
    there = {
        name: stabilised.to_stabilised_pixels(stabilised.anchor, points[name])
        for name in ("li", "sl", "pg")
        if name in points
    }
    ends = np.array(list(there.values()))
    ends = ends[np.argsort(ends[:, 1])]
    top, bottom = int(ends[0, 1]) - ABOVE, int(ends[-1, 1]) + UNDER
    rows = np.arange(max(top, 1), min(bottom, stabilised.pictures.shape[1] - 1))
    guess = scipy.interpolate.PchipInterpolator(ends[:, 1], ends[:, 0])(
        np.clip(rows, ends[0, 1], ends[-1, 1])
    )
    inner = (rows >= ends[0, 1] + 4) & (rows <= ends[-1, 1])
    resting = _strip(stabilised.pictures[stabilised.anchor], rows, guess)
    middle = resting[inner, REACH - 6 : REACH + 7]
    sign = 1.0 if np.abs(middle.max(1)).sum() > np.abs(middle.min(1)).sum() else -1.0
    offset, strength = strongest_line(sign * resting, LEAVE_MARKS)
    norm = float(np.median(strength[inner]))
    base = guess + offset
    by_hand = {
        frame: _drawn_line(rows, stabilised.to_stabilised_pixels(frame, places), base)
        for frame, places in (drawn or {}).items()
    }
    pale = norm < PALEST
    lines = by_hand if pale else {stabilised.anchor: base} | by_hand
    if not lines:
        return marks
    li = np.einsum(
        "tij,tj->ti", stabilised.to_stabilised[:, :, :2], marks.xy[:, marks.column("li")]
    )
    li_y = (li + stabilised.to_stabilised[:, :, 2])[:, 1]
    low = ends[-1, 1] + UNDER - 4
    share = np.linspace(0, 1, len(CONTOUR_IDS))
    count = len(stabilised.pictures)
    xy = np.full((count, len(CONTOUR_IDS), 2), np.nan)
    seen = np.zeros(count, bool)
    for start, way in _ways(sorted(lines), count):
        line = lines[start]
        for row in way:
            if (
                not stabilised.head_found[row]
                or not np.isfinite(li_y[row])
                or (pale and row != start)
            ):
                continue
            if row in by_hand:
                seen[row] = True
            else:
                strip = sign * _strip(stabilised.pictures[row], rows, line) / norm
                offset, strength = strongest_line(strip, LEAVE_BEFORE)
                seen[row] = float(np.median(strength[inner])) > WEAKEST
                line = line + offset if seen[row] else line
            heights = li_y[row] + share * (low - li_y[row])
            xy[row, :, 0] = np.interp(heights, rows, line)
            xy[row, :, 1] = heights
    return _with(stabilised, marks, xy, seen, tuple(by_hand))


def _drawn_line(rows: NDArray[np.int64], places: Floats, base: Floats) -> Floats:
    """A drawn line on every row; beyond its ends it goes on as the base does."""
    places = places[np.argsort(places[:, 1])]
    y, x = places[:, 1], places[:, 0]
    beside = np.interp(y, rows, base)
    return np.asarray(base + np.interp(rows, y, x - beside))


def _ways(starts: list[int], count: int) -> list[tuple[int, range]]:
    """From each start both ways, as far as half way to the next start."""
    ways = []
    for n, start in enumerate(starts):
        before = (starts[n - 1] + start) // 2 if n else -1
        after = (start + starts[n + 1]) // 2 if n + 1 < len(starts) else count - 1
        ways += [(start, range(start, after + 1)), (start, range(start - 1, before, -1))]
    return ways


def _with(
    stabilised: StabilisedClip,
    marks: Marks,
    xy: Floats,
    seen: NDArray[np.bool_],
    by_hand: tuple[int, ...],
) -> Marks:
    places = back(stabilised.to_stabilised, xy)
    scale = np.hypot(stabilised.to_stabilised[:, 0, 0], stabilised.to_stabilised[:, 1, 0])
    for k, name in enumerate(CONTOUR_IDS):
        column = marks.column(name)
        known = np.isfinite(places[:, k, 0])
        marks.xy[:, column] = places[:, k]
        marks.sigma[known, column] = marks.drift[known, column] = SIGMA / scale[known]
        marks.source[known, column] = FOLLOWED
        marks.source[list(by_hand), column] = PLACED
        marks.hidden[:, column] = ~(known & seen)
    # The border of the lip is on that edge too; along it the mark says more than across it.
    lip = marks.column("li")
    on_edge = ~marks.hidden[:, marks.column(CONTOUR_IDS[0])] & (marks.source[:, lip] != PLACED)
    marks.xy[on_edge, lip] = places[on_edge, 0]
    return marks


def _strip(picture: NDArray[np.uint8], rows: NDArray[np.int64], middle: Floats) -> Floats:
    """(R, 2 REACH + 1) how brightness changes to the right, along each row near a line."""
    soft = cv2.GaussianBlur(picture, (0, 0), 1.3).astype(np.float32)
    offset = np.arange(-REACH, REACH + 1)
    x = (middle[:, None] + offset).astype(np.float32)
    y = np.broadcast_to(rows[:, None], x.shape).astype(np.float32)
    ahead, behind = (cv2.remap(soft, x + s, y, cv2.INTER_LINEAR) for s in (1, -1))
    return np.asarray(ahead - behind, dtype=float) / 2


def strongest_line(strip: Floats, leave: float | Floats) -> tuple[Floats, Floats]:
    """The strongest unbroken line through a strip: offsets and edge strength, a row each.

    strip  (..., R, W) how strong an edge is there; several strips are done at once
    leave  cost of each squared pixel from the strip's middle, one or (R, 1)

    Returns (..., R) both. Dynamic programming over the rows; parts of pixels by a parabola.
    """
    shape = strip.shape
    flat = strip.reshape(-1, *shape[-2:])
    batch, count, wide = flat.shape
    scale = np.maximum(np.quantile(flat.max(axis=2), 0.5, axis=1), 1e-6)
    gain = np.minimum(flat / scale[:, None, None], 1.5)
    gain -= leave * (np.arange(wide) - wide // 2) ** 2
    best = gain[:, 0]
    came = np.zeros(flat.shape, np.int64)
    padded = np.full((batch, wide + 2 * MOST_BEND), -np.inf)
    beside = sliding_window_view(padded, 2 * MOST_BEND + 1, axis=1)
    steps = np.arange(-MOST_BEND, MOST_BEND + 1)
    bend = BEND * steps**2
    for row in range(1, count):
        padded[:, MOST_BEND:-MOST_BEND] = best
        options = beside - bend
        came[:, row] = options.argmax(axis=2)
        best = gain[:, row] + options.max(axis=2)
    came += np.arange(wide) - MOST_BEND
    every = np.arange(batch)
    path = np.empty((batch, count), np.int64)
    path[:, -1] = best.argmax(axis=1)
    for row in range(count - 1, 0, -1):
        path[:, row - 1] = came[every, row, path[:, row]]
    at = np.clip(path, 1, wide - 2)
    left, mid, right = (
        np.take_along_axis(flat, at[..., None] + k, axis=2)[..., 0] for k in (-1, 0, 1)
    )
    curve = left - 2 * mid + right
    part = np.where(curve < -1e-9, 0.5 * (left - right) / np.where(curve < -1e-9, curve, 1), 0.0)
    offset = at - wide // 2 + np.clip(part, -0.5, 0.5)
    return offset.reshape(shape[:-1]), mid.reshape(shape[:-1])
