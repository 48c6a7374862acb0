"""What stands behind a head: plain, textured, cluttered, and photographs of things."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

Picture = NDArray[np.uint8]
#: Photographs that come with scikit-image and show no person.
PHOTOGRAPHS = (
    "brick", "cell", "chelsea", "coffee", "coins", "color", "grass", "gravel", "hubble_deep_field",
    "ihc", "moon", "motorcycle_left", "motorcycle_right", "page", "retina", "rocket", "text",
)  # fmt: skip


@cache
def photographs() -> list[Picture]:
    """All of them, RGB."""
    from pathlib import Path

    import skimage

    folder = Path(skimage.__file__).parent / "data"
    found = []
    for name in PHOTOGRAPHS:
        for path in folder.glob(f"{name}.*"):
            picture = cv2.imread(str(path))
            if picture is not None:
                found.append(np.ascontiguousarray(picture[..., ::-1]))
    return found


def background(rng: Generator, width: int, height: int) -> Picture:
    """One background, (height, width, 3)."""
    base = _base(rng, width, height)
    if rng.uniform() < 0.45:
        base = _cluttered(rng, base)
    if rng.uniform() < 0.5:
        base = cv2.GaussianBlur(base, (0, 0), float(np.exp(rng.uniform(-0.5, 2.2))))
    return np.asarray(base, np.uint8)


def _colour(rng: Generator) -> NDArray[np.float64]:
    grey = rng.uniform(10, 245)
    return np.clip(grey + rng.normal(0, 25, 3), 0, 255)


def _base(rng: Generator, width: int, height: int) -> Picture:
    kind = rng.uniform()
    if kind < 0.4:
        whole = photographs()[int(rng.integers(len(photographs())))]
        side = int(min(whole.shape[:2]) * rng.uniform(0.25, 1.0))
        y = int(rng.integers(whole.shape[0] - side + 1))
        x = int(rng.integers(whole.shape[1] - side + 1))
        part = cv2.resize(whole[y : y + side, x : x + side], (width, height))
        if rng.uniform() < 0.5:
            part = part[:, ::-1]
        dim = rng.uniform(0.4, 1.2)
        return np.asarray(np.clip(part * dim + rng.normal(0, 12, 3), 0, 255), np.uint8)
    corners = np.array([[_colour(rng), _colour(rng)], [_colour(rng), _colour(rng)]], np.float32)
    if kind < 0.6:
        corners = corners * 0.15 + _colour(rng).astype(np.float32) * 0.85
    field = cv2.resize(corners, (width, height), interpolation=cv2.INTER_LINEAR)
    if kind > 0.7:
        for scale in (2, 6, 20):
            small = rng.normal(0, 1, (height // scale + 2, width // scale + 2, 1))
            noise = cv2.resize(small.astype(np.float32), (width, height))
            field = field + noise[..., None] * rng.uniform(0, 18)
    if kind > 0.88:
        # Blinds, slats, a radiator.
        period, lean = rng.uniform(4, 40), rng.uniform(-0.4, 0.4)
        y, x = np.mgrid[:height, :width]
        along = y + lean * x if rng.uniform() < 0.5 else x + lean * y
        field = field * (0.8 + 0.2 * np.sin(along / period * 2 * np.pi))[..., None]
    return np.asarray(np.clip(field, 0, 255), np.uint8)


def _cluttered(rng: Generator, base: Picture) -> Picture:
    """Boxes, discs, bars and sheets of music."""
    out = base.copy()
    height, width = base.shape[:2]
    for _ in range(int(rng.integers(1, 14))):
        colour = tuple(float(v) for v in _colour(rng))
        x, y = int(rng.uniform(-0.1, 1.0) * width), int(rng.uniform(-0.1, 1.0) * height)
        w, h = (int(np.exp(rng.uniform(np.log(0.02), np.log(0.6))) * width) + 1 for _ in "ab")
        kind = rng.uniform()
        if kind < 0.35:
            cv2.rectangle(out, (x, y), (x + w, y + h), colour, -1)
        elif kind < 0.55:
            cv2.ellipse(out, (x, y), (w // 2 + 1, h // 2 + 1), rng.uniform(0, 180), 0, 360, colour,
                        -1 if rng.uniform() < 0.7 else 2)  # fmt: skip
        elif kind < 0.8:
            end = (x + int(rng.normal(0, w)), y + int(rng.normal(0, h)))
            cv2.line(out, (x, y), end, colour, int(rng.integers(1, max(2, width // 30))))
        else:
            _music(rng, out, x, y, max(w, 12), max(h, 12))
    return out


def _music(rng: Generator, out: Picture, x: int, y: int, w: int, h: int) -> None:
    """A sheet with staves and dots on it."""
    cv2.rectangle(out, (x, y), (x + w, y + h), (238.0, 236.0, 228.0), -1)
    for top in range(y + 4, y + h - 8, max(8, h // 6)):
        for line in range(5):
            cv2.line(out, (x + 2, top + line), (x + w - 2, top + line), (90.0, 90.0, 90.0), 1)
        for _ in range(int(rng.integers(2, 9))):
            at = (x + int(rng.uniform(2, w)), top + int(rng.uniform(0, 5)))
            cv2.circle(out, at, max(1, h // 60), (20.0, 20.0, 20.0), -1)
