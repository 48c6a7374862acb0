"""One thing that is shown in a round: a short film, or a tone, whose truth is known."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.eye.schema import Shown

#: An instrument that has no films of its own is practised on those of one held alike.
PLAYED_AS = {
    "bass-clarinet": "clarinet", "cornet": "trumpet", "euphonium": "trombone", "tuba": "trombone",
}  # fmt: skip
FAULT, RIGHT, ALIKE, UNTOLD = "fault", "right", "alike", "untold"


@dataclass(frozen=True)
class Loop:
    """One of them.

    view     seen from the front or from the side, or heard
    faults   ids of what is wrong; none for what is right, a look-alike, or what can't be told
    degree   0 slight, 1 clear, 2 strong; None without a fault
    kind     ``fault``, ``right``, ``alike`` or ``untold``
    like     the fault that a look-alike looks like;  because  why it is none, or can't be told
    """

    id: str
    instrument: str
    view: Shown
    kind: str
    faults: tuple[str, ...] = ()
    degree: int | None = None
    like: str = ""
    because: str = ""


def filmed_on(instrument: str) -> str:
    """The instrument on whose films an instrument is practised."""
    return PLAYED_AS.get(instrument, instrument)
