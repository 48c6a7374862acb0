"""Standards and what is made of readings."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase
from pydantic import ValidationError

from sulvet.core.data_files import DataFileError, read_table
from sulvet.core.judgement.common import DATA, common
from sulvet.core.judgement.drill_schema import Drill
from sulvet.core.judgement.rejudge import StoredTake, rejudged_readings
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    IN_BAND,
    NO_BAND,
    WATCH,
    Judgement,
    Reading,
)
from sulvet.core.judgement.results import judged as with_verdict
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.standards import (
    Standard,
    StandardError,
    shipped_standard,
    shipped_standards,
)
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.phases import Phase
from tests.core.faces import PHASES, take, with_corners
from tests.core.judging import judged


def verdict_of(result: Judgement, fault: str) -> str | None:
    return next((f.verdict for f in result.findings if f.fault == fault), None)


class StandardsTests(SimpleTestCase):
    def test_shipped_standards_speak_of_measures_that_exist(self) -> None:
        known = {m.id for m in catalogue().measures if m.reported}
        for standard in shipped_standards().values():
            for band in (*standard.bands, *common().bands):
                self.assertIn(band.measure, known)
                self.assertTrue(band.note.strip(), f"{standard.instrument} {band.measure}")
                for school in band.schools:
                    standard.school(school)
        for rule in common().rules:
            self.assertLessEqual({c.measure for c in rule.all}, known)

    def test_a_schools_own_band_goes_before_the_general_one(self) -> None:
        clarinet = shipped_standard("clarinet")
        gathered = clarinet.band("mouth_width", "front", "gathered")
        stretched = clarinet.band("mouth_width", "front", "stretched")
        assert gathered is not None and stretched is not None
        self.assertEqual((gathered.high, stretched.high), (0.98, 1.06))

    def test_a_wrong_file_is_refused_with_file_and_place(self) -> None:
        whole = (DATA / "horn.toml").read_text("utf-8")
        cases = {
            "low = -6.0\nhigh = 3.0": ("low = 6.0\nhigh = 3.0", "low edge must lie below"),
            'family = "brass"': ('family = "brass"\ncolour = 3', "colour"),
            "version = 1": ("version =", "line"),
        }
        with tempfile.TemporaryDirectory() as folder:
            for old, (new, told) in cases.items():
                path = Path(folder) / "odd.toml"
                path.write_text(whole.replace(old, new, 1), "utf-8")
                with self.assertRaises(DataFileError) as refused:
                    read_table(path, Standard)
                self.assertIn("odd.toml", str(refused.exception))
                self.assertIn(told, str(refused.exception))

    def test_a_measure_has_a_limit_in_its_own_view_alone(self) -> None:
        horn, clarinet = shipped_standard("horn"), shipped_standard("clarinet")
        for standard, measure, view, wanted in (
            (horn, "rim_upper_share", "front", True), (horn, "rim_upper_share", "side", False),
            (clarinet, "depth", "side", True), (clarinet, "depth", "front", False),
            (horn, "depth", "side", False), (horn, "corner_rise", "front", True),
        ):  # fmt: skip
            self.assertEqual(standard.has_band(measure, view), wanted, (measure, view))

    def test_a_drill_speaks_of_its_own_stages_and_has_four_levels_at_most(self) -> None:
        whole = common().drill("four-by-four").model_dump()
        Drill.model_validate(whole)
        for more, told in (
            ({"stages": ["instrument"]}, "is not done at 'lips'"),
            ({"levels": ["a", "b", "c", "d", "e"]}, "at most 4"),
        ):
            with self.assertRaises(ValidationError) as refused:
                Drill.model_validate(whole | more)
            self.assertIn(told, str(refused.exception))

    def test_an_unknown_school_names_those_there_are(self) -> None:
        with self.assertRaisesMessage(StandardError, "two-thirds, seven-eighths"):
            shipped_standard("horn").school("nine-tenths")


class FindingTests(SimpleTestCase):
    def test_smile_needs_risen_corners_and_a_wider_mouth_together(self) -> None:
        self.assertEqual(verdict_of(judged(take(with_corners(9.0, 1.13))), "smile"), FAULT)
        self.assertIsNone(verdict_of(judged(take(with_corners(9.0, 1.00))), "smile"))
        self.assertIsNone(verdict_of(judged(take(with_corners(0.0, 1.13))), "smile"))

    def test_evidence_says_what_where_and_how_much(self) -> None:
        smile = judged(take(with_corners(9.0, 1.13))).findings[0]
        assert smile.start is not None and smile.end is not None
        self.assertGreaterEqual(smile.start, 2.0)
        self.assertLessEqual(smile.end, 4.0)
        rise, width = smile.evidence
        self.assertAlmostEqual(rise.value, 9.0, places=6)
        self.assertEqual((rise.edge, rise.limit), (3.0, 5.0))
        self.assertAlmostEqual(width.value, 1.13, places=6)

    def test_what_the_marks_are_too_coarse_for_is_only_watched(self) -> None:
        coarse = judged(take(with_corners(9.0, 1.13), sigma=4.0))
        self.assertEqual(verdict_of(coarse, "smile"), WATCH)
        self.assertIsNone(coarse.focus)

    def test_a_pucker_is_a_fault_on_brass_and_none_on_reeds(self) -> None:
        narrow = take(with_corners(0.0, 0.72))
        self.assertEqual(verdict_of(judged(narrow), "pucker"), FAULT)
        self.assertIsNone(verdict_of(judged(narrow, instrument="clarinet"), "pucker"))

    def test_one_width_is_right_in_one_school_and_not_in_the_other(self) -> None:
        marks = take(with_corners(0.0, 1.03))
        readings = {
            school: next(
                r
                for r in judged(marks, instrument="clarinet", school=school).readings
                if r.measure == "mouth_width"
            )
            for school in ("gathered", "stretched")
        }
        self.assertEqual(readings["stretched"].verdict, IN_BAND)
        self.assertNotEqual(readings["gathered"].verdict, IN_BAND)

    def test_wandering_corners_are_loose(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        wave = 8.0 * np.sin(2 * np.pi * 1.3 * marks.seconds) * (marks.seconds >= 2.0)
        for name in ("ch_r", "ch_l"):
            marks.xy[:, marks.column(name), 1] += wave
        result = judged(marks)
        self.assertEqual(verdict_of(result, "loose-corners"), FAULT)
        self.assertEqual(result.focus, "loose-corners")


class CantTellTests(SimpleTestCase):
    def assert_cant_tell(self, result: Judgement, told: str) -> None:
        smile = next(f for f in result.findings if f.fault == "smile")
        self.assertEqual(smile.verdict, CANT_TELL)
        self.assertIn(told, smile.reason)
        rise = next(r for r in result.readings if r.measure == "corner_rise")
        self.assertEqual((rise.verdict, rise.value), (CANT_TELL, None))
        self.assertIsNone(result.focus)

    def test_no_rest(self) -> None:
        self.assert_cant_tell(judged(take(with_corners(9, 1.13)), PHASES[1:]), "no rest phase")

    def test_no_hold(self) -> None:
        self.assert_cant_tell(judged(take(with_corners(9, 1.13)), PHASES[:1]), "“hold” is not set")

    def test_a_hold_of_a_moment(self) -> None:
        phases = [PHASES[0], Phase("hold", 2.0, 2.2)]
        self.assert_cant_tell(judged(take(with_corners(9, 1.13)), phases), "too short")

    def test_covered_corners(self) -> None:
        marks = take(with_corners(9, 1.13))
        marks.hidden[marks.seconds >= 1.5, marks.column("ch_r")] = True
        self.assert_cant_tell(judged(marks), "mouth corners can't be seen")

    def test_marks_so_coarse_that_a_smile_may_hide_behind_them(self) -> None:
        result = judged(take(with_corners(0.0, 1.0), sigma=7.0))
        rise = next(r for r in result.readings if r.measure == "corner_rise")
        self.assertEqual(rise.verdict, CANT_TELL)
        assert rise.value is not None and rise.uncertainty is not None
        self.assertGreater(rise.value + rise.uncertainty, 5.0)
        smile = next(f for f in result.findings if f.fault == "smile")
        self.assertEqual((smile.verdict, smile.reason), (CANT_TELL, rise.reason))
        self.assertIn("too uncertain", rise.reason)
        band = Band(measure="pitch", view="sound", low=-50.0, high=50.0, note="")
        pitch = with_verdict(Reading("pitch", "hold", 10.0, 80.0, "cents", NO_BAND), band)
        self.assertIn("tone", pitch.reason)
        stored = StoredTake("front", "half", tuple(PHASES), result.readings, result.findings)
        self.assertEqual(rejudged_readings(stored, shipped_standard("horn")), result.readings)

    def test_a_head_turned_aside(self) -> None:
        marks = take(with_corners(9, 1.13))
        turned = np.zeros_like(marks.xy)
        for name in ("al_r", "al_l"):
            # tan(25 degrees) of a nose that stands 0.24 eye distances forward.
            turned[:, marks.column(name), 0] = 172 * 0.24 * np.tan(np.radians(25))
        self.assert_cant_tell(judged(marks.moved(marks.xy + turned)), "turned about 25 degrees")

    def test_a_mouth_without_eyes_or_nose(self) -> None:
        marks = take(with_corners(9, 1.13))
        for name in ("ex_r", "ex_l", "en_r", "en_l", "al_r", "al_l"):
            marks.hidden[:, marks.column(name)] = True
        self.assert_cant_tell(judged(marks), "nose wings")
