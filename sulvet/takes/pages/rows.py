"""Rows that several pages show alike: a measure along time, a reading."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from sulvet.core.judgement.results import Reading as Measured
from sulvet.core.judgement.results import Worst
from sulvet.core.judgement.schema import Band
from sulvet.core.language import retold
from sulvet.core.measures.catalogue import Measure
from sulvet.takes.models import Reading
from sulvet.takes.pages.shapes import Verdict


@dataclass(frozen=True)
class Series:
    """One measure along time, with the band it should stay in.

    half_width  of its 95 % interval
    shown       at first sight
    sounding    where a tone sounds, of what is drawn from the sound
    """

    measure: str
    name: str
    stave: str
    decimals: int
    unit: str
    value: list[float | None]
    half_width: list[float | None]
    low: float | None
    high: float | None
    note: str
    least: float
    from_zero: bool
    shown: bool
    sounding: list[bool] | None


def series_row(
    measure: Measure,
    shown: bool,
    value: list[float | None],
    half_width: list[float | None],
    band: Band | None,
    sounding: list[bool] | None = None,
) -> Series:
    """A measure along time as a line of the score."""
    return Series(
        measure=measure.id,
        name=measure.name,
        stave=measure.stave,
        decimals=measure.decimals,
        unit=measure.unit,
        value=value,
        half_width=half_width,
        low=band.low if band else None,
        high=band.high if band else None,
        note=band.note if band else "",
        least=measure.least,
        from_zero=measure.from_zero,
        shown=shown,
        sounding=sounding,
    )


@dataclass(frozen=True)
class ToneSpan:
    """One tone of a take, seconds, and its note."""

    start: float
    end: float
    note: str


@dataclass(frozen=True)
class WorstRow:
    """Of several holds the one in which a measure is farthest out: which, of how many."""

    nth: int
    of: int
    value: float
    uncertainty: float


@dataclass(frozen=True)
class ReadingRow:
    """A value of one phase ± its 95 % uncertainty."""

    measure: str
    name: str
    decimals: int
    phase: str
    value: float | None
    uncertainty: float | None
    unit: str
    verdict: Verdict
    reason: str
    worst: WorstRow | None


def reading_fields(reading: Reading | Measured, measure: Measure) -> dict[str, Any]:
    """The fields of a reading as it was measured or as it is stored, with its words."""
    names = ("measure", "phase", "value", "uncertainty", "unit", "verdict", "reason")
    row = {name: getattr(reading, name) for name in names}
    worst = asdict(reading.worst) if isinstance(reading.worst, Worst) else reading.worst
    return {
        **row, "reason": retold(reading.reason), "name": measure.name, "decimals": measure.decimals,
        "worst": WorstRow(**worst) if worst else None,
    }  # fmt: skip
