"""Standards: bands, schools and rules, read from data files and checked on load.

A standard says what is right on one instrument. Every figure stands in
``data/*.toml`` with a note of where it comes from; none stands in code.
"""

from __future__ import annotations

import tomllib
from functools import lru_cache
from pathlib import Path
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

DATA = Path(__file__).parent / "data"
View = Literal["front", "side"]


class StandardError(ValueError):
    """A standards file is wrong; the message names the file and the place."""


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class School(_Strict):
    """One side of a disagreement between teachers."""

    id: str
    name: str
    sentence: str


class Band(_Strict):
    """Where a measure should lie.

    Between ``low`` and ``high`` is in band. Up to ``watch_low`` below or
    ``watch_high`` above is worth watching; farther out is a fault if the
    uncertainty allows to say so.
    """

    measure: str
    view: View = "front"
    phases: tuple[str, ...] = ("hold",)
    low: float | None = None
    high: float | None = None
    watch_low: float = Field(default=0.0, ge=0)
    watch_high: float = Field(default=0.0, ge=0)
    schools: tuple[str, ...] = ()
    note: str

    @model_validator(mode="after")
    def _edges(self) -> Band:
        if self.low is None and self.high is None:
            raise ValueError("a band needs a low or a high edge")
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("the low edge must lie below the high edge")
        return self


class Condition(_Strict):
    """A measure beyond a limit, or outside the band that the standard has for it."""

    measure: str
    above: float | None = None
    below: float | None = None
    outside: Literal["low", "high", "either"] | None = None

    @model_validator(mode="after")
    def _one_side(self) -> Condition:
        if sum(side is not None for side in (self.above, self.below, self.outside)) != 1:
            raise ValueError("a condition needs one of above, below and outside")
        return self

    @property
    def limit(self) -> float:
        """What the measure must go beyond; only of a condition that has a limit of its own."""
        limit = self.above if self.above is not None else self.below
        assert limit is not None
        return limit


class Rule(_Strict):
    """All conditions together for a while make the fault."""

    fault: str
    view: View
    phases: tuple[str, ...]
    min_seconds: float
    families: tuple[str, ...] = ()
    instruments: tuple[str, ...] = ()
    not_schools: tuple[str, ...] = ()
    quiet: bool = False
    all: tuple[Condition, ...]
    note: str


class Fault(_Strict):
    """What a fault is called and what a teacher says about it."""

    id: str
    name: str
    shows: str
    why: str
    first_help: str
    drill: str
    confused_with: str = ""


class MeasureWords(_Strict):
    """What a measure is called on screen and how it is written.

    shown      whether its stave is there at first sight, and with which others
    least      least height of its stave, in its own unit
    from_zero  whether its stave begins at zero
    """

    id: str
    name: str
    stave: str
    decimals: int
    explains: str
    shown: Literal["", "placement", "face", "head"] = ""
    least: float = Field(default=0.0, ge=0)
    from_zero: bool = False


class Observation(_Strict):
    """Something no camera shows, for the teacher to tick.

    by        the sense it is told by
    families  of instruments it is about; empty means all
    caution   what to do at once
    """

    id: str
    by: Literal["ear", "eye", "hand", "asked"]
    words: str
    families: tuple[str, ...] = ()
    caution: str = ""
    note: str


class Observations(_Strict):
    """All observations, in the order in which they are listed."""

    version: int
    observations: tuple[Observation, ...]

    def of(self, family: str) -> tuple[Observation, ...]:
        """Those that make sense on a family of instruments."""
        return tuple(o for o in self.observations if not o.families or family in o.families)


class Limits(_Strict):
    """When a take can't tell."""

    max_yaw: float
    max_pitch: float
    min_phase_seconds: float
    min_visible_share: float
    bridge_seconds: float
    note: str


class Common(_Strict):
    """What all instruments share. ``faults`` stand in the order in which to fix them."""

    version: int
    limits: Limits
    measures: tuple[MeasureWords, ...]
    bands: tuple[Band, ...]
    faults: tuple[Fault, ...]
    rules: tuple[Rule, ...]

    @model_validator(mode="after")
    def _known_faults(self) -> Common:
        known = {fault.id for fault in self.faults}
        for rule in self.rules:
            if rule.fault not in known:
                raise ValueError(f"the rule for {rule.fault!r} has no fault of that id")
            if len(rule.all) > 1 and any(condition.outside for condition in rule.all):
                raise ValueError(f"the rule for {rule.fault!r} may have one band only")
        return self

    def fault(self, fault_id: str) -> Fault:
        """The words for one fault; KeyError if there is none such."""
        for fault in self.faults:
            if fault.id == fault_id:
                return fault
        raise KeyError(fault_id)


class Standard(_Strict):
    """One instrument's standard."""

    version: int
    instrument: str
    name: str
    family: str
    section: str
    arc: int = Field(ge=1, le=4)
    schools: tuple[School, ...]
    bands: tuple[Band, ...]

    def school(self, school_id: str | None) -> School:
        """A school by id, the default when none is asked for."""
        if school_id is None:
            return self.schools[0]
        for school in self.schools:
            if school.id == school_id:
                return school
        known = ", ".join(school.id for school in self.schools)
        raise StandardError(f"{self.name} has no school “{school_id}”. It has: {known}.")

    def has_band(self, measure: str, view: str) -> bool:
        """Whether any band of this instrument is about a measure."""
        return any(
            band.measure == measure and band.view == view for band in (*self.bands, *common().bands)
        )

    def band(self, measure: str, view: str, school: str, phase: str = "hold") -> Band | None:
        """The band that applies; one meant for this school goes before a general one."""
        fitting = [
            band
            for band in (*self.bands, *common().bands)
            if band.measure == measure
            and band.view == view
            and phase in band.phases
            and (not band.schools or school in band.schools)
        ]
        fitting.sort(key=lambda band: not band.schools)
        return fitting[0] if fitting else None


T = TypeVar("T", bound=BaseModel)


def _read(path: Path, model: type[T]) -> T:
    try:
        return model.model_validate(tomllib.loads(path.read_text(encoding="utf-8")))
    except tomllib.TOMLDecodeError as error:
        raise StandardError(f"{path.name}: {error}") from error
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise StandardError(f"{path.name}: {place}: {first['msg']}") from error


@lru_cache(maxsize=1)
def common() -> Common:
    """Limits, words and rules that all instruments share."""
    return _read(DATA / "shared" / "common.toml", Common)


@lru_cache(maxsize=1)
def observations() -> Observations:
    """What a teacher may tick beside what the camera shows."""
    return _read(DATA / "shared" / "observations.toml", Observations)


@lru_cache(maxsize=1)
def standards() -> dict[str, Standard]:
    """All shipped standards by instrument."""
    found = [_read(path, Standard) for path in sorted(DATA.glob("*.toml"))]
    return {standard.instrument: standard for standard in found}


def standard(instrument: str) -> Standard:
    """The standard of one instrument; StandardError names those there are."""
    try:
        return standards()[instrument]
    except KeyError:
        known = ", ".join(standards())
        raise StandardError(
            f"There is no standard for “{instrument}”. Choose one of: {known}."
        ) from None
