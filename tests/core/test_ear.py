"""What is heard, judged: pitch by its band, what it means, and why nothing can be told."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.judgement.ear import (
    AIR_ONLY,
    NO_SOUND,
    NO_TARGET,
    NO_TONE,
    NOISY,
    VIEW,
    breath_before,
    counts_of,
    judge_ear,
    main_tone,
    sounds_like,
    voicings,
)
from sulvet.core.judgement.judge import (
    CANT_TELL,
    FAULT,
    IN_BAND,
    SOUND_UNITS,
    WATCH,
    Reading,
    verdict,
)  # fmt: skip
from sulvet.core.judgement.standards import common, observations, standard
from sulvet.core.judgement.together import pairs, suspected
from sulvet.core.phases import Phase
from sulvet.core.sound.pitch import follow
from sulvet.core.sound.tone import Told, Tone, tell
from tests.core.test_sound import heard, quiet, tone

HOLD = [Phase("hold", 1.0, 3.0)]
PLAIN = Tone(1.0, 3.0, 880.0, "A5", 0.0, 1.0, 0.0, 4.0, None, "tongued", 0.02, 0.0, 0.0, (), 0,
             20.0, 30.0)  # fmt: skip


def told(**changes: Any) -> Told:
    return Told((replace(PLAIN, **changes),), ())


class VerdictTests(SimpleTestCase):
    def verdict(self, measure: str, instrument: str = "saxophone", **changes: Any) -> str:
        judged = judge_ear(told(**changes), HOLD, standard(instrument), True)
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
            ("clarinet", {"cents": 3.0}, "On the pitch"),
            ("clarinet", {"cents": 3.0, "drift": -20.0}, "sinks"),
            ("clarinet", {"cents": 3.0, "drift": 20.0}, "rises"),
        ):
            judged = judge_ear(told(**changes), HOLD, standard(instrument), True)
            self.assertIn(word, " ".join(judged.says), (instrument, changes))
        for family in ("brass", "flute", "single-reed", "double-reed"):
            for when in ("high", "low"):
                fitting = [v for v in voicings() if v.when == when and family in v.families]
                self.assertEqual(len(fitting), 1, (family, when))

    def test_why_nothing_can_be_told(self) -> None:
        clarinet = standard("clarinet")
        for sound, why in (
            (None, NO_SOUND),
            (Told((), ()), NO_TONE),
            (Told((), ((0.2, 1.0),), air_only=True), AIR_ONLY),
            (Told((), (), noisy=True), NOISY),
        ):
            judged = judge_ear(sound, HOLD, clarinet, True)
            self.assertEqual({(r.verdict, r.reason) for r in judged.readings}, {(CANT_TELL, why)})
            self.assertEqual((judged.says, judged.tone), ((why,), None))
        untargeted = judge_ear(told(), HOLD, clarinet, False)
        self.assertEqual(untargeted.readings[0].reason, NO_TARGET)
        self.assertEqual({r.measure for r in untargeted.readings}, set(SOUND_UNITS))
        words = {m.id for m in common().measures}
        self.assertLessEqual(set(SOUND_UNITS), words)

    def test_counts_and_the_breath_before(self) -> None:
        long = replace(PLAIN, start=2.0, end=12.6)
        self.assertEqual((counts_of(long), counts_of(PLAIN)), (10, 2))
        breaths = ((0.1, 0.4), (1.2, 1.95), (12.7, 13.0))
        sound = Told((long,), breaths)
        self.assertAlmostEqual(breath_before(sound, long) or 0, 0.75)
        self.assertIsNone(breath_before(Told((long,), breaths[2:]), long))

    def test_the_tone_in_the_hold_counts(self) -> None:
        early, late = replace(PLAIN, start=0.0, end=0.9), replace(PLAIN, start=1.1, end=1.8)
        both = Told((early, late), ())
        self.assertEqual(main_tone(both, HOLD), late)
        self.assertEqual(main_tone(both, []), early)
        self.assertIsNone(main_tone(Told((early,), ()), HOLD))


class SoundsLikeTests(SimpleTestCase):
    def test_what_it_sounds_like_is_what_a_teacher_would_tick(self) -> None:
        clarinet = standard("clarinet")
        known = {o.id for o in observations().observations}
        for sound, likes in (
            (told(cents=180.0), ("thin-sharp",)),
            (told(cents=-180.0), ("flat-loose",)),
            (told(clearness=6.0), ("airy",)),
            (told(), ()),
            (Told((), (), air_only=True), ("air-only",)),
            (Told((), ()), ()),
            (None, ()),
        ):
            judged = judge_ear(sound, HOLD, clarinet, True)
            self.assertEqual(sounds_like(sound, judged), likes)
            self.assertLessEqual(set(likes), known)


class TogetherTests(SimpleTestCase):
    """What needs eye and ear: which of the two heard and saw it."""

    def suspects(
        self, instrument: str, heard: dict[str, float], eye: dict[str, dict[str, float]]
    ) -> list[tuple[str, str]]:
        which = standard(instrument)
        school = which.schools[0].id

        def read(measure: str, phase: str, value: float, spread: float, view: str) -> Reading:
            told = verdict(value, spread, which.band(measure, view, school))
            return Reading(measure, phase, value, spread, "", told)

        ear = [read(m, "hold", v, 2.0, VIEW) for m, v in heard.items()]
        seen = [read(m, phase, v, 0.01, "front") for m, told in eye.items()
                for phase, v in told.items()]  # fmt: skip
        return [(one.fault, one.saw) for one in suspected(which, ear, seen, "front", school)]

    def test_biting_is_high_with_a_jaw_that_has_closed(self) -> None:
        high = {"pitch": 160.0}
        for jaw, saw in (
            ({"form": 1.08, "hold": 1.02}, "seen"),
            ({"place": 1.08, "hold": 1.02}, "seen"),
            ({"form": 1.08, "hold": 1.08}, "not seen"),
            ({"form": 1.02, "hold": 1.08}, "not seen"),
            # It closed by less than both readings are unsure of.
            ({"form": 1.08, "hold": 1.07}, "not seen"),
            ({"hold": 1.02}, "can't be seen"),
            ({}, "can't be seen"),
        ):
            found = self.suspects("clarinet", high, {"jaw_drop": jaw})
            self.assertEqual(found, [("biting", saw)], jaw)
        self.assertEqual(self.suspects("trombone", high, {}), [])
        # Watched is no suspicion, nor is the other side of the band.
        self.assertEqual(self.suspects("clarinet", {"pitch": 90.0}, {}), [])
        self.assertEqual([f for f, _ in self.suspects("clarinet", {"pitch": -160.0}, {})],
                         ["jaw-drop"])  # fmt: skip

    def test_a_dropped_jaw_is_flat_and_hiss_is_air_that_escapes(self) -> None:
        dropped = {"jaw_drop": {"form": 1.0, "hold": 1.06}}
        self.assertEqual(self.suspects("oboe", {"pitch": -180.0}, dropped),
                         [("jaw-drop", "seen")])  # fmt: skip
        hiss = {"airiness": 6.0}
        for still, saw in ((5.0, "seen"), (0.5, "not seen")):
            eye = {"stillness": {"hold": still}}
            self.assertEqual(self.suspects("horn", hiss, eye), [("escaping-air", saw)])
        for tall, saw in ((5.0, "seen"), (1.5, "not seen")):
            eye = {"aperture_height": {"hold": tall}}
            self.assertIn(("wide-aperture", saw), self.suspects("flute", hiss, eye))
        for tall, saw in ((0.1, "seen"), (1.5, "not seen")):
            eye = {"aperture_height": {"hold": tall}}
            self.assertIn(("pinched-aperture", saw), self.suspects("flute", {"pitch": 160.0}, eye))
        self.assertEqual(self.suspects("horn", {"airiness": 25.0}, {}), [])
        for pair in pairs():
            fault = common().fault(pair.fault)
            self.assertLessEqual(set(pair.families), set(fault.families or pair.families))


class SlideTests(SimpleTestCase):
    def test_a_siren_up_and_back(self) -> None:
        up_and_back = lambda t: np.interp(t, [0.4, 1.6, 2.8], [0, 700, 0])  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, up_and_back), quiet(0.3))
        (one,) = tell(follow(sound, 150.0, 1000.0), sound).tones
        assert one.slide is not None
        self.assertAlmostEqual(one.slide.semitones, 7.0, delta=0.4)
        self.assertLess(abs(one.slide.back), 20)
        self.assertIsNone(one.steadiness)
        steps = lambda t: 100 * np.floor(np.interp(t, [0.4, 2.8], [0, 7.9]))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.2, steps), quiet(0.3))
        (jerky,) = tell(follow(sound, 150.0, 1000.0), sound).tones
        assert jerky.slide is not None
        self.assertEqual((one.slide.smooth, jerky.slide.smooth), (True, False))
        self.assertEqual((one.slide.returns, jerky.slide.returns), (True, False))
        # A long note with a crack stays a note.
        cracked = lambda t: 500 * np.exp(-(((t - 1.5) / 0.04) ** 2))  # noqa: E731
        sound = heard(quiet(0.4), tone(349.23, 3.0, cracked), quiet(0.3))
        self.assertTrue(all(t.slide is None for t in tell(follow(sound, 150, 1000), sound).tones))
