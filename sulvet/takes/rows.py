"""Rows that several pages show alike: a measure along time, a reading."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from sulvet.core.judgement.judge import Reading as Read
from sulvet.core.judgement.judge import unit_of
from sulvet.core.judgement.standards import Band, MeasureWords
from sulvet.takes.models import Reading


def numbers(values: NDArray[np.float64], digits: int) -> list[float | None]:
    """Rounded, None where there is no value."""
    return [None if np.isnan(v) else round(float(v), digits) for v in values]


def stave_row(
    words: MeasureWords,
    shown: bool,
    value: NDArray[np.float64],
    spread: NDArray[np.float64],
    band: Band | None,
    sounding: NDArray[np.bool_] | None = None,
) -> dict[str, Any]:
    """A measure along time as a line of the score; ``spread`` is its 95 % half width.

    sounding  where a tone sounds, of what is drawn from the sound
    """
    return {
        "measure": words.id,
        "name": words.name,
        "stave": words.stave,
        "explains": words.explains,
        "decimals": words.decimals,
        "least": words.least,
        "from_zero": words.from_zero,
        "shown": shown,
        "unit": unit_of(words.id),
        "value": numbers(value, 3),
        "spread": numbers(spread, 3),
        "low": band.low if band else None,
        "high": band.high if band else None,
        "note": band.note if band else "",
        "sounding": None if sounding is None else sounding.tolist(),
    }


def reading_row(reading: Reading | Read, words: MeasureWords) -> dict[str, Any]:
    """A reading with its words, as it was measured or as it is stored."""
    names = ("measure", "phase", "value", "uncertainty", "unit", "verdict", "reason")
    row = {name: getattr(reading, name) for name in names}
    return {**row, "name": words.name, "decimals": words.decimals}
