"""Which tone of a take is which element of an exercise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.exercises.schema import BREATHS, LEVEL, SLIDING, Element, Wanted, exercises
from sulvet.core.sound.movement import Slide
from sulvet.core.sound.notes import cents
from sulvet.core.sound.tones import SoundAnalysis, Tone

#: What it costs when a tone is no element or an element no tone, and when elements are left out
#: before the first or after the last tone: a clip may show only some of the rounds.
#: The earliest stretch that fits is meant.
EXTRA, MISSING, BEFORE, BEHIND = 1.0, 0.4, 0.002, 0.001
#: What it costs when a tone slides where it should stay or the other way round, is another note,
#: is out of tune, has another length, or comes at another time after the one before.
WRONG_KIND, WRONG_NOTE, OUT_OF_TUNE, WRONG_LENGTH, WRONG_TIME = 0.6, 0.8, 0.3, 0.25, 0.2
#: So many extra tones may follow each other. More than so many tones are not looked at, nor more
#: than so many first notes tried.
MOST_EXTRA, MOST_TONES, MOST_TRIED = 3, 60, 4
#: First notes nearer than this are tried as one, cents.
ALIKE = 30.0
#: A tone, or a breath from when to when, s.
Heard = Tone | tuple[float, float]


def sounding(analysis: SoundAnalysis, wanted: Sequence[Wanted]) -> Sequence[Heard]:
    """What of a take is held against a row: its tones, or the breaths of a row without any."""
    if all(one.element.do in BREATHS for one in wanted):
        return list(analysis.breaths)[: 2 * MOST_TONES]
    return list(analysis.tones)[:MOST_TONES]


def pairs(
    heard: Sequence[Heard],
    wanted: Sequence[Wanted],
    tempo: float,
    first_hz: float | None,
) -> tuple[list[tuple[int, int]], float | None, float]:
    """The alignment of least cost.

    heard     tones, or breaths as (start, end), in order
    wanted    the elements they may be, in order
    tempo     beats per minute
    first_hz  the row's first note where it is known; else the one that fits best is looked for

    Returns pairs of (index of what is heard, index of the element), the first note's pitch in Hz
    (None for breaths and where nothing is heard), and the cost.
    """  # fmt: skip
    if not heard or not wanted:
        return [], first_hz, EXTRA * len(heard)
    spans = np.array([_span(one) for one in heard]) * tempo / 60
    lengths = _lengths(spans[:, 1] - spans[:, 0], wanted)
    starts, apart = spans[:, 0], _apart(wanted)
    tones = [one for one in heard if isinstance(one, Tone)]
    if len(tones) < len(heard):
        found, cost = _path(lengths, starts, apart)
        return found, None, cost
    best: tuple[list[tuple[int, int]], float | None, float] | None = None
    for hz in [first_hz] if first_hz is not None else _first_notes(tones, wanted):
        found, cost = _path(lengths + _pitch(tones, wanted, hz), starts, apart)
        if best is None or cost < best[2] - 1e-9:
            best = found, hz, cost
    assert best is not None
    return best


def _span(one: Heard) -> tuple[float, float]:
    return (one.start, one.end) if isinstance(one, Tone) else one


def _lengths(counts: Floats, wanted: Sequence[Wanted]) -> Floats:
    """(N, M) what lengths cost; ``counts`` (N,) how long each lasts."""
    cost = np.zeros((len(counts), len(wanted)))
    for m, one in enumerate(wanted):
        length = one.element.counts
        if length is not None:
            ratio = np.abs(np.log2(np.maximum(counts, 0.05) / length))
            cost[:, m] = WRONG_LENGTH * np.minimum(ratio, 1.0)
    return cost


@dataclass(frozen=True)
class _Apart:
    """(M, M) counts from one element to another, NaN where that is free; and whether both are of
    one round: between rounds there may be more."""

    counts: Floats
    one_round: Bools

    def off(self, gap: float) -> Floats:
        """(M, M) how far a gap between two tones is from what it should be, counts."""
        off = np.nan_to_num(gap - self.counts)
        return np.where(self.one_round, np.abs(off), np.maximum(-off, 0.0))


def _apart(wanted: Sequence[Wanted]) -> _Apart:
    at = np.array([np.nan if one.at is None else one.at for one in wanted])
    round_ = np.array([one.round for one in wanted])
    return _Apart(at - at[:, None], round_[:, None] == round_)


def _pitch(tones: Sequence[Tone], wanted: Sequence[Wanted], hz: float) -> Floats:
    """(N, M) what kinds of tones and pitches cost, over a first note."""
    limits = exercises()
    above = np.array([cents(tone.hz, hz) for tone in tones])
    slides = np.array([tone.slide is not None for tone in tones])
    bends = np.array([abs(tone.bend) for tone in tones])
    cost = np.zeros((len(tones), len(wanted)))
    # What answers the teacher has no pitch of the row's own.
    answered = any(one.element.by == "teacher" for one in wanted)
    for m, one in enumerate(wanted):
        if one.element.do in SLIDING:
            cost[:, m] = [_sliding(one.element, tone.slide) for tone in tones]
            continue
        off = np.abs(above - 100 * one.element.step) * (not answered)
        cost[:, m] = np.select(
            [off > limits.other_note_cents, off > limits.in_tune_cents],
            [WRONG_NOTE, OUT_OF_TUNE], 0.0,
        )  # fmt: skip
        if one.element.do in LEVEL:
            cost[:, m] += WRONG_KIND * slides
        elif one.element.do == "bend":
            bent = (bends >= limits.bend_cents) & (bends <= limits.most_bent_cents)
            cost[:, m] += WRONG_KIND * ~bent
    return cost


def _sliding(element: Element, slide: Slide | None) -> float:
    """What it costs to take a tone for a slide or a siren."""
    if slide is None or slide.returns != (element.do == "siren"):
        return WRONG_KIND
    return WRONG_NOTE if element.do == "slide" and element.span * slide.back < 0 else 0.0


def _first_notes(tones: Sequence[Tone], wanted: Sequence[Wanted]) -> list[float]:
    """What the row's first note may be, Hz: those over which most tones are notes of the row."""
    steps = sorted({one.element.step for one in wanted})
    level = [tone for tone in tones if tone.slide is None] or list(tones)
    tries: list[tuple[int, int, float]] = []
    for tone in level:
        for step in steps:
            hz = tone.hz * 2 ** (-step / 12)
            if any(abs(cents(hz, known)) < ALIKE for *_, known in tries):
                continue
            near = sum(
                min(abs(cents(one.hz, hz) - 100 * s) for s in steps) <= exercises().other_note_cents
                for one in level
            )
            tries.append((-near, len(tries), hz))
    return [hz for *_, hz in sorted(tries)[:MOST_TRIED]]


