"""The outline of the cheeks at mouth height, on every frame.

The face mesh follows a puffed cheek only half way (measured), so the outline itself is
looked for: outward from the face along the rows round the mouth's height at rest, where
brightness changes most in the way it does there at rest, as one unbroken line.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import median_filter

from sulvet.core.anatomy.marks import FOUND, PLACED, Floats, Marks
from sulvet.core.video.profile import strongest_line
from sulvet.core.video.stabilised_clip import MOUTH_AT, StabilisedClip, back

#: Rows above and below mouth height, and how far from the guess the outline is looked
#: for at rest and from frame to frame, stabilised pixels (a mouth is 120 wide).
ROWS = 11
REACH_FIRST, REACH = 22, 12
#: Cost of leaving the guess, per squared pixel, against a sharp edge.
LEAVE_FIRST, LEAVE = 0.0012, 0.006
#: An edge weaker than this, grey levels a pixel, is none.
PALEST = 2.0
#: What an edge farther out costs, a pixel, against a sharp one.
INNER = 0.012
#: Shading is told from edges over this many pixels.
EVEN = 15
#: Another edge farther off the line than this, pixels, and this much as sharp makes it one of many.
BESIDE, RIVAL = 4, 0.6
#: Standard deviation of a found outline, stabilised pixels.
SIGMA = 0.7
#: Wider than the stabilised pictures: a puffed cheek leaves those.
WIDE, MIDDLE = 640, 320
SIDES = (("ck_r", -1), ("ck_l", 1))


def cheeks(
    stabilised: StabilisedClip,
    grays: NDArray[np.uint8],
    scale: float,
    guess: dict[str, Floats],
    marks: Marks,
) -> Marks:
    """``marks`` with the outline of the cheeks filled in.

    grays   (T, h, w) working pictures, ``scale`` working pixels per clip pixel
    guess   ck_r, ck_l on the anchor frame, clip pixels: where to begin looking
    """
    if not set(guess) >= {"ck_r", "ck_l"}:
        return marks
    start = {
        name: stabilised.to_stabilised_pixels(stabilised.anchor, guess[name])[0] - MOUTH_AT[0]
        for name in guess
    }
    count = len(grays)
    for name, side in SIDES:
        carried = stabilised.parallax(name)[:, 0]
        guess_line = np.full(2 * ROWS + 1, abs(float(start[name])))
        strip = _strip(
            _row_band(stabilised, grays, scale, stabilised.anchor), guess_line, side, REACH_FIRST
        )
        line, strength = _outline(guess_line, strip, LEAVE_FIRST)
        if strength < PALEST:
            continue
        found = np.full(count, np.nan)
        for way in (range(stabilised.anchor, count), range(stabilised.anchor - 1, -1, -1)):
            here, before = line, stabilised.anchor
            for row in way:
                if not stabilised.head_found[row]:
                    continue
                # A head that turns carries its outline along, which lies far behind the mouth.
                here, before = here + side * (carried[row] - carried[before]), row
                band = _row_band(stabilised, grays, scale, row)
                # Where the edge has gone, a cheek has moved farther than from frame to frame.
                for reach, leave in ((REACH, LEAVE), (REACH_FIRST, LEAVE_FIRST)):
                    moved, strength = _outline(here, _strip(band, here, side, reach), leave)
                    if strength > PALEST:
                        here = moved
                        if not _one_of_many(_strip(band, here, side, REACH)):
                            found[row] = float(np.mean(here))
                        break
        _fill(stabilised, marks, name, np.asarray(side * found, dtype=float))
    return marks


def _outline(line: Floats, strip: Floats, leave: float) -> tuple[Floats, float]:
    """The innermost sharp edge near a line, as one unbroken line, and how sharp it is.

    The skin ends before hair or wall, and the hair's own edge before the wall may be the
    stronger one: so every edge that is sharp enough counts alike, and the inner one wins.
    """
    enough = max(PALEST, 0.3 * float(np.percentile(strip, 98)))
    gain = np.minimum(strip / enough, 1.0)
    gain -= INNER * np.arange(strip.shape[1])
    offset, _ = strongest_line(gain, leave)
    at = np.clip(np.round(offset).astype(int) + strip.shape[1] // 2, 0, strip.shape[1] - 1)
    rows = np.arange(len(strip))
    near = np.clip(at[:, None] + np.arange(-2, 3), 0, strip.shape[1] - 1)
    weight = strip[rows[:, None], near] + 1e-6
    # The edge itself, between pixels: where what is sharp has its middle.
    fine = (weight * near).sum(axis=1) / weight.sum(axis=1) - strip.shape[1] // 2
    return line + fine, float(np.median(strip[rows, at]))


def _one_of_many(strip: Floats) -> bool:
    """Whether another edge beside the line, as of strands of hair, is nearly as sharp.

    strip  (R, 2 REACH + 1) round the line
    """
    sharp = strip.mean(axis=0)
    line = sharp[REACH - BESIDE : REACH + BESIDE + 1].max()
    rival = max(sharp[: REACH - BESIDE].max(), sharp[REACH + BESIDE + 1 :].max())
    return bool(rival > RIVAL * line)


def _row_band(
    stabilised: StabilisedClip, grays: NDArray[np.uint8], scale: float, row: int
) -> NDArray[np.float32]:
    """(2 ROWS + 1, WIDE) the stabilised picture round mouth height, blurred a little."""
    matrix = stabilised.to_stabilised[row].copy()
    matrix[:, :2] /= scale
    matrix[:, 2] += stabilised.to_stabilised[row][:, :2] @ np.full(2, 0.5 / scale - 0.5)
    pad = 4
    matrix[:, 2] += (MIDDLE - MOUTH_AT[0], ROWS + pad - MOUTH_AT[1])
    band = cv2.warpAffine(
        grays[row], matrix, (WIDE, 2 * (ROWS + pad) + 1), flags=cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )  # fmt: skip
    soft = cv2.GaussianBlur(band, (0, 0), 1.2).astype(np.float32)
    return np.asarray(soft[pad:-pad])


def _strip(band: NDArray[np.float32], line: Floats, side: int, reach: int) -> Floats:
    """(R, 2 reach + 1) how brightness changes outward, near a line given outward."""
    offset = np.arange(-reach, reach + 1)
    out = line[:, None] + offset
    rows = np.arange(len(line), dtype=np.float32)
    y = np.broadcast_to(rows[:, None], out.shape).astype(np.float32)
    here = cv2.remap(band, (MIDDLE + side * out).astype(np.float32), y, cv2.INTER_LINEAR)
    slope = np.gradient(here.astype(float), axis=1)
    # Shading that goes on evenly is no edge.
    return np.asarray(np.abs(slope - median_filter(slope, size=(1, EVEN), mode="nearest")))


def _fill(stabilised: StabilisedClip, marks: Marks, name: str, x: Floats) -> None:
    column = marks.column(name)
    if (marks.source[:, column] == PLACED).any():
        return  # the teacher's own marks win
    known = np.isfinite(x)
    there = np.stack([MOUTH_AT[0] + x, np.full(len(x), MOUTH_AT[1])], axis=-1)
    places = back(stabilised.to_stabilised, there[:, None])[:, 0]
    scale = np.hypot(stabilised.to_stabilised[:, 0, 0], stabilised.to_stabilised[:, 1, 0])
    # A cheek that leaves the picture is cut off by its edge.
    marks.xy[:, column] = np.where(known[:, None], places, np.nan)
    marks.sigma[:, column] = marks.drift[:, column] = np.where(known, SIGMA / scale, np.nan)
    marks.source[:, column] = np.where(known, FOUND, 0)
    marks.hidden[:, column] = ~known
