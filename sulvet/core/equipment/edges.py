"""Edges to a fraction of a pixel, near where a hand has put its mark.

A colour on one side of the edge is known. Along a line across the edge the distance of the
picture's colours from it rises; where it rises most steeply, weighted by how near that is to the
mark, is the edge.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats

#: Samples a pixel along a line across an edge, and how far they are smoothed, pixels.
STEP, SMOOTH = 0.5, 0.9
#: An edge must change the colour by so much, units of L*a*b*: a little more than an eye just sees
#: (Sulvet default).
CONTRAST = 3.0
#: What is seen and what the light tells of one edge lie no further apart, px.
SAME = 2.0
#: No edge is surer than this, pixels: what sampling and blur leave.
FLOOR = 0.15


def light(image: NDArray[np.uint8]) -> NDArray[np.float32]:
    """(H, W, 3) linear light of an sRGB picture (IEC 61966-2-1), hundredths of white.

    A lens blurs light, not its code: in the code a dark thing between bright ones would
    look narrower than it is.
    """
    code = np.arange(256) / 255
    linear = np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)
    return np.asarray((100 * linear).astype(np.float32)[image])


def unit(vector: Floats) -> Floats:
    """The same direction with length 1."""
    return np.asarray(vector / max(float(np.linalg.norm(vector)), 1e-12))


def across(way: Floats) -> Floats:
    """A quarter turn clockwise as the picture is seen (y down): right of "up" is right."""
    return np.array([-way[1], way[0]])


@dataclass(frozen=True)
class Picture:
    """A picture and how many of its pixels make a millimetre, roughly.

    light  (H, W, 3) linear light, for where exactly two things meet
    seen   (H, W, 3) CIE L*a*b*, for where an eye sees two things differ
    """

    light: NDArray[np.float32]
    seen: NDArray[np.float32]
    px: float

    @staticmethod
    def of(image: NDArray[np.uint8], px: float) -> Picture:
        """From sRGB."""
        seen = cv2.cvtColor(np.asarray(image, np.float32) / 255, cv2.COLOR_RGB2LAB)
        return Picture(light(image), np.asarray(seen, np.float32), px)

    def strip(
        self, at: Floats, way: Floats, reach: float, half: float, seen: bool = False
    ) -> tuple[Floats, Floats]:
        """Offsets, px, and (N, 3) light along ``way`` through ``at``, averaged ``half`` px to
        both sides; L*a*b* if ``seen``."""
        along = np.arange(-reach, reach + STEP / 2, STEP)
        beside = np.arange(-half, half + 0.5, 1.0)
        side = across(way)
        spots = at + along[:, None, None] * way + beside[None, :, None] * side
        found = cv2.remap(
            self.seen if seen else self.light,
            spots[..., 0].astype(np.float32), spots[..., 1].astype(np.float32),
            cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE,
        )  # fmt: skip
        return along, np.asarray(found.reshape(len(along), len(beside), 3).mean(axis=1), float)

    def colour(self, start: Floats, end: Floats, half: float) -> Floats:
        """(3,) L*a*b*, the median of a band between two points, ``half`` px to both sides."""
        way = unit(end - start)
        reach = float(np.linalg.norm(end - start)) / 2
        _, colours = self.strip((start + end) / 2, way, max(reach, 0.5), half, seen=True)
        return np.asarray(np.median(colours, axis=0))

    def edge(
        self,
        at: Floats,
        way: Floats,
        half: float,
        reach: float,
        near: float,
        known: Floats | None = None,
        but: tuple[float, float] | None = None,
        worth: float = 1.0,
    ) -> tuple[float, float] | None:
        """Where along ``way`` the colour changes: offset from ``at`` and its standard deviation,
        px; None without a clear edge.

        half   how far to both sides is averaged, reach  how far it is looked for,
        near   how far a hand is likely to be off: all px
        known  (3,) L*a*b* before the edge: then only changes away from it count; without it
               any change that an eye sees
        but    offsets between which there is another edge that is not meant
        worth  the first rise counts that is liked this share of the most liked one
        """
        along, seen = self.strip(at, way, reach + 4 * SMOOTH, half, seen=True)
        if known is None:
            rise = _steepness(seen)
        else:
            far = scipy.ndimage.gaussian_filter1d(
                np.linalg.norm(seen - known, axis=1), SMOOTH / STEP
            )
            rise = np.maximum(np.gradient(far, STEP), 0)
        inside = np.abs(along) <= reach
        if but is not None:
            inside &= (along < but[0]) | (along > but[1])
        liked = np.where(inside, rise * np.exp(-0.5 * (along / near) ** 2), 0.0)
        tops = [n for n in _peaks(rise) if inside[n] and _change(rise, n) >= CONTRAST]
        if not tops:
            return None
        best = max(liked[n] for n in tops)
        top = next(n for n in tops if liked[n] >= worth * best)
        # An eye says which edge; where exactly it lies, the light does.
        _, light = self.strip(at, way, reach + 4 * SMOOTH, half)
        sharp = _steepness(light)
        near_by = [n for n in _peaks(sharp) if abs(n - top) * STEP <= SAME]
        top = min(near_by, key=lambda n: abs(n - top), default=top)
        if not 0 < top < len(along) - 1:
            return None
        a, b, c = sharp[top - 1], sharp[top], sharp[top + 1]
        bend = a - 2 * b + c
        part = 0.5 * (a - c) / bend if bend < 0 else 0.0
        grain = light - scipy.ndimage.gaussian_filter1d(light, 2, 0)
        noise = float(np.median(np.abs(np.diff(grain, axis=0))))
        return float(along[top] + part * STEP), max(FLOOR, noise / max(b, 1e-9))


def _steepness(colours: Floats) -> Floats:
    """(N,) how much the colours (N, 3) change a pixel."""
    smooth = scipy.ndimage.gaussian_filter1d(colours, SMOOTH / STEP, axis=0)
    return np.asarray(np.linalg.norm(np.gradient(smooth, STEP, axis=0), axis=1))


def _peaks(rise: Floats) -> list[int]:
    """Where a rise is steepest, here and there."""
    return [n for n in range(1, len(rise) - 1) if rise[n - 1] <= rise[n] > rise[n + 1]]


def _change(rise: Floats, top: int) -> float:
    """What changes about one peak of a rise, from foot to foot."""
    low, high = top, top
    while low > 0 and rise[low - 1] < rise[low]:
        low -= 1
    while high < len(rise) - 1 and rise[high + 1] < rise[high]:
        high += 1
    return float(rise[low : high + 1].sum()) * STEP


@dataclass(frozen=True)
class Fitted:
    """A curve x = f(s) in a frame along an axis: coefficients, constant first, and how sure its
    height at 0 and its slope are (standard deviations)."""

    terms: Floats
    height_sd: float
    slope_sd: float
    low: float
    high: float

    def at(self, s: float) -> float:
        """Its height at a place."""
        return float(sum(term * s**k for k, term in enumerate(self.terms)))


def fit(s: Floats, x: Floats, degree: int, scale: float) -> Fitted | None:
    """A polynomial through points, some of which are wild; None for too few.

    scale  how far an honest point lies off, the unit of x
    """
    if len(s) < degree + 3:
        return None
    columns = np.stack([s**k for k in range(degree + 1)], axis=1)
    first = np.linalg.lstsq(columns, x, rcond=None)[0]
    found = scipy.optimize.least_squares(
        lambda t: columns @ t - x, first, loss="soft_l1", f_scale=scale, jac=lambda t: columns
    ).x
    off = columns @ found - x
    sigma = max(1.4826 * float(np.median(np.abs(off))), 0.3 * scale)
    honest = np.abs(off) < 4 * sigma
    kept = columns[honest]
    if len(kept) < degree + 3:
        return None
    # The wild ones have still drawn at it: once more without them.
    found = np.linalg.lstsq(kept, x[honest], rcond=None)[0]
    # Neighbouring levels share texture: four of them tell about as much as one.
    cover = np.linalg.pinv(kept.T @ kept) * sigma**2 * 4
    return Fitted(
        found, float(np.sqrt(cover[0, 0])), float(np.sqrt(cover[1, 1])) if degree else 0.0,
        float(s.min()), float(s.max()),
    )  # fmt: skip
