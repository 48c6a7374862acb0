"""The rows of the data files of lessons, checked when they are loaded."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from sulvet.core.data_files import Strict
from sulvet.core.judgement.drill_schema import Stage
from sulvet.core.judgement.schema import Applicable
from sulvet.core.measures.catalogue import MeasureId

#: What can be left out while there is too much at once.
Without = Literal["tongue", "loudness", "rhythm"]


class ForSome(Strict):
    """Something meant for some families of instruments, or for some instruments; empty: all."""

    families: tuple[str, ...] = ()
    instruments: tuple[str, ...] = ()

    def suits(self, standard: Applicable) -> bool:
        """Whether it is meant for an instrument."""
        if self.instruments:
            return standard.instrument in self.instruments
        return not self.families or standard.family in self.families


class Passes(Strict):
    """What passes a step; see ``ladder.toml``."""

    by: Literal["tick", "reading", "pitch"]
    measures: tuple[MeasureId, ...] = ()
    stage: Literal["mouthpiece", "instrument"] = "mouthpiece"
    seconds: float = Field(default=0.0, ge=0)
    counts: int = Field(default=0, ge=0)

    @model_validator(mode="after")
    def _complete(self) -> Passes:
        if (self.by == "reading") != bool(self.measures):
            raise ValueError("a reading needs measures, and nothing else has them")
        if (self.by == "pitch") != (bool(self.seconds) != bool(self.counts)):
            raise ValueError("a pitch needs seconds or counts, and nothing else has them")
        return self


class Step(ForSome):
    """One step of the ladder; see ``ladder.toml``."""

    id: str
    name: str
    do: str
    say: str
    look: str
    caution: str = ""
    mistake: str
    remedy: str
    drill: str
    stage: Stage
    passes: Passes
    remedial: bool = False
    needs: Without | None = None


class Ladder(Strict):
    """All rows of all instruments, in the order of the steps."""

    version: int
    early: float = Field(ge=0, lt=0.5)
    steps: tuple[Step, ...]


class SetUpLine(ForSome):
    """One line of a set-up card."""

    id: str
    words: str


class SetUp(Strict):
    """All lines of all cards."""

    version: int
    lines: tuple[SetUpLine, ...]


class Part(Strict):
    """A drill of a routine, and how it is run with a class; see ``routines.toml``."""

    drill: str
    stage: Stage
    echo: bool = False
    hum: bool = False
    silent: bool = False


class Routine(ForSome):
    """Drills in a row."""

    id: str
    name: str
    about: str
    tempo: int
    parts: tuple[Part, ...] = Field(min_length=1)


class Routines(Strict):
    """All routines."""

    version: int
    routines: tuple[Routine, ...]
