"""Where rest and hold are suggested: from sound, from pictures, from marks alone."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.phases import Phase, frames_of, runs_of, suggest
from sulvet.core.video.clip import Sound, _Levels
from sulvet.core.video.phase_suggestion import sounding
from tests.clips import SMILE
from tests.core.faces import take, with_corners
from tests.painted.take import tone

SECONDS = np.arange(150) / 30


def heard(samples: Floats, start: float = 0.0) -> Sound:
    sound = Sound()
    _Levels(sound).add(samples.astype(np.float32), start)
    return sound


class PhaseTests(SimpleTestCase):
    def test_a_phase_has_a_name_that_exists_and_ends_after_it_starts(self) -> None:
        for name, start, end in (("rest", 1.0, 1.0), ("rest", 2.0, 1.0), ("nap", 0.0, 1.0)):
            with self.assertRaises(ValueError):
                Phase(name, start, end)

    def test_frames_of_all_phases_of_a_name(self) -> None:
        phases = [Phase("hold", 0.0, 0.1), Phase("hold", 1.0, 1.1), Phase("rest", 2.0, 3.0)]
        inside = frames_of(phases, "hold", SECONDS)
        self.assertEqual(list(np.flatnonzero(inside)), [0, 1, 2, 3, 30, 31, 32, 33])

    @given(st.lists(st.booleans(), max_size=60))
    def test_runs_cover_the_mask_and_nothing_else(self, values: list[bool]) -> None:
        mask = np.array(values, dtype=bool)
        runs = runs_of(mask, np.arange(len(mask)) / 30, bridge=0.0)
        rebuilt = np.zeros_like(mask)
        for first, last in runs:
            rebuilt[first : last + 1] = True
        np.testing.assert_array_equal(rebuilt, mask)
        for (_, before), (after, _) in pairwise(runs):
            self.assertGreater(after - before, 1)


class SoundTests(SimpleTestCase):
    def test_a_tone_is_heard_where_it_sounds(self) -> None:
        found = sounding(heard(tone(SMILE)), SECONDS)
        assert found is not None
        on = SECONDS[found]
        # Rest and forming take 1.8 s, the tone 2.0 s.
        self.assertAlmostEqual(float(on[0]), 1.8, delta=0.07)
        self.assertAlmostEqual(float(on[-1]), 3.8, delta=0.07)
        self.assertTrue(found[(SECONDS > 1.9) & (SECONDS < 3.7)].all())

    def test_sound_that_starts_before_the_picture_is_shifted(self) -> None:
        found = sounding(heard(tone(SMILE), start=-0.5), SECONDS)
        assert found is not None
        self.assertAlmostEqual(float(SECONDS[found][0]), 1.3, delta=0.07)

    def test_silence_or_an_even_noise_tells_nothing(self) -> None:
        rng = np.random.default_rng(1)
        for samples in (
            np.zeros(240_000),
            rng.normal(0, 1e-4, 240_000),
            rng.normal(0, 0.1, 240_000),
        ):
            self.assertIsNone(sounding(heard(samples), SECONDS))
        self.assertIsNone(sounding(Sound(), SECONDS))

    def test_a_knock_is_no_tone(self) -> None:
        samples = np.random.default_rng(2).normal(0, 1e-3, 240_000)
        samples[48_000:50_400] += 0.5  # 50 ms
        samples[96_000:192_000] += 0.2 * np.sin(np.arange(96_000) / 20)
        found = sounding(heard(samples), SECONDS)
        assert found is not None
        self.assertFalse(found[SECONDS < 1.9].any())
        self.assertTrue(found[(SECONDS > 2.1) & (SECONDS < 3.9)].all())


class FromMarksTests(SimpleTestCase):
    def test_rest_is_what_comes_first_and_hold_the_longest_other_shape(self) -> None:
        phases = {p.name: p for p in suggest(take(with_corners(8.0, 1.12)))}
        self.assertEqual((phases["rest"].start, phases["rest"].end), (0.0, 1.45))
        self.assertEqual((phases["hold"].start, phases["hold"].end), (1.5, 4.95))

    def test_a_take_that_never_changes_is_cut_in_the_middle(self) -> None:
        rest, hold = suggest(take(with_corners(0.0, 1.0)))
        self.assertEqual((rest.name, hold.name), ("rest", "hold"))
        self.assertLess(rest.end, hold.start)

    def test_too_little_to_go_by_suggests_nothing(self) -> None:
        self.assertEqual(suggest(Marks.empty(("ch_r", "ch_l"), [0.0, 0.1])), [])
        self.assertEqual(suggest(Marks.empty(("ch_r", "ch_l", "ls", "li"), [0.0, 0.1])), [])
