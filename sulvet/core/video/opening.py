"""The opening between the lips on every frame: how high in the middle, and where it ends.

An opening is darker than the lips round it. What is measured is how wide the dark is at half
its depth in each upright line from lip to lip, with the blur taken off that the thin line of
closed lips shows at rest.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import binary_closing

from sulvet.core.anatomy.marks import FOUND, PLACED, Bools, Floats, Marks
from sulvet.core.video.profile import strongest_line
from sulvet.core.video.stabilised_clip import StabilisedClip, back

#: Across the mouth from corner to corner, and from border to border, stabilised pixels.
COLUMNS, ROWS = 61, 65
#: Of the mouth's width: where the ends of the red are too near to look for an opening.
MARGIN = 0.12
#: Beyond the marked borders of the red, which a face mesh sees up to a twentieth of the mouth
#: too low, and where between them the lips are expected to meet.
ABOVE, BELOW, MEET = 8.0, 3.0, 0.36
#: An opening begins where it is this high, and counts if it is this high in the middle,
#: stabilised pixels (0.12 mm is the truth's own limit of parted lips).
PARTED, LEAST = 0.7, 1.2
#: Standard deviation of a lip's inner edge and of an end of the opening, stabilised pixels.
SIGMA_EDGE, SIGMA_END = 1.1, 3.5
#: Second derivative along a column at the scale of a thin line; along an open mouth it
#: runs inside one of the edges, from which all that is dark is taken together.
RIDGE = np.array([np.exp(-0.5 * (t / 1.5) ** 2) * ((t / 1.5) ** 2 - 1) for t in range(-7, 8)])
#: Full width at half depth of a blurred box over the box's own, in standard deviations.
BLURRED = np.array([2.355, 2.5, 2.79, 3.3, 4.05, 5.0])
SHARP = np.array([0.0, 1.2, 2.0, 3.0, 4.0, 5.0])
#: An opening is at least so much deeper in tone than the line of closed lips.
DEEPER = 1.15
#: Of the strip's height either way: where the lips may meet. What darkness itself counts for
#: beside a thin line, and how dark the dark is at least, of its darkest.
INSIDE, DARKNESS, FAINT = 0.42, 0.8, 0.12
#: From how much deeper than shut, where it is deepest, an opening is believed; and from how
#: much wider in the middle the line is no longer that of closed lips.
CLEAR, WIDER = 1.3, 1.25
MIDDLE = slice(COLUMNS // 2 - 3, COLUMNS // 2 + 4)
#: Rows that teeth may fill between two dark edges.
BRIDGE = 9
#: Cost of leaving the middle of the red, per squared row, against the darkest line; at the
#: corners, where the line must end, much more.
LEAVE = 0.0008 + 0.02 * np.abs(np.linspace(-1, 1, COLUMNS))[:, None] ** 6
NEEDED = ("ch_r", "ch_l", "ls", "li")
FILLED = ("sto_s", "sto_i", "ap_r", "ap_l")


def opening(stabilised: StabilisedClip, marks: Marks, at_rest: Bools) -> Marks:
    """``marks`` with the inner edges of the lips and the ends of the opening filled in.

    at_rest  (T,) frames on which the lips are taken for closed, or as closed as they get

    Where something covers the lips nothing is claimed.
    """
    if not set(NEEDED) <= set(marks.ids) or not at_rest.any():
        return marks
    columns = [marks.column(name) for name in NEEDED]
    seen = ~marks.hidden[:, columns].any(axis=1) & stabilised.head_found
    places = np.stack(
        [
            np.einsum("tij,tj->ti", stabilised.to_stabilised[:, :, :2], marks.xy[:, c])
            + stabilised.to_stabilised[:, :, 2]
            for c in columns
        ],
        axis=1,
    )
    seen &= np.isfinite(places).all(axis=(1, 2))
    rows = np.flatnonzero(seen)
    resting = np.flatnonzero(seen & at_rest)
    if not len(resting):
        return marks
    cut = [_cut(stabilised.pictures[row], places[row]) for row in rows]
    soft = np.array([cv2.GaussianBlur(strip, (0, 0), 0.8) for strip, _ in cut])
    seams = _seams(soft)
    rest = np.isin(rows, resting)
    wide, middle, deep = (part.reshape(len(rows), COLUMNS) for part in _wide(soft, seams))
    closed, shut = np.median(wide[rest], axis=0), np.median(deep[rest], axis=0)
    # As dark as it gets where the lips meet or part: what an opening's inside looks like.
    darkest = _darkest(soft, seams)
    dark = _darkness(soft, seams, darkest)
    faint = np.median(dark[rest], axis=0)
    out = np.full((len(marks), 4, 2), np.nan)
    for n, row in enumerate(rows):
        # Lips that part let the dark of the mouth show: as faint as at rest is shut.
        parted = np.where(deep[n] > DEEPER * shut, _opened(wide[n], closed), 0.0)
        deeper = np.convolve(deep[n] / np.maximum(shut, 1.0), np.ones(5) / 5, mode="valid")
        clear = float(deeper.max())
        wider = float(np.median(wide[n, MIDDLE] / np.maximum(closed[MIDDLE], 1.0)))
        if clear < CLEAR and wider > WIDER:
            continue  # wider than shut lips, and hardly darker: open, or only shaded?
        line = np.where(parted > 0, middle[n], seams[n])
        more = dark[n] - faint if clear > CLEAR else np.zeros(COLUMNS)
        _read(out[row], parted, more, line, cut[n][1])
    return _filled(stabilised, marks, out, seen)


def _cut(picture: NDArray[np.uint8], at: Floats) -> tuple[Floats, tuple[Floats, Floats, Floats]]:
    """(ROWS, COLUMNS) the red of both lips straightened, and how to get back from it.

    at  (4, 2) corners right and left, upper and lower border, stabilised pixels

    The way back is (x, y of the middle line, step down) a column.
    """
    right, left, upper, lower = at
    share = np.linspace(MARGIN, 1 - MARGIN, COLUMNS)
    x = right[0] + share * (left[0] - right[0])
    line = right[1] + share * (left[1] - right[1])
    # The borders run from the corners to the middle like half a wave.
    wave = np.sin(np.pi * share) ** 0.8
    base = (right[1] + left[1]) / 2
    top = line + wave * (upper[1] - base - ABOVE)
    low = line + wave * (lower[1] - base + BELOW)
    seam = line + wave * (upper[1] + MEET * (lower[1] - upper[1]) - base)
    # The middle row is where the lips should meet, and the strip reaches as far both ways.
    middle = seam
    step = np.maximum(np.maximum(seam - top, low - seam), 3.0) * 2 / (ROWS - 1)
    y = middle + (np.arange(ROWS)[:, None] - ROWS // 2) * step
    strip = cv2.remap(
        picture, np.broadcast_to(x, y.shape).astype(np.float32), y.astype(np.float32),
        cv2.INTER_LINEAR,
    )  # fmt: skip
    return np.asarray(strip, dtype=float), (x, middle, step)


def _seams(soft: Floats) -> Floats:
    """(B, COLUMNS) the row where the lips meet or stand apart, of B strips."""
    ridge = np.array(
        [
            cv2.sepFilter2D(one, -1, np.ones(1), RIDGE, borderType=cv2.BORDER_REPLICATE)
            for one in soft
        ]
    )
    strong = np.maximum(np.percentile(ridge, 98, axis=(1, 2)), 1e-6)[:, None, None]
    ridge = np.maximum(ridge, 0.0) / strong
    # A line of shade is thin too; where the mouth is open it is darker than any shade.
    low, high = np.percentile(soft, (1, 70), axis=(1, 2))[:, :, None, None]
    darkness = np.clip((high - soft) / np.maximum(high - low, 1.0), 0.0, 1.0)
    rows = np.abs(np.arange(ROWS) - ROWS // 2)[:, None]
    gain = np.where(rows < INSIDE * ROWS, ridge + DARKNESS * darkness**3, 0.0)
    offset, _ = strongest_line(gain.transpose(0, 2, 1), LEAVE)
    return np.asarray(np.clip(offset + ROWS // 2, 0, ROWS - 1))


def _columns(strips: Floats) -> Floats:
    """(ROWS, B * COLUMNS): columns of all strips side by side, since each is by itself."""
    return np.asarray(strips.transpose(1, 0, 2).reshape(ROWS, -1))


def _filled_up(soft: Floats) -> Floats:
    """How bright the lips above and below are in each column, as water would fill the dark."""
    from_top = np.maximum.accumulate(soft, axis=0)
    from_below = np.maximum.accumulate(soft[::-1], axis=0)[::-1]
    return np.asarray(np.minimum(from_top, from_below))


def _wide(strips: Floats, seams: Floats) -> tuple[Floats, Floats, Floats]:
    """Of each column: how wide the dark is at half its depth, in rows, the row of its middle,
    and how deep it is, grey levels.

    seams  (B, COLUMNS) the row where the lips meet
    """
    soft, seam = _columns(strips), np.round(seams).astype(int).ravel()
    dark = _filled_up(soft) - soft
    every, rows = np.arange(soft.shape[1]), np.arange(ROWS)[:, None]
    deep = np.where(np.abs(rows - seam) <= 3, dark, 0.0).max(axis=0)
    over = dark > deep / 2
    # Teeth and tongue may show between two dark edges: gaps of that size are bridged.
    over = binary_closing(over, np.ones((BRIDGE, 1)))
    light = ~over
    above = np.where(light & (rows <= seam), rows, -1).max(axis=0)
    below = np.where(light & (rows >= seam), rows, ROWS).min(axis=0)
    tops, lows = np.empty(len(every)), np.empty(len(every))
    for edge, out, step in ((above, tops, 1), (below, lows, -1)):
        inner = np.clip(edge + step, 0, ROWS - 1)
        outer = np.clip(edge, 0, ROWS - 1)
        d_in, d_out = dark[inner, every], dark[outer, every]
        part = np.clip((d_in - deep / 2) / np.maximum(d_in - d_out, 1e-6), 0, 1)
        out[:] = inner - step * part
    return np.maximum(lows - tops, 0.0), (tops + lows) / 2, deep


def _darkness(strips: Floats, seams: Floats, darkest: float) -> Floats:
    """(B, COLUMNS) how much dark there is a column, in rows: its equivalent width, which a
    lens's blur smears but does not change."""
    soft, seam = _columns(strips), np.round(seams).ravel()
    filled = _filled_up(soft)
    dark = np.clip((filled - soft) / np.maximum(filled - darkest, 8.0), 0.0, 1.0)
    rows = np.arange(ROWS)[:, None]
    light = (dark < FAINT) & (np.abs(rows - seam) > 1)
    above = np.where(light & (rows <= seam), rows, -1).max(axis=0)
    below = np.where(light & (rows >= seam), rows, ROWS).min(axis=0)
    inside = np.where((rows > above) & (rows < below), dark, 0.0)
    return np.asarray(inside.sum(axis=0).reshape(seams.shape))


