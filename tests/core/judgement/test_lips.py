"""Limits that move with the lips a student has at rest; no lip is wrong."""

from __future__ import annotations

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.judgement.lips import lips_of, sentence
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.measures.rest_lips import lip_share
from sulvet.core.phases import Phase
from tests.core.faces import take, with_corners


class LipTests(SimpleTestCase):
    def test_the_share_is_of_the_rest_face_alone(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        right, left, top, low = (
            marks.xy[0, marks.ids.index(n)] for n in ("ch_r", "ch_l", "ls", "li")
        )
        expected = float(((top - low) ** 2).sum() ** 0.5 / ((left - right) ** 2).sum() ** 0.5)
        share = lip_share(marks, [Phase("rest", 0.0, 0.5)])
        assert share is not None
        self.assertAlmostEqual(share, expected, places=6)
        self.assertIsNone(lip_share(marks, []))

    def test_full_lips_take_less_lip_over_the_teeth_and_sit_lower_on_the_rim(self) -> None:
        """Common practice, no source; the figures are Sulvet defaults."""
        clarinet, horn = shipped_standard("clarinet"), shipped_standard("horn")
        usual = clarinet.band("lower_red", "front", "gathered")
        full = clarinet.for_lips("full").band("lower_red", "front", "gathered")
        thin = clarinet.for_lips("thin").band("lower_red", "front", "gathered")
        assert usual and full and thin and usual.high and full.high and thin.high
        self.assertTrue(thin.high < usual.high < full.high)
        self.assertEqual((usual.high, full.high), (0.7, 0.8))
        for school in horn.schools:
            low, was = (
                one.band("rim_upper_share", "front", school.id) for one in
                (horn.for_lips("full"), horn)
            )  # fmt: skip
            assert low and was and low.low and was.low
            self.assertLess(low.low, was.low)
        told = sentence(clarinet.for_lips("full"), "front", {"lower_red": "Visible lower lip"})
        self.assertIn("Full lips at rest", told)
        self.assertEqual(sentence(clarinet, "front", {}), "")

    def test_an_analysis_says_for_which_lips_it_was_made(self) -> None:
        clarinet = shipped_standard("clarinet")
        self.assertEqual(clarinet.for_lips("thin").label, f"{clarinet.label} thin lips")
        trumpet = shipped_standard("trumpet")
        self.assertIs(trumpet.for_lips("full"), trumpet, "nothing of it moves")

    @given(st.floats(0.05, 0.9))
    def test_whatever_the_lips_every_limit_can_be_met(self, share: float) -> None:
        for standard in shipped_standards().values():
            for band in standard.for_lips(lips_of(share)).bands:
                if band.low is not None and band.high is not None:
                    self.assertLess(band.low, band.high)
