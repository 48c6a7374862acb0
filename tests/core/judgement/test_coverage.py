"""What a take was checked for, and what not."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.analysis import Material, analyse
from sulvet.core.judgement.coverage import Coverage, areas, coverage
from sulvet.core.judgement.results import CANT_TELL, NO_BAND, Reading, judged
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.measures.catalogue import catalogue
from tests.core.faces import PHASES, take, with_corners
from tests.core.judging import demo_case


def covered(instrument: str = "horn") -> Coverage:
    standard = shipped_standard(instrument)
    material = Material(take(with_corners(0.0, 1.0)), PHASES, "front")
    return analyse(material, standard, standard.school(None).id).coverage


class CoverageTests(SimpleTestCase):
    def test_a_rim_that_is_not_marked_is_not_checked_and_the_headline_says_so(self) -> None:
        made = covered()
        self.assertEqual(made.checked, ("Corners", "Stillness"))
        self.assertEqual([one.area for one in made.unchecked], ["Rim", "Cheeks"])
        self.assertEqual(
            made.headline, "Corners and stillness as they should be. Rim and cheeks not checked"
        )
        self.assertIn("Mark five points", made.unchecked[0].why)
        self.assertEqual(Coverage.of(made.plain()), made)

    def test_nothing_to_correct_is_said_only_when_all_that_is_asked_was_checked(self) -> None:
        case = demo_case("aino-side-0")
        marks = case.outcome.marks
        whole = analyse(Material(marks, case.outcome.phases, "side"), case.standard, case.school)
        self.assertEqual((whole.coverage.unchecked, whole.coverage.headline[:7]), ((), "Nothing"))
        hidden = marks.hidden.copy()
        hidden[:, marks.column("ax_a")] = True
        part = analyse(
            Material(replace(marks, hidden=hidden), case.outcome.phases, "side"),
            case.standard, case.school,
        )  # fmt: skip
        self.assertEqual([one.area for one in part.coverage.unchecked], ["Mouthpiece"])

    def test_a_reading_behind_which_a_fault_may_hide_is_no_check(self) -> None:
        standard = shipped_standard("horn")
        school = standard.school(None).id
        band = standard.band("corner_rise", "front", school)
        assert band is not None and band.low is not None and band.high is not None
        for half_width, checked in ((1.0, True), (band.high - band.low + 9.0, False)):
            middle = (band.low + band.high) / 2
            reading = judged(
                Reading("corner_rise", "hold", middle, half_width, "deg", NO_BAND), band
            )
            made = coverage([reading], standard, "front", school)
            self.assertEqual("Corners" in made.checked, checked)
            self.assertEqual(made.unchecked[0].why == reading.reason, not checked)

    def test_a_sure_upper_lip_says_nothing_of_the_lower(self) -> None:
        standard = shipped_standard("clarinet")
        school = standard.school(None).id

        def lip(measure: str, value: float, half_width: float) -> Reading:
            band = standard.band(measure, "side", school)
            return judged(Reading(measure, "hold", value, half_width, "ratio", NO_BAND), band)

        upper = lip("upper_red_side", 0.8, 0.1)
        for half_width, checked in ((0.1, True), (0.6, False)):
            lower = lip("lower_red_side", 0.55, half_width)
            made = coverage([upper, lower], standard, "side", school)
            self.assertEqual("Lips" in made.checked, checked)
        self.assertNotIn("Lips", coverage([upper], standard, "side", school).checked)

    def test_every_band_that_can_be_asked_for_belongs_to_an_area(self) -> None:
        known = {measure for one in areas() for measure in one.measures}
        banded = {
            (band.measure, band.view)
            for standard in shipped_standards().values()
            for band in standard.bands
            if band.view in ("front", "side")
        }
        self.assertEqual({m for m, _ in banded} - known, {"red_above_rim", "lip_line_order"})


class ImpossibleTests(SimpleTestCase):
    def test_a_depth_no_mouth_has_is_questioned_and_is_no_finding(self) -> None:
        case = demo_case("aino-side-0")
        marks = case.outcome.marks
        xy = marks.xy.copy()
        # The mark on the ligature, put where the lip ends.
        xy[:, marks.column("ax_a")] = xy[:, marks.column("mp_lip")] + 0.01
        made = analyse(
            Material(replace(marks, xy=np.asarray(xy)), case.outcome.phases, "side"),
            case.standard, case.school,
        )  # fmt: skip
        depth = next(r for r in made.readings if (r.measure, r.phase) == ("depth", "hold"))
        self.assertEqual(depth.verdict, CANT_TELL)
        self.assertIn(catalogue().measure("depth").doubt, depth.reason)
        faults = {f.fault for f in made.findings if f.verdict != CANT_TELL}
        self.assertFalse(faults & {"too-much-mouthpiece", "too-little-mouthpiece"})
