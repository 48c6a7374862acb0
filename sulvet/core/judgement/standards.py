"""Standards: bands, schools and rules, read from data files and checked on load.

A standard says what is right on one instrument. Every figure stands in
``data/*.toml`` with a note of where it comes from; none stands in code.
"""

from __future__ import annotations

import tomllib
from functools import cached_property, lru_cache
from pathlib import Path
from typing import Literal, TypeVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError, model_validator

DATA = Path(__file__).parent / "data"
View = Literal["front", "side", "close-up", "sound"]


class StandardError(ValueError):
    """A standards file is wrong; the message names the file and the place."""


class Strict(BaseModel):
    """A row of a data file: nothing unknown in it, never changed."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class School(Strict):
    """One side of a disagreement between teachers."""

    id: str
    name: str
    sentence: str


class Band(Strict):
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

    @property
    def key(self) -> str:
        """What it is about, in one word: measure, view, phases and schools."""
        return "|".join((self.measure, self.view, ",".join(self.phases), ",".join(self.schools)))


class Edges(Strict):
    """The figures of a band that a teacher may change."""

    low: float | None = None
    high: float | None = None
    watch_low: float = Field(default=0.0, ge=0)
    watch_high: float = Field(default=0.0, ge=0)


class Condition(Strict):
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


class Rule(Strict):
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

    def applies(self, standard: Standard, view: str, school: str) -> bool:
        """Whether it is about this instrument, seen from this side, by this school."""
        return (
            self.view == view
            and (not self.families or standard.family in self.families)
            and (not self.instruments or standard.instrument in self.instruments)
            and school not in self.not_schools
        )


class Fault(Strict):
    """What a fault is called and what a teacher says about it; see ``faults.toml``."""

    id: str
    group: str
    name: str
    shows: str
    why: str
    first_help: str
    confused_with: str = ""
    child: str
    drills: tuple[str, ...] = Field(min_length=1)
    causes: tuple[str, ...] = ()
    families: tuple[str, ...] = ()


class Faults(Strict):
    """All faults in the order in which to fix them, and the groups they come in."""

    version: int
    groups: tuple[str, ...]
    faults: tuple[Fault, ...]

    @model_validator(mode="after")
    def _in_order(self) -> Faults:
        places = {fault.id: place for place, fault in enumerate(self.faults)}
        if len(places) < len(self.faults):
            raise ValueError("two faults have one id")
        reached = 0
        for fault in self.faults:
            if fault.group not in self.groups:
                raise ValueError(f"{fault.id!r} has a group that is not listed: {fault.group!r}")
            if self.groups.index(fault.group) < reached:
                raise ValueError(f"{fault.id!r} stands after a later group")
            reached = self.groups.index(fault.group)
            for cause in fault.causes:
                if places.get(cause, len(places)) >= places[fault.id]:
                    raise ValueError(f"{fault.id!r} can't come from {cause!r}: it stands later")
        return self


#: Tempos that drills are counted in, counts a minute.
SLOWEST, QUICKEST = 30, 160


class Beat(Strict):
    """Something done for so many counts."""

    do: Literal["in", "out", "tone", "hold", "rest"]
    counts: int = Field(ge=1, le=32)


class Round(Strict):
    """Beats one after the other, so many times."""

    times: int = Field(ge=1, le=20)
    beats: tuple[Beat, ...] = Field(min_length=1)


class Counting(Strict):
    """How a drill is counted aloud; ``tempo`` in counts a minute."""

    tempo: int = Field(default=60, ge=SLOWEST, le=QUICKEST)
    rounds: tuple[Round, ...] = Field(min_length=1)


class Drill(Strict):
    """What a student does at home; see ``drills.toml``."""

    id: str
    name: str
    steps: tuple[str, ...] = Field(min_length=1)
    counts: str
    minutes: int = Field(ge=1, le=15)
    stages: tuple[Literal["lips", "mouthpiece", "instrument"], ...] = Field(min_length=1)
    pass_mark: str
    measures: tuple[str, ...]
    caution: str = ""
    counting: Counting | None = None


class Drills(Strict):
    """All drills."""

    version: int
    drills: tuple[Drill, ...]


class MeasureWords(Strict):
    """What a measure is called on screen and how it is written.

    shown      whether its stave is there at first sight, and with which others
    least      least height of its stave, in its own unit
    from_zero  whether its stave begins at zero
    subject, less, more  how a change is told, “Corners 6 degrees lower”; empty: the name
    """

    id: str
    name: str
    stave: str
    decimals: int
    explains: str
    shown: Literal["", "placement", "face", "head"] = ""
    least: float = Field(default=0.0, ge=0)
    from_zero: bool = False
    subject: str = ""
    less: str = "lower"
    more: str = "higher"


class Observation(Strict):
    """Something no camera shows, for the teacher to tick.

    by        the sense it is told by
    families  of instruments it is about; empty means all
    caution   what to do at once
    stops     nothing is corrected until it is well
    """

    id: str
    by: Literal["ear", "eye", "hand", "asked"]
    words: str
    families: tuple[str, ...] = ()
    caution: str = ""
    stops: bool = False
    note: str


class Observations(Strict):
    """All observations, in the order in which they are listed."""

    version: int
    observations: tuple[Observation, ...]

    def of(self, family: str) -> tuple[Observation, ...]:
        """Those that make sense on a family of instruments."""
        return tuple(o for o in self.observations if not o.families or family in o.families)


class Cause(Strict):
    """Something to look for when a sound is heard; see ``triage.toml``."""

    heard: str
    look: str
    help: str
    drill: str
    families: tuple[str, ...] = ()
    seen: tuple[str, ...] = ()
    equipment: bool = False


class _Triage(Strict):
    version: int
    causes: tuple[Cause, ...]


class Limits(Strict):
    """When a take can't tell, and how even a drill's counts must be."""

    max_yaw: float
    max_pitch: float
    min_phase_seconds: float
    min_visible_share: float
    bridge_seconds: float
    even_within_counts: float
    even_within_share: float
    note: str


class _Measures(Strict):
    measures: tuple[MeasureWords, ...]


class _Rules(Strict):
    rules: tuple[Rule, ...]


class _Shared(Strict):
    version: int
    limits: Limits
    bands: tuple[Band, ...]


class Common(Strict):
    """What all instruments share. ``faults`` stand in the order in which to fix them."""

    version: int
    limits: Limits
    measures: tuple[MeasureWords, ...]
    bands: tuple[Band, ...]
    groups: tuple[str, ...]
    faults: tuple[Fault, ...]
    rules: tuple[Rule, ...]
    drills: tuple[Drill, ...]

    @model_validator(mode="after")
    def _known_faults(self) -> Common:
        known = {fault.id for fault in self.faults}
        for rule in self.rules:
            if rule.fault not in known:
                raise ValueError(f"the rule for {rule.fault!r} has no fault of that id")
            if len(rule.all) > 1 and any(condition.outside for condition in rule.all):
                raise ValueError(f"the rule for {rule.fault!r} may have one band only")
        drills, measures = {d.id for d in self.drills}, {m.id for m in self.measures}
        for fault in self.faults:
            for drill in fault.drills:
                if drill not in drills:
                    raise ValueError(f"{fault.id!r} has a drill that there is not: {drill!r}")
        for one in self.drills:
            for measure in one.measures:
                if measure not in measures:
                    raise ValueError(f"the drill {one.id!r} has no such measure: {measure!r}")
        return self

    def fault(self, fault_id: str) -> Fault:
        """The words for one fault; KeyError if there is none such."""
        for fault in self.faults:
            if fault.id == fault_id:
                return fault
        raise KeyError(fault_id)

    def drill(self, drill_id: str) -> Drill:
        """One drill; KeyError if there is none such."""
        for drill in self.drills:
            if drill.id == drill_id:
                return drill
        raise KeyError(drill_id)

    def place(self, fault_id: str) -> int:
        """Where a fault stands in the order of fixing; one that is not known any more last."""
        return self._places.get(fault_id, len(self.faults))

    @cached_property
    def _places(self) -> dict[str, int]:
        return {fault.id: place for place, fault in enumerate(self.faults)}


class Target(Strict):
    """A pitch to aim at: concert pitch by name, at which stage of the set-up."""

    stage: Literal["lips", "mouthpiece", "neck", "instrument"]
    pitch: str = Field(pattern=r"^[A-G][#b]?[0-8]$")
    note: str


class Standard(Strict):
    """One instrument's standard.

    film     views worth filming, the more telling first
    targets  pitches to aim at
    """

    version: int
    instrument: str
    name: str
    family: str
    section: str
    arc: int = Field(ge=1, le=4)
    film: tuple[View, ...] = Field(min_length=1)
    targets: tuple[Target, ...] = ()
    schools: tuple[School, ...]
    bands: tuple[Band, ...]
    #: Counts a teacher's own versions of it; 0 is the shipped one.
    edition: int = 0

    @property
    def label(self) -> str:
        """Instrument and version, with the teacher's own where there is one."""
        own = f".{self.edition}" if self.edition else ""
        return f"{self.instrument} {self.version}{own}"

    @property
    def all_bands(self) -> tuple[Band, ...]:
        """Its own bands, and those all instruments share that it says nothing about."""
        mine = {band.key for band in self.bands}
        return (*self.bands, *(b for b in common().bands if b.key not in mine))

    def changed(self, edges: dict[str, Edges], edition: int) -> Standard:
        """The same with other figures for some bands, by their ``key``.

        StandardError for a band there is not, or figures that can't be.
        """
        known = {band.key: band for band in self.all_bands}
        new = dict(known)
        for key, figures in edges.items():
            if key not in known:
                raise StandardError(f"{self.name} has no band “{key}”.")
            try:
                new[key] = Band.model_validate(known[key].model_dump() | figures.model_dump())
            except ValidationError as error:
                told = error.errors()[0]["msg"].removeprefix("Value error, ")
                raise StandardError(f"{known[key].measure}: {told}.") from error
        mine = {band.key for band in self.bands} | set(edges)
        bands = tuple(band for key, band in new.items() if key in mine)
        return self.model_copy(update={"bands": bands, "edition": edition})

    def with_school_first(self, school_id: str) -> Standard:
        """The same with another school as the default; an empty id changes nothing."""
        if not school_id:
            return self
        first = self.school(school_id)
        others = tuple(s for s in self.schools if s != first)
        return self.model_copy(update={"schools": (first, *others)})

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


