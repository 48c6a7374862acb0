"""The ear: notes, pitch, air, starts, steadiness and breaths of sounds whose truth is known."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import librosa
import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.simulate.person import people
from sulvet.core.simulate.script import Script
from sulvet.core.simulate.sound import track as sound_of
from sulvet.core.sound import notes
from sulvet.core.sound.parameters import parameters, range_of
from sulvet.core.sound.pitch import RATE, Recording, note_now, off, track_pitch
from sulvet.core.sound.tones import SoundAnalysis, analyse


def tone(hz: float, seconds: float = 1.5, course: Any = 0.0, partials: int = 8) -> Floats:
    """A tone with partials that fall off, 0.3 of full scale; ``course`` cents over its time."""
    t = np.arange(round(seconds * RATE)) / RATE
    cents = np.asarray(course(t) if callable(course) else np.full(len(t), course), float)
    phase = 2 * np.pi * np.cumsum(hz * 2 ** (cents / 1200)) / RATE
    wave = sum(np.sin(k * phase) / k for k in range(1, partials + 1) if k * hz < 20000)
    fade = np.clip(np.minimum(t, t[-1] - t) / 0.01, 0, 1)
    return np.asarray(0.3 * fade * wave / np.abs(wave).max())


def heard(*pieces: Floats, room: float = 0.0005, seed: int = 1) -> Recording:
    """Pieces one after the other in a quiet room."""
    samples = np.concatenate(pieces)
    noise = np.random.default_rng(seed).standard_normal(len(samples)) * room
    return Recording((samples + noise).astype(np.float32))


def quiet(seconds: float) -> Floats:
    return np.zeros(round(seconds * RATE))


def told(sound: Recording, low: float, high: float, target: float | None = None) -> SoundAnalysis:
    return analyse(track_pitch(sound, low, high, target), sound)


def played(**sound: Any) -> Recording:
    """A made-up clarinet mouthpiece: a second of rest, three of tone."""
    script = Script(
        person=next(iter(people())),
        instrument="clarinet",
        seed=int(sound.pop("seed", 5)),
        steps=[{"phase": "rest", "seconds": 1.0}, {"phase": "hold", "seconds": 3.0},
               {"phase": "release", "seconds": 0.5, "base": "rest"}],
        sound={"hz": 1479.98, **sound},
    )  # fmt: skip
    return Recording(sound_of(script).astype(np.float32))


class MomentTests(SimpleTestCase):
    def test_a_third_of_a_second_tells_the_note(self) -> None:
        for pitch, off_by in (("F4", 12.0), ("Bb2", -20.0), ("F#6", 0.0)):
            hz = notes.hz_of(pitch) * 2 ** (off_by / 1200)
            said = note_now(heard(tone(hz, 0.34)).samples, 40.0, 2000.0)
            assert said is not None
            self.assertEqual(notes.number(said[0]), notes.number(pitch))
            self.assertAlmostEqual(said[1], off_by, delta=3.0)

    def test_a_room_is_no_note(self) -> None:
        quiet = np.zeros(round(0.34 * RATE))
        self.assertIsNone(note_now(heard(quiet).samples, 40.0, 2000.0))
        self.assertIsNone(note_now(quiet[:10], 40.0, 2000.0))


class NoteTests(SimpleTestCase):
    def test_frequencies_of_equal_temperament(self) -> None:
        # ISO 16:1975, A4 at 440 Hz, and twelve-tone equal temperament.
        for name, hz in (("A4", 440.0), ("F4", 349.23), ("A5", 880.0), ("F#6", 1479.98),
                         ("G5", 783.99), ("C6", 1046.50), ("D5", 587.33)):  # fmt: skip
            self.assertAlmostEqual(notes.hz_of(name), hz, delta=0.005)
        for midi in range(21, 109):
            name = notes.name_of(midi)
            self.assertEqual(notes.number(name), midi)
            # A second opinion.
            self.assertAlmostEqual(notes.hz_of(name) / float(librosa.note_to_hz(name)), 1.0)
            self.assertEqual(notes.nearest(notes.hz_of(name) * 1.01), (name, notes.cents(1.01, 1)))
        self.assertAlmostEqual(notes.hz_of("A4", 442.0), 442.0)
        self.assertAlmostEqual(notes.cents(notes.hz_of("B4"), notes.hz_of("A4")), 200.0)
        with self.assertRaisesRegex(ValueError, "no note"):
            notes.number("H4")

    def test_written_notes_of_transposing_instruments(self) -> None:
        # Common practice, no source: concert B flat is a written C on B flat instruments, a
        # written G on the E flat alto saxophone and a written F on the F horn.
        for instrument, reads in (
            ("clarinet", "C5"), ("trumpet", "C5"), ("saxophone", "G5"), ("horn", "F5"),
            ("flute", "Bb4"), ("trombone", "Bb4"),
        ):  # fmt: skip
            self.assertEqual(notes.written("Bb4", instrument), reads)

    def test_every_target_lies_in_its_range(self) -> None:
        for standard in shipped_standards().values():
            for target in standard.targets:
                low, high = range_of(standard.instrument, standard.family, target.stage)
                self.assertTrue(low < notes.hz_of(target.pitch) < high, standard.instrument)
        self.assertLessEqual(set(parameters().transposes), set(shipped_standards()))


class PitchTests(SimpleTestCase):
    @settings(max_examples=12)
    @given(st.floats(70, 1900))
    def test_a_clean_tone_of_any_pitch(self, hz: float) -> None:
        sound = heard(quiet(0.4), tone(hz), quiet(0.3))
        track = track_pitch(sound, hz / 2.2, hz * 2.2)
        inside = (track.seconds > 0.5) & (track.seconds < 1.8)
        self.assertTrue(track.voiced[inside].all())
        self.assertLess(float(np.nanmedian(np.abs(off(track, hz)[inside]))), 3.0)

    def test_a_second_opinion_agrees(self) -> None:
        # librosa's YIN (de Cheveigné and Kawahara 2002) on the same sound.
        course = lambda t: 60 * t  # noqa: E731
        samples = tone(349.23, 1.5, course)
        track = track_pitch(heard(quiet(0.3), samples), 150.0, 1000.0)
        theirs = librosa.yin(
            samples.astype(np.float32), fmin=150, fmax=1000, sr=RATE, frame_length=4096,
            hop_length=480,
        )  # fmt: skip
        ours = np.interp(np.arange(20, 120) * 0.01 + 0.3, track.seconds, track.hz)
        away = 1200 * np.log2(ours / theirs[20:120])
        self.assertLess(float(np.median(np.abs(away))), 6.0)

    def test_a_missing_fundamental_is_no_octave_error(self) -> None:
        t = np.arange(RATE) / RATE
        wave = sum(np.sin(2 * np.pi * 110 * k * t) for k in (2, 3, 4, 5)) * 0.08
        track = track_pitch(heard(quiet(0.3), np.asarray(wave)), 80.0, 300.0)
        self.assertAlmostEqual(float(np.nanmedian(track.hz)), 110.0, delta=0.5)

    def test_air_speech_like_slides_and_silence_are_no_steady_tone(self) -> None:
        for seed in range(6):
            air = played(pitched=False, air=0.8, seed=seed)
            for target in (None, 1479.98):
                found = told(air, 600.0, 2200.0, target)
                self.assertEqual(found.tones, (), seed)
                self.assertTrue(found.air_only)
        silent = told(Recording(np.zeros(2 * RATE, np.float32)), 130.0, 1000.0)
        self.assertEqual((silent.tones, silent.breaths, silent.air_only), ((), (), False))
        short = track_pitch(Recording(np.zeros(400, np.float32)), 130.0, 1000.0)
        self.assertFalse(short.voiced.any())

    def test_a_target_is_looked_for_near_itself_only(self) -> None:
        sound = heard(quiet(0.3), tone(440.0), quiet(0.2))
        near = told(sound, 130.0, 1000.0, 450.0)
        self.assertAlmostEqual(near.tones[0].cents, notes.cents(440.0, 450.0), delta=3.0)
        # An overblown tone is not taken for one that its waves would also fit.
        high = told(sound, 130.0, 1000.0, 440.0 / 3)
        self.assertAlmostEqual(high.tones[0].hz, 440.0, delta=1.0)
        self.assertAlmostEqual(high.tones[0].cents, 1901.955, delta=3.0)


class ToneTests(SimpleTestCase):
    def test_how_long_and_how_it_starts(self) -> None:
        # The made-up sound's own truth: half level is passed half way up its attack.
        for start, attack, lead in (("tongued", 0.018, 0.0), ("breathy", 0.16, 0.25)):
            found = told(played(start=start, lead=lead, air=0.1), 600.0, 2200.0, 1479.98)
            (one,) = found.tones
            self.assertEqual(one.begins, start)
            self.assertAlmostEqual(one.start, 1.0 + lead + attack / 2, delta=0.02)
            self.assertAlmostEqual(one.end, 4.0 - 0.03, delta=0.03)
            if lead:
                self.assertAlmostEqual(one.lead, lead, delta=0.08)
                # Air that runs into the tone is its start and no breath.
                self.assertEqual(found.breaths, ())

    def test_somebody_else_who_plays_on_is_not_taken_for_the_tone(self) -> None:
        """A third higher and 20 dB weaker, before and after."""
        mine = np.concatenate([quiet(1.0), tone(440.0, 2.0), quiet(1.0)])
        other = tone(440.0 * 2 ** (4 / 12), 4.0) * 0.1
        found = told(heard(mine + other), 220.0, 900.0, 440.0)
        one = max(found.tones, key=lambda t: t.seconds)
        self.assertAlmostEqual(one.start, 1.0, delta=0.03)
        self.assertAlmostEqual(one.end, 3.0, delta=0.03)
        self.assertLess(abs(one.cents), 4.0)

    def test_a_breath_before_the_tone(self) -> None:
        air = np.random.default_rng(8).standard_normal(round(0.4 * RATE)) * 0.01
        sound = heard(quiet(0.6), air, quiet(0.3), tone(440.0, 2.0), quiet(0.3))
        found = told(sound, 220.0, 900.0)
        ((start, end),) = found.breaths
        self.assertAlmostEqual(start, 0.6, delta=0.03)
        self.assertAlmostEqual(end, 1.0, delta=0.03)
        self.assertEqual(found.tones[0].begins, "tongued")

    def test_drift_wobble_and_waves_are_told_apart(self) -> None:
        rng = np.random.default_rng(4)
        slow = np.interp(np.arange(0, 3, 1 / RATE), np.arange(0, 3.2, 0.08),
                         rng.normal(0, 12, 40))  # fmt: skip
        for course, drift, steady, waves in (
            (lambda t: 20 * t, 20.0, 0.0, None),
            (lambda t: slow[: len(t)], None, float(slow.std()), None),
            (lambda t: 25 * np.sin(2 * np.pi * 5.5 * t), 0.0, 0.0, (5.5, 25.0)),
        ):
            found = told(heard(quiet(0.4), tone(523.25, 3.0, course), quiet(0.3)), 220.0, 1200.0)
            (one,) = found.tones
            assert one.drift is not None and one.steadiness is not None
            if drift is not None:
                self.assertAlmostEqual(one.drift, drift, delta=3.0)
            self.assertAlmostEqual(one.steadiness, steady, delta=max(3.0, 0.35 * steady))
            if waves is None:
                self.assertIsNone(one.vibrato)
            else:
                assert one.vibrato is not None
                self.assertAlmostEqual(one.vibrato.rate, waves[0], delta=0.5)
                self.assertAlmostEqual(one.vibrato.cents, waves[1], delta=5.0)

    def test_cracks_dips_scoops_and_gaps(self) -> None:
        cracked = told(played(cracks=[1.2, 2.0], wobble=2.0), 600.0, 2200.0, 1479.98)
        (one,) = cracked.tones
        self.assertEqual(len(one.cracks), 2)
        for found, truth in zip(one.cracks, (2.2, 3.0), strict=True):
            self.assertAlmostEqual(found, truth, delta=0.06)
        dipped = tone(440.0, 2.0)
        dipped[round(0.9 * RATE) : round(1.05 * RATE)] *= 0.3
        (one,) = told(heard(quiet(0.3), dipped, quiet(0.2)), 220.0, 900.0).tones
        self.assertEqual(one.dips, 1)
        scoop = lambda t: -120 * np.exp(-t / 0.05)  # noqa: E731
        (one,) = told(heard(quiet(0.3), tone(440.0, 1.5, scoop)), 220.0, 900.0).tones
        self.assertLess(one.scoop, -40)
        # Two notes with a breath between are two, a flicker of the room is none.
        two = told(heard(quiet(0.3), tone(440.0, 0.8), quiet(0.3), tone(494.0, 0.8)), 220.0, 900.0)
        self.assertEqual([t.note for t in two.tones], ["A4", "B4"])

    def test_a_loud_room_is_said_to_be_too_loud(self) -> None:
        sound = heard(quiet(0.5), tone(440.0, 2.0), quiet(0.5))
        track = track_pitch(sound, 220.0, 900.0)
        loud = float(np.median(track.level[track.voiced]))
        # The limit is 5 dB; the same tone in a room of so many under it.
        for under, noisy in ((3.0, True), (8.0, False)):
            found = analyse(replace(track, room=loud - under), sound)
            self.assertEqual((found.noisy, bool(found.tones)), (noisy, not noisy))
        airy, clear = (
            told(played(air=a, wobble=2.0), 600.0, 2200.0, 1479.98).tones[0].clearness
            for a in (0.5, 0.02)
        )
        self.assertGreater(clear, airy + 6)
