"""Geometry of the face frame and the corner measures."""

from __future__ import annotations

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.transform import SimilarityTransform

from sulvet.core.anatomy.frame import apply, similarity
from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.series import measure
from sulvet.core.measures.stillness import stillness
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import frames_of
from tests.core.faces import PHASES, moved, take, with_corners


def similar(points: Floats, roll: float, zoom: float, shift: tuple[float, float]) -> Floats:
    angle = math.radians(roll)
    turn = np.array([[math.cos(angle), -math.sin(angle)], [math.sin(angle), math.cos(angle)]])
    return np.asarray(zoom * points @ turn.T + np.array(shift))


class FaceFrameTests(SimpleTestCase):
    @settings(max_examples=40)
    @given(
        roll=st.floats(-25, 25),
        zoom=st.floats(0.6, 1.7),
        x=st.floats(-300, 300),
        y=st.floats(-300, 300),
        rise=st.floats(-8, 14),
        width=st.floats(0.75, 1.2),
    )
    def test_roll_shift_and_zoom_of_the_head_change_no_reading_but_its_lean(
        self, roll: float, zoom: float, x: float, y: float, rise: float, width: float
    ) -> None:
        still = take(with_corners(rise, width))
        swayed = moved(
            still,
            lambda t, xy: similar(
                xy,
                roll * math.sin(float(t)),
                float(1 + (zoom - 1) * t / 5),
                (float(x * t / 5), float(y * t / 5)),
            ),
        )
        rest = frames_of(PHASES, "rest", still.seconds)
        plain, measured = measure(still, rest), measure(swayed, rest)
        for name in ("corner_rise", "corner_asymmetry", "mouth_width"):
            np.testing.assert_allclose(
                measured.series[name].value, plain.series[name].value, atol=1e-6
            )
        lean = roll * np.sin(still.seconds)
        np.testing.assert_allclose(measured.series["head_roll"].value, lean, atol=1e-6)

    def test_similarity_agrees_with_the_reference_library(self) -> None:
        rng = np.random.default_rng(5)
        source = rng.normal(0, 50, (9, 2))
        target = similar(source, 17.0, 1.3, (40.0, -12.0)) + rng.normal(0, 2, (9, 2))
        a, b, shift = similarity(source[None], target, np.ones((1, 9)))
        # skimage.transform.SimilarityTransform, after Umeyama 1991.
        reference = SimilarityTransform.from_estimate(source, target)
        np.testing.assert_allclose(
            apply(a, b, shift, source[None])[0], reference(source), atol=1e-9
        )

    def test_a_rim_that_drags_the_nose_base_does_not_turn_the_face(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        column = marks.column("sn")
        marks.xy[marks.seconds >= 1.5, column] += (9.0, -6.0)
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        np.testing.assert_allclose(measured.series["corner_rise"].value, 0.0, atol=1e-9)


class CornerTests(SimpleTestCase):
    def test_hand_worked_angle_and_width(self) -> None:
        # Half width 55 px, lift 10 px: atan(10 / 55) = 10.3048 degrees, width 110 / 100.
        held = with_corners(math.degrees(math.atan2(10, 55)), 1.10)
        measured = measure(take(held), frames_of(PHASES, "rest", take(held).seconds))
        at_end = {name: series.value[-1] for name, series in measured.series.items()}
        self.assertAlmostEqual(at_end["corner_rise"], 10.3048, places=3)
        self.assertAlmostEqual(at_end["mouth_width"], 1.10, places=6)

    def test_a_crooked_rest_face_is_the_students_own(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        marks.xy[:, marks.column("ch_l"), 1] -= 6.0
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        for name in ("corner_rise", "corner_asymmetry"):
            np.testing.assert_allclose(measured.series[name].value, 0.0, atol=1e-9)

    def test_right_is_the_students_own_right(self) -> None:
        marks = take(with_corners(0.0, 1.0))
        marks.xy[marks.seconds >= 1.5, marks.column("ch_r"), 1] -= 8.0
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        self.assertGreater(measured.series["corner_rise_r"].value[-1], 8.0)
        self.assertAlmostEqual(measured.series["corner_rise_l"].value[-1], 0.0, places=6)
        self.assertGreater(measured.series["corner_asymmetry"].value[-1], 8.0)


class StillnessTests(SimpleTestCase):
    def test_a_sine_of_the_corners_has_its_root_mean_square(self) -> None:
        marks = take(with_corners(0.0, 1.0), seconds=9.0)
        amplitude = 4.0  # px of a mouth of 100 px: RMS 4 / sqrt(2) = 2.83 %
        wave = amplitude * np.sin(2 * np.pi * 1.5 * marks.seconds)
        for name in ("ch_r", "ch_l"):
            marks.xy[:, marks.column(name), 1] += np.where(marks.seconds >= 2.0, wave, 0.0)
        measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
        assert measured.view is not None
        held = marks.seconds >= 2.0
        view = measured.view
        part = FaceView(view.ids, view.face[held], view.picture[held], view.rest)
        value, sigma = stillness(
            part.point,
            ("ch_r", "ch_l"),
            ("al_r", "al_l"),
            view.rest_mouth_width,
            marks.seconds[held],
        )
        self.assertAlmostEqual(value, 100 * amplitude / math.sqrt(2) / 100, delta=0.15)
        self.assertGreater(sigma, 0.05)


class UncertaintyTests(SimpleTestCase):
    def test_carried_uncertainty_is_what_a_monte_carlo_run_gives(self) -> None:
        rest = frames_of(PHASES, "rest", take(with_corners(0, 1)).seconds)
        marks = take(with_corners(6.0, 1.05), sigma=0.6)
        carried = measure(marks, rest).series
        rng = np.random.default_rng(11)
        ends: dict[str, list[float]] = {"corner_rise": [], "mouth_width": [], "head_roll": []}
        for _ in range(300):
            # Every mark of every frame errs by itself; the rest face is the median of many.
            shaken = marks.moved(marks.xy + rng.normal(0, 0.6, marks.xy.shape))
            series = measure(shaken, rest).series
            for name, values in ends.items():
                values.append(float(series[name].value[-1]))
        for name, values in ends.items():
            self.assertAlmostEqual(
                float(carried[name].sigma[-1]) / float(np.std(values)), 1.0, delta=0.2, msg=name
            )
