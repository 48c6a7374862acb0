"""The full set of measures: geometry, millimetres, propagated uncertainty, motion, agreement."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from uncertainties import ufloat
from uncertainties.umath import atan2, degrees

from sulvet.core.anatomy.landmarks import CONTOUR_IDS, TAKE_IDS
from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.anatomy.scale import Scale, from_length, sizes
from sulvet.core.judgement.reasons import NO_SCALE
from sulvet.core.judgement.results import CANT_TELL, FAULT
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.motion import Moved, motions, shape_distance
from sulvet.core.measures.reliability import intraclass, technical_error
from sulvet.core.measures.series import Measured, measure
from sulvet.core.phases import Phase, frames_of
from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from tests import rendered
from tests.core.faces import FACE, FPS
from tests.core.judging import judged

PHASES = [Phase("rest", 0.0, 1.0), Phase("form", 1.2, 1.8), Phase("hold", 2.0, 4.0)]


def take(held: dict[str, tuple[float, float]], **more: tuple[float, float]) -> Marks:
    """The plain face until 1.9 s, then with some points elsewhere; ``more`` all through."""
    marks = Marks.empty(TAKE_IDS, np.arange(5 * FPS) / FPS)
    face, early = FACE | more, marks.seconds < 1.9
    for place, rows in ((face, early), (face | held, ~early)):
        for name, point in place.items():
            column = marks.column(name)
            marks.xy[rows, column] = point
            marks.hidden[rows, column] = False
            marks.sigma[rows, column] = marks.drift[rows, column] = 0.5
            marks.source[rows, column] = 1
    return marks


def read(marks: Marks, facts: TakeContext | None = None) -> Measured:
    return measure(marks, frames_of(PHASES, "rest", marks.seconds), facts)


def at_end(measured: Measured, name: str) -> tuple[float, float]:
    series = measured.series[name]
    return float(series.value[-1]), float(series.sigma[-1])


class FrontTests(SimpleTestCase):
    def test_hand_worked_red_opening_cheeks_and_jaw(self) -> None:
        # Irises 24 px wide: 11.7 / 24 mm a pixel at the eyes.
        marks = take(
            {
                "sto_s": (300, 405), "sto_i": (300, 415), "ap_r": (290, 410), "ap_l": (314, 410),
                "ck_r": (160, 410), "ck_l": (440, 410), "me": (300, 510), "li": (300, 423),
            },
            ck_r=(170, 410), ck_l=(430, 410), pg=(300, 460),
        )  # fmt: skip
        measured = read(marks)
        mm = measured.scales.at("lips")
        assert mm is not None
        self.assertAlmostEqual(at_end(measured, "upper_red")[0], 10 / 15)
        self.assertAlmostEqual(at_end(measured, "lower_red")[0], 8 / 14)
        self.assertAlmostEqual(at_end(measured, "aperture_height")[0], 10 * mm.mm_per_px)
        self.assertAlmostEqual(at_end(measured, "aperture_width")[0], 24 * mm.mm_per_px)
        area = np.pi / 4 * 240 * mm.mm_per_px**2
        self.assertAlmostEqual(at_end(measured, "aperture_area")[0], area)
        self.assertAlmostEqual(at_end(measured, "aperture_offset")[0], 2 * mm.mm_per_px)
        cheeks = measured.scales.at("cheeks")
        assert cheeks is not None
        for side in "rl":
            self.assertAlmostEqual(at_end(measured, f"cheek_out_{side}")[0], 10 * cheeks.mm_per_px)
        self.assertAlmostEqual(at_end(measured, "jaw_drop")[0], 138 / 128)
        self.assertAlmostEqual(at_end(measured, "chin_length")[0], 37 / 35)

    def test_an_opening_has_a_height_without_its_ends_and_shut_lips_have_none(self) -> None:
        measured = read(take({"sto_s": (300, 405), "sto_i": (300, 415)}))
        mm = measured.scales.at("lips")
        assert mm is not None
        self.assertAlmostEqual(at_end(measured, "aperture_height")[0], 10 * mm.mm_per_px)
        self.assertTrue(np.isnan(at_end(measured, "aperture_area")[0]))
        shut = judged(take({"sto_s": (300, 410), "sto_i": (300, 410)}), PHASES, "flute")
        told = next(r for r in shut.readings if (r.measure, r.phase) == ("aperture_height", "hold"))
        self.assertIn("The opening between the lips can't be seen", told.reason)

    def test_a_turned_head_puffs_no_cheek(self) -> None:
        """The outline lies 0.72 of the eyes' distance behind; the wings stand 0.145 before."""
        turn, wide = np.sin(np.radians(3.0)), 172.0
        wing, cheek = 0.145 * wide * turn, -0.72 * wide * turn
        marks = take(
            {
                "al_r": (265 + wing, 360), "al_l": (335 + wing, 360),
                "ck_r": (170 + cheek, 410), "ck_l": (430 + cheek, 410),
            },
            ck_r=(170, 410), ck_l=(430, 410),
        )  # fmt: skip
        marks.hidden[:, [marks.column("en_r"), marks.column("en_l")]] = True
        for name in ("cheek_out_r", "cheek_out_l"):
            self.assertLess(abs(at_end(read(marks), name)[0]), 0.6)

    def test_cheeks_that_move_opposite_ways_are_a_turn_the_nose_did_not_show(self) -> None:
        for right, left, puffed in ((9.0, -9.0, (0, 0)), (12.0, -3.0, (9, 0)), (9.0, 7.0, (9, 7))):
            marks = take(
                {"ck_r": (170 - right, 410), "ck_l": (430 + left, 410)},
                ck_r=(170, 410), ck_l=(430, 410),
            )  # fmt: skip
            measured = read(marks)
            scale = measured.scales.at("cheeks")
            assert scale is not None
            for side, out in zip("rl", puffed, strict=True):
                value = at_end(measured, f"cheek_out_{side}")[0] / scale.mm_per_px
                self.assertAlmostEqual(value, out, msg=f"{right} {left}")

    def test_a_lip_that_moves_under_a_mouthpiece_moves_no_corner(self) -> None:
        marks = take({"li": (300, 412)})
        self.assertGreater(abs(at_end(read(marks), "corner_rise")[0]), 5)
        marks.hidden[marks.seconds >= 1.9, marks.column("ls")] = True
        self.assertAlmostEqual(at_end(read(marks), "corner_rise")[0], 0.0, places=6)


