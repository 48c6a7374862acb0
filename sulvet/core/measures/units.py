"""How a measure's unit is written after a figure."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path

FILE = Path(__file__).parent / "data" / "units.json"


@cache
def _table() -> dict[str, dict[str, str]]:
    table: dict[str, dict[str, str]] = json.loads(FILE.read_text("utf-8"))
    return table


def sign_of(unit: str) -> str:
    """Beside a figure, with the space before it if there is one: ``°``, `` mm``."""
    return _table()["signs"].get(unit, f" {unit}")


def words_of(unit: str) -> str:
    """In a sentence, with the space before it: `` degrees``."""
    return _table()["words"].get(unit, f" {unit}")
