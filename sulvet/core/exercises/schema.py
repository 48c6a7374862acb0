"""The rows of ``exercises.toml``: what an exercise of several tones asks for."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Literal

from pydantic import Field, model_validator

from sulvet.core.data_files import Strict, read_table
from sulvet.core.language import per_language

Do = Literal["tone", "hum", "slide", "siren", "bend", "swell", "in", "out"]
#: Elements that are breaths and no tones; of the tones those that stay on one pitch, and those
#: that move over a range.
BREATHS: tuple[Do, ...] = ("in", "out")
LEVEL: tuple[Do, ...] = ("tone", "hum", "swell")
SLIDING: tuple[Do, ...] = ("slide", "siren")


class Element(Strict):
    """One tone or breath of an exercise; see ``exercises.toml``."""

    do: Do
    counts: int | None = Field(None, ge=1, le=32)
    step: int = 0
    span: int = 0
    by: Literal["student", "teacher"] = "student"


class Exercise(Strict):
    """A row of elements, played so many times; or rows of level tones, any of which will do.

    steps  half steps over the first note, a row each
    """

    id: str
    name: str
    times: int = Field(ge=1, le=20)
    elements: tuple[Element, ...] = ()
    steps: tuple[tuple[int, ...], ...] = ()
    likely: bool = True

    @model_validator(mode="after")
    def _one_of_both(self) -> Exercise:
        if bool(self.elements) == bool(self.steps):
            raise ValueError(f"{self.id!r} needs either elements or steps")
        return self

    @property
    def rows(self) -> tuple[tuple[Element, ...], ...]:
        """What may be played each time."""
        if self.elements:
            return (self.elements,)
        return tuple(tuple(Element(do="tone", step=step) for step in row) for row in self.steps)


class Exercises(Strict):
    """All exercises, and what counts as right."""

    version: int
    in_tune_cents: float
    other_note_cents: float
    swell_db: float
    bend_cents: float
    most_bent_cents: float
    middle_cents: float
    likely_share: float
    likely_tones: int
    pass_share: float = Field(gt=0, le=1)
    exercises: tuple[Exercise, ...]


@dataclass(frozen=True)
class Wanted:
    """One element of a whole exercise, in which round, and when: counts after it all begins.

    at  None where the row is not counted
    """

    element: Element
    round: int
    at: float | None = None


@dataclass(frozen=True)
class Asked:
    """What a take is held against.

    rows  all elements in order; of several the one that fits best
    """

    name: str
    rows: tuple[tuple[Wanted, ...], ...]


def asked(exercise: Exercise) -> Asked:
    """All rounds of an exercise."""
    rows = [
        tuple(Wanted(one, n) for n in range(exercise.times) for one in row) for row in exercise.rows
    ]
    return Asked(exercise.name, tuple(rows))


@per_language
def exercises() -> Exercises:
    """The shipped ones."""
    return read_table(Path(__file__).parent / "data" / "exercises.toml", Exercises)


def exercise(name: str) -> Exercise:
    """One of them. KeyError for a name there is not."""
    found = {one.id: one for one in exercises().exercises}
    return found[name]
