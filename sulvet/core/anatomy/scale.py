"""Millimetres from a known size in the picture, each in its own plane.

What is nearer to the lens looks larger: a pixel is fewer millimetres at the rim
than at the eyes. A scale is therefore carried from the plane in which it was
taken to the plane in which it is used, as far as the distance of the lens is
known, and what is not known of that goes into its uncertainty.
"""

from __future__ import annotations

import tomllib
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Floats

DATA = Path(__file__).parent / "data" / "sizes.toml"


@cache
def sizes() -> dict[str, Any]:
    """Known sizes, planes and the lens's distance, mm."""
    return tomllib.loads(DATA.read_text(encoding="utf-8"))


def known_length() -> tuple[float, float]:
    """Shortest and longest length, mm, that a teacher can mark beside the mouth."""
    row = sizes()["known_length"]
    return float(row["shortest"]), float(row["longest"])


@dataclass(frozen=True)
class Scale:
    """Millimetres per pixel with its standard deviation, valid in one plane."""

    mm_per_px: float
    sigma: float
    source: str
    plane: str = "eyes"

    @property
    def relative(self) -> float:
        """Standard deviation as a share of the scale itself."""
        return self.sigma / self.mm_per_px

    def at(self, plane: str) -> Scale:
        """The same scale in another plane.

        A length a behind the lens is 1/a as large; with the lens at D from the
        lips, planes p and q stand at D + lips - p and D + lips - q.
        """
        if plane == self.plane:
            return self
        table = sizes()
        lens, planes = table["lens"], table["planes"]
        here, there = planes[self.plane], planes[plane]
        distance = lens["mm"] + planes["lips"]["mm"]
        factor = (distance - there["mm"]) / (distance - here["mm"])
        apart = here["mm"] - there["mm"]
        # d ln(factor) by the lens's distance and by how far apart the planes are.
        unsure = np.hypot(
            apart / distance**2 * lens["sigma"], np.hypot(here["sigma"], there["sigma"]) / distance
        )
        value = self.mm_per_px * factor
        return Scale(value, value * float(np.hypot(self.relative, unsure)), self.source, plane)


@dataclass(frozen=True)
class Scales:
    """All scales of one take, best first; none is fine: then nothing is in millimetres."""

    known: tuple[Scale, ...] = field(default=())

    def at(self, plane: str) -> Scale | None:
        """The surest of the scales in a plane, or None."""
        there = [scale.at(plane) for scale in self.known]
        return min(there, key=lambda scale: scale.relative, default=None)


def from_length(
    pixels: Floats, mm: float, mm_sigma: float, px_sigma: float, source: str, plane: str
) -> Scale | None:
    """Scale from something of known length seen on several frames.

    pixels    (T,) its length on each frame, NaN where it is not seen
    mm_sigma  how sure the length itself is
    px_sigma  standard deviation of the length on one frame, pixels: it does not
              average out over the frames of one mark

    None when it is never seen.
    """
    seen = pixels[np.isfinite(pixels) & (pixels > 0)]
    if not len(seen):
        return None
    length = float(np.median(seen))
    relative = float(np.hypot(mm_sigma / mm, px_sigma / length))
    return Scale(mm / length, mm / length * relative, source, plane)


def iris_scale(irises: dict[str, Floats], sigma_px: float = 0.5) -> Scale | None:
    """Scale from the irises' edges.

    irises    id → (2,) pixels, ids of ``landmarks.IRIS_IDS``
    sigma_px  standard deviation of one edge, pixels

    None when no iris has both edges.
    """
    widths = np.array(
        [
            float(np.linalg.norm(irises[f"iris_{side}_out"] - irises[f"iris_{side}_in"]))
            for side in "rl"
            if f"iris_{side}_out" in irises and f"iris_{side}_in" in irises
        ]
    )
    widths = widths[widths > 0]
    if not len(widths):
        return None
    iris = sizes()["iris"]
    return from_length(
        np.array([widths.mean()]),
        iris["mm"],
        iris["sigma"],
        sigma_px * np.sqrt(2 / len(widths)),
        "iris",
        "eyes",
    )