class MillimetreTests(SimpleTestCase):
    def test_what_is_nearer_to_the_lens_is_smaller_than_it_looks(self) -> None:
        table = sizes()
        eyes = Scale(0.5, 0.01, "iris", "eyes")
        there = eyes.at("rim")
        lens, planes = table["lens"]["mm"] + table["planes"]["lips"]["mm"], table["planes"]
        self.assertAlmostEqual(there.mm_per_px, 0.5 * (lens - planes["rim"]["mm"]) / lens)
        self.assertGreater(there.relative, eyes.relative)
        back = there.at("eyes")
        self.assertAlmostEqual(back.mm_per_px, eyes.mm_per_px, places=12)
        self.assertGreater(eyes.at("cheeks").mm_per_px, eyes.mm_per_px)

    def test_a_known_length_goes_before_the_iris(self) -> None:
        marks = take({"sto_s": (300, 405), "sto_i": (300, 415), "ap_r": (290, 410),
                      "ap_l": (310, 410)}, kl_a=(200, 450), kl_b=(240, 450))  # fmt: skip
        plain, known = read(marks), read(marks, TakeContext(known_mm=10.0))
        scale = known.scales.at("lips")
        assert scale is not None
        self.assertEqual(scale.source, "known")
        self.assertAlmostEqual(at_end(known, "aperture_height")[0], 10 * 10 / 40)
        self.assertLess(at_end(known, "aperture_height")[1], at_end(plain, "aperture_height")[1])

    def test_without_anything_of_known_size_millimetres_are_not_told(self) -> None:
        marks = take({"ck_r": (150, 410), "ck_l": (450, 410)}, ck_r=(170, 410), ck_l=(430, 410))
        for name in TAKE_IDS:
            if name.startswith("iris"):
                marks.xy[:, marks.column(name)] = np.nan
        result = judged(marks, PHASES, "trombone")
        cheek = next(r for r in result.readings if r.measure == "cheek_out_r" and r.phase == "hold")
        self.assertEqual((cheek.verdict, cheek.reason), (CANT_TELL, NO_SCALE))

    def test_a_length_never_seen_is_no_scale(self) -> None:
        self.assertIsNone(from_length(np.array([np.nan, 0.0]), 10, 0.1, 0.5, "known", "lips"))


