"""What measuring a single and a double reed share."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.equipment.edges import across
from sulvet.core.equipment.kinds import Point, errors
from sulvet.core.equipment.results import Measured, Value
from sulvet.core.language import listed, said

OF_FAMILY = {
    "single-reed": ("reed_tip", "reed_offset", "reed_skew", "ligature_gap"),
    "double-reed": ("reed_gap", "reed_gap_width", "reed_opening", "reed_roll"),
}


#: How far an edge is looked for about a mark, mm, and how far a hand is likely off, in standard
#: deviations of its placing: a little more than one, so that a clear edge counts before a mark.
REACH, NEAR = 1.1, 1.5
#: At tips and bands the first edge counts that is liked this share of the most liked one, since
#: behind it a third thing may differ even more (set on the made-up close-ups).
FIRST = 0.4


class Work:
    """What both kinds share."""

    def __init__(
        self,
        image: NDArray[np.uint8],
        marks: dict[str, Floats],
        hidden: frozenset[str],
        wide: float,
        named: dict[str, str],
    ) -> None:
        self.image, self.marks, self.hidden = image, marks, hidden
        self.wide, self.named = wide, named
        self.values: dict[str, Value] = {}
        self.unknown: dict[str, str] = {}
        self.lines: dict[str, tuple[Point, Point]] = {}
        self.near = NEAR * errors().click_px

    def lacks(self, measure: str, names: tuple[str, ...]) -> bool:
        """Say what is missing for a measure; whether anything is."""
        missing = [self.named[n] for n in names if n not in self.marks and n not in self.hidden]
        covered = [self.named[n] for n in names if n in self.hidden]
        if missing:
            self.unknown[measure] = said("Mark: {marks}.", marks=listed(missing))
        elif covered:
            self.unknown[measure] = said("Can't be seen: {marks}.", marks=listed(covered))
        return bool(missing or covered)

    def in_order(self, first: str, last: str, way: Floats) -> None:
        """Two marks that were changed over are taken for one another: ``last`` lies farther
        along ``way``."""
        if first in self.marks and last in self.marks:
            a, b = self.marks[first], self.marks[last]
            if float((b - a) @ way) < 0:
                self.marks[first], self.marks[last] = b, a

    def keep(self, measure: str, value: float, sd: float, floor: float) -> None:
        """Keep a reading."""
        self.values[measure] = Value(value, float(np.hypot(sd, floor)))

    def result(self) -> Measured:
        """Readings, or for each measure the reason why there is none."""
        raise NotImplementedError


@dataclass(frozen=True)
class Axes:
    """A frame along the thing: origin at the reed's tip, ``down`` from it, ``right`` beside it."""

    origin: Floats
    down: Floats

    @property
    def right(self) -> Floats:
        """Unit vector across the axis, to the right when the tip is up."""
        return across(-self.down)

    def place(self, s: float, x: float) -> Floats:
        """A place ``s`` below the tip and ``x`` to the right, px."""
        return np.asarray(self.origin + s * self.down + x * self.right)

    def local(self, at: Floats) -> tuple[float, float]:
        """How far below the tip and to the right a place lies, px."""
        d = at - self.origin
        return float(d @ self.down), float(d @ self.right)
