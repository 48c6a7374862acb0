"""What all equipment shares: its sizes, its own axes, and its colours."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import yaml

from sulvet.core.anatomy.marks import Floats

SIZES = Path(__file__).parents[1] / "data" / "equipment.yaml"
BRASS = (0.83, 0.62, 0.26)
SILVER = (0.80, 0.80, 0.79)
BLACK = (0.012, 0.012, 0.013)
STRAW = (0.62, 0.43, 0.19)
Points = dict[str, Floats]


@cache
def sizes() -> dict[str, Any]:
    """Sizes of instruments' mouthpieces by name, mm."""
    table: dict[str, Any] = yaml.safe_load(SIZES.read_text(encoding="utf-8"))
    return table


@dataclass(frozen=True)
class Frame:
    """Where a thing is: its own axes in head coordinates.

    origin  mm; out  along the thing away from the face; up  its upper side;
    side    toward the subject's left, all unit
    """

    origin: Floats
    out: Floats
    up: Floats
    side: Floats

    def place(self, side: Any, up: Any, out: Any) -> Floats:
        """(..., 3) head coordinates of local ones, mm."""
        side, up, out = np.broadcast_arrays(side, up, out)
        return np.asarray(
            self.origin
            + side[..., None] * self.side
            + up[..., None] * self.up
            + out[..., None] * self.out
        )

    def local(self, points: Floats) -> tuple[Floats, Floats, Floats]:
        """Side, up and out of head coordinates, mm."""
        d = points - self.origin
        return d @ self.side, d @ self.up, d @ self.out


def axes(origin: Floats, down: float, askew: float = 0.0) -> Frame:
    """A frame that points ``down`` degrees under the horizontal, turned ``askew`` to the left."""
    a, b = np.radians(down), np.radians(askew)
    out = np.array([np.sin(b) * np.cos(a), -np.sin(a), np.cos(b) * np.cos(a)])
    side = np.array([np.cos(b), 0.0, -np.sin(b)])
    return Frame(origin, out, np.cross(out, side), side)
