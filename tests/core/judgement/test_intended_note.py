"""Which note was meant."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement.intended_note import intended_note
from sulvet.core.judgement.results import (
    FAULT,
)
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.sound import (
    judge_sound,
)
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.sound.movement import Slide
from sulvet.core.sound.tones import SoundAnalysis
from tests.core.judgement.sounds import HOLD, told


class IntendedNoteTests(SimpleTestCase):
    def test_a_note_is_taken_for_meant_only_where_no_other_could_be(self) -> None:
        horn, clarinet, sax = (
            shipped_standard("horn"),
            shipped_standard("clarinet"),
            shipped_standard("saxophone"),
        )
        # F4 is 349.2, F#6 1480.0, A5 880.0 Hz (equal temperament, A4 440).
        for standard, hz, stage, wanted in (
            (horn, 352.0, "", ("instrument", "F4")),
            # Another note of the instrument: nothing is known, and nothing is called wrong.
            (horn, 392.0, "", ("", "")),
            (horn, 392.0, "instrument", ("instrument", "")),
            # Higher than the instrument goes: a mouthpiece, and a whole tone flat.
            (clarinet, 1318.5, "", ("mouthpiece", "F#6")),
            (clarinet, 1318.5, "instrument", ("instrument", "")),
            (sax, 784.0, "", ("", "")),
            (sax, 784.0, "mouthpiece", ("mouthpiece", "A5")),
            (sax, 400.0, "neck", ("neck", "G#4")),
        ):
            self.assertEqual(
                intended_note(told(hz=hz), standard, stage, (), 440.0), wanted, (hz, stage)
            )
        # What was said of this student before is known: a tenor's mouthpiece, G5.
        said = (("mouthpiece", "G5"),)
        self.assertEqual(intended_note(told(hz=790.0), sax, "", said, 440.0), ("mouthpiece", "G5"))
        # Of a slide, or of nothing, no note is meant.
        slide = Slide(300.0, 400.0, 5.0, 4.0, 0.0, 1.2, 2.8)
        self.assertEqual(intended_note(told(hz=352.0, slide=slide), horn, "", (), 440.0), ("", ""))
        self.assertEqual(intended_note(SoundAnalysis((), ()), horn, "", (), 440.0), ("", ""))

    @given(st.floats(300.0, 400.0), st.floats(5.0, 60.0), st.floats(0.0, 60.0))
    def test_no_fault_follows_from_a_note_that_nobody_said(
        self, hz: float, high: float, watch: float
    ) -> None:
        """Whatever band of pitch a teacher sets."""
        own = Band(measure="pitch", view="sound", low=-high, high=high, watch_low=watch,
                   watch_high=watch, note="")  # fmt: skip
        standard = shipped_standard("horn").model_copy(update={"bands": (own,)})
        _, pitch = intended_note(told(hz=hz), standard, "", (), 440.0)
        if pitch:
            off = 1200 * np.log2(hz / 349.228)
            judged = judge_sound(told(cents=float(off), cents_sd=0.1), HOLD, standard, True)
            self.assertNotEqual(judged.readings[0].verdict, FAULT)
