"""What stands on a slip, before it is put on paper."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field

from sulvet.core.drawing.sheet import Drawing

STOP = (
    "Stop and tell your teacher if your jaw, teeth, lips or face hurt, if a lip goes numb, "
    "or if you feel dizzy. Rest your lips as long as you have played. Never share a "
    "mouthpiece or reed that has not been cleaned."
)


@dataclass(frozen=True)
class Picture:
    """A photograph of the mouth, JPEG, with what stands under it."""

    jpeg: bytes
    words: str


@dataclass(frozen=True)
class Steps:
    """A drill as a child follows it.

    how  with what, how often and how fast
    """

    name: str
    minutes: int
    how: str
    steps: tuple[str, ...]
    passed: str
    caution: str = ""


@dataclass(frozen=True)
class StripDay:
    """One day to tick."""

    number: int
    date: datetime.date
    off: bool = False
    done: bool = False
    recheck: bool = False


@dataclass(frozen=True)
class Slip:
    """All that stands on one student's page.

    child     the focus in a child's words
    pictures  one or two, the older first
    drawing   the measured drawing, and ``values`` written into it, by measure
    change    how it stands against the older picture, for the student
    figures   the same in figures, for whoever wants them
    address   of the student's page or for sending clips; empty where a phone can't reach it
    """

    student: str
    about: str
    made_on: datetime.date
    focus: str
    child: str
    pictures: tuple[Picture, ...]
    drawing: Drawing | None
    values: dict[str, str]
    change: str
    figures: str
    drills: tuple[Steps, ...]
    days: tuple[StripDay, ...]
    rechecks: tuple[datetime.date, ...]
    cautions: tuple[str, ...] = field(default=())
    address: str = ""
