"""Millimetres from a known size in the picture."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Floats

#: Horizontal width of the visible iris, mm, and its spread between people.
#: Widely published ocular biometry (from memory).
IRIS_MM = 11.7
IRIS_MM_SPREAD = 0.5


@dataclass(frozen=True)
class Scale:
    """Millimetres per pixel with its standard deviation, valid in one plane."""

    mm_per_px: float
    sigma: float
    source: str


def iris_scale(irises: dict[str, Floats], sigma_px: float = 0.5) -> Scale | None:
    """Scale from the irises' edges.

    irises    id → (2,) pixels, ids of ``landmarks.IRIS_IDS``
    sigma_px  standard deviation of one edge, pixels

    None when no iris has both edges.
    """
    widths = [
        float(np.linalg.norm(irises[f"iris_{side}_out"] - irises[f"iris_{side}_in"]))
        for side in "rl"
        if f"iris_{side}_out" in irises and f"iris_{side}_in" in irises
    ]
    widths = [width for width in widths if width > 0]
    if not widths:
        return None
    width = float(np.mean(widths))
    relative = np.hypot(IRIS_MM_SPREAD / IRIS_MM, sigma_px * np.sqrt(2 / len(widths)) / width)
    return Scale(IRIS_MM / width, float(IRIS_MM / width * relative), "iris")
