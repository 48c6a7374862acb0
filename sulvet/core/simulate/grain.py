"""Grain of skin and filters that shading reads."""

from __future__ import annotations

from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

F32 = NDArray[np.float32]


@lru_cache(maxsize=1)
def taps(count: int = 12) -> F32:
    """A disc of evenly spread samples (a sunflower spiral)."""
    k = np.arange(count) + 0.5
    r, a = np.sqrt(k / count), k * np.pi * (3 - np.sqrt(5))
    return np.asarray(np.stack([r * np.cos(a), r * np.sin(a)], -1), np.float32)


@lru_cache(maxsize=1)
def grain_tile() -> F32:
    """(512, 512, 3) noise at three scales, each of unit spread, wrapping round."""
    rng = np.random.default_rng(5)
    layers = []
    for scale in (0.8, 2.5, 8.0):
        raw = rng.standard_normal((512, 512)).astype(np.float32)
        raw = np.tile(raw, (3, 3))
        soft = cv2.GaussianBlur(raw, (0, 0), scale)[512:1024, 512:1024]
        layers.append(soft / soft.std())
    return np.stack(layers, -1)


def sample(tile: F32, u: F32, v: F32) -> F32:
    """(N, K) a wrapping tile read at (N,) places in texels."""
    # OpenCV's remap takes at most 32767 rows: a list of places is folded into a picture.
    count = len(u)
    rows = -(-count // 1024)
    places = np.zeros((2, rows * 1024), np.float32)
    places[0, :count], places[1, :count] = u % 512, v % 512
    folded = places.reshape(2, rows, 1024)
    read = cv2.remap(tile, folded[0], folded[1], cv2.INTER_LINEAR, borderMode=cv2.BORDER_WRAP)
    return np.asarray(read.reshape(-1, tile.shape[2])[:count])


def unit(v: F32) -> F32:
    """(..., 3) vectors at length 1."""
    return np.asarray(v / (np.sqrt((v * v).sum(-1, keepdims=True)) + 1e-9), dtype=np.float32)