class UncertaintyTests(SimpleTestCase):
    def test_it_is_what_the_package_uncertainties_carries_through(self) -> None:
        """A corner's angle and the width, by hand in the package ``uncertainties`` 3.2."""
        marks = take({"ch_r": (245, 402), "ch_l": (356, 404)})
        # The head's own frame and the rest face without error: the frame's marks alone.
        for name in TAKE_IDS:
            column = marks.column(name)
            if name not in ("ch_r", "ch_l", "ls", "li"):
                marks.sigma[:, column] = marks.drift[:, column] = 0.0
        measured = read(marks)

        def mark(x: float, y: float) -> tuple[Any, Any]:
            return ufloat(x, 0.5), ufloat(y, 0.5)

        (rx, ry), (lx, ly) = mark(245, 402), mark(356, 404)
        (ux, uy), (dx, dy) = mark(300, 395), mark(300, 425)
        mx, my = (ux + dx) / 2, (uy + dy) / 2
        right = degrees(atan2(my - ry, mx - rx))
        left = degrees(atan2(my - ly, lx - mx))
        model = catalogue().measure("corner_rise")
        self.assertEqual(model.unit, "deg")
        told = at_end(measured, "corner_rise")
        self.assertAlmostEqual(told[0], ((right + left) / 2).n, places=6)
        floor = 0.2
        carried = float(np.sqrt(told[1] ** 2 - floor**2))
        self.assertAlmostEqual(carried, ((right + left) / 2).s, delta=0.01)

    def test_a_mark_shared_with_rest_drops_out_of_a_change(self) -> None:
        marks = take({"ch_r": (245, 402), "ch_l": (356, 404)})
        alone = at_end(read(marks), "mouth_width")[1]
        marks.drift[:] = np.where(np.isfinite(marks.drift), 0.0, np.nan)
        shared = at_end(read(marks), "mouth_width")[1]
        self.assertLess(shared, 0.45 * alone)


class TruthTests(SimpleTestCase):
    """True marks of made-up heads against three dimensions, straight on."""

    CASES: tuple[tuple[str, str, dict[str, float], dict[str, float]], ...] = (
        ("horn", "front", {"upper_share": 0.6, "offset": 2.0}, {}),
        ("clarinet", "front", {"offset": 2.0}, {}),
        ("flute", "front", {"hole_to_lip": 4.0, "tilt": 5.0}, {"aperture_height": 3.0}),
        ("clarinet", "side", {"depth": 12.0, "angle": 40.0}, {"chin_hollow": 2.0}),
        ("bassoon", "side", {"depth": 15.0}, {}),
        ("trumpet", "side", {"angle": 10.0}, {}),
        ("flute", "side", {"roll": 12.0}, {}),
    )
    #: Largest error in the measure's unit. What the line of sight does to depth is in it.
    MOST: dict[str, float] = {
        "deg": 2.5, "ratio": 0.035, "share": 0.06, "mm": 1.0, "MW": 0.03, "mm²": 3.0, "%": 5.0,
    }  # fmt: skip
    #: Known to differ: what the picture's edge or the wall's horizon says instead.
    LEFT_OUT = frozenset(
        {
            "cheek_out_r", "cheek_out_l", "fold_count", "chin_length", "lip_line_order",
            "hole_cover", "aperture_area", "upper_red_side",
        }
    )  # fmt: skip

    def test_true_marks_measured_in_the_picture_agree_with_three_dimensions(self) -> None:
        checked = set()
        for instrument, view, holds, pose in self.CASES:
            script = Script.model_validate({
                "person": "ben", "instrument": instrument, "view": view, "fps": 4,
                "size": [1280, 720], "move": {"sway": 0, "turn": 0, "lips": 0, "hand": 0},
                "camera": {"distance": 600, "fov": 19, "aim": [0, -4, 0],
                           "azimuth": 90 if view == "side" else 0},
                "steps": [{"phase": "rest", "seconds": 0.75},
                          {"phase": "hold", "seconds": 1.0, "holds": holds, "pose": pose}],
            })  # fmt: skip
            truths = rendered.moments(script)
            marks = clip.true_marks(script, TAKE_IDS, truths)
            # A side view's lips are seen edge-on, and the axis lies inside the mouthpiece.
            known = np.isfinite(marks.xy[..., 0])
            if view == "side":
                marks = replace(marks, hidden=marks.hidden & ~known)
            measured = measure(
                marks,
                frames_of(script.phases, "rest", marks.seconds),
                TakeContext(view, instrument),
            )
            true = truths[-1].measures
            wide = truths[0].measures["rest_mouth_width_mm"]
            head = truths[0].head
            lip_to_chin = float(np.linalg.norm(np.subtract(head["li"], head["pg"])[1:]))
            for name, series in measured.series.items():
                value = float(series.value[-1])
                if name not in true or name in self.LEFT_OUT or not np.isfinite(value):
                    continue
                wanted = true[name]
                wanted /= {"MW": wide, "%": lip_to_chin / 100}.get(series.unit, 1.0)
                self.assertAlmostEqual(
                    value, wanted, delta=self.MOST[series.unit], msg=f"{instrument} {view} {name}"
                )
                checked.add(name)
        self.assertGreaterEqual(len(checked), 20, sorted(checked))


