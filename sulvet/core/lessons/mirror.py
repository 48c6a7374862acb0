"""One cue at a time to one who plays before the mirror, and none that flickers."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from pathlib import Path

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import per_language
from sulvet.core.measures.catalogue import MeasureId


class Cue(Strict):
    """What is said of one measure; see ``mirror.toml``."""

    measure: MeasureId
    high: str = ""
    low: str = ""


class Cues(Strict):
    """All cues, the first to be said first, and when they change."""

    version: int
    good: str
    steady: float
    back: float
    cues: tuple[Cue, ...]


@per_language
def cues() -> Cues:
    """The shipped ones."""
    return read_table(Path(__file__).parent / "data" / "mirror.toml", Cues)


@dataclass(frozen=True)
class Shown:
    """What the mirror says: the cue, and what is about to replace it.

    words   of the cue; ``cues().good`` while all is right; empty while nothing can be told
    next    what would be said now;  since  for how long that has been so, s
    held    for how long the shape has been good, s
    """

    words: str = ""
    next: str = ""
    since: float = 0.0
    held: float = 0.0


def cue_for(
    values: Mapping[str, float], standard: Standard, view: str, school: str, shown: str = "",
    first: Collection[str] = (),
) -> str:  # fmt: skip
    """What to say of some measures now; empty where none of them can be told.

    values  measure → value, only of what is surely seen
    shown   what is said already: it stays until the measure is well back
    first   measures of what the student works on: said before all others
    """
    told, asked, seen = False, False, False
    for cue in sorted(cues().cues, key=lambda one: one.measure not in first):
        value, band = values.get(cue.measure), standard.band(cue.measure, view, school)
        worked_on = cue.measure in first and band is not None
        asked |= worked_on
        if value is None or band is None:
            continue
        told, seen = True, seen or worked_on
        for words, edge, margin, way in (
            (cue.high, band.high, band.watch_high, 1.0), (cue.low, band.low, band.watch_low, -1.0),
        ):  # fmt: skip
            if not words or edge is None:
                continue
            # Beyond the limit it is said; back within the limit by a part of the margin it goes.
            least = edge - way * cues().back * margin if words == shown else edge + way * margin
            if (value - least) * way > 0:
                return words
    # What is worked on is good only where it is seen.
    return cues().good if told and (seen or not asked) else ""


def steady(before: Shown, now: str, passed: float) -> Shown:
    """What is said next: a change counts once it has stood for a while.

    now     what would be said of this moment alone
    passed  s since the moment before
    """
    since = before.since + passed if now == before.next else 0.0
    changes = since >= cues().steady or not before.words
    words = now if changes else before.words
    good = words == cues().good
    return Shown(words, now, since, before.held + passed if good else 0.0)