def _path(cost: Floats, starts: Floats, apart: _Apart) -> tuple[list[tuple[int, int]], float]:
    """The cheapest way through: pairs in order, and what they cost.

    cost    (N, M) of matching
    starts  (N,) when each begins, counts
    """
    n, m = cost.shape
    ahead = np.arange(m)[None, :] - np.arange(m)[:, None] - 1
    missing = np.where(ahead >= 0, MISSING * ahead, np.inf)
    total = np.full((n, m), np.inf)
    # From which pair the cheapest way to each comes; -1 where it is the first.
    come = np.full((n, m, 2), -1)
    for i in range(n):
        best = EXTRA * i + BEFORE * np.arange(m)
        for k in range(max(i - MOST_EXTRA - 1, 0), i):
            off = np.minimum(apart.off(starts[i] - starts[k]), 1.0)
            ways = total[k][:, None] + missing + WRONG_TIME * off
            ways += EXTRA * (i - k - 1)
            from_ = ways.argmin(axis=0)
            least = ways[from_, np.arange(m)]
            better = least < best - 1e-9
            come[i, better, 0], come[i, better, 1] = k, from_[better]
            best = np.where(better, least, best)
        total[i] = best + cost[i]
    ends = total + EXTRA * np.arange(n)[::-1, None] + BEHIND * np.arange(m)[::-1]
    i, j = (int(v) for v in np.unravel_index(ends.argmin(), ends.shape))
    found, least_of_all = [], float(ends[i, j])
    while i >= 0:
        found.append((i, j))
        i, j = (int(v) for v in come[i, j])
    return found[::-1], least_of_all
