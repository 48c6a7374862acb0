"""An exercise as it was played: each of its elements right, or what is wrong with it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from sulvet.core.exercises.align import Heard, pairs, sounding
from sulvet.core.exercises.schema import (
    BREATHS,
    SLIDING,
    Asked,
    Do,
    Element,
    Wanted,
    asked,
    exercises,
)
from sulvet.core.judgement.common import common
from sulvet.core.sound.notes import cents
from sulvet.core.sound.tones import SoundAnalysis, Tone

#: What speaks against a row for each of its elements that is missing of a round that was begun.
UNHEARD = 0.2

Wrong = Literal[
    "missing", "extra", "early", "late", "short", "long", "sharp", "flat", "another note",
    "a slide", "no slide", "wrong way", "too small", "in steps", "does not come back",
]  # fmt: skip


@dataclass(frozen=True)
class Place:
    """One place of the row.

    start, end  of what was heard there, s; None where nothing was
    heard       how many counts it lasts;  counts  how many it should, None where that is free
    cents       over where the row wants it; None where that can't be told
    hz          its pitch; None for a breath, a slide and what is missing
    wrong       what is wrong with it; empty where it is right
    by          who plays it; the teacher's own are not judged
    """

    do: Do
    round: int
    start: float | None
    end: float | None
    heard: float | None
    counts: int | None
    cents: float | None
    wrong: tuple[Wrong, ...]
    hz: float | None = None
    by: Literal["student", "teacher"] = "student"

    @property
    def right(self) -> bool:
        """Whether nothing is wrong with it."""
        return not self.wrong


@dataclass(frozen=True)
class Row:
    """An exercise held against a take.

    places    in order: what was heard of it, and what is missing of the rounds that were begun
    expected  how many elements the whole of it has
    """

    name: str
    places: tuple[Place, ...]
    expected: int

    @property
    def judged(self) -> tuple[Place, ...]:
        """The student's own places."""
        return tuple(one for one in self.places if one.by == "student")

    @property
    def right(self) -> int:
        """How many of them are right."""
        return sum(one.right for one in self.judged)

    @property
    def missing(self) -> int:
        """How many of them were not heard."""
        return sum(one.start is None for one in self.judged)

    @property
    def passed(self) -> bool:
        """Whether enough of them are right; not where nothing was heard."""
        there = self.judged
        return bool(there) and self.right >= exercises().pass_share * len(there) - 1e-9


def row_of(
    analysis: SoundAnalysis, exercise: Asked, tempo: float, first_hz: float | None = None
) -> Row:
    """Hold what is heard of a take against an exercise.

    tempo     beats per minute
    first_hz  the row's first note where it is known

    A clip may show only some of the rounds: the stretch that fits best, the earliest of several.
    """
    return _best(analysis, exercise, tempo, first_hz)[0]


def likeliest(analysis: SoundAnalysis, tempo: float, first_hz: float | None = None) -> Row | None:
    """The exercise a take most likely shows; None where it is like none of them."""
    limits, tones = exercises(), analysis.tones
    slid = len(tones) == 1 and tones[0].slide is not None
    least = 1 if slid else limits.likely_tones
    best: tuple[float, Row] | None = None
    for one in limits.exercises:
        if not one.likely or len(tones) < least:
            continue
        row, cost = _best(analysis, asked(one), tempo, first_hz)
        there = [place for place in row.judged if place.start is not None]
        if len(there) < least or row.right < limits.likely_share * len(row.judged):
            continue
        # What is missing of a round costs the alignment little; here it speaks against the row.
        cost += UNHEARD * (len(row.judged) - len(there))
        if best is None or cost < best[0] - 1e-9:
            best = cost, row
    return None if best is None else best[1]


def _best(
    analysis: SoundAnalysis, exercise: Asked, tempo: float, first_hz: float | None
) -> tuple[Row, float]:
    """The row of least cost among those that will do, and its cost."""
    tries = [_row(analysis, exercise.name, wanted, tempo, first_hz) for wanted in exercise.rows]
    return min(tries, key=lambda one: one[1] + UNHEARD * one[0].missing)


def _row(
    analysis: SoundAnalysis, name: str, wanted: tuple[Wanted, ...], tempo: float,
    first_hz: float | None,
) -> tuple[Row, float]:  # fmt: skip
    heard = sounding(analysis, wanted)
    if not all(one.element.do in BREATHS for one in wanted):
        # A breath between tones is often too soft for a camera.
        wanted = tuple(one for one in wanted if one.element.do not in BREATHS)
    found, hz, cost = pairs(heard, wanted, tempo, first_hz)
    if first_hz is None and hz is not None:
        hz = _centred(heard, wanted, found, hz)
    begun = {wanted[m].round for _, m in found}
    used, by_element = dict(found), {m: n for n, m in found}
    places: list[Place] = []
    ahead = 0
    for m, one in enumerate(wanted):
        if m in by_element:
            n = by_element[m]
            places += _extras(heard, range(ahead, n), used, tempo, one.round)
            ahead = n + 1
            places.append(_place(heard, wanted, by_element, m, tempo, hz))
        elif one.round in begun and one.element.do not in BREATHS:
            e = one.element
            places.append(
                Place(e.do, one.round, None, None, None, e.counts, None, ("missing",), by=e.by)
            )
    if places:
        places += _extras(heard, range(ahead, len(heard)), used, tempo, places[-1].round)
    return Row(name, tuple(places), len(wanted)), cost