class _Derived(Strict):
    """A standard that says only what differs from another one."""

    version: int
    base: str
    instrument: str
    name: str
    section: str
    arc: int = Field(ge=1, le=4)
    targets: tuple[Target, ...] = ()
    schools: tuple[School, ...] = ()
    bands: tuple[Band, ...] = ()


T = TypeVar("T", bound=BaseModel)


def read_table(path: Path, model: type[T]) -> T:
    """A data file as its model; StandardError with file and line where it does not fit."""
    text = path.read_text(encoding="utf-8")
    try:
        return model.model_validate(tomllib.loads(text))
    except tomllib.TOMLDecodeError as error:
        raise StandardError(f"{path.name}: {error}") from error
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        line = _line(text, first["loc"])
        raise StandardError(f"{path.name}, line {line}: {place}: {first['msg']}") from error


def _read_standard(path: Path) -> Standard:
    """A standard, with what it does not say itself taken from its ``base``.

    A band of its own takes the place of the base's band for the same measure, view and
    schools.
    """
    own = tomllib.loads(path.read_text(encoding="utf-8"))
    if "base" not in own:
        return read_table(path, Standard)
    known = DATA / f"{own['base']}.toml"
    if not known.exists():
        raise StandardError(f"{path.name}: there is no standard “{own['base']}” to build on.")
    base = read_table(known, Standard)
    part = read_table(path, _Derived)
    mine = {(band.measure, band.view, band.schools) for band in part.bands}
    kept = tuple(b for b in base.bands if (b.measure, b.view, b.schools) not in mine)
    return base.model_copy(
        update={
            "version": part.version,
            "instrument": part.instrument,
            "name": part.name,
            "section": part.section,
            "arc": part.arc,
            "schools": part.schools or base.schools,
            # A pitch of the base is not the pitch of what is built on it.
            "targets": part.targets,
            "bands": (*part.bands, *kept),
        }
    )


