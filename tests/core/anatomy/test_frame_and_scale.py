"""Fall-backs of the face frame, the head's turn, and millimetres."""

from __future__ import annotations

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.frame import apply, carry_hidden, rest_face, similarity, undo
from sulvet.core.anatomy.marks import Marks
from sulvet.core.anatomy.scale import iris_scale, sizes
from sulvet.core.measures.series import measure
from sulvet.core.phases import frames_of
from tests.core.faces import FACE, PHASES, take, with_corners

EYES = ("ex_r", "ex_l", "en_r", "en_l")


def without(marks: Marks, *names: str) -> Marks:
    for name in names:
        marks.hidden[:, marks.column(name)] = True
        marks.xy[:, marks.column(name)] = np.nan
    return marks


class RestFaceTests(SimpleTestCase):
    def axis(self, *gone: str) -> tuple[str, str]:
        marks = without(take(with_corners(0, 1)), *gone)
        face = rest_face(marks, frames_of(PHASES, "rest", marks.seconds))
        assert face is not None
        return face.axis

    def test_the_axis_falls_back_from_eyes_to_nose_to_mouth(self) -> None:
        self.assertEqual(self.axis(), ("ex_r", "ex_l"))
        self.assertEqual(self.axis("ex_l"), ("en_r", "en_l"))
        self.assertEqual(self.axis(*EYES), ("al_r", "al_l"))
        self.assertEqual(self.axis(*EYES, "al_r"), ("ch_r", "ch_l"))

    def test_a_mouth_alone_tells_no_roll(self) -> None:
        marks = without(take(with_corners(0, 1)), *EYES, "al_r", "al_l")
        face = rest_face(marks, frames_of(PHASES, "rest", marks.seconds))
        assert face is not None
        self.assertFalse(face.tells_roll)
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        self.assertTrue(np.isnan(measured.series["head_roll"].value).all())

    def test_a_close_up_is_measured_by_its_nose(self) -> None:
        marks = without(take(with_corners(7.0, 1.1)), *EYES)
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        self.assertAlmostEqual(float(measured.series["corner_rise"].value[-1]), 7.0, places=6)

    def test_one_wild_frame_at_rest_does_not_move_the_baseline(self) -> None:
        marks = take(with_corners(7.0, 1.1))
        marks.xy[5, marks.column("ch_r")] += (40.0, -30.0)
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        self.assertAlmostEqual(float(measured.series["corner_rise"].value[-1]), 7.0, places=6)

    def test_hidden_lips_are_carried_from_rest_and_say_how_well(self) -> None:
        marks = take(with_corners(0, 1))
        held = marks.seconds >= 1.5
        rest = rest_face(marks, frames_of(PHASES, "rest", marks.seconds))
        assert rest is not None
        marks.hidden[held, marks.column("ls")] = True
        marks.xy[held, marks.column("ls")] = np.nan
        carried = carry_hidden(marks, rest, carried_sigma=0.015)
        np.testing.assert_allclose(carried.xy[-1, marks.column("ls")], FACE["ls"], atol=1e-6)
        # 1.5 % of a mouth of 100 px.
        self.assertAlmostEqual(float(carried.sigma[-1, marks.column("ls")]), 1.5, places=6)

    def test_carried_lips_widen_the_interval(self) -> None:
        plain = take(with_corners(0, 1))
        rest = frames_of(PHASES, "rest", plain.seconds)
        seen = measure(plain, rest).series["corner_rise"].sigma[-1]
        for name in ("ls", "li"):
            plain.hidden[plain.seconds >= 1.5, plain.column(name)] = True
            plain.xy[plain.seconds >= 1.5, plain.column(name)] = np.nan
        self.assertGreater(measure(plain, rest).series["corner_rise"].sigma[-1], 1.5 * seen)

    def test_undo_is_the_way_back(self) -> None:
        rng = np.random.default_rng(4)
        source, target = rng.normal(0, 9, (3, 6, 2)), rng.normal(0, 9, (6, 2))
        a, b, shift = similarity(source, target, np.ones((3, 6)))
        np.testing.assert_allclose(undo(a, b, shift, apply(a, b, shift, source)), source, atol=1e-9)

    def test_too_few_points_fit_nothing(self) -> None:
        points = np.zeros((1, 3, 2))
        for weights in (np.array([[1.0, 0, 0]]), np.ones((1, 3))):
            a, _, _ = similarity(points, points[0], weights)
            self.assertTrue(np.isnan(a[0]))


class YawTests(SimpleTestCase):
    def test_a_turned_head_is_estimated_and_a_straight_one_is_not_turned(self) -> None:
        marks = take(with_corners(0, 1))
        rest = frames_of(PHASES, "rest", marks.seconds)
        np.testing.assert_allclose(measure(marks, rest).yaw, 0.0, atol=1e-9)
        turned = marks.xy.copy()
        # A nose that stands 0.24 eye distances forward goes sideways by tan(10 degrees) of that.
        for name in ("al_r", "al_l"):
            turned[:, marks.column(name), 0] += 172 * 0.24 * np.tan(np.radians(10))
        np.testing.assert_allclose(measure(marks.moved(turned), rest).yaw, 10.0, atol=1e-6)


class IrisScaleTests(SimpleTestCase):
    def test_two_irises_of_forty_pixels(self) -> None:
        irises = {
            "iris_r_out": np.array([100.0, 50.0]), "iris_r_in": np.array([140.0, 50.0]),
            "iris_l_in": np.array([240.0, 50.0]), "iris_l_out": np.array([280.0, 50.0]),
        }  # fmt: skip
        scale = iris_scale(irises)
        assert scale is not None
        self.assertAlmostEqual(scale.mm_per_px, sizes()["iris"]["mm"] / 40, places=9)
        # The spread between people, 0.5 of 11.7 mm, is most of the doubt.
        self.assertAlmostEqual(scale.sigma / scale.mm_per_px, 0.5 / 11.7, delta=0.005)

    def test_half_an_iris_is_no_scale(self) -> None:
        self.assertIsNone(iris_scale({"iris_r_out": np.array([1.0, 2.0])}))
        self.assertIsNone(iris_scale({}))
