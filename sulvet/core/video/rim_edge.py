"""The outer edge of a brass rim from the front, sought near where a network sees it.

A network says where a rim is within a twentieth of the mouth's width; the rim's own edge
against skin and lips says it to a pixel. What is looked for is one circle, a little
flattened by the shank's slope, through as much edge as possible, not far from the guess.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
import scipy
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.crops import cut, inverse, through

#: How much a rim is flattened from the front: a shank 14 degrees down, as most are held.
FLATTENED = 0.97
#: The rim is looked at with this radius, pixels.
RADIUS = 48.0
#: Where round it an edge is looked for, degrees from the picture's right over the top: shank and
#: cup cover what lies below.
ANGLES = np.radians(np.linspace(-40.0, 220.0, 66))
#: Least and greatest standard deviation of a guess, pixels.
GUESS = (1.5, 7.0)
#: What one standard deviation away from the guess costs, in shares of a rim that is all edge.
LEAVE = 0.05
#: An edge this strong against the strong ones is one; that many angles must have one, within
#: so many pixels of the circle.
EDGE, LEAST, NEAR = 0.6, 0.8, 1.5
#: An edge is steeper than grain by so much, and than this many steps of colour (CIELAB) a pixel.
GRAIN, PALEST = 2.4, 1.0
#: What remains uncertain of a clear edge: slope and thickness of the rim, share of its radius.
FLOOR = 0.03


@dataclass(frozen=True)
class Ring:
    """A rim's outer edge.

    centre  (2,) and radius: pixels; lean: radians clockwise that the head leans
    sigma   standard deviation of any place on it, pixels
    """

    centre: Floats
    radius: float
    lean: float
    sigma: float

    def at(self, angle: Floats) -> Floats:
        """(N, 2) pixels at angles, radians from the subject's left over the top."""
        return np.asarray(self.centre + self.radius * round_it(angle, self.lean))


def round_it(angle: Floats, lean: float) -> Floats:
    """(N, 2) from a ring's centre to its edge, in radii."""
    across, up = (np.cos(lean), np.sin(lean)), (np.sin(lean), -np.cos(lean))
    out = np.outer(np.cos(angle), across) + FLATTENED * np.outer(np.sin(angle), up)
    return np.asarray(out)


def sharpened(rgb: Image, guess: Ring) -> Ring:
    """The ring moved onto the edge in an (H, W, 3) picture; as guessed where there is none."""
    scale = RADIUS / guess.radius
    sigma = float(np.clip(guess.sigma * scale, *GUESS))
    reach = int(np.ceil(3 * sigma))
    side = 2 * (int(RADIUS) + reach + 6)
    c, s = scale * np.cos(guess.lean), scale * np.sin(guess.lean)
    turn = np.array([[c, s], [-s, c]])
    matrix = np.hstack([turn, (side / 2 - turn @ guess.centre)[:, None]])
    out = np.arange(-reach, reach + 1.0)
    places = side / 2 + round_it(ANGLES, 0.0)[:, None] * (RADIUS + out)[:, None]
    strength = _edges(cut(rgb, matrix, side), places)
    back = through(inverse(matrix), places)
    strength *= ((back > 1) & (back < np.array(rgb.shape[1::-1]) - 2)).all(-1)
    moved = _best(strength, sigma, reach)
    found = _fitted(strength, moved, reach)
    if found is None:
        return guess
    (right, up, wider), off = found
    moved_by = np.array([[c, -s], [s, c]]) @ np.array([right, -up]) / scale**2
    return Ring(
        guess.centre + moved_by, guess.radius + wider / scale, guess.lean,
        float(np.hypot(FLOOR * RADIUS, off)) / scale,
    )  # fmt: skip


def _edges(crop: NDArray[np.uint8], places: Floats) -> Floats:
    """(A, N) how sharply colour changes outward at places round the rim, 1 for a strong edge."""
    lab = cv2.cvtColor(crop, cv2.COLOR_RGB2LAB).astype(np.float32)
    x, y = (places[..., k].astype(np.float32) for k in (0, 1))
    along = cv2.remap(lab, x, y, cv2.INTER_LINEAR).astype(float)
    slope = scipy.ndimage.gaussian_filter1d(along, 1.0, axis=1, order=1)
    sharp = scipy.ndimage.gaussian_filter1d(np.sqrt((slope**2).sum(-1)), 1.0, axis=0)
    strong = max(float(np.percentile(sharp, 85)), GRAIN * float(np.median(sharp)), PALEST)
    return np.asarray(np.minimum(sharp / strong, 1.5))


#: What a move of the centre to the right and up, and a wider radius, add at each angle.
_MOVES = np.stack([np.cos(ANGLES), FLATTENED * np.sin(ANGLES), np.ones(len(ANGLES))])


def _best(strength: Floats, sigma: float, reach: int) -> Floats:
    """(3,) the move under which the circle has most edge, coarse steps before fine ones."""

    def worth(moves: Floats) -> Floats:
        at = np.clip(np.rint(moves @ _MOVES).astype(int) + reach, 0, strength.shape[1] - 1)
        edge = strength[np.arange(len(ANGLES)), at].mean(axis=1)
        return np.asarray(edge - LEAVE * ((moves / sigma) ** 2).sum(axis=1))

    def tried(steps: Floats) -> Floats:
        return np.asarray(np.stack(np.meshgrid(*[steps] * 3, indexing="ij"), -1).reshape(-1, 3))

    step = max(1.0, sigma / 3)
    best = np.zeros(3)
    grids = (
        np.arange(-7, 8) * step,
        np.arange(-2, 3) * step / 2,
        np.arange(-2, 3) * step / 4,
    )
    for steps in grids:
        moves = best + tried(np.asarray(steps))
        best = moves[worth(moves).argmax()]
    return np.asarray(best)


def _fitted(strength: Floats, moved: Floats, reach: int) -> tuple[Floats, float] | None:
    """The circle through the edges near it, and how far those lie off it; None for too few."""
    along = (moved @ _MOVES)[:, None] + np.arange(-3, 3.1, 0.5)
    rows = np.repeat(np.arange(len(ANGLES))[:, None], along.shape[1], 1)
    here = scipy.ndimage.map_coordinates(strength, [rows, along + reach], order=1, mode="constant")
    weight = here**4 * np.exp(-0.5 * (np.arange(-3, 3.1, 0.5) / 1.5) ** 2)
    at = (weight * along).sum(1) / (weight.sum(1) + 1e-9)
    sharp = here.max(axis=1)
    use = sharp > EDGE
    if use.sum() < LEAST * len(ANGLES):
        return None
    fit = scipy.optimize.least_squares(
        lambda move: move @ _MOVES[:, use] - at[use], moved, loss="soft_l1", f_scale=0.5
    )
    off = np.abs(fit.x @ _MOVES - at)
    if (use & (off < NEAR)).sum() < LEAST * len(ANGLES):
        return None
    return fit.x, float(1.4826 * np.median(off[use]))
