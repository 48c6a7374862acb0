"""The rows of ``drills.toml``: what a student practises, at which stages, and how it is counted."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field, model_validator

from sulvet.core.data_files import Strict
from sulvet.core.measures.catalogue import MeasureId


class Beat(Strict):
    """Something done for so many counts."""

    do: Literal["in", "out", "tone", "hum", "hold", "rest"]
    counts: int = Field(ge=1, le=32)


class Round(Strict):
    """Beats one after the other, so many times."""

    times: int = Field(ge=1, le=20)
    beats: tuple[Beat, ...] = Field(min_length=1)


class Counting(Strict):
    """How a drill is counted aloud; ``tempo`` in beats per minute."""

    tempo: int
    rounds: tuple[Round, ...] = Field(min_length=1)


Stage = Literal["lips", "mouthpiece", "instrument"]


class StageWords(Strict):
    """What a drill says at a stage; empty says what it says elsewhere."""

    steps: tuple[str, ...] = ()
    pass_mark: str = ""


class Drill(Strict):
    """What a student does at home; see ``drills.toml``."""

    id: str
    name: str
    steps: tuple[str, ...] = Field(min_length=1)
    counts: str
    minutes: int = Field(ge=1, le=15)
    stages: tuple[Stage, ...] = Field(min_length=1)
    pass_mark: str
    measures: tuple[MeasureId, ...]
    caution: str = ""
    counting: Counting | None = None
    exercise: str = ""
    families: tuple[str, ...] = ()
    breathing: bool = False
    levels: tuple[str, ...] = Field((), max_length=4)
    loud_levels: int = 0
    at: dict[Stage, StageWords] = {}

    @model_validator(mode="after")
    def _words_of_own_stages(self) -> Drill:
        strange = set(self.at) - set(self.stages)
        if strange:
            raise ValueError(f"{self.id!r} is not done at {min(strange)!r}")
        return self

    def suits(self, family: str) -> bool:
        """Whether it is meant for a family of instruments."""
        return not self.families or family in self.families

    def for_stage(self, stage: str) -> Drill:
        """The same in the words of a stage."""
        words = self.at.get(stage)  # type: ignore[call-overload]
        if words is None:
            return self
        return self.model_copy(
            update={
                "steps": words.steps or self.steps,
                "pass_mark": words.pass_mark or self.pass_mark,
            }
        )

    @property
    def seconds(self) -> float | None:
        """How long it takes as it is counted; None where it is not counted."""
        if self.counting is None:
            return None
        counts = sum(r.times * sum(b.counts for b in r.beats) for r in self.counting.rounds)
        return counts * 60 / self.counting.tempo


class Tempo(Strict):
    """Beats per minute: what drills may be counted in, and what is usual."""

    slowest: int
    usual: int
    quickest: int

    def allows(self, tempo: float) -> bool:
        """Whether counting may go so fast."""
        return self.slowest <= tempo <= self.quickest


class Drills(Strict):
    """All drills, and how fast they are counted."""

    version: int
    tempo: Tempo
    drills: tuple[Drill, ...]

    @model_validator(mode="after")
    def _countable(self) -> Drills:
        for drill in self.drills:
            if drill.counting and not self.tempo.allows(drill.counting.tempo):
                raise ValueError(f"{drill.id!r} is counted too slowly or too fast")
            took = drill.seconds
            if took is not None and drill.minutes != math.ceil(took / 60):
                raise ValueError(f"{drill.id!r} takes {took:.0f} s, not {drill.minutes} minutes")
        return self
