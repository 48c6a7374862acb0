"""The networks' own arithmetic, and what is believed of their answers."""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.anatomy.landmarks import FRONT_IDS, REQUIRED
from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.crops import MARK_SIDE, crop_matrix, inverse, through, whole_matrix
from sulvet.core.video.finder import Face
from sulvet.core.video.landmark_network import Landmarks, Mouth
from sulvet.core.video.network_finder import NetworkFinder, face_of
from sulvet.core.video.network_points import POINTS, RIM
from sulvet.core.video.network_rim import RIM_AT
from tests.painted import face as painted
from tests.painted.face import Person, Pose

SIZE = (960, 720)
#: Lips redder, browner, greyer and lighter than the skin they lie in, light to dark.
PEOPLE = (
    Person(),
    Person(skin=(0.70, 0.50, 0.38), lip=(0.58, 0.31, 0.29), seed=2),
    Person(skin=(0.52, 0.35, 0.26), lip=(0.42, 0.30, 0.25), hair=(0.07, 0.05, 0.04), seed=3),
    Person(skin=(0.36, 0.23, 0.16), lip=(0.29, 0.22, 0.20), hair=(0.05, 0.04, 0.03), seed=4),
    Person(skin=(0.30, 0.19, 0.14), lip=(0.44, 0.28, 0.24), hair=(0.05, 0.04, 0.03), seed=5),
)  # fmt: skip


def seen(spread: float, places: dict[str, Any], yaw: float = 0.0) -> Landmarks:
    """All points at the middle but those named, which alone are seen."""
    xy = np.full((len(POINTS), 2), 300.0)
    sure = np.zeros(len(POINTS))
    for name, place in places.items():
        xy[POINTS.index(name)], sure[POINTS.index(name)] = place, 1.0
    mouth = Mouth(np.array([300.0, 300.0]), 100.0, yaw, 0.0, 0.9)
    return Landmarks(xy, np.full(len(POINTS), spread), sure, yaw, 0.0, 0.0, mouth)


BARE = {
    "ch_r": (250.0, 300.0), "ch_l": (350.0, 300.0), "ls": (300.0, 285.0), "li": (300.0, 320.0),
    "sn": (300.0, 260.0), "al_r": (265.0, 250.0), "al_l": (335.0, 250.0),
}  # fmt: skip


class CropTests(SimpleTestCase):
    @given(
        st.floats(-500, 2000), st.floats(-500, 2000), st.floats(5, 900), st.floats(1.5, 4),
        st.floats(-60, 60),
    )  # fmt: skip
    def test_a_crop_stands_the_mouth_upright_in_its_middle(
        self, x: float, y: float, unit: float, wide: float, roll: float
    ) -> None:
        matrix = crop_matrix(np.array([x, y]), unit, wide, roll)
        a = np.radians(roll)
        # A place one mouth above the mouth of a head that leans clockwise.
        above = np.array([x + unit * np.sin(a), y - unit * np.cos(a)])
        middle, there = through(matrix, np.array([[x, y], above]))
        np.testing.assert_allclose(middle, MARK_SIDE / 2 - 0.5, atol=1e-6)
        np.testing.assert_allclose(there - middle, (0, -MARK_SIDE / wide), atol=1e-6)
        np.testing.assert_allclose(through(inverse(matrix), there), above, atol=1e-5)

    def test_a_whole_picture_is_fitted_in(self) -> None:
        matrix = whole_matrix(1280, 720)
        ends = through(matrix, np.array([[-0.5, -0.5], [1279.5, 719.5]]))
        np.testing.assert_allclose(ends, [[-0.5, 34.5], [159.5, 124.5]], atol=1e-9)


BLANK = np.zeros((600, 600, 3), np.uint8)


