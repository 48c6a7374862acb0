"""Several tones of one breath: parted by the tongue or by a step, and by nothing else."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.marks import Floats
from sulvet.core.exercises.drill import asked_of
from sulvet.core.exercises.row import row_of
from sulvet.core.judgement.common import common
from sulvet.core.judgement.sound import judge_sound
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.sound.pitch import RATE, Recording
from sulvet.core.sound.tones import Tone
from tests.core.sound.test_tones import heard, quiet, told, tone

#: Pitches of a tuba, a trumpet and a clarinet's mouthpiece, Hz, and where each is looked for.
PITCHES = ((58.0, 40, 200), (349.0, 150, 1000), (1480.0, 600, 2200))
#: Strength of the room under a tone of 0.3 at so many dB.
ROOMS = {20: 0.0096, 10: 0.0305}


def tongued(hz: float, gap: float, floor: float, counts: int = 4, seconds: float = 1.0) -> Floats:
    """So many notes in one breath; between them the level falls to ``floor`` for ``gap`` s."""
    wave = tone(hz, counts * seconds)
    t, swell = np.arange(len(wave)) / RATE, np.ones(len(wave))
    for n in range(1, counts):
        to, since = n * seconds - gap / 2 - t, t - n * seconds - gap / 2
        swell *= np.maximum(np.clip(np.maximum(to / 0.03, since / 0.02), 0, 1), floor)
    return np.asarray(wave * swell)


def stairs(hz: float, notes: int, seconds: float) -> Floats:
    """Half steps down, slurred: each reached within 30 ms."""

    def course(t: Floats) -> Floats:
        n = np.minimum(np.floor(t / seconds), notes - 1)
        return np.asarray(-100 * (n - 1 + np.clip((t - n * seconds) / 0.03, 0, 1)) * (n > 0))

    return tone(hz, notes * seconds, course)


def in_room(wave: Floats, decibels: int) -> Recording:
    return heard(quiet(0.4), wave, quiet(0.3), room=ROOMS[decibels])


class PartTests(SimpleTestCase):
    def each(self, wave: Any, decibels: int) -> list[tuple[Tone, ...]]:
        return [told(in_room(wave(hz), decibels), low, high).tones for hz, low, high in PITCHES]

    def test_the_tongue_parts_notes_with_and_without_a_gap(self) -> None:
        for decibels in ROOMS:
            for gap, floor in ((0.0, 0.0), (0.0, 0.25), (0.05, 0.3), (0.1, 0.0)):
                for tones in self.each(lambda hz, g=gap, f=floor: tongued(hz, g, f), decibels):
                    with self.subTest(decibels=decibels, gap=gap, floor=floor):
                        self.assertEqual(len(tones), 4)
                        for n, one in enumerate(tones[1:], 1):
                            # Half of the level is back half way up an attack of 20 ms.
                            truth = 0.4 + n + gap / 2 + 0.01
                            self.assertAlmostEqual(one.start, truth, delta=0.03)
                            self.assertEqual(one.begins, "tongued")

    def test_a_slurred_descent_is_its_notes(self) -> None:
        for decibels in ROOMS:
            for seconds in (0.3, 1.0):
                for tones in self.each(lambda hz, s=seconds: stairs(hz, 7, s), decibels):
                    with self.subTest(decibels=decibels, seconds=seconds):
                        self.assertEqual(len(tones), 7)
                        steps = [1200 * np.log2(b.hz / a.hz) for a, b in pairwise(tones)]
                        np.testing.assert_allclose(steps, -100, atol=12)
                        self.assertEqual({one.begins for one in tones[1:]}, {"slurred"})

    def test_a_note_blurred_by_its_step_is_not_airy(self) -> None:
        (sound,) = (told(in_room(stairs(349.0, 5, 0.5), 20), 150.0, 1000.0),)
        blurred = tuple(
            replace(one, clearness=one.clearness - 15 * (n > 0))
            for n, one in enumerate(sound.tones)
        )
        judged = judge_sound(replace(sound, tones=blurred), [], shipped_standard("trumpet"), False)
        (airy,) = (r for r in judged.readings if r.measure == "airiness")
        self.assertEqual(airy.value, max(one.clearness for one in blurred))

    def test_nothing_else_parts_a_tone(self) -> None:
        """Vibrato in pitch and in loudness, a drift, a bend, a slide, a swell, a crack."""
        courses: tuple[Any, ...] = (
            lambda t: 25 * np.sin(2 * np.pi * 5.5 * t),
            lambda t: 60 * np.sin(2 * np.pi * 5.0 * t),
            lambda t: 20 * t,
            lambda t: -100 * np.exp(-(((t - 2) / 0.4) ** 2)),
            lambda t: 230 * t,
            lambda t: 500 * np.exp(-(((t - 1.5) / 0.03) ** 2)),
        )
        for n, course in enumerate(courses):
            for tones in self.each(lambda hz, c=course: tone(hz, 3.0, c), 10):
                self.assertEqual(len(tones), 1, n)
        t = np.arange(round(3.0 * RATE)) / RATE
        for swell in (0.1 + 0.9 * np.sin(np.pi * t / 3), 1 + 0.25 * np.sin(10 * np.pi * t)):
            for tones in self.each(lambda hz, s=swell: tone(hz, 3.0) * s / 1.3, 10):
                self.assertEqual(len(tones), 1)

    def test_noise_of_keys_is_no_attack(self) -> None:
        """Clicks of 5 ms, a third as strong as the tone, three a second."""
        rng = np.random.default_rng(3)
        for hz, low, high in PITCHES:
            wave = tone(hz, 3.0)
            for moment in np.arange(0.3, 2.8, 0.33):
                a = round(moment * RATE)
                wave[a : a + 240] += (
                    0.33 * np.abs(wave).max() * rng.standard_normal(240) * np.hanning(240)
                )
            sound = told(in_room(wave, 20), low, high)
            self.assertEqual([len(sound.tones), sound.tones[0].begins], [1, "tongued"])

    def test_four_single_counts_played_connected_are_counted_right(self) -> None:
        sound = in_room(tongued(349.0, 0.04, 0.0), 20)
        wanted = asked_of(common().drill("four-ones"))
        assert wanted is not None
        row = row_of(told(sound, 150.0, 1000.0), wanted, 60.0)
        self.assertEqual((len(row.places), row.right), (4, 4))
