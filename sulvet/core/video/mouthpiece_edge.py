"""The ligature of a reed's mouthpiece from the side, sought near where a network sees it.

A network says where a ligature's two edges lie within a tenth of the mouth's width; the
picture itself says better how the mouthpiece leans, by its two outlines, and where along it
the ligature begins and ends, by the edges across it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter1d, map_coordinates

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.crops import cut

#: It is looked at with this many pixels between the two marks, and so many from its middle to each
#: side; its ends are sought so far beyond the marks. One of fewer pixels in the picture than the
#: last is left as it is.
LENGTH, HALF, BEYOND, LEAST_LENGTH = 48.0, 56, 24, 6.0
#: How outlines may lean against the guess (tangents), how far from the axis they may lie (pixels).
LEANS = np.tan(np.radians(np.arange(-21.0, 21.1, 1.0)))
OUT = np.arange(2.0, HALF - 5.0)
FINE_LEANS, FINE_OUT = np.tan(np.radians(np.arange(-3.0, 3.1, 0.5))), np.arange(-2.0, 2.1, 0.5)
#: The two outlines lie at least so far apart, pixels, and lean alike to so many steps.
THIN, TAPER = 6.0, 6
#: What one standard deviation away from the guess costs, in shares of an outline that is all edge,
#: and by how much of that one place tells itself from another.
LEAVE, TELLING = 0.06, 0.06
#: A line that shows along less than this share of its length is no outline, no end.
LEAST, LEAST_ACROSS = 0.5, 0.5
#: Least and greatest standard deviation of where a ligature ends, pixels.
GUESS = (2.0, 12.0)
#: An edge is steeper than grain by so much, and than this many steps of colour (CIELAB) a pixel.
GRAIN, PALEST = 3.0, 1.0
#: To place a line exactly, edges count up to this many times as much as one that is strong.
STEEPEST = 4.0
#: What remains uncertain of clear edges: of the axis, degrees; along it, share of the length.
LEAN_SIGMA, ALONG_SIGMA = 1.6, 0.03


@dataclass(frozen=True)
class Ligature:
    """Both edges of a ligature, half way up the mouthpiece.

    near, far  (2,) pixels: toward the mouth and away from it
    along      standard deviation of each along the axis, pixels
    lean       of the axis, radians
    """

    near: Floats
    far: Floats
    along: float
    lean: float

    @property
    def length(self) -> float:
        """Pixels between its edges."""
        return float(np.linalg.norm(self.far - self.near))

    @property
    def across(self) -> float:
        """Standard deviation of each mark across the axis that ``lean`` amounts to, pixels."""
        return self.length * self.lean / float(np.sqrt(2))


def sharpened(rgb: Image, guess: Ligature) -> Ligature:
    """The ligature moved onto its edges in an (H, W, 3) picture; what shows none stays a guess."""
    if guess.length < LEAST_LENGTH:
        return guess
    scale = LENGTH / guess.length
    way = (guess.far - guess.near) / guess.length
    turn = scale * np.array([way, (-way[1], way[0])])
    middle = (guess.near + guess.far) / 2
    matrix = np.hstack([turn, (HALF - turn @ middle)[:, None]])
    strip = cv2.cvtColor(cut(rgb, matrix, 2 * HALF + 1), cv2.COLOR_RGB2LAB).astype(float)
    there = cut(np.full(rgb.shape[:2], 255, np.uint8), matrix, 2 * HALF + 1) > 250
    outlines = _outlines(strip, there, max(guess.across * scale, 2.0), guess.lean)
    if outlines is None:
        return guess
    ends = _ends(strip, outlines, guess.along * scale)
    begin, end, along = ends or (-LENGTH / 2, LENGTH / 2, guess.along * scale)
    back = np.linalg.inv(turn)
    near, far = (middle + back @ np.array([x, outlines.half_way(x)]) for x in (begin, end))
    return Ligature(near, far, along / scale, outlines.sigma)


@dataclass(frozen=True)
class _Outlines:
    """Above and below: pixels across at the ligature's middle, and how they lean (tangents).

    sigma  of the lean half way between them, radians
    """

    top: float
    low: float
    top_lean: float
    low_lean: float
    sigma: float

    def half_way(self, x: float) -> float:
        """Pixels across, half way up, ``x`` pixels from the middle along the guessed axis."""
        return (self.top + self.low) / 2 + x * (self.top_lean + self.low_lean) / 2


def _strength(strip: Floats, axis: int) -> Floats:
    """How sharply colour changes along one axis, 1 for a strong edge."""
    slope = gaussian_filter1d(strip, 1.2, axis=axis, order=1)
    sharp = np.sqrt((slope**2).sum(-1))
    strong = max(float(np.percentile(sharp, 95)), GRAIN * float(np.median(sharp)), PALEST)
    return np.asarray(sharp / strong)


def _outlines(strip: Floats, there: Bools, across: float, lean: float) -> _Outlines | None:
    """Both outlines with most edge, not far from the guess; None where too little shows.

    across, lean  standard deviations of the guess: pixels, radians
    """
    x = np.arange(-LENGTH / 2, LENGTH / 2 + 1)
    sharp = _strength(strip, 0) * there

    def lines(offsets: Floats, leans: Floats, most: float = 1.0) -> Floats:
        """(O, L) how much edge lies along lines so many pixels across, leaning so."""
        rows = HALF + offsets[:, None, None] + leans[:, None] * x
        columns = np.broadcast_to(HALF + x, rows.shape)
        edge = map_coordinates(np.minimum(sharp, most), [rows, columns], order=1)
        return np.asarray(edge.mean(-1))

    def nearby(offset: float, lean: float) -> tuple[float, float]:
        """The line with most edge close to one, now wherever the guess lies."""
        offsets, leans = offset + FINE_OUT, lean + FINE_LEANS
        edge = lines(offsets, leans, STEEPEST)
        a, k = np.unravel_index(int(edge.argmax()), edge.shape)
        return float(offsets[a]), float(leans[k])

    above, below = lines(-OUT, LEANS), lines(OUT, LEANS)
    # Every pair of lines that lie apart, around the guessed axis, and lean nearly alike.
    thick = OUT[:, None] + OUT
    apart = np.where(thick >= THIN, -LEAVE * ((OUT - OUT[:, None]) / 2 / across) ** 2, -np.inf)
    best, found, least = np.full(len(LEANS), -np.inf), {}, {}
    for k in range(len(LEANS)):
        for m in range(max(k - TAPER, 0), min(k + TAPER + 1, len(LEANS))):
            mean = (LEANS[k] + LEANS[m]) / 2
            worth = above[:, k, None] + below[:, m] + apart
            a, b = np.unravel_index(int(worth.argmax()), worth.shape)
            total = worth[a, b] - LEAVE * ((mean / lean) ** 2 + ((k - m) / TAPER) ** 2)
            middle = (k + m) // 2
            if total > best[middle]:
                best[middle] = total
                found[middle] = (-OUT[a], OUT[b], LEANS[k], LEANS[m])
                least[middle] = min(above[a, k], below[b, m])
    first = int(best.argmax())
    if not np.isfinite(best[first]) or least[first] < LEAST:
        return None
    off = _off(best, LEANS - LEANS[first])
    up, down, up_lean, down_lean = found[first]
    (top, top_lean), (low, low_lean) = nearby(up, up_lean), nearby(down, down_lean)
    return _Outlines(top, low, top_lean, low_lean, float(np.hypot(np.radians(LEAN_SIGMA), off)))


def _off(worth: Floats, away: Floats) -> float:
    """How far off the best may be: what else is worth nearly as much counts as it is likely."""
    share = np.exp((worth - worth.max()) / TELLING)
    return float(np.sqrt((share * away**2).sum() / share.sum()))


def _ends(strip: Floats, outlines: _Outlines, sigma: float) -> tuple[float, float, float] | None:
    """Where the ligature begins and ends along the guessed axis, pixels from its middle, and the
    standard deviation of where it begins; None where no edge shows.

    sigma  of the guess, pixels
    """
    x = np.arange(-LENGTH / 2 - BEYOND, LENGTH / 2 + BEYOND + 1)
    top = outlines.top + outlines.top_lean * x
    low = outlines.low + outlines.low_lean * x
    # An end lies square to the axis that was found.
    aside = np.linspace(-0.35, 0.35, 15)[:, None] * (low - top)
    lean = (outlines.top_lean + outlines.low_lean) / 2
    rows, columns = HALF + (top + low) / 2 + aside, HALF + x - lean * aside
    inner = np.stack([
        map_coordinates(strip[..., c], [rows, columns], order=1, mode="nearest") for c in range(3)
    ], -1)  # fmt: skip
    edge = np.minimum(_strength(inner, 1), 1.0).mean(axis=0)
    edge[:3] = edge[-3:] = 0.0
    spread = float(np.clip(sigma, *GUESS))
    near, far = np.meshgrid(x, x, indexing="ij")
    worth = edge[:, None] + edge[None, :]
    worth = worth - LEAVE * (
        ((near + LENGTH / 2) / spread) ** 2 + ((far - LENGTH / 2) / spread) ** 2
    )
    worth[far - near < LENGTH / 2] = -np.inf
    a, b = np.unravel_index(int(worth.argmax()), worth.shape)
    if min(edge[a], edge[b]) < LEAST_ACROSS:
        return None
    off = _off(worth.max(axis=1), x - x[a])
    return float(x[a]), float(x[b]), float(np.hypot(ALONG_SIGMA * LENGTH, off))