def _extras(
    heard: Sequence[Heard], which: range, used: dict[int, int], tempo: float,
    round_: int,
) -> list[Place]:  # fmt: skip
    """Tones that are no element; breaths between those of a row are nobody's fault."""
    out = []
    for n in which:
        one = heard[n]
        if n not in used and isinstance(one, Tone):
            counts = one.seconds * tempo / 60
            out.append(Place("tone", round_, one.start, one.end, counts, None, None, ("extra",)))
    return out


def _centred(
    heard: Sequence[Heard], wanted: Sequence[Wanted],
    found: list[tuple[int, int]], hz: float,
) -> float:  # fmt: skip
    """The first note moved so that the row's notes lie about it."""
    off = [
        cents(tone.hz, hz) - 100 * wanted[m].element.step
        for n, m in found
        if isinstance(tone := heard[n], Tone) and tone.slide is None
    ]
    near = [one for one in off if abs(one) <= exercises().other_note_cents]
    return hz * 2 ** (float(np.median(near)) / 1200) if near else hz


def _place(
    heard: Sequence[Heard], wanted: Sequence[Wanted],
    by_element: dict[int, int], m: int, tempo: float, hz: float | None,
) -> Place:  # fmt: skip
    """One element that was heard, and what is wrong with it."""
    one, tone = wanted[m], heard[by_element[m]]
    element = one.element
    start, end = (tone.start, tone.end) if isinstance(tone, Tone) else tone
    counts = (end - start) * tempo / 60
    above = None
    wrong: list[Wrong] = []
    if isinstance(tone, Tone):
        if hz is not None and element.do not in SLIDING:
            above = cents(tone.hz, hz) - 100 * element.step
        if element.by == "student" and m and wanted[m - 1].element.by == "teacher":
            above = _answer(tone, heard, by_element.get(m - 1))
        wrong += _pitched(element, tone, above)
    wrong += _timed(wanted, heard, by_element, m, tempo)
    if element.counts is not None and not even(counts, element.counts):
        wrong.append("short" if counts < element.counts else "long")
    if element.by == "teacher":
        wrong = []
    hz = tone.hz if isinstance(tone, Tone) and element.do not in SLIDING else None
    return Place(
        element.do, one.round, start, end, counts, element.counts, above, tuple(wrong), hz,
        element.by,
    )  # fmt: skip


def even(heard: float, counts: int) -> bool:
    """Whether a tone of so many counts is as long as it should be."""
    limits = common().limits
    within = min(limits.even_within_counts, limits.even_most_share * counts)
    return abs(heard - counts) <= max(within, limits.even_within_share * counts)


def _answer(tone: Tone, heard: Sequence[Heard], before: int | None) -> float | None:
    """How far an echo lies from what it answers, cents."""
    given = None if before is None else heard[before]
    return cents(tone.hz, given.hz) if isinstance(given, Tone) else None


def _pitched(element: Element, tone: Tone, above: float | None) -> list[Wrong]:
    """What is wrong with how high a tone is and how it moves."""
    limits = exercises()
    if element.do in SLIDING:
        return _slid(element, tone)
    wrong: list[Wrong] = []
    if element.do == "bend":
        if abs(tone.bend) < limits.bend_cents:
            return ["too small"]
        if abs(tone.bend) > limits.most_bent_cents:
            return ["a slide"]
        if abs(tone.bend_left) > limits.middle_cents:
            wrong.append("does not come back")
    elif tone.slide is not None:
        return ["a slide"]
    if element.do == "swell" and tone.swell < limits.swell_db:
        wrong.append("too small")
    if above is None:
        return wrong
    if abs(above) > limits.other_note_cents:
        wrong.append("another note")
    elif abs(above) > limits.in_tune_cents:
        wrong.append("sharp" if above > 0 else "flat")
    return wrong


def _slid(element: Element, tone: Tone) -> list[Wrong]:
    slide = tone.slide
    if slide is None:
        return ["no slide"]
    wrong: list[Wrong] = []
    if element.do == "siren" and not slide.returns:
        wrong.append("does not come back")
    if element.do == "slide" and element.span * slide.back < 0:
        wrong.append("wrong way")
    if slide.semitones < abs(element.span):
        wrong.append("too small")
    if not slide.smooth:
        wrong.append("in steps")
    return wrong


def _timed(
    wanted: Sequence[Wanted], heard: Sequence[Heard],
    by_element: dict[int, int], m: int, tempo: float,
) -> list[Wrong]:  # fmt: skip
    """Whether a counted tone begins when it should, after the first one heard of its round."""
    one = wanted[m]
    if one.at is None or not isinstance(heard[by_element[m]], Tone):
        return []
    same = [k for k in sorted(by_element) if wanted[k].round == one.round]
    first = wanted[same[0]]
    if same[0] == m or first.at is None:
        return []
    begun, began = heard[by_element[m]], heard[by_element[same[0]]]
    assert isinstance(begun, Tone) and isinstance(began, Tone)
    off = (begun.start - began.start) * tempo / 60 - (one.at - first.at)
    if abs(off) <= common().limits.even_within_counts:
        return []
    return ["late" if off > 0 else "early"]
