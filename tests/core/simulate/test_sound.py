"""The made-up sound against its script."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from scipy.signal import hilbert

from sulvet.core.simulate.sound import RATE, tones, track
from tests.core.simulate.builders import script


class SoundTests(SimpleTestCase):
    def pitch(self, samples: Any, hz: float) -> Any:
        """Hz over time from the phase of the first partial alone."""
        spectrum = np.fft.rfft(samples)
        bins = np.fft.rfftfreq(len(samples), 1 / RATE)
        spectrum[np.abs(bins - hz) > 0.25 * hz] = 0
        phase = np.unwrap(np.angle(hilbert(np.fft.irfft(spectrum, len(samples)))))
        return np.diff(phase) * RATE / (2 * np.pi)

    def test_the_tone_is_as_high_as_told_and_drifts_as_told(self) -> None:
        for kind in ("horn", "clarinet", "flute", "trombone"):
            take = script(
                instrument=kind, sound={"cents": 30, "drift": -20, "wobble": 0, "air": 0.02}
            )
            tone = tones(take)[0]
            self.assertEqual((tone.start, round(tone.end, 6)), (1.2, 2.4))
            first, last = round((tone.start + 0.2) * RATE), round((tone.end - 0.2) * RATE)
            heard = self.pitch(track(take)[first:last], tone.hz)
            cents = 1200 * np.log2(np.median(heard) / tone.hz)
            self.assertAlmostEqual(cents, 30 - 20 * 0.6, delta=3, msg=kind)
            middle = len(heard) // 2
            fall = 1200 * np.log2(np.median(heard[middle:]) / np.median(heard[:middle]))
            self.assertAlmostEqual(fall, -20 * 0.4, delta=2, msg=kind)

    def test_it_sounds_with_the_hold_and_air_comes_first_when_told(self) -> None:
        take = script(sound={"start": "breathy", "lead": 0.2, "air": 0.2})
        samples = track(take)
        self.assertEqual(len(samples), round(take.seconds * RATE))

        def level(start: float, end: float) -> float:
            part = samples[round(start * RATE) : round(end * RATE)]
            return float(np.sqrt((part**2).mean()))

        quiet, air, tone = level(0.2, 1.0), level(1.25, 1.38), level(1.7, 2.2)
        self.assertGreater(air, 5 * quiet)
        self.assertGreater(tone, 1.5 * air)
        self.assertLess(level(2.5, 2.7), 3 * quiet)
        self.assertLessEqual(float(np.abs(samples).max()), 0.96)
