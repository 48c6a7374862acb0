"""What the library is made of, as ``cases.toml`` says it."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from sulvet.core.data_files import Strict, read_table
from sulvet.core.language import per_language

SeenFrom = Literal["front", "side"]
Shown = Literal["front", "side", "ear"]
EAR: Literal["ear"] = "ear"
Level = Literal["clear", "slight", "look-alikes", "mixed", "by-ear"]


class Case(Strict):
    """A fault as it is drawn; see ``cases.toml``."""

    fault: str
    views: tuple[SeenFrom, ...]
    families: tuple[str, ...]
    marks: tuple[str, ...]
    look: str
    moving: bool = False
    pose: dict[str, float] = {}
    holds: dict[str, float] = {}
    of: dict[str, dict[str, float]] = {}

    def suits(self, instrument: str, family: str) -> bool:
        """Whether there is such a fault on an instrument."""
        return (not self.families or family in self.families) and (
            not self.of or instrument in self.of
        )


class Alike(Strict):
    """What looks like a fault and is none."""

    like: str
    views: tuple[SeenFrom, ...]
    because: str
    pose: dict[str, float] = {}
    person: dict[str, float] = {}
    camera: dict[str, float] = {}


class Untold(Strict):
    """What can't be told from where the camera stands."""

    views: tuple[SeenFrom, ...]
    because: str
    pose: dict[str, float] = {}
    camera: dict[str, float] = {}


class Cases(Strict):
    """All of it."""

    version: int
    degrees: tuple[float, float, float]
    cases: tuple[Case, ...]
    alikes: tuple[Alike, ...]
    untold: tuple[Untold, ...]

    def case(self, fault: str) -> Case:
        """A fault as it is drawn; KeyError where it is not."""
        for one in self.cases:
            if one.fault == fault:
                return one
        raise KeyError(fault)


@per_language
def cases() -> Cases:
    """The shipped ones."""
    return read_table(Path(__file__).parent / "data" / "cases.toml", Cases)


class LevelMix(Strict):
    """What a round of a level is made of; see ``rounds.toml``."""

    name: str
    right: int
    alike: int
    untold: int
    two: int
    degrees: tuple[int, ...]


class ScoreFigures(Strict):
    """When something is said of a judge."""

    enough: int
    biased: float


class RoundFigures(Strict):
    """How rounds are made up; see ``rounds.toml``."""

    version: int
    length: int
    oftener: float
    lately: int
    answers: int
    score: ScoreFigures
    levels: dict[Level, LevelMix]


@per_language
def figures() -> RoundFigures:
    """The shipped ones."""
    return read_table(Path(__file__).parent / "data" / "rounds.toml", RoundFigures)