class MotionTests(SimpleTestCase):
    def told(self, marks: Marks, phases: list[Phase] | None = None) -> dict[str, Moved]:
        phases = phases or PHASES
        measured = measure(
            marks, frames_of(phases, "rest", marks.seconds), TakeContext("front", "horn")
        )
        return {m.measure.id: m for m in motions(marks, measured, phases)}

    def moved(self, marks: Marks, phases: list[Phase] | None = None) -> dict[str, float]:
        return {name: one.value for name, one in self.told(marks, phases).items()}

    def test_corners_that_let_go_when_the_air_starts(self) -> None:
        marks = take({})
        formed = (marks.seconds >= 1.1) & (marks.seconds < 1.9)
        for name in ("ch_r", "ch_l"):
            marks.xy[formed, marks.column(name), 1] -= 8.0
        # 8 px over half a mouth of 50: 9.09 degrees lost.
        self.assertAlmostEqual(self.moved(marks)["collapse_corner_rise"], -9.09, delta=0.01)

    def test_what_lets_go_is_less_sure_where_corners_had_to_be_found_anew(self) -> None:
        marks = take({})
        followed = self.told(marks)["collapse_corner_rise"].sigma
        playing = marks.seconds >= 2.0
        for name in ("ch_r", "ch_l"):
            for unsure in (marks.sigma, marks.drift):
                unsure[playing, marks.column(name)] = 6.0
        # 6 px on either corner over half a mouth of 50: 4.8 degrees on their mean.
        self.assertGreater(self.told(marks)["collapse_corner_rise"].sigma, followed + 2.0)

    def test_a_movement_right_after_the_tone_is_told_and_a_later_one_is_not(self) -> None:
        for seconds, wanted in ((4.15, 6.0), (4.6, 0.0)):
            marks = take({})
            marks.xy[marks.seconds >= seconds, marks.column("ch_r"), 0] -= 6.0
            self.assertAlmostEqual(self.moved(marks)["release_move"], wanted, delta=0.1)

    @settings(max_examples=25)
    @given(st.floats(-40, 40), st.floats(0.5, 2), st.floats(-50, 50))
    def test_a_shape_moved_turned_and_scaled_is_the_same_shape(
        self, turn: float, zoom: float, shift: float
    ) -> None:
        shape = np.array([(0.0, 0.0), (100.0, 3.0), (50.0, -14.0), (49.0, 16.0)])
        angle = np.radians(turn)
        matrix = zoom * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        self.assertLess(shape_distance(shape, shape @ matrix.T + shift), 1e-6)
        bent = shape + np.array([(0, 0), (0, 12), (0, 0), (0, 0)])
        self.assertGreater(shape_distance(shape, bent), 0.02)

    def test_a_slide_that_does_not_come_back_and_a_placing_that_wanders(self) -> None:
        phases = [
            PHASES[0], Phase("place", 1.2, 1.6), Phase("place", 2.0, 2.4), Phase("change", 2.6, 4.6)
        ]  # fmt: skip
        rim = {f"rim_{n}": (300 + 30 * np.cos(a), 400 + 30 * np.sin(a))
               for n, a in enumerate((0.2, 1.4, 2.6, 3.9, 5.1), 1)}  # fmt: skip
        marks = take({}, **rim)
        for name in rim:
            marks.xy[marks.seconds >= 1.9, marks.column(name), 0] += 8.0
        marks.xy[marks.seconds >= 4.0, marks.column("ch_l"), 1] -= 10.0
        told = self.moved(marks, phases)
        # Two places 8 px apart: a standard deviation of 8 / sqrt(2), of a mouth of 100.
        self.assertAlmostEqual(told["placing_spread"], 8 / np.sqrt(2), delta=0.01)
        self.assertGreater(told["return_error"], 3.0)

    def test_a_rim_that_leaves_the_lips_on_the_breath_is_a_fault(self) -> None:
        points = {
            "n": (120.0, 40.0), "prn": (170.0, 120.0), "sn": (140.0, 140.0), "ls": (144.0, 165.0),
            "sto": (138.0, 180.0), "li": (141.0, 200.0), "pg": (140.0, 250.0),
            "rs_top": (150.0, 140.0), "rs_low": (150.0, 221.0),
        }  # fmt: skip
        phases = [PHASES[0], Phase("breathe", 1.2, 1.8), PHASES[2]]
        marks = Marks.empty(TAKE_IDS, np.arange(5 * FPS) / FPS)
        for name, point in points.items():
            column = marks.column(name)
            marks.xy[:, column], marks.hidden[:, column] = point, False
            marks.sigma[:, column] = marks.drift[:, column] = 0.5
        away = (marks.seconds >= 1.1) & (marks.seconds < 1.9)
        for name in ("rs_top", "rs_low"):
            marks.xy[away, marks.column(name), 0] += 18.0
        result = judged(marks, phases, "trumpet", "side")
        gap = next(r for r in result.readings if r.measure == "rim_gap")
        assert gap.value is not None
        # 18 px of a rim of 27 mm that is 81 px high.
        self.assertAlmostEqual(gap.value, 6.0, delta=0.05)
        called = [f.fault for f in result.findings if f.verdict == FAULT]
        self.assertIn("lip-leaves-rim", called)


