"""Rehearsal marks: the named stretches a take is cut into."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats

PHASES: tuple[str, ...] = (
    "rest",
    "form",
    "place",
    "breathe",
    "start",
    "hold",
    "change",
    "release",
)


@dataclass(frozen=True)
class Phase:
    """One stretch of a take, seconds from the first frame; both ends included."""

    name: str
    start: float
    end: float

    def __post_init__(self) -> None:
        if self.name not in PHASES:
            raise ValueError(f"unknown phase {self.name!r}; use one of {', '.join(PHASES)}")
        if not self.end > self.start:
            raise ValueError(f"phase {self.name} ends before it starts")

    def holds(self, seconds: Floats) -> Bools:
        """(T,) which of these times fall into the phase."""
        return np.asarray((seconds >= self.start - 1e-6) & (seconds <= self.end + 1e-6))


def frames_of(phases: list[Phase] | tuple[Phase, ...], name: str, seconds: Floats) -> Bools:
    """(T,) which of these times fall into any phase of that name."""
    mask = np.zeros(len(seconds), dtype=bool)
    for phase in phases:
        if phase.name == name:
            mask |= phase.holds(seconds)
    return mask
