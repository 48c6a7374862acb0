"""Practising the ear: what is said of a tone is what is heard, measured by another library."""

from __future__ import annotations

import librosa
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.marks import Floats
from sulvet.core.eye import catalogue, rounds, tones
from sulvet.core.eye.schema import figures
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.simulate.sound import RATE
from sulvet.core.sound.notes import hz_of


def parts(number: str) -> tuple[Floats, Floats]:
    """Target and student of a tone."""
    heard, by = tones.heard(catalogue.by_id()[number]), tones.table()
    return heard[: round(by.target * RATE)], heard[-round(by.student * RATE) :]


def pitch(samples: Floats) -> Floats:
    """Hz over time, without the edges: librosa's YIN (A. de Cheveigné and H. Kawahara, 2002)."""
    hz = librosa.yin(samples, fmin=60, fmax=1000, sr=RATE, frame_length=4096)
    return np.asarray(hz[len(hz) // 5 : -len(hz) // 8])


def off(number: str) -> Floats:
    """Cents of the student over the target, over time."""
    target, student = parts(number)
    return np.asarray(1200 * np.log2(pitch(student) / np.median(pitch(target))))


def centroid(samples: Floats) -> float:
    return float(np.median(librosa.feature.spectral_centroid(y=samples, sr=RATE)))


class ToneTests(SimpleTestCase):
    def test_high_and_low_lie_so_many_cents_beside_the_target(self) -> None:
        for instrument in ("flute", "tuba", "oboe"):
            for degree, cents in ((1, 16), (2, 28), (3, 40)):
                high = float(np.median(off(f"{instrument}-ear-pitch-high-{degree}")))
                low = float(np.median(off(f"{instrument}-ear-pitch-low-{degree}")))
                self.assertAlmostEqual(high, cents, delta=4, msg=instrument)
                self.assertAlmostEqual(low, -cents, delta=4, msg=instrument)
            self.assertLess(abs(float(np.median(off(f"{instrument}-ear-right-1")))), 4)

    def test_unsteady_sagging_and_a_vibrato_that_is_neither(self) -> None:
        calm, rough = np.std(off("horn-ear-right-2")), np.std(off("horn-ear-tone-unsteady-3"))
        self.assertGreater(rough, 3 * calm)
        course = off("horn-ear-pitch-sags-3")
        self.assertLess(course[-5:].mean() - course[:5].mean(), -25)
        swings = off("horn-ear-like-tone-unsteady")
        self.assertLess(abs(float(np.mean(swings))), 5, "round the right pitch")
        self.assertGreater(np.std(swings), 8)

    def test_colour_air_and_start(self) -> None:
        def brighter(number: str) -> float:
            target, student = (centroid(part) for part in parts(f"trombone-ear-{number}"))
            return student / target

        pinched = [brighter(f"tone-pinched-{n}") for n in (1, 2, 3)]
        shown = [brighter("tone-spread-3"), brighter("right-1"), *pinched]
        self.assertEqual(sorted(shown), shown)
        target, airy = parts("flute-ear-tone-airy-3")
        flat = librosa.feature.spectral_flatness
        self.assertGreater(np.median(flat(y=airy)), 3 * np.median(flat(y=target)))
        # Air alone for so long: its level is under half of the tone's.
        for number, lead in (("start-breathy-3", 0.4), ("like-start-breathy", 0.0)):
            level = librosa.feature.rms(y=parts(f"horn-ear-{number}")[1], hop_length=480)[0]
            spoken = int(np.argmax(level > level.max() / 2)) / 100
            self.assertAlmostEqual(spoken, lead, delta=0.1)

    def test_every_instrument_has_a_round_by_ear(self) -> None:
        for instrument in shipped_standards():
            chosen = rounds.choose(instrument, "by-ear", 3)
            self.assertEqual(len({one.id for one in chosen}), figures().length)
            self.assertEqual({(one.view, one.instrument) for one in chosen}, {("ear", instrument)})
            names = [catalogue.fault_name(f, instrument) for f in tones.heard_faults()]
            self.assertEqual(len(set(names)), len(names))
        self.assertNotIn("ear", {one.view for one in rounds.choose("horn", "mixed", 3)})


class FirstNoteTests(SimpleTestCase):
    def test_it_is_the_standards_and_a_horn_begins_where_books_do(self) -> None:
        """Written G4 and C4 on a horn in F sound C4 and F3: a fifth lower."""
        self.assertAlmostEqual(tones.first_hz("horn"), 261.63, delta=0.01)
        horn = {t.pitch for t in shipped_standards()["horn"].targets if t.stage == "instrument"}
        self.assertLessEqual({"C4", "F3"}, horn)
        for instrument, standard in shipped_standards().items():
            pitches = [hz_of(t.pitch) for t in standard.targets if t.stage == "instrument"]
            self.assertIn(tones.first_hz(instrument), pitches, instrument)
