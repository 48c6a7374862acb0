"""The made-up head: that its truth lies on what is drawn, and that what is drawn is a face."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from sulvet.core.anatomy.frame import rest_face
from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.measures import corners
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import frames_of
from sulvet.core.simulate import clip
from sulvet.core.simulate.body import Body, body
from sulvet.core.simulate.camera import Camera, into_room
from sulvet.core.simulate.mesh import INSIDE, METAL, TEETH
from sulvet.core.simulate.person import people
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.truth import landmarks, measures
from tests import rendered
from tests.core.simulate.builders import CLOSE, drawn, held, script


class DrawnTruthTests(SimpleTestCase):
    """Reprojected points against colour-coded renders, a tenth of a millimetre a pixel."""

    def at(self, shown_body: Body, point: Any) -> tuple[float, float]:
        x, y, _ = CLOSE.project(into_room(point, shown_body.pose))
        return float(x), float(y)

    def test_the_marked_border_is_where_the_red_begins(self) -> None:
        for name in ("ada", "chidi", "milo"):
            for pose in (Pose(), Pose(rise_r=8, rise_l=5, width=1.1), Pose(lower_red=0.5, roll=6)):
                posed = body(people()[name], pose)
                _, ring = drawn(posed, CLOSE)
                points = landmarks(posed)
                for mark, down in (("ls", 1), ("li", -1), ("cph_r", 1), ("cph_l", 1)):
                    x, y = self.at(posed, points[mark])
                    column = ring[:, round(x)]
                    near = np.arange(len(column))
                    close = np.abs(near - y) < 8
                    red = near[close & (column > 0.0)]
                    edge = red.min() if down > 0 else red.max()
                    self.assertLess(abs(edge - y), 1.6, (name, mark))

    def test_the_corners_are_where_the_red_ends(self) -> None:
        for pose in (Pose(), Pose(rise_r=9, rise_l=9, width=1.13), Pose(width=0.8)):
            posed = body(people()["ada"], pose)
            _, ring = drawn(posed, CLOSE)
            columns = np.flatnonzero((ring > 0).any(axis=0))
            points = landmarks(posed)
            self.assertLess(abs(columns.min() - self.at(posed, points["ch_r"])[0]), 4)
            self.assertLess(abs(columns.max() - self.at(posed, points["ch_l"])[0]), 4)

    def test_lips_at_rest_are_sealed_and_the_opening_is_as_high_as_told(self) -> None:
        who = people()["ada"]
        material, ring = drawn(body(who, Pose()), CLOSE)
        self.assertFalse(np.isin(material, (INSIDE, TEETH)).any())
        self.assertLess(int((ring > 1.3).sum()), 30)
        for tall in (1.6, 4.0):
            posed = body(who, Pose(aperture_height=tall, aperture_width=14))
            truth = measures(posed, landmarks(posed), None)
            material, ring = drawn(posed, CLOSE)
            middle = CLOSE.size[0] // 2
            gap = np.isin(material[:, middle], (INSIDE, TEETH)) | (ring[:, middle] > 1.02)
            self.assertAlmostEqual(truth["aperture_height"], tall, delta=0.05)
            self.assertAlmostEqual(float(gap.sum()) / 10, tall, delta=0.35)

    def test_the_rims_points_lie_on_the_edge_of_the_metal(self) -> None:
        for kind in ("horn", "trumpet", "trombone"):
            posed, cup = held(kind)
            material, _ = drawn(posed, CLOSE)
            points = cup.points()
            cx, cy = self.at(posed, points["rim_centre"])
            for k in range(1, 6):
                x, y = self.at(posed, points[f"rim_{k}"])
                for factor, wanted in ((0.96, True), (1.05, False)):
                    row, column = cy + (y - cy) * factor, cx + (x - cx) * factor
                    seen = material[round(row), round(column)] == METAL
                    # The shank hangs over the lower edge.
                    if y < cy + 20:
                        self.assertEqual(seen, wanted, (kind, k, factor))

    def test_the_tip_of_the_nose_and_the_chin_are_on_the_profile(self) -> None:
        side = Camera((900, 900), 2000, 2.6, (0, -20, 0), azimuth=90)
        posed = body(people()["emre"], Pose())
        material, _ = drawn(posed, side)
        points = landmarks(posed)
        for mark in ("prn", "ls", "li", "sl", "pg", "n"):
            x, y, _ = side.project(points[mark])
            row = np.flatnonzero(material[round(float(y))] >= 0)
            # The peaks of the lip stand a little before its dip in the middle, the brows
            # before the nose root.
            self.assertLess(abs(row.min() - x), 12 if mark in ("ls", "n") else 3, mark)


class MeasuredTruthTests(SimpleTestCase):
    def test_rest_faces_measure_as_published(self) -> None:
        """Groove 4 ± 2 mm, lips parted 0 to 4 mm: Legan and Burstone, J Oral Surg 1980
        (from memory; adults). Visible iris 11.7 ± 0.5 mm, outer eye corners about 87 mm
        in adults (Farkas, from memory): children's lie a little closer."""
        for person in people().values():
            posed = body(person, Pose())
            points = landmarks(posed)
            truth = measures(posed, points, None)
            self.assertTrue(2 <= truth["chin_hollow"] <= 6, (person.name, truth["chin_hollow"]))
            self.assertTrue(0 <= truth["aperture_height"] <= 4)
            for side in "rl":
                iris = abs(points[f"iris_{side}_in"][0] - points[f"iris_{side}_out"][0])
                self.assertAlmostEqual(float(iris), 11.7, delta=0.2)
            self.assertTrue(78 <= points["ex_l"][0] - points["ex_r"][0] <= 90)
            for name, value in truth.items():
                if ("red" in name and "above" not in name) or name in ("mouth_width", "jaw_drop"):
                    self.assertAlmostEqual(value, 1.0, places=6, msg=name)
                elif name.startswith(("corner", "cheek", "head")):
                    self.assertAlmostEqual(value, 0.0, places=6, msg=name)

    def test_true_marks_measured_in_the_picture_agree_with_three_dimensions(self) -> None:
        """At yaw 0: 0.4 degrees and 1 % of mouth width, what perspective leaves at 56 cm."""
        steps = [
            {"phase": "rest", "seconds": 0.6},
            {
                "phase": "form",
                "seconds": 0.8,
                "base": "rest",
                "pose": {"rise_r": 9, "rise_l": 6, "width": 1.12},
            },
            {
                "phase": "hold",
                "seconds": 0.8,
                "held": False,
                "base": "rest",
                "pose": {"width": 0.82, "lower_red": 0.5, "rise_r": -4, "jaw_drop": 4},
            },
        ]
        for name in ("juno", "chidi"):
            take = script(person=name, steps=steps, move={"turn": 0, "sway": 2}, seed=5)
            truths = rendered.moments(take)
            marks = clip.true_marks(take, FRONT_IDS, truths)
            rest = rest_face(marks, frames_of(take.phases, "rest", marks.seconds))
            assert rest is not None
            view = FaceView.of(marks, rest)
            for measure, least in ((corners.corner_rise_r, 0.4), (corners.corner_rise_l, 0.4)):
                read = measure(view) - measure(view.at_rest())
                true = [t.measures[measure.__name__] for t in truths]
                self.assertLess(float(np.abs(read - true).max()), least, name)
            wide = corners.mouth_width(view) / corners.mouth_width(view.at_rest())
            true = [t.measures["mouth_width"] for t in truths]
            self.assertLess(float(np.abs(wide - true).max()), 0.01, name)

    @settings(max_examples=25)
    @given(
        st.sampled_from(sorted(people())),
        st.floats(-8, 12),
        st.floats(-8, 12),
        st.floats(0.75, 1.2),
    )
    def test_what_is_told_of_the_corners_is_what_is_measured(
        self, name: str, right: float, left: float, width: float
    ) -> None:
        posed = body(people()[name], Pose(rise_r=right, rise_l=left, width=width))
        truth = measures(posed, landmarks(posed), None)
        self.assertAlmostEqual(truth["corner_rise_r"], right, delta=1.2)
        self.assertAlmostEqual(truth["corner_rise_l"], left, delta=1.2)
        # A raised corner is pushed aside by the cheek, a little: most with one up and one down.
        self.assertAlmostEqual(truth["mouth_width"], width, delta=0.025)

    def test_each_shape_moves_its_own_measure_the_right_way(self) -> None:
        def read(**pose: float) -> dict[str, float]:
            posed = body(people()["ada"], Pose(**pose))
            return measures(posed, landmarks(posed), None)

        rest = read()
        self.assertGreater(read(cheek_l=8)["cheek_out_l"], 3)
        self.assertAlmostEqual(read(cheek_l=8)["cheek_out_r"], 0, delta=0.05)
        # A puff of 6 mm at its peak moves the outline at mouth height by less.
        self.assertTrue(1.5 < read(cheek_r=6)["cheek_out_r"] < 4.0)
        self.assertGreater(read(chin_hollow=2)["chin_hollow"], rest["chin_hollow"] + 1.2)
        self.assertLess(read(chin_hollow=-5, flesh=2)["chin_hollow"], 0)
        self.assertLess(read(chin_raise=4)["chin_length"], 0.92)
        self.assertEqual(read(fold=2.5)["fold_count"], 1)
        self.assertGreater(read(flesh=3)["flesh_forward"], 0.6)
        self.assertGreater(read(jaw_drop=6)["jaw_drop"], 1.05)
        self.assertAlmostEqual(read(upper_red=0.3)["upper_red"], 0.3, delta=0.02)
        self.assertAlmostEqual(read(pitch=8)["head_nod"], 8, delta=0.2)
        self.assertAlmostEqual(read(roll=5)["head_roll"], 5, delta=0.01)
