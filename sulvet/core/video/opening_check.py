"""The opening of the lips, held against where the finder sees its edges.

What is darker than the lips round it may be a shade or the lips' own colour in low light. The
finder sees the inner edges of the lips as shapes: less exactly, but not misled by the dark.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import FOUND, NONE, PLACED, Floats, Marks
from sulvet.core.video.finder import of_looks
from sulvet.core.video.opening import FILLED, LEAST, SIGMA_EDGE
from sulvet.core.video.stabilised_clip import StabilisedClip, back

#: What the finder saw of the inner edges: their height in the stabilised picture and its standard
#: deviation, pixels; NaN on frames it did not look at.
SEEN = ("inner_upper", "inner_lower", "inner_sigma")
#: Looks this near count for a frame, seconds; at least so many.
NEAR, LOOKS = 0.6, 2
#: How many standard deviations the edges may lie apart.
APART = 2.5
#: Lips that the finder sees this far apart are not shut, whatever the darkness says, pixels of the
#: stabilised picture (it sees closed ones up to 1.8 apart on made-up heads).
PARTED = 3.0
#: How far the dark line of shut lips may lie from where they meet, stabilised pixels: it is the
#: shade under the upper lip, which light from above draws on its underside (set on 10 players
#: whom nothing else knows: 3 of 120 too high).
SHADE = 3.0


def agreed(stabilised: StabilisedClip, marks: Marks) -> Marks:
    """``marks`` with the inner edges as the finder sees them, where the darkness between the lips
    says otherwise or nothing; its ends are not known there. Nor are they where both lie on one
    side of a middle that is open: a shade was taken for one of them. The line of shut lips is
    moved toward where the finder sees them meet, on all frames by as much.

    Frames near which the finder looked too seldom stay as they are; so does what the teacher
    placed.
    """
    if not set(SEEN) <= set(marks.signals) or not set(FILLED) <= set(marks.ids):
        return marks
    looked = np.stack([marks.signals[name] for name in SEEN[:2]], axis=-1)
    edges = np.stack([_along(stabilised, marks, name, 1) for name in FILLED[:2]], axis=-1)
    lips = ~marks.hidden[:, [marks.column("ls"), marks.column("li")]].any(axis=1)
    heights, spread = np.full((len(marks), 2), np.nan), np.full(len(marks), np.nan)
    for row in np.flatnonzero(lips & stabilised.head_found):
        near = np.abs(marks.seconds - marks.seconds[row]) <= NEAR
        looks = near & np.isfinite(looked).all(axis=1)
        if looks.sum() < LOOKS:
            continue
        sigma = of_looks(float(np.median(marks.signals[SEEN[2]][looks])), int(looks.sum()))
        told = looks & np.isfinite(edges).all(axis=1)
        if np.isfinite(edges[row]).all() and told.any():
            seen, dark = np.median(looked[told], axis=0), np.median(edges[told], axis=0)
            missed = seen[1] - seen[0] > PARTED and dark[1] <= dark[0]
            near_by = np.abs(seen - dark) <= APART * np.hypot(sigma, SIGMA_EDGE)
            if near_by.all() and not missed:
                continue
        heights[row], spread[row] = np.median(looked[looks], axis=0), sigma
    line = _met(stabilised, marks, looked, edges)
    return _ended(stabilised, _as_seen(stabilised, line, heights, spread))


def _met(stabilised: StabilisedClip, marks: Marks, looked: Floats, edges: Floats) -> Marks:
    """``marks`` with shut lips meeting between their shade and where the finder sees it.

    looked, edges  (T, 2) heights of the inner edges as seen and as found dark
    """
    shut = edges[:, 1] - edges[:, 0] < LEAST
    both = shut & np.isfinite(looked).all(axis=1)
    if both.sum() < LOOKS:
        return marks
    sigma = of_looks(float(np.median(marks.signals[SEEN[2]][both])), int(both.sum()))
    share = SHADE**2 / (SHADE**2 + sigma**2)
    lower = share * float(np.median((looked - edges)[both].mean(axis=1)))
    rows, out = np.flatnonzero(shut), marks.copied()
    inverse = np.linalg.inv(stabilised.to_stabilised[rows, :, :2])
    scale = np.array([stabilised.scale(int(row)) for row in rows])
    spread = np.hypot(SIGMA_EDGE, np.sqrt(share) * sigma) / scale
    for name in FILLED[:2]:
        column = out.column(name)
        if (out.source[:, column] == PLACED).any():
            continue
        out.xy[rows, column] += lower * inverse[:, :, 1]
        out.sigma[rows, column] = np.maximum(out.sigma[rows, column], spread)
    return out


def _along(stabilised: StabilisedClip, marks: Marks, name: str, axis: int) -> Floats:
    """(T,) x (0) or y (1) of a landmark in the stabilised picture; NaN where it is hidden."""
    column, matrix = marks.column(name), stabilised.to_stabilised
    at = np.einsum("tj,tj->t", matrix[:, axis, :2], marks.xy[:, column]) + matrix[:, axis, 2]
    return np.where(marks.hidden[:, column] | ~stabilised.head_found, np.nan, at)


def _ended(stabilised: StabilisedClip, marks: Marks) -> Marks:
    """``marks`` without those ends of an opening that can't be its ends."""
    upper, lower = (_along(stabilised, marks, name, 1) for name in FILLED[:2])
    middle = (_along(stabilised, marks, "ls", 0) + _along(stabilised, marks, "li", 0)) / 2
    right, left = (_along(stabilised, marks, name, 0) for name in FILLED[2:])
    wrong = (lower - upper > LEAST) & ((right > middle) | (left < middle))
    out = marks.copied()
    for column in (out.column(name) for name in FILLED[2:]):
        rows = wrong & (out.source[:, column] != PLACED)
        _forget(out, np.flatnonzero(rows), column)
    return out


def _forget(marks: Marks, rows: NDArray[np.intp], column: int) -> None:
    """A landmark is not known on these rows."""
    marks.xy[rows, column] = marks.sigma[rows, column] = marks.drift[rows, column] = np.nan
    marks.source[rows, column], marks.hidden[rows, column] = NONE, True


def _as_seen(stabilised: StabilisedClip, marks: Marks, heights: Floats, spread: Floats) -> Marks:
    """``marks`` with edges at these heights (T, 2), stabilised pixels, where they are not NaN."""
    rows = np.flatnonzero(np.isfinite(spread))
    out = marks.copied()
    for name in FILLED:
        column = out.column(name)
        if (out.source[:, column] == PLACED).any():
            continue
        if name.startswith("ap"):
            _forget(out, rows, column)
            continue
        for row in map(int, rows):
            middle = marks.xy[row, [marks.column("ls"), marks.column("li")]].mean(axis=0)
            there = stabilised.to_stabilised_pixels(row, middle)
            place = np.array([[[there[0], heights[row, FILLED.index(name)]]]])
            out.xy[row, column] = back(stabilised.to_stabilised[row : row + 1], place)[0, 0]
            sigma = spread[row] / stabilised.scale(row)
            out.sigma[row, column] = out.drift[row, column] = sigma
        out.source[rows, column], out.hidden[rows, column] = FOUND, False
    return out
