"""Talk is no tone, and what is played while others talk is."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from scipy.signal import lfilter

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.sound import TALK_ONLY, judge_sound
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.sound.pitch import RATE
from tests.core.sound.test_tones import heard, quiet, told, tone

#: First and second formant of ah, ee, oo, eh and aw, Hz (Peterson and Barney, JASA 1952, men's
#: averages, from memory).
VOWELS = ((730, 1090), (270, 2290), (300, 870), (530, 1840), (570, 840))


def talk(seed: int, syllables: int = 12) -> Floats:
    """Somebody who talks: syllables of 0.15 to 0.3 s that glide from vowel to vowel and fall."""
    rng = np.random.default_rng(seed)
    out = [np.zeros(round(0.05 * RATE))]
    base = float(rng.uniform(110, 240))
    for _ in range(syllables):
        seconds = float(rng.uniform(0.15, 0.3))
        first, second = (VOWELS[k] for k in rng.choice(len(VOWELS), 2, replace=False))
        cents = float(rng.uniform(100, 400)) - float(rng.uniform(100, 250)) * np.linspace(0, 1, 60)
        t = np.arange(round(seconds * RATE)) / RATE
        hz = base * 2 ** (np.interp(t, np.linspace(0, seconds, 60), cents) / 1200)
        phase = 2 * np.pi * np.cumsum(hz) / RATE
        source = np.sum([np.sin(k * phase) / k for k in range(1, 25)], axis=0)
        parts = [_through(source, vowel) for vowel in (first, second)]
        mix = np.clip((t / seconds - 0.25) / 0.5, 0, 1)
        edge = np.clip(np.minimum(t, seconds - t) / 0.02, 0, 1)
        out += [(parts[0] * (1 - mix) + parts[1] * mix) * edge]
        out += [np.zeros(round(float(rng.uniform(0.02, 0.12)) * RATE))]
    said = np.concatenate(out)
    return np.asarray(0.3 * said / np.abs(said).max())


def _through(source: Floats, formants: tuple[int, int]) -> Floats:
    """A source through two resonances of 90 Hz."""
    out = source
    for hz in formants:
        r = np.exp(-np.pi * 90 / RATE)
        out = lfilter([1 - r], [1, -2 * r * np.cos(2 * np.pi * hz / RATE), r * r], out)
    return np.asarray(out / np.abs(out).max())


class SpeechTests(SimpleTestCase):
    def test_talk_alone_is_no_tone(self) -> None:
        alone = [told(heard(quiet(0.5), talk(n), quiet(0.5), room=0.002), 130.0, 1000.0)
                 for n in range(20)]  # fmt: skip
        none = [sound for sound in alone if not sound.tones]
        self.assertGreaterEqual(len(none), 18)
        standard = shipped_standard("trumpet")
        spoke = next(sound for sound in none if sound.talk)
        self.assertEqual(judge_sound(spoke, [], standard, False).sentences, (TALK_ONLY,))

    def test_what_is_played_after_talk_stays(self) -> None:
        for n, hz in enumerate((349.0, 233.0)):
            parts = (talk(n), quiet(0.8), tone(hz, 2.0), quiet(0.8), 0.3 * talk(n + 9))
            sound = told(heard(*parts, room=0.002), 130.0, 1000.0)
            (one,) = sound.tones
            begins = sum(len(part) for part in parts[:2]) / RATE
            self.assertAlmostEqual(one.start, begins, delta=0.05)
            self.assertAlmostEqual(one.seconds, 2.0, delta=0.1)
            self.assertTrue(sound.talk)

    def test_no_way_of_playing_is_talk(self) -> None:
        """Short notes, a swell, wide vibrato, a slide, low and high."""
        for hz, low, high in ((58.0, 40, 200), (349.0, 150, 1000), (1480.0, 600, 2200)):
            t = np.arange(round(2.0 * RATE)) / RATE
            for wave in (
                tone(hz, 0.2), tone(hz, 2.0) * (0.2 + 0.8 * np.sin(np.pi * t / 2)),
                tone(hz, 2.0, lambda t: 60 * np.sin(2 * np.pi * 5 * t)),
                tone(hz, 2.0, lambda t: 350 * t),
            ):  # fmt: skip
                sound = told(heard(quiet(0.5), wave, quiet(0.5), room=0.005), low, high)
                self.assertEqual((len(sound.tones), sound.talk), (1, ()))
