"""Shapes of what the student's page shows and takes."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field

from sulvet.core.drawing.sheet import Drawing, Shape
from sulvet.plans.lessons.shapes import DrillCard, TargetNote

#: How long a word on what was hard may be, characters.
LONGEST = 300


@dataclass(frozen=True)
class PageDay:
    """One day of the two weeks; ticked by the student, by the teacher, or by both."""

    number: int
    date: datetime.date
    off: bool
    mine: bool
    teachers: bool


@dataclass(frozen=True)
class PageExercise:
    """An exercise that was given: its days as the student ticked them."""

    id: int
    name: str
    about: str
    until: datetime.date
    running: bool
    mine: list[datetime.date]
    drills: list[DrillCard]


@dataclass(frozen=True)
class PageReed:
    """A reed in the box, and whether its turn is next."""

    id: int
    slot: int
    strength: str
    last_on: datetime.date | None
    following: bool


@dataclass(frozen=True)
class ThenNow:
    """Two reviewed takes laid over one another.

    drawing   the lines of a mouth, on the sheet of both
    then, now the two mouths on it
    words     how it stands; empty while that can't be told
    pictures  the mouths, then and now, as data URLs; empty where the teacher shows none
    """

    then_on: datetime.date
    now_on: datetime.date
    drawing: Drawing
    then: Shape
    now: Shape
    words: str
    pictures: list[str]


@dataclass(frozen=True)
class Compared:
    """Then and now, where there are two takes to be compared."""

    shown: ThenNow | None


@dataclass(frozen=True)
class PageWord:
    """What the student wrote."""

    day: datetime.date
    text: str


@dataclass(frozen=True)
class PracticePage:
    """All that the page knows.

    focus    the one thing, in a child's words; empty while there is none
    targets  the notes to aim at
    film_on  when the focus is filmed again; None where that is not planned
    caution  what is more important than practising
    """

    name: str
    instrument: str
    focus: str
    drills: list[DrillCard]
    targets: list[TargetNote]
    days: list[PageDay]
    film_on: datetime.date | None
    exercises: list[PageExercise]
    reeds: list[PageReed]
    said: list[PageWord]
    caution: str


@dataclass(frozen=True)
class TickIn:
    """A day of the two weeks, or of an exercise: practised, or not after all."""

    date: datetime.date
    done: bool
    exercise: int | None = None


@dataclass(frozen=True)
class ReedPlayedIn:
    """A reed that was played on a day."""

    reed: int
    date: datetime.date


@dataclass(frozen=True)
class WordIn:
    """What was hard, or why last week's exercise was done again."""

    text: str = field(metadata={"serializer_kwargs": {"max_length": LONGEST}})
    exercise: int | None = None
