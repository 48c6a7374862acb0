"""Shapes of what practising the eye shows and takes."""

from __future__ import annotations

from dataclasses import dataclass, field

from sulvet.core.eye.schema import Level, Shown


@dataclass(frozen=True)
class Named:
    """An id with its words."""

    id: str
    name: str


@dataclass(frozen=True)
class Mark:
    """Where to look, shares of the picture's width and height."""

    x: float
    y: float


@dataclass(frozen=True)
class Truth:
    """What is true of a loop, once something was said of it.

    right    whether that was all of it and nothing else
    said     in words;  truth  in words
    look     what to look at;  because  why a look-alike is none, or what hides it
    marks    where to look
    """

    right: bool
    said: str
    truth: str
    look: str
    because: str
    marks: list[Mark]


@dataclass(frozen=True)
class RoundItem:
    """One loop of a round; ``truth`` is None until something was said of it."""

    place: int
    view: Shown
    film: str
    options: list[Named]
    truth: Truth | None


@dataclass(frozen=True)
class RoundPage:
    """A round; its level in words. ``summary`` stands there once all of it was judged."""

    id: int
    instrument: str
    level: str
    items: list[RoundItem]
    summary: str


@dataclass(frozen=True)
class FaultRow:
    """How one fault is seen.

    hits, present    how often it was said where it was;  alarms, absent  where it was not
    sensitivity      d' with its interval, in words;  bias  in words; both empty with too few takes
    seen_at          from which degree on it is seen half of the time, in words
    """

    name: str
    hits: int
    present: int
    alarms: int
    absent: int
    sensitivity: str
    bias: str
    seen_at: str


@dataclass(frozen=True)
class WeekRow:
    """A week: how many loops were judged, and how many of them rightly."""

    week: str
    judged: int
    right: int


@dataclass(frozen=True)
class EyePage:
    """Where a teacher stands.

    open     a round that was begun and not finished, None without one
    oneself  agreement with oneself, in words; empty with too few repeats
    practise what to practise next, in words; empty while nothing was judged
    own      agreement on takes of the own students, in words; empty with too few looked at first
    """

    instruments: list[Named]
    levels: list[Named]
    open: int | None
    faults: list[FaultRow]
    weeks: list[WeekRow]
    oneself: str
    practise: str
    own: str


@dataclass(frozen=True)
class GalleryLoop:
    """A loop of the gallery, with where to look."""

    id: str
    film: str
    words: str
    marks: list[Mark]


@dataclass(frozen=True)
class GalleryRow:
    """A fault in three degrees, and what looks like it; or how it looks when it is right."""

    name: str
    view: Shown
    look: str
    loops: list[GalleryLoop]
    alike: GalleryLoop | None


@dataclass(frozen=True)
class OpenRound:
    """A round for anybody who has its address; nothing of it is kept."""

    instrument: str
    items: list[RoundItem]
    summary: str


@dataclass(frozen=True)
class OpenLink:
    """Where such a round is."""

    address: str


@dataclass(frozen=True)
class RoundIn:
    """Which round."""

    instrument: str
    level: Level


@dataclass(frozen=True)
class SaidIn:
    """What is said of one loop: faults, none of them, or that it can't be told."""

    place: int
    faults: list[str]
    untold: bool
    seconds: float = field(
        default=0.0, metadata={"serializer_kwargs": {"min_value": 0, "max_value": 86400}}
    )


@dataclass(frozen=True)
class AllSaidIn:
    """What was said of an open round so far."""

    said: list[SaidIn]
