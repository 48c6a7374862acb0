"""Small patches round points: what they look like, and where optical flow says they went."""

from __future__ import annotations

from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats

#: What optical flow compares round each point, stabilised pixels.
WINDOW = (15, 15)


#: Every other point of a square: as wide as the whole, at half the work.
GRID = np.array(
    [(x, y) for y in range(-6, 7, 3) for x in range(-6, 7, 3) if (x + y) % 2 == 0], dtype=float
)


#: Side of the patch that is compared as a picture, stabilised pixels.
PATCH = 31
#: Its places about the middle, (PATCH, PATCH, 2).
OFFSETS = np.stack(np.meshgrid(*[np.arange(PATCH) - PATCH // 2] * 2), axis=-1)
#: Half the side of the patch that is looked for all around, and how far; another place that is this
#: much as good makes it a guess.
SEARCHED, RIVAL = (9, 15), 0.85
#: Contrast (root of the sum of squares, grey levels) below which a patch shows nothing.
FLAT = 30.0
#: The part of the stabilised picture with mouth and nose wings, and the margin a patch
#: needs inside it for its window, stabilised pixels.
MOUTH_LOW, MOUTH_HIGH = np.array([52, 136]), np.array([348, 412])
AROUND = 34


def patches(picture: NDArray[np.uint8], at: Floats) -> Floats:
    """(N, PATCH**2) pictures round N points, brightness and contrast evened out.

    The product of two rows is their normalised cross-correlation; a patch
    without any contrast is all zero and is like nothing.
    """
    places = (at[:, None, None] + OFFSETS).astype(np.float32).reshape(-1, PATCH, 2)
    cut = cv2.remap(
        picture, places[..., 0], places[..., 1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
    )
    values = cut.reshape(len(at), -1).astype(float)
    values -= values.mean(1, keepdims=True)
    norm = np.linalg.norm(values, axis=1, keepdims=True)
    return np.asarray(np.where(norm > FLAT, values / np.maximum(norm, FLAT), 0.0))


def shift(
    source: NDArray[np.uint8], target: NDArray[np.uint8], at: Floats, guess: Floats
) -> tuple[Floats, Floats]:
    """Where the patches at ``at`` (N, 2) in ``source`` went in ``target``.

    Returns the places (N, 2) and the round-trip errors (N,), infinite where lost.
    One call for all: building the pyramids is what costs.
    """
    # Far from the mouth costs time and tells nothing. Always the same part for the same
    # point, so that a landmark followed alone comes out as among others, to the last bit.
    near = np.array(
        [
            all(((p > MOUTH_LOW + AROUND) & (p < MOUTH_HIGH - AROUND)).all() for p in (a, g))
            for a, g in zip(at, guess, strict=True)
        ]
    )
    places, errors = guess.copy(), np.full(len(at), np.inf)
    if near.any():
        part = np.s_[MOUTH_LOW[1] : MOUTH_HIGH[1], MOUTH_LOW[0] : MOUTH_HIGH[0]]
        places[near], errors[near] = _flow(
            np.ascontiguousarray(source[part]),
            np.ascontiguousarray(target[part]),
            at[near],
            guess[near],
            MOUTH_LOW,
        )
    if not near.all():
        far = ~near
        places[far], errors[far] = _flow(source, target, at[far], guess[far], np.zeros(2))
    return places, errors


def best_match(
    source: NDArray[np.uint8], target: NDArray[np.uint8], at: Floats, moved: Floats
) -> tuple[Floats, float]:
    """Where in ``target`` it looks most like at ``at`` (2,) in ``source``, near ``at + moved``.

    Returns the place (2,) and the normalised cross-correlation there; 0 where the best lies at the
    end of what was searched, or another place is nearly as good.
    """
    half, reach = SEARCHED
    x, y = (float(v) for v in at)
    template = cv2.getRectSubPix(source, (2 * half + 1,) * 2, (x, y))
    x, y = (float(v) for v in at + moved)
    around = cv2.getRectSubPix(target, (2 * (half + reach) + 1,) * 2, (x, y))
    like = cv2.matchTemplate(around, template, cv2.TM_CCOEFF_NORMED)
    row, column = np.unravel_index(int(like.argmax()), like.shape)
    place = at + moved + np.array([column - reach, row - reach], dtype=float)
    best = float(like[row, column])
    elsewhere = like.copy()
    elsewhere[max(row - half, 0) : row + half + 1, max(column - half, 0) : column + half + 1] = 0
    inside = 0 < row < 2 * reach and 0 < column < 2 * reach
    return place, best if inside and elsewhere.max() < RIVAL * best else 0.0


def _flow(
    source: NDArray[np.uint8],
    target: NDArray[np.uint8],
    at: Floats,
    guess: Floats,
    low: Floats | NDArray[np.int64],
) -> tuple[Floats, Floats]:
    """The shift of patches in a part of the pictures that begins at ``low``."""
    start = (at[:, None] + GRID - low).astype(np.float32).reshape(-1, 1, 2)
    there = (guess[:, None] + GRID - low).astype(np.float32).reshape(-1, 1, 2)
    options: dict[str, Any] = {
        "winSize": WINDOW,
        "maxLevel": 1,
        "flags": cv2.OPTFLOW_USE_INITIAL_FLOW,
        "criteria": (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 12, 0.02),
    }
    there, ok, _ = cv2.calcOpticalFlowPyrLK(source, target, start, there, **options)
    again, ok2, _ = cv2.calcOpticalFlowPyrLK(target, source, there, start.copy(), **options)
    error = np.linalg.norm(again - start, axis=2).reshape(len(at), -1)
    good = ((ok[:, 0] == 1) & (ok2[:, 0] == 1)).reshape(error.shape) & (error < 2.0)
    moves = (there - start).reshape(len(at), -1, 2)
    enough = good.sum(1) >= len(GRID) // 3
    places = np.where(enough[:, None], at + _median(moves, good), guess)
    errors = _median(error[..., None], good)[:, 0] + 2 * (1 - good.mean(1))
    return places, np.where(enough, errors, np.inf)


def _median(values: Floats, good: NDArray[np.bool_]) -> Floats:
    """(N, K) medians of (N, P, K) values over those P that are good; zero without any."""
    ordered = np.sort(np.where(good[..., None], values, np.inf), axis=1)
    count = good.sum(1)
    low, high = np.maximum(count - 1, 0) // 2, count // 2
    rows = np.arange(len(values))
    high = np.minimum(high, values.shape[1] - 1)
    middle = (ordered[rows, low] + ordered[rows, high]) / 2
    return np.where(count[:, None] > 0, middle, 0.0)
