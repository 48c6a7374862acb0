"""The rows of the data files of judgement, checked when they are loaded.

Every figure stands in ``data/*.toml`` with a note of where it comes from; none stands in code.
"""

from __future__ import annotations

from typing import Literal, Protocol

from pydantic import Field, model_validator

from sulvet.core.data_files import Strict
from sulvet.core.language import said
from sulvet.core.measures.catalogue import MeasureId, Views


class School(Strict):
    """One side of a disagreement between teachers."""

    id: str
    name: str
    sentence: str


LipKind = Literal["", "thin", "full"]


class Shift(Strict):
    """By how much the edges of a band move."""

    low: float = 0.0
    high: float = 0.0


class Band(Strict):
    """Where a measure should lie.

    Between ``low`` and ``high`` is in band. Up to ``watch_low`` below or
    ``watch_high`` above is worth watching; farther out is a fault if the
    uncertainty allows to say so. ``full`` and ``thin`` move it for such lips.
    """

    measure: MeasureId
    view: Views = "front"
    phases: tuple[str, ...] = ("hold",)
    low: float | None = None
    high: float | None = None
    watch_low: float = Field(default=0.0, ge=0)
    watch_high: float = Field(default=0.0, ge=0)
    schools: tuple[str, ...] = ()
    full: Shift | None = None
    thin: Shift | None = None
    note: str

    @model_validator(mode="after")
    def _edges(self) -> Band:
        if self.low is None and self.high is None:
            raise ValueError("a band needs a low or a high edge")
        if self.low is not None and self.high is not None and self.low >= self.high:
            raise ValueError("the low edge must lie below the high edge")
        return self

    def moves_with(self, lips: str) -> Shift | None:
        """By how much it moves for full or thin lips; None if it does not."""
        return {"full": self.full, "thin": self.thin}.get(lips)

    def for_lips(self, lips: str) -> Band:
        """The same for full or thin lips."""
        shift = self.moves_with(lips)
        if shift is None:
            return self
        low = None if self.low is None else round(self.low + shift.low, 6)
        high = None if self.high is None else round(self.high + shift.high, 6)
        note = said(
            "{note} Moved for full lips." if lips == "full" else "{note} Moved for thin lips.",
            note=self.note,
        )
        return self.model_copy(update={"low": low, "high": high, "note": note})

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

    measure: MeasureId
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


class Applicable(Protocol):
    """As much of a standard as says whether a rule is about it."""

    @property
    def instrument(self) -> str:
        """Which instrument it is about."""

    @property
    def family(self) -> str:
        """The family that instrument belongs to."""


class Rule(Strict):
    """All conditions together for a while make the fault."""

    fault: str
    view: Views
    phases: tuple[str, ...]
    min_seconds: float
    families: tuple[str, ...] = ()
    instruments: tuple[str, ...] = ()
    not_schools: tuple[str, ...] = ()
    quiet: bool = False
    all: tuple[Condition, ...]
    note: str

    def applies(self, standard: Applicable, view: str, school: str) -> bool:
        """Whether it is about this instrument, seen from this side, by this school."""
        return (
            self.view == view
            and (not self.families or standard.family in self.families)
            and (not self.instruments or standard.instrument in self.instruments)
            and school not in self.not_schools
        )


class Variant(Strict):
    """What is said of a fault to some families of instruments, or on one side of its limit.

    side  whether what was measured lies above its limit or below it
    """

    families: tuple[str, ...] = ()
    side: Literal["above", "below"] | None = None
    name: str = ""
    shows: str = ""
    why: str = ""
    first_help: str = ""
    confused_with: str = ""
    child: str = ""
    drills: tuple[str, ...] = ()

    @property
    def words(self) -> dict[str, object]:
        """What it says otherwise."""
        said = self.model_dump(exclude={"families", "side"})
        return {name: value for name, value in said.items() if value}


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
    variants: tuple[Variant, ...] = ()

    def suits(self, family: str) -> bool:
        """Whether instruments of a family can have it."""
        return not self.families or family in self.families

    def worded(self, family: str, side: str | None = None) -> Fault:
        """The same as it is said to players of a family, and on one side of its limit.

        side  ``above`` or ``below``; None where nothing is measured
        """
        said: dict[str, object] = {}
        for variant in self.variants:
            meant = not variant.families or family in variant.families
            if meant and variant.side in (None, side):
                said |= variant.words
        return self.model_copy(update=said) if said else self


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


class Observation(Strict):
    """Something no camera shows, for the teacher to tick.

    by        the sense it is told by
    families  of instruments it is about; empty means all
    caution   what to do at once
    stops     nothing is corrected until it is well
    fault     what a tick makes a finding of;  after  the step of the ladder that comes first
    """

    id: str
    by: Literal["ear", "eye", "hand", "asked"]
    label: str
    families: tuple[str, ...] = ()
    caution: str = ""
    stops: bool = False
    fault: str = ""
    after: str = ""
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


class Target(Strict):
    """A pitch to aim at: concert pitch by name, at which stage of the set-up.

    Any of several of a stage is right.

    words  of what it is the pitch, where the stage alone does not say so
    size   of the instrument that it is for; empty: the one beginners mostly play
    """

    stage: Literal["lips", "mouthpiece", "neck", "instrument"]
    pitch: str = Field(pattern=r"^[A-G][#b]?[0-8]$")
    words: str = ""
    size: str = ""
    note: str


class Limits(Strict):
    """When a take can't tell, and how even a drill's counts must be."""

    max_yaw: float
    max_pitch: float
    min_phase_seconds: float
    min_visible_share: float
    bridge_seconds: float
    even_within_counts: float
    even_most_share: float
    even_within_share: float
    note: str