def _darkest(strips: Floats, seams: Floats) -> float:
    """How dark it is along the middle half of the darkest seam: its darkest tenth."""
    part = slice(COLUMNS // 4, -COLUMNS // 4)
    rows = np.round(seams).astype(int)[:, part]
    columns = np.arange(COLUMNS)[part]
    along = strips[np.arange(len(strips))[:, None], rows, columns]
    return float(np.percentile(along, 10, axis=1).min())


def _opened(wide: Floats, closed: Floats) -> Floats:
    """How far open a band is that looks ``wide``, when shut it looks ``closed``; rows.

    A box blurred by a Gaussian: its full width at half depth starts at 2.355 standard
    deviations for a thin line and becomes its own width from four on.
    """
    blur = np.maximum(closed, 1.5) / 2.355
    beyond = np.maximum(wide - BLURRED[-1] * blur, 0.0)
    return np.asarray(np.interp(wide / blur, BLURRED, SHARP) * blur + beyond)


def _read(
    out: Floats,
    open_by: Floats,
    dark: Floats,
    middle: Floats,
    way: tuple[Floats, Floats, Floats],
) -> None:
    """Fill (4, 2): inner edges up and down in the middle, ends right and left.

    open_by, dark  (COLUMNS,) how far open, and how much dark more than at rest, rows
    middle         (COLUMNS,) the row between the lips
    """
    x, line, step = way
    y = line + (middle - ROWS // 2) * step
    mid = COLUMNS // 2
    near = slice(mid - 2, mid + 3)
    gap = float(np.median(open_by[near] * step[near]))
    gap = gap if gap > LEAST else 0.0
    at = float(np.median(y[near]))
    out[0], out[1] = (x[mid], at - gap / 2), (x[mid], at + gap / 2)
    high = np.convolve(dark * step, np.ones(3) / 3, mode="same")
    top = int(high.argmax())
    if high[top] < LEAST:
        return
    # Shade beside a small opening is no part of it.
    end = max(PARTED, 0.2 * float(high[top]))
    ends = []
    for step_by in (-1, 1):
        k = top
        while 0 < k < COLUMNS - 1 and high[k + step_by] > end:
            k += step_by
        outer = min(max(k + step_by, 0), COLUMNS - 1)
        drop = high[k] - high[outer]
        part = np.clip((high[k] - end) / drop, 0, 1) if drop > 1e-6 else 0.0
        ends.append((x[k] + part * (x[outer] - x[k]), y[k]))
    out[2], out[3] = ends


def _filled(stabilised: StabilisedClip, marks: Marks, out: Floats, seen: Bools) -> Marks:
    places = back(stabilised.to_stabilised, out)
    scale = np.hypot(stabilised.to_stabilised[:, 0, 0], stabilised.to_stabilised[:, 1, 0])
    for k, name in enumerate(FILLED):
        column = marks.column(name) if name in marks.ids else -1
        if column < 0 or (marks.source[:, column] == PLACED).any():
            continue  # the teacher's own marks win
        known = seen & np.isfinite(places[:, k, 0])
        sigma = (SIGMA_END if name.startswith("ap") else SIGMA_EDGE) / scale
        if name.startswith("sto"):
            # Where nothing can be seen the followed place at rest still says where it was.
            known_rows = np.flatnonzero(known)
            marks.xy[known_rows, column] = places[known_rows, k]
            marks.sigma[known_rows, column] = marks.drift[known_rows, column] = sigma[known_rows]
            marks.source[known_rows, column] = FOUND
            marks.hidden[:, column] = ~known
            continue
        marks.xy[:, column] = np.where(known[:, None], places[:, k], np.nan)
        marks.sigma[:, column] = marks.drift[:, column] = np.where(known, sigma, np.nan)
        marks.source[:, column] = np.where(known, FOUND, 0)
        marks.hidden[:, column] = ~known
    return marks
