"""How a measure's unit is written after a figure."""

from __future__ import annotations

import json
import math
from functools import cache
from pathlib import Path
from typing import Any

from sulvet.core.language import figures, said

FILE = Path(__file__).parent / "data" / "units.json"


@cache
def _table() -> dict[str, Any]:
    table: dict[str, Any] = json.loads(FILE.read_text("utf-8"))
    return table


def sign_of(unit: str) -> str:
    """Beside a figure, with the space before it if there is one: ``°``, `` mm``."""
    sign: str = _table()["signs"].get(unit, f" {unit}")
    return sign


def in_words(unit: str, decimals: int, *values: float) -> str:
    """Values with ± between them and the unit, as in a sentence.

    >>> in_words("deg", 1, 6.2, 1.1), in_words("ratio", 2, 0.31, 0.16)
    ('6.2 ± 1.1 degrees', '31 ± 16 % of its value at rest')
    """
    table = _table()
    times = table["times"].get(unit, 1)
    decimals = max(decimals - round(math.log10(times)), 0)
    told = " ± ".join(figures(f"{value * times:.{decimals}f}") for value in values)
    words: str = table["words"].get(unit, f" {unit}")
    return told + (f" {said(words.strip())}" if words else "")