def _line(text: str, loc: tuple[int | str, ...]) -> int:
    """The line of a TOML text that a place such as ``("bands", 3, "low")`` speaks of.

    >>> _line("version = 1\\n[[bands]]\\nlow = 1\\n[[bands]]\\nlow = 2", ("bands", 1, "low"))
    5
    """
    lines = text.splitlines()
    at = 0
    if len(loc) > 1 and isinstance(loc[1], int):
        headers = [n for n, line in enumerate(lines) if line.strip() == f"[[{loc[0]}]]"]
        at = headers[loc[1]] if loc[1] < len(headers) else 0
    keys = [str(part) for part in loc if isinstance(part, str)]
    for n in range(at, len(lines)):
        if n > at and lines[n].startswith("[["):
            break
        if lines[n].split("=")[0].strip() == keys[-1]:
            return n + 1
    return at + 1


@lru_cache(maxsize=1)
def common() -> Common:
    """Limits, words and rules that all instruments share."""
    shared = DATA / "shared"
    base = read_table(shared / "common.toml", _Shared)
    faults = read_table(shared / "faults.toml", Faults)
    try:
        return Common(
            version=base.version,
            limits=base.limits,
            bands=base.bands,
            measures=read_table(shared / "measures.toml", _Measures).measures,
            groups=faults.groups,
            faults=faults.faults,
            rules=read_table(shared / "rules.toml", _Rules).rules,
            drills=read_table(shared / "drills.toml", Drills).drills,
        )
    except ValidationError as error:
        raise StandardError(f"{shared.name}: {error.errors()[0]['msg']}") from error


