"""What a student is led through who films alone; see ``booth.toml``."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from pydantic import Field, model_validator

from sulvet.core.data_files import Strict, read_table
from sulvet.core.language import per_language

PhaseName = Literal["rest", "form", "place", "breathe", "hold", "release"]
#: A count, s: everything is counted at 60.
COUNT = 1.0


class Prompt(Strict):
    """One thing that is asked for."""

    id: str
    phase: PhaseName
    words: str
    side: str = ""
    seconds: float | None = Field(None, gt=0, le=20)
    counts: int | None = Field(None, ge=1, le=32)

    @model_validator(mode="after")
    def _one_of_both(self) -> Prompt:
        if (self.seconds is None) == (self.counts is None):
            raise ValueError(f"{self.id!r} needs either seconds or counts")
        return self


class Booth(Strict):
    """All prompts in order, and how many counts may be played."""

    version: int
    counts: tuple[int, ...] = Field(min_length=1)
    prompts: tuple[Prompt, ...]

    @model_validator(mode="after")
    def _rest_and_play(self) -> Booth:
        phases = [prompt.phase for prompt in self.prompts]
        if "rest" not in phases or "hold" not in phases:
            raise ValueError("Without a relaxed face and a tone there is nothing to read.")
        return self


@per_language
def booth() -> Booth:
    """The shipped one."""
    return read_table(Path(__file__).parent / "data" / "booth.toml", Booth)


def stretches(counts: int) -> dict[PhaseName, tuple[float, float]]:
    """Phase → from when to when it is asked for, s, when so many counts are played."""
    at, found = 0.0, {}
    for prompt in booth().prompts:
        lasts = prompt.seconds
        if lasts is None:
            lasts = COUNT * (counts if prompt.phase == "hold" else prompt.counts or 0)
        found[prompt.phase] = (at, at + lasts)
        at += lasts
    return found