class AgreementTests(SimpleTestCase):
    RATINGS = np.array(
        [(9, 2, 5, 8), (6, 1, 3, 2), (8, 4, 6, 8), (7, 1, 2, 6), (10, 5, 6, 9), (6, 2, 4, 7)],
        dtype=float,
    )

    def test_the_published_example_of_intraclass_correlation(self) -> None:
        """P. E. Shrout and J. L. Fleiss, Psychological Bulletin 86 (1979), table 4."""
        told = intraclass(self.RATINGS)
        for pair, wanted in (
            (told.one_way, (0.17, 0.44)),
            (told.two_way, (0.29, 0.62)),
            (told.fixed, (0.71, 0.91)),
        ):
            np.testing.assert_allclose(pair, wanted, atol=0.005)

    @settings(max_examples=20)
    @given(st.floats(0.1, 4), st.integers(0, 9999))
    def test_technical_error_is_the_spread_of_one_mark(self, spread: float, seed: int) -> None:
        rng = np.random.default_rng(seed)
        true = rng.normal(0, 50, 4000)
        first, second = (true + rng.normal(0, spread, 4000) for _ in range(2))
        self.assertAlmostEqual(technical_error(first, second) / spread, 1.0, delta=0.06)

    def test_rounds_that_do_not_match_are_refused(self) -> None:
        with self.assertRaisesMessage(ValueError, "two rounds"):
            technical_error(np.zeros(3), np.zeros(4))
        with self.assertRaisesMessage(ValueError, "two subjects"):
            intraclass(self.RATINGS[:1])


def contour_take(bumps: Floats) -> Marks:
    """A profile whose chin's skin lies behind a straight line by ``bumps`` (N,), pixels."""
    points = {
        "n": (120.0, 40.0), "prn": (170.0, 120.0), "sn": (140.0, 140.0), "ls": (144.0, 165.0),
        "sto": (138.0, 180.0), "li": (140.0, 200.0), "pg": (140.0, 260.0),
    }  # fmt: skip
    heights = np.linspace(200, 280, len(CONTOUR_IDS))
    points |= {
        name: (140.0 - float(depth), float(y))
        for name, depth, y in zip(CONTOUR_IDS, bumps, heights, strict=True)
    }
    marks = Marks.empty(TAKE_IDS, np.arange(40) / 10)
    for name, point in points.items():
        column = marks.column(name)
        marks.xy[:, column], marks.hidden[:, column] = point, False
        marks.sigma[:, column] = marks.drift[:, column] = 0.4
    return marks


class FoldTests(SimpleTestCase):
    def test_a_smooth_groove_has_no_fold_and_a_second_bump_is_one(self) -> None:
        at = np.linspace(0, 1, len(CONTOUR_IDS))
        groove = 12 * np.sin(np.pi * np.clip(at / 0.75, 0, 1))
        bump = 9 * np.exp(-(((at - 0.32) / 0.07) ** 2))
        for skin, folds in ((groove, 0), (groove - bump, 1)):
            measured = measure(
                contour_take(skin), np.arange(40) < 10, TakeContext("side", "clarinet")
            )
            self.assertEqual(at_end(measured, "fold_count")[0], folds)
        # A lip's flesh that stands before the line to the groove.
        self.assertGreater(at_end(measured, "flesh_forward")[0], 0.0)
        self.assertAlmostEqual(at_end(measured, "chin_hollow")[0], 12 / 60 * 100, delta=2.5)
