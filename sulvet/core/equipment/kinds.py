"""What is marked on a close-up of which kind of reed; from ``data/closeups.toml``."""

from __future__ import annotations

import tomllib
from pathlib import Path

from pydantic import BaseModel, ConfigDict, Field

from sulvet.core.language import per_language

DATA = Path(__file__).parent / "data" / "closeups.toml"
Point = tuple[float, float]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Mark(_Strict):
    """One thing to mark.

    may_hide  what to say when something lies over it; empty where nothing can
    means     the fault that is seen then; empty if none
    """

    id: str
    name: str
    guide: str
    may_hide: str = ""
    means: str = ""


class Kind(_Strict):
    """Close-ups of one family of instruments."""

    stands: str
    marks: tuple[Mark, ...] = Field(min_length=1, max_length=8)


class Errors(_Strict):
    """Standard deviations; pixels for ``click_px``, shares for ``width``, ``nearer`` and
    ``lean``, else the unit of the measure."""

    click_px: float
    width: float
    nearer: float
    lean: float
    reed_tip: float
    reed_offset: float
    reed_skew: float
    ligature_gap: float
    reed_gap: float
    reed_roll: float


class _File(_Strict):
    version: int
    ticks: tuple[str, ...]
    tip_width: dict[str, float]
    errors: Errors
    kinds: dict[str, Kind]


@per_language
def _file() -> _File:
    raw = tomllib.loads(DATA.read_text(encoding="utf-8"))
    kinds = {name: raw.pop(name) for name in ("single-reed", "double-reed")}
    return _File.model_validate(raw | {"kinds": kinds})


def errors() -> Errors:
    """What the uncertainties rest on."""
    return _file().errors


def kinds() -> dict[str, Kind]:
    """Kinds of close-ups by family of instruments."""
    return _file().kinds


def kind(family: str) -> Kind:
    """What is marked for a family of instruments; KeyError where there is no reed."""
    return kinds()[family]


def ticks() -> tuple[str, ...]:
    """Faults that are for the eye to tell."""
    return _file().ticks


def tip_width(instrument: str) -> float:
    """How wide the instrument's reed is at its tip, mm; KeyError where it has none."""
    return _file().tip_width[instrument]
