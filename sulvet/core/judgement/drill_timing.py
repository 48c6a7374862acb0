"""A drill as it was played against how it is counted: how long each tone or breath lasted."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from sulvet.core.judgement.common import common
from sulvet.core.judgement.drill_schema import Beat, Counting
from sulvet.core.sound.tones import SoundAnalysis

#: What can be heard of a drill; of one that has tones only these, since a breath between
#: them is often too soft for a camera.
TONES, BREATHS = ("tone", "hum"), ("in", "out")


@dataclass(frozen=True)
class TimedBeat:
    """One beat that was heard: when, how many counts it lasted, and how many it should."""

    start: float
    do: Literal["tone", "hum", "in", "out"]
    counts: int
    heard: float
    even: bool


@dataclass(frozen=True)
class DrillTiming:
    """A take held against a drill's counts.

    beats     those that were heard, in order
    expected  how many there would be in the whole drill
    """

    beats: tuple[TimedBeat, ...]
    expected: int

    @property
    def even(self) -> int:
        """How many of those heard last as long as they should."""
        return sum(beat.even for beat in self.beats)


def beats_of(counting: Counting) -> list[Beat]:
    """All beats of a drill in a row."""
    return [beat for one in counting.rounds for _ in range(one.times) for beat in one.beats]


def can_be_heard(counting: Counting) -> bool:
    """Whether anything of the drill makes a sound."""
    return any(beat.do in TONES + BREATHS for beat in beats_of(counting))


def time_drill(analysis: SoundAnalysis, counting: Counting, tempo: float) -> DrillTiming:
    """Hold what is heard against a drill's counts.

    tempo  beats per minute

    A clip may show only some of the rounds: the stretch of the drill counts with which most of
    what is heard is even, the earliest of several.
    """
    limits = common().limits
    wanted = [beat for beat in beats_of(counting) if beat.do in TONES]
    heard = [(tone.start, tone.end) for tone in analysis.tones]
    if not wanted:
        wanted = [beat for beat in beats_of(counting) if beat.do in BREATHS]
        heard = list(analysis.breaths)
    heard = heard[: len(wanted)]

    def against(first: int) -> tuple[TimedBeat, ...]:
        rows = []
        for (start, end), beat in zip(heard, wanted[first:], strict=False):
            assert beat.do != "hold" and beat.do != "rest"
            counts = (end - start) * tempo / 60
            within = max(limits.even_within_counts, limits.even_within_share * beat.counts)
            even = abs(counts - beat.counts) <= within
            rows.append(TimedBeat(start, beat.do, beat.counts, counts, even))
        return tuple(rows)

    tries = [against(first) for first in range(len(wanted) - len(heard) + 1)]
    best = max(tries, key=lambda rows: sum(row.even for row in rows))
    return DrillTiming(best, len(wanted))