@lru_cache(maxsize=1)
def observations() -> Observations:
    """What a teacher may tick beside what the camera shows."""
    return read_table(DATA / "shared" / "observations.toml", Observations)


@lru_cache(maxsize=1)
def triage_causes() -> tuple[Cause, ...]:
    """What to look for by what is heard. StandardError for a word there is not."""
    path = DATA / "shared" / "triage.toml"
    causes = read_table(path, _Triage).causes
    heard = {one.id for one in observations().observations}
    faults, drills = {f.id for f in common().faults}, {d.id for d in common().drills}
    for cause in causes:
        strange = ({cause.heard} - heard) | (set(cause.seen) - faults) | ({cause.drill} - drills)
        if strange:
            raise StandardError(f"{path.name}: {cause.heard}: there is no “{min(strange)}”.")
    return causes


@lru_cache(maxsize=1)
def shipped_standards() -> dict[str, Standard]:
    """All shipped standards by instrument."""
    found = [_read_standard(path) for path in sorted(DATA.glob("*.toml"))]
    return {standard.instrument: standard for standard in found}


def shipped_standard(instrument: str) -> Standard:
    """The standard of one instrument; StandardError names those there are."""
    try:
        return shipped_standards()[instrument]
    except KeyError:
        known = ", ".join(shipped_standards())
        raise StandardError(
            f"There is no standard for “{instrument}”. Choose one of: {known}."
        ) from None
