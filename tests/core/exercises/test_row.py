"""Exercises as they were played, element by element."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.exercises.drill import asked_of, beats_of
from sulvet.core.exercises.row import Row, likeliest, row_of
from sulvet.core.exercises.schema import Asked, Element, Wanted, asked, exercise, exercises
from sulvet.core.exercises.words import sentence
from sulvet.core.judgement.common import common
from sulvet.core.sound.movement import Slide
from sulvet.core.sound.tones import SoundAnalysis
from tests.core.judgement.sounds import PLAIN


def tones(
    lengths: Sequence[float], steps: Sequence[float] | None = None, gap: float = 1.0, **how: Any
) -> SoundAnalysis:
    """Tones of some lengths, s, so many half steps over 440 Hz, with silences between them."""
    at, made = 1.0, []
    for length, step in zip(lengths, steps or [0.0] * len(lengths), strict=True):
        made.append(replace(PLAIN, start=at, end=at + length, hz=440 * 2 ** (step / 12), **how))
        at += length + gap
    return SoundAnalysis(tuple(made), ())


def drill_row(drill: str, sound: SoundAnalysis, tempo: float = 60.0) -> Row:
    wanted = asked_of(common().drill(drill))
    assert wanted is not None
    return row_of(sound, wanted, tempo)


def wrong(row: Row) -> list[tuple[str, ...]]:
    return [place.wrong for place in row.places]


class CountedTests(SimpleTestCase):
    """Tones and breaths against the counts of a drill."""

    def test_four_times_four(self) -> None:
        row = drill_row("four-by-four", tones([4.1, 3.8, 2.6, 4.6]))
        self.assertEqual(wrong(row), [(), (), ("short",), ("long",)])
        self.assertEqual((row.right, row.expected, row.passed), (2, 4, False))
        self.assertEqual(sentence(row), "2 of 4 right. Number 3: short. Number 4: long.")
        # Twice as fast the same seconds are twice the counts; a part of it is what is judged.
        part = drill_row("four-by-four", tones([2.0, 2.0]), 120.0)
        self.assertEqual((part.right, len(part.places), part.passed), (2, 2, True))
        silent = drill_row("four-by-four", SoundAnalysis((), ()))
        self.assertEqual((silent.places, silent.passed, sentence(silent)), ((), False, ""))
        # A tenth of a long tone is no more than half a count of a short one.
        self.assertEqual(drill_row("mouthpiece-tone", tones([10.8, 8.8])).right, 1)

    def test_breaths_fit_where_their_lengths_do(self) -> None:
        """Lengths that are the drill's own are right, whichever stretch of it they are."""
        counting = common().drill("breath-ratio").counting
        assert counting is not None
        whole = [float(b.counts) for b in beats_of(counting) if b.do in ("in", "out")]
        for first, last in itertools.combinations(range(len(whole) + 1), 2):
            ends = list(itertools.accumulate(n + 1.0 for n in whole[first:last]))
            spans = [(e - n - 1.0, e - 1.0) for e, n in zip(ends, whole[first:last], strict=True)]
            row = drill_row("breath-ratio", SoundAnalysis((), tuple(spans)))
            self.assertEqual((row.right, len(row.places)), (last - first, last - first))

    def test_a_tone_left_out_is_missing_and_one_too_many_extra(self) -> None:
        # Four rounds of four single counts, one tone of the third left out: when the others come
        # tells which.
        starts = [8.0 * n + k for n in range(4) for k in range(4) if (n, k) != (2, 2)]
        sound = SoundAnalysis(tuple(replace(PLAIN, start=t, end=t + 0.9) for t in starts), ())
        row = drill_row("four-ones", sound)
        self.assertEqual([n for n, w in enumerate(wrong(row)) if w], [10])
        self.assertEqual(row.places[10].wrong, ("missing",))
        many = drill_row("four-by-four", tones([4.0, 4.0, 1.0, 4.0, 4.0]))
        self.assertEqual(wrong(many), [(), (), ("extra",), (), ()])
        self.assertEqual(many.right, 4)

    def test_who_hurries_comes_early(self) -> None:
        starts = [0.0, 1.0, 1.4, 1.8]
        sound = SoundAnalysis(tuple(replace(PLAIN, start=t, end=t + 0.35) for t in starts), ())
        row = drill_row("four-ones", sound)
        self.assertEqual([("early" in w) for w in wrong(row)], [False, False, True, True])

    @given(st.lists(st.floats(0.1, 9.0), max_size=24), st.floats(40.0, 160.0))
    def test_every_tone_has_one_place(self, lengths: list[float], tempo: float) -> None:
        sound = tones(lengths)
        for name in ("four-by-four", "four-ones"):
            row = drill_row(name, sound, tempo)
            there = [place.start for place in row.places if place.start is not None]
            self.assertEqual(there, sorted(there))
            if there:
                self.assertEqual(there, [tone.start for tone in sound.tones])


