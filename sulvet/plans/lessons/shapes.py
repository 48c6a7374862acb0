"""Shapes of what lessons answer and take."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field
from typing import Literal

Do = Literal["in", "out", "tone", "hum", "hold", "rest"]
StageName = Literal["lips", "mouthpiece", "instrument"]
StepState = Literal["passed", "now", "ahead"]
#: A text that may be empty.
BLANK = {"serializer_kwargs": {"allow_blank": True}}


@dataclass(frozen=True)
class BeatRow:
    """Something done for so many counts."""

    do: Do
    counts: int


@dataclass(frozen=True)
class CountedRow:
    """A drill counted aloud: its beats one after the other, each as often as it comes."""

    tempo: int
    beats: list[BeatRow]


@dataclass(frozen=True)
class DrillCard:
    """A drill with its steps, in the words of one stage; ``families`` empty: for all."""

    id: str
    name: str
    steps: list[str]
    counts: str
    minutes: int
    pass_mark: str
    caution: str
    stage: StageName
    stages: list[StageName]
    families: list[str]
    levels: list[str]
    breathing: bool
    counting: CountedRow | None


@dataclass(frozen=True)
class TargetNote:
    """A note to aim at, concert pitch; any of several of a stage is right.

    stage_words  what the stage is called on this instrument
    """

    stage: str
    stage_words: str
    pitch: str
    hz: float
    words: str


@dataclass(frozen=True)
class Symptom:
    """Something that may be heard where there is no sound yet."""

    id: str
    label: str


@dataclass(frozen=True)
class BoardStep:
    """One step of the ladder, whatever the instrument."""

    id: str
    name: str


@dataclass(frozen=True)
class BoardRow:
    """Where one student stands.

    step   empty once all are passed;  days  since the student came to it, None if never begun
    heard  where there is no sound yet
    ready  what speaks for passing it, from a take; empty if nothing does
    take   that take
    asks   what may be heard at this step where there is no sound
    """

    student: int
    name: str
    section: str
    instrument: str
    step: str
    days: int | None
    heard: str
    ready: str
    take: int | None
    asks: list[Symptom]


@dataclass(frozen=True)
class Board:
    """The band by ladder: who is stuck longest first."""

    steps: list[BoardStep]
    rows: list[BoardRow]


@dataclass(frozen=True)
class StepCard:
    """One step with all that is said of it."""

    id: str
    name: str
    state: StepState
    passed_on: datetime.date | None
    do: str
    say: str
    look: str
    caution: str
    mistake: str
    remedy: str
    passes: str
    drill: DrillCard
    targets: list[TargetNote]


@dataclass(frozen=True)
class SetUpRow:
    """One line of the set-up card."""

    id: str
    words: str
    ticked: bool


@dataclass(frozen=True)
class Remedy:
    """What to look for where there is no sound, the equipment first."""

    look: str
    help: str
    equipment: bool
    drill: DrillCard


@dataclass(frozen=True)
class GivenRow:
    """A drill or a routine that a student practises.

    name  with its stage, rounds and tempo;  about  its level
    done  as the teacher says;  done_at_home  as the student does
    rises  the next level, once it was done on enough days; empty while not
    """

    id: int
    name: str
    about: str
    given_on: datetime.date
    until: datetime.date
    done: list[datetime.date]
    done_at_home: list[datetime.date]
    running: bool
    again: str
    rises: str
    drills: list[DrillCard]


@dataclass(frozen=True)
class LadderPage:
    """One student's ladder."""

    row: BoardRow
    without: str
    steps: list[StepCard]
    set_up: list[SetUpRow]
    remedies: list[Remedy]
    given: list[GivenRow]


@dataclass(frozen=True)
class PartRow:
    """A drill of a routine, and how it is run with a class.

    on  what it is done on, in words
    """

    drill: DrillCard
    on: str
    echo: bool
    hum: bool
    silent: bool


@dataclass(frozen=True)
class RoutineRow:
    """Drills in a row; ``instruments`` for which it is meant, empty: all."""

    id: str
    name: str
    about: str
    tempo: int
    instruments: list[str]
    parts: list[PartRow]
    targets: list[TargetNote]


@dataclass(frozen=True)
class Library:
    """All drills and routines."""

    drills: list[DrillCard]
    routines: list[RoutineRow]


@dataclass(frozen=True)
class MoveIn:
    """Pass the step these students are at, take them back one, or say what is heard."""

    students: list[int]
    do: Literal["pass", "back", "no-sound"]
    heard: str = field(default="", metadata=BLANK)


@dataclass(frozen=True)
class StandingIn:
    """Ticked lines of the set-up card; what is left out. None leaves either as it is."""

    set_up: list[str] | None = None
    without: Literal["", "tongue", "loudness", "rhythm"] | None = None


@dataclass(frozen=True)
class GiveIn:
    """A drill or a routine for some students, for so many days."""

    students: list[int]
    drill: str = field(default="", metadata=BLANK)
    routine: str = field(default="", metadata=BLANK)
    stage: Literal["", "lips", "mouthpiece", "instrument"] = ""
    tempo: int | None = field(default=None)
    rounds: int | None = field(
        default=None, metadata={"serializer_kwargs": {"min_value": 1, "max_value": 20}}
    )
    level: int = field(default=0, metadata={"serializer_kwargs": {"min_value": 0, "max_value": 9}})
    days: int = field(default=7, metadata={"serializer_kwargs": {"min_value": 1, "max_value": 60}})


@dataclass(frozen=True)
class DoneIn:
    """A day on which it was done, or not."""

    date: datetime.date
    done: bool


@dataclass(frozen=True)
class AgainIn:
    """Why last week's exercise is handed in again."""

    why: str = field(metadata={"serializer_kwargs": {"max_length": 200}})
