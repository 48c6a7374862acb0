"""What a close-up tells: readings, reasons, and the lines that were found."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any

from sulvet.core.anatomy.marks import Floats
from sulvet.core.equipment.kinds import Point


@dataclass(frozen=True)
class Value:
    """A reading: its value and its standard deviation."""

    value: float
    sd: float


@dataclass(frozen=True)
class Measured:
    """What a close-up tells.

    values    by measure
    unknown   why a measure can't be told, by measure
    lines     what was found, px, by what it is: two ends each
    axis      foot and head of the thing's own axis, px; the head is the tip
    mm        millimetres to a pixel
    """

    values: dict[str, Value] = field(default_factory=dict)
    unknown: dict[str, str] = field(default_factory=dict)
    lines: dict[str, tuple[Point, Point]] = field(default_factory=dict)
    axis: tuple[Point, Point] | None = None
    mm: float | None = None

    def plain(self) -> dict[str, Any]:
        """As plain data."""
        return asdict(self)

    @staticmethod
    def of(row: dict[str, Any]) -> Measured:
        """Back from plain data."""
        return Measured(
            {name: Value(**value) for name, value in row["values"].items()},
            dict(row["unknown"]),
            {name: _ends(line) for name, line in row["lines"].items()},
            _ends(row["axis"]) if row["axis"] else None,
            row["mm"],
        )


def _ends(line: Any) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = line
    return (ax, ay), (bx, by)


def point(at: Floats) -> Point:
    """A place in the picture as it is kept: two rounded figures, px."""
    return round(float(at[0]), 2), round(float(at[1]), 2)