class PitchedTests(SimpleTestCase):
    """Rows whose notes differ, and tones that move."""

    def row(self, name: str, sound: SoundAnalysis, first_hz: float | None = None) -> Row:
        return row_of(sound, asked(exercise(name)), 60.0, first_hz)

    def test_half_steps_are_named_from_wherever_they_begin(self) -> None:
        steps = [0.0, -1.0, -2.0, -3.4, -4.0, -6.0, -6.0]
        row = self.row("step-down", tones([0.6] * 7, steps, 0.0))
        self.assertEqual(wrong(row), [(), (), (), ("flat",), (), ("another note",), ()])
        self.assertAlmostEqual(row.places[3].cents or 0.0, -40, delta=1)
        # A whole row out of tune is a row of its own, unless the first note is known.
        low = tones([0.6] * 4, [0.4, -0.6, -1.6, -2.6], 0.0)
        self.assertEqual(self.row("step-down", low).right, 4)
        self.assertEqual(wrong(self.row("step-down", low, 440.0)), [("sharp",)] * 4)

    def test_slides_sirens_bends_and_swells(self) -> None:
        there = Slide(400.0, 600.0, 7.0, 4.0, 10.0, 1.5, 2.5)
        cases: tuple[tuple[str, dict[str, Any], tuple[str, ...]], ...] = (
            ("siren", {"slide": there}, ()),
            ("siren", {"slide": replace(there, back=-300.0)}, ("does not come back",)),
            ("siren", {"slide": replace(there, rough=40.0)}, ("in steps",)),
            ("siren", {}, ("no slide",)),
            ("slides-down", {"slide": replace(there, back=-700.0)}, ()),
            ("slides-down", {"slide": replace(there, back=700.0)}, ("wrong way",)),
            ("pitch-bends", {"bend": -80.0, "bend_left": 4.0}, ()),
            ("pitch-bends", {"bend": -80.0, "bend_left": -60.0}, ("does not come back",)),
            ("pitch-bends", {"bend": 10.0}, ("too small",)),
            ("swell", {"swell": 9.0}, ()),
            ("swell", {"swell": 1.0}, ("too small",)),
            ("four-by-eight", {"slide": there}, ("a slide",)),
        )  # fmt: skip
        for name, how, expected in cases:
            row = self.row(name, tones([8.0], **how))
            self.assertEqual(wrong(row), [expected], (name, how))

    def test_an_echo_answers_the_teacher(self) -> None:
        row = self.row("echo", tones([2.0] * 6, [0.0, 0.1, 3.0, 2.4, -2.0, -2.0], 0.5))
        self.assertEqual([place.by for place in row.places], ["teacher", "student"] * 3)
        self.assertEqual([p.wrong for p in row.judged], [(), ("flat",), ()])
        self.assertEqual((row.right, row.passed), (2, False))

    def test_the_likeliest_of_all(self) -> None:
        for one in exercises().exercises:
            if not one.likely or not one.steps:
                continue
            steps = max(one.steps, key=len)
            found = likeliest(tones([1.5] * len(steps), [float(s) for s in steps], 0.1), 60.0)
            assert found is not None
            self.assertEqual((found.name, found.right), (one.name, len(steps)))
        # Two tones are no exercise, nor is what goes nowhere.
        self.assertIsNone(likeliest(tones([2.0, 2.0]), 60.0))
        self.assertIsNone(likeliest(tones([0.3, 2.0, 6.0, 0.7], [0.0, 5.5, -3.2, 8.4]), 60.0))

    def test_a_row_of_unlike_lengths_is_tried_with_each(self) -> None:
        """Of several rows the one with least missing: who stops earlier played the shorter one."""
        for steps in exercise("step-down-and-back").steps:
            row = self.row("step-down-and-back", tones([0.6] * len(steps), [*map(float, steps)], 0))
            self.assertEqual((row.right, row.missing), (len(steps), 0))


class DataTests(SimpleTestCase):
    """The exercises drills name are there, and of what can't be heard nothing is asked."""

    def test_drills_name_exercises(self) -> None:
        heard = {d.id for d in common().drills if asked_of(d) is not None}
        self.assertLessEqual({"siren", "four-ones", "step-down", "pitch-bends"}, heard)
        self.assertNotIn("mirror-form", heard)
        self.assertNotIn("placing", heard)

    def test_a_tone_is_none_of_a_row_of_breaths(self) -> None:
        breathing = Asked("in", ((Wanted(Element(do="in", counts=2), 0),),))
        self.assertEqual(row_of(tones([2.0]), breathing, 60.0).places, ())
