"""What is heard, judged: pitch by its band, what it means, and why nothing can be told."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.judgement.common import observations
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    IN_BAND,
    WATCH,
)
from sulvet.core.judgement.sound import (
    AIR_ONLY,
    NO_SOUND,
    NO_TARGET,
    NO_TONE,
    NOISY,
    breath_before,
    counts_of,
    heard_measures,
    judge_sound,
    main_tone,
    sounds_like,
    voicings,
)
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.sound.pitch import track_pitch
from sulvet.core.sound.tones import SoundAnalysis, analyse
from tests.core.judgement.sounds import HOLD, PLAIN, told
from tests.core.sound.test_tones import heard, quiet, tone


class VerdictTests(SimpleTestCase):
    def verdict(self, measure: str, instrument: str = "saxophone", **changes: Any) -> str:
        judged = judge_sound(told(**changes), HOLD, shipped_standard(instrument), True)
        return next(r.verdict for r in judged.readings if r.measure == measure)

    def test_bands_for_beginners(self) -> None:
        # Sulvet defaults: pitch within 50 cents, a fault beyond 100; unrest 15 and 30 cents.
        for cents, wanted in ((0, IN_BAND), (49, IN_BAND), (-80, WATCH), (130, FAULT),
                               (-130, FAULT)):  # fmt: skip
            self.assertEqual(self.verdict("pitch", cents=float(cents)), wanted)
        for unrest, wanted in ((10, IN_BAND), (20, WATCH), (45, FAULT)):
            self.assertEqual(self.verdict("steadiness", steadiness=float(unrest)), wanted)
        # So unsure a value is no fault.
        self.assertEqual(self.verdict("pitch", cents=130.0, cents_sd=60.0), WATCH)

    def test_what_high_low_near_and_drifting_mean(self) -> None:
        """Common practice, no source."""
        for instrument, changes, word in (
            ("saxophone", {"cents": 180.0}, "biting"),
            ("trumpet", {"cents": 180.0}, "pinching"),
            ("flute", {"cents": 180.0}, "hole turned out"),
            ("clarinet", {"cents": -180.0}, "jaw open"),
            ("horn", {"cents": -180.0}, "jaw open"),
            ("clarinet", {"cents": 70.0}, "tongue and throat"),
            ("clarinet", {"cents": 3.0}, "On pitch"),
            ("clarinet", {"cents": 3.0, "drift": -20.0}, "sinks"),
            ("clarinet", {"cents": 3.0, "drift": 20.0}, "rises"),
        ):
            judged = judge_sound(told(**changes), HOLD, shipped_standard(instrument), True)
            self.assertIn(word, " ".join(judged.sentences), (instrument, changes))
        for family in ("brass", "flute", "single-reed", "double-reed"):
            for when in ("high", "low"):
                fitting = [v for v in voicings() if v.when == when and family in v.families]
                self.assertEqual(len(fitting), 1, (family, when))

    def test_why_nothing_can_be_told(self) -> None:
        clarinet = shipped_standard("clarinet")
        for sound, why in (
            (None, NO_SOUND),
            (SoundAnalysis((), ()), NO_TONE),
            (SoundAnalysis((), ((0.2, 1.0),), air_only=True), AIR_ONLY),
            (SoundAnalysis((), (), noisy=True), NOISY),
        ):
            judged = judge_sound(sound, HOLD, clarinet, True)
            self.assertEqual({(r.verdict, r.reason) for r in judged.readings}, {(CANT_TELL, why)})
            self.assertEqual((judged.sentences, judged.tone), ((why,), None))
        untargeted = judge_sound(told(), HOLD, clarinet, False)
        self.assertEqual(untargeted.readings[0].reason, NO_TARGET)
        self.assertEqual({r.measure for r in untargeted.readings}, {m.id for m in heard_measures()})

    def test_counts_and_the_breath_before(self) -> None:
        long = replace(PLAIN, start=2.0, end=12.6)
        self.assertEqual((counts_of(long, 60), counts_of(PLAIN, 60)), (10, 2))
        breaths = ((0.1, 0.4), (1.2, 1.95), (12.7, 13.0))
        sound = SoundAnalysis((long,), breaths)
        self.assertAlmostEqual(breath_before(sound, long) or 0, 0.75)
        self.assertIsNone(breath_before(SoundAnalysis((long,), breaths[2:]), long))

    def test_the_tone_in_the_hold_counts(self) -> None:
        early, late = replace(PLAIN, start=0.0, end=0.9), replace(PLAIN, start=1.1, end=1.8)
        merged = SoundAnalysis((early, late), ())
        self.assertEqual(main_tone(merged, HOLD), late)
        self.assertEqual(main_tone(merged, []), early)
        self.assertIsNone(main_tone(SoundAnalysis((early,), ()), HOLD))


class SoundsLikeTests(SimpleTestCase):
    def test_what_it_sounds_like_is_what_a_teacher_would_tick(self) -> None:
        clarinet = shipped_standard("clarinet")
        known = {o.id for o in observations().observations}
        for sound, likes in (
            (told(cents=180.0), ("thin-sharp",)),
            (told(cents=-180.0), ("flat-loose",)),
            (told(clearness=6.0), ("airy",)),
            (told(), ()),
            (SoundAnalysis((), (), air_only=True), ("air-only",)),
            (SoundAnalysis((), ()), ()),
            (None, ()),
        ):
            judged = judge_sound(sound, HOLD, clarinet, True)
            self.assertEqual(sounds_like(sound, judged), likes)
            self.assertLessEqual(set(likes), known)


class SlideTests(SimpleTestCase):
    def test_a_siren_up_and_back(self) -> None:
        up_and_back = lambda t: np.interp(t, [0.4, 1.6, 2.8], [0, 700, 0])  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, up_and_back), quiet(0.3))
        (one,) = analyse(track_pitch(sound, 150.0, 1000.0), sound).tones
        assert one.slide is not None
        self.assertAlmostEqual(one.slide.semitones, 7.0, delta=0.4)
        self.assertLess(abs(one.slide.back), 20)
        # 40 of 700 cents are left behind in 1.2 s, and come to in as many.
        self.assertAlmostEqual(one.slide.begins, 0.8 + 1.2 * 40 / 700, delta=0.12)
        self.assertAlmostEqual(one.slide.ends, 3.2 - 1.2 * 40 / 700, delta=0.12)
        self.assertIsNone(one.steadiness)
        jerks = lambda t: 110 * t + 25 * np.sign(np.sin(16 * np.pi * t))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, jerks), quiet(0.3))
        (jerky,) = analyse(track_pitch(sound, 150.0, 1000.0), sound).tones
        assert jerky.slide is not None
        self.assertEqual((one.slide.smooth, jerky.slide.smooth), (True, False))
        self.assertEqual((one.slide.returns, jerky.slide.returns), (True, False))
        # A long note with a crack stays a note.
        cracked = lambda t: 500 * np.exp(-(((t - 1.5) / 0.04) ** 2))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.0, cracked), quiet(0.3))
        self.assertTrue(
            all(t.slide is None for t in analyse(track_pitch(sound, 150, 1000), sound).tones)
        )
