"""A head that turns and nods is no flat card: what a similarity alone would bend stays put."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from django.test import SimpleTestCase
from scipy.spatial.transform import Rotation

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.frame import into_face, rest_face
from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.video.head_features import feature_depths
from sulvet.core.video.head_fit import solid_head
from sulvet.core.video.stabilise import stabilise
from sulvet.core.video.stabilised_clip import MOUTH, MOUTH_AT
from tests.core.faces import take, with_corners


def turned(points: Floats, deep: Floats, yaw: float, pitch: float) -> Floats:
    """(N, 2) of points with depths as a far camera sees the head turned, degrees."""
    solid = np.column_stack([points - MOUTH_AT, deep])
    # The nose goes to the picture's right and down.
    turn = Rotation.from_euler("yx", [yaw, -pitch], degrees=True)
    return np.asarray(turn.apply(solid)[:, :2] + MOUTH_AT)


class SolidTests(SimpleTestCase):
    def setUp(self) -> None:
        rng = np.random.default_rng(2)
        self.features = MOUTH_AT + rng.uniform((-90, -190), (90, -40), (50, 2))
        self.deep = feature_depths(self.features[:, None].astype(np.float32))

    def test_the_nose_lies_before_the_mouth_and_the_eyes_behind_it(self) -> None:
        at = [MOUTH_AT + np.array(p) * MOUTH for p in ((0, -0.75), (0.9, -1.18), (0, 0))]
        nose, eye, lips = feature_depths(np.array(at, np.float32)[:, None]) / MOUTH
        self.assertGreater(nose, 0.3)
        self.assertLess(eye, 0.0)
        self.assertAlmostEqual(lips, 0.17, delta=0.1)

    def test_the_plane_of_the_mouth_is_found_whatever_the_head_does(self) -> None:
        rng = np.random.default_rng(3)
        for yaw, pitch in ((0.0, 0.0), (4.0, -3.0), (-6.0, 6.0)):
            seen = turned(self.features, self.deep, yaw, pitch) + rng.normal(0, 0.2, (50, 2))
            # A few were followed to somewhere else.
            seen[:5] += 9.0
            fitted = solid_head(seen, self.features, self.deep)
            assert fitted is not None
            matrix, sigma, turn = fitted.matrix, fitted.sigma, fitted.turn
            corners = MOUTH_AT + np.array([[-60.0, 0.0], [60.0, 0.0]])
            there = turned(corners, np.zeros(2), yaw, pitch)
            back = there @ matrix[:, :2].T + matrix[:, 2]
            self.assertLess(float(np.abs(back - corners).max()), 1.5, f"{yaw} {pitch}")
            np.testing.assert_allclose(
                turn, np.sin(np.radians([yaw, pitch])), atol=0.02, err_msg=f"{yaw} {pitch}"
            )
            self.assertLess(sigma, 0.3)

    def test_a_few_features_of_the_nose_are_believed_beside_many_of_the_eyes(self) -> None:
        rng = np.random.default_rng(4)
        eyes = MOUTH_AT + rng.uniform((-90, -170), (90, -130), (40, 2))
        nose = MOUTH_AT + np.array([[-8.0, -85.0], [2.0, -80.0], [9.0, -84.0]])
        points = np.concatenate([eyes, nose])
        known = np.concatenate([rng.normal(0, 3, 40), [50.0, 54.0, 50.0]])
        # Nobody's eyes are as deep as the average one's.
        fitted = solid_head(turned(points, known + rng.normal(0, 4, 43), 18, 0), points, known)
        assert fitted is not None
        self.assertAlmostEqual(fitted.turn[0], np.sin(np.radians(18)), delta=0.05)

    def test_features_in_one_plane_tell_no_turn(self) -> None:
        flat = np.full(50, 10.0)
        fitted = solid_head(self.features + 2.0, self.features, flat)
        assert fitted is not None
        self.assertLess(float(np.abs(fitted.turn).max()), 0.02)


class FollowedTests(SimpleTestCase):
    def test_a_head_is_followed_though_nothing_of_the_first_picture_is_left(self) -> None:
        rng = np.random.default_rng(5)
        first, last = (
            cv2.normalize(
                cv2.GaussianBlur(rng.uniform(0, 255, (432, 400)), (0, 0), 3), None, 0, 255,
                cv2.NORM_MINMAX,
            )
            for _ in range(2)
        )  # fmt: skip
        points = {
            name: np.array(at, float)
            for name, at in {
                "ch_r": (140, 292), "ch_l": (260, 292), "al_r": (170, 225), "al_l": (230, 225),
                "sn": (200, 240), "ex_r": (120, 160), "ex_l": (280, 160),
            }.items()
        }  # fmt: skip
        grays = []
        for n in range(46):
            # Light creeps over the face from one side: behind it all looks another way.
            shown = np.where(np.arange(400) < 80 + 6 * n, last, first)
            grays.append(np.roll(shown, 2 * n, axis=1).astype(np.uint8))
        seen = stabilise(np.array(grays), 1.0, 0, points)
        self.assertTrue(seen.head_found.all())
        moved = seen.to_stabilised_pixels(45, np.array([290.0, 292.0]))
        np.testing.assert_allclose(moved, [200.0, 292.0], atol=2.0)

    def test_smooth_dim_skin_is_followed_beside_a_bright_eye(self) -> None:
        rng = np.random.default_rng(6)
        skin = 40 + 24 * cv2.GaussianBlur(rng.normal(0, 1, (480, 640)), (0, 0), 2.5)
        cv2.circle(skin, (400, 140), 4, 210, -1)
        points = {
            name: np.array(at, float)
            for name, at in {
                "n": (370, 110), "prn": (300, 180), "sn": (345, 195), "ls": (340, 240),
                "li": (348, 290), "pg": (345, 360),
            }.items()
        }  # fmt: skip
        grays = []
        for n in range(5):
            shown = np.roll(skin, (n, 2 * n), axis=(0, 1)) + rng.normal(0, 0.8, skin.shape)
            grays.append(np.clip(shown, 0, 255).astype(np.uint8))
        seen = stabilise(np.array(grays), 1.0, 0, points)
        self.assertTrue(seen.head_found.all())
        moved = seen.to_stabilised_pixels(4, points["li"] + [8.0, 4.0])
        np.testing.assert_allclose(moved, seen.to_stabilised_pixels(0, points["li"]), atol=0.5)

    def test_a_profile_is_held_by_its_nose_though_the_cheek_goes_its_own_way(self) -> None:
        rng = np.random.default_rng(6)
        pores = cv2.GaussianBlur(rng.uniform(60, 200, (440, 400)).astype(np.float32), (0, 0), 3)
        outline = [(150, 0), (150, 110), (110, 180), (142, 195), (138, 230), (150, 330), (400, 440)]
        points = {
            name: np.array(at, float)
            for name, at in {
                "n": (150, 110), "prn": (112, 180), "sn": (142, 196), "ls": (138, 225),
                "li": (138, 240), "pg": (148, 325),
            }.items()
        }  # fmt: skip
        grays = []
        for n in range(9):
            # The head turns toward the wall: its outline comes forward, the cheek less so.
            picture = np.full((440, 400), 235, np.float32)
            edge = np.array([*outline, (400, 0)]) - [n, 0]
            skin = np.zeros(picture.shape, np.uint8)
            cv2.fillPoly(skin, [edge.astype(np.int32)], 1)
            cheek = np.roll(pores, n // 4, axis=1)
            smooth = np.where(np.arange(400) > 165 - n, cheek, 120)
            grays.append(np.where(skin > 0, smooth, picture).astype(np.uint8))
        seen = stabilise(np.array(grays), 1.0, 0, points)
        first = seen.to_stabilised_pixels(0, points["prn"])
        last = seen.to_stabilised_pixels(8, points["prn"] - [8.0, 0.0])
        np.testing.assert_allclose(last, first, atol=1.2)


class FaceFrameTests(SimpleTestCase):
    def test_marks_of_a_turning_head_stand_still_in_the_face(self) -> None:
        marks = take(with_corners(4.0, 1.05))
        deep = depths(marks.ids) * 100.0
        turn = np.column_stack([
            0.08 * np.sin(marks.seconds * 2), 0.06 * np.cos(marks.seconds * 3)
        ])  # fmt: skip
        moved = replace(marks, xy=marks.xy + deep[None, :, None] * turn[:, None])
        swaying = replace(moved, signals={"turn_x": turn[:, 0], "turn_y": turn[:, 1]})
        names = [marks.column(name) for name in ("ch_r", "ch_l", "ls", "li", "me")]

        def faces(some: Marks) -> Floats:
            rest = rest_face(some, marks.seconds < 1.0)
            assert rest is not None
            return into_face(some, rest)[:, names]

        true = faces(marks)
        solid, flat = (float(np.ptp(faces(some) - true, axis=0).max()) for some in (swaying, moved))
        self.assertLess(solid, 1.0)
        self.assertGreater(flat, 4.0)