class BelievedTests(SimpleTestCase):
    def test_a_rim_is_one_ellipse_whatever_each_of_its_places_is_off_by(self) -> None:
        turn = np.radians(90 - 45.0 * np.arange(8))
        centre, a, b = np.array([304.0, 306.0]), np.array([40.0, 0.0]), np.array([0.0, -38.8])

        def ring(at: Floats) -> Floats:
            return np.asarray(centre + np.cos(at)[:, None] * a + np.sin(at)[:, None] * b)

        rng = np.random.default_rng(1)
        for noise in (0.0, 2.0):
            places = ring(turn) + rng.normal(0, noise, (8, 2)) if noise else ring(turn)
            face = face_of(
                seen(2.0, BARE | dict(zip(RIM, places, strict=True)) | {"rim_centre": centre}),
                BLANK,
            )
            assert face is not None
            found = np.array([face.points[f"rim_{n}"] for n in range(1, 6)])
            off = found - ring(np.radians(RIM_AT))
            self.assertLess(float(np.sqrt((off**2).mean())), 1e-6 + 0.85 * noise)
            self.assertEqual((face.equipment, face.covered), ("rim", 1.0))

    def test_what_the_student_does_not_play_is_not_at_the_mouth(self) -> None:
        turn = np.radians(90 - 45.0 * np.arange(8))
        ring = np.array([304.0, 306.0]) + 40 * np.column_stack([np.cos(turn), -np.sin(turn)])
        points = BARE | dict(zip(RIM, ring, strict=True)) | {"rim_centre": np.array([304.0, 306.0])}
        for held, told in (("", "rim"), ("rim", "rim"), ("plate", "")):
            face = face_of(seen(2.0, points), BLANK, held)
            assert face is not None
            self.assertEqual(face.equipment, told)

    def test_marks_that_do_not_hold_together_are_no_face(self) -> None:
        self.assertIsNotNone(face_of(seen(2.0, BARE), BLANK))
        self.assertIsNone(face_of(seen(30.0, BARE), BLANK), "unsure")
        swapped = BARE | {"ch_r": BARE["ch_l"], "ch_l": BARE["ch_r"]}
        self.assertIsNone(face_of(seen(2.0, swapped), BLANK), "the wrong way round")

    def test_what_is_not_seen_or_lies_outside_is_not_guessed(self) -> None:
        face = face_of(seen(2.0, BARE | {"sn": (300.0, -4.0)}), BLANK)
        assert face is not None
        self.assertNotIn("sn", face.points)
        self.assertNotIn("ex_r", face.points)
        self.assertEqual(face.equipment, "")


@cache
def found(person: Person, rim: float, gold: bool = False) -> list[Face]:
    return NetworkFinder().find(painted.frame(Pose(rim=rim, gold=gold), SIZE, person))


class PaintedTests(SimpleTestCase):
    """A face drawn another way than those the networks learnt from."""

    def test_marks_of_a_bare_face_lie_near_the_truth(self) -> None:
        errors = []
        for person in PEOPLE:
            face = found(person, 0.0)[0]
            truth = dict(zip(FRONT_IDS, painted.truth(Pose(), SIZE, person), strict=True))
            wide = float(np.linalg.norm(truth["ch_l"] - truth["ch_r"]))
            errors += [
                float(np.linalg.norm(face.points[name] - truth[name])) / wide
                for name in REQUIRED if name in face.points
            ]  # fmt: skip
        self.assertGreater(len(errors), 0.9 * len(PEOPLE) * len(REQUIRED))
        self.assertLess(float(np.median(errors)), 0.07)

    def test_a_bare_closed_mouth_is_covered_in_no_skin_and_a_rim_covers_it_in_all(self) -> None:
        for person in PEOPLE:
            bare, silver, gold = (found(person, *rim) for rim in ((0.0,), (1.0,), (1.0, True)))
            self.assertLess(bare[0].covered, 0.5, person)
            self.assertEqual(bare[0].equipment, "", person)
            for face in (*silver[:1], *gold[:1]):
                self.assertGreater(face.covered, 0.5, person)
                self.assertEqual(face.equipment, "rim", person)

    def test_two_faces_are_both_found_and_a_wall_has_none(self) -> None:
        one = painted.frame(Pose(zoom=0.8), (640, 640), PEOPLE[0])
        both = np.concatenate([one, one], axis=1)
        self.assertEqual(len(NetworkFinder().find(np.ascontiguousarray(both))), 2)
        rng = np.random.default_rng(4)
        y, x = np.mgrid[:480, :640]
        for n in range(6):
            wall = 128 + 60 * np.sin(x / (7 + 5 * n)) + rng.normal(0, 4 * n, (480, 640))
            picture = np.repeat(np.clip(wall + y / 20, 0, 255)[..., None], 3, -1).astype(np.uint8)
            self.assertEqual(NetworkFinder().find(picture), [])
