"""Where rim and plate sit: geometry against reference fits, truth of made-up heads, rules."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from sulvet.core.anatomy.frame import RestFace
from sulvet.core.anatomy.landmarks import EQUIPMENT, TAKE_IDS, together
from sulvet.core.anatomy.marks import FOUND, Floats
from sulvet.core.judgement.results import FAULT, IN_BAND, Judgement
from sulvet.core.measures.placement import RIM, rim_ellipse, rim_upper_share
from sulvet.core.measures.view import FaceView
from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.core.video.track import retrack_landmarks, track_landmarks
from tests import rendered
from tests.core.judging import judged

STEPS = [
    {"phase": "rest", "seconds": 0.8},
    {"phase": "place", "seconds": 0.4},
    {"phase": "hold", "seconds": 0.8},
]


def rim_view(points: Floats) -> FaceView:
    """A face frame that holds the five rim points (5, 2) and the line of the lips at 0."""
    face = np.concatenate([[[0.0, 0.0], [0.0, 0.0], [-50.0, 0.0], [50.0, 0.0]], points])[None]
    ids = ("sto_s", "sto_i", "ch_r", "ch_l", *RIM)
    return FaceView(ids, face, face, RestFace(face[0], ("ex_r", "ex_l"), 0.0))


def placed(noise: float = 0.8, **more: object) -> tuple[Judgement, dict[str, float]]:
    """A made-up take with true marks that a hand has placed, and the truth in its hold."""
    take = Script.model_validate(
        {"person": "ada", "instrument": "horn", "fps": 6, "steps": STEPS} | more
    )
    truths = rendered.moments(take)
    marks = clip.true_marks(take, TAKE_IDS, truths)
    rng = np.random.default_rng(take.seed)
    sigma = np.where(np.isfinite(marks.sigma), noise, np.nan)
    # One hand, one error: the same on every frame that is followed from one mark.
    moved = marks.xy + rng.normal(0, noise, (1, len(TAKE_IDS), 2))
    marks = replace(marks.moved(moved), sigma=sigma, drift=sigma)
    return judged(marks, take.phases, take.instrument), truths[-2].measures


class EllipseTests(SimpleTestCase):
    @given(
        st.floats(-20, 20),
        st.floats(-20, 20),
        st.floats(18, 60),
        st.floats(0.92, 1.0),
        st.floats(0, 6),
    )
    def test_it_is_the_ellipse_that_opencv_fits(
        self, x: float, y: float, wide: float, flat: float, turn: float
    ) -> None:
        angles = turn + np.arange(5) * 2 * np.pi / 5
        points = np.stack([x + wide * np.cos(angles), y + wide * flat * np.sin(angles)], -1)
        mine = rim_ellipse(rim_view(points))[0]
        (cx, cy), sizes, _ = cv2.fitEllipseDirect(points.astype(np.float32))
        np.testing.assert_allclose(mine[:2], (cx, cy), atol=0.05 * wide)
        np.testing.assert_allclose(sorted(mine[2:]), sorted(np.array(sizes) / 2), rtol=0.05)

    def test_two_thirds_of_a_horn_rim(self) -> None:
        """Upper lip 0.667 of a horn's rim: Farkas, The Art of French Horn Playing, 1956; a
        third of a cornet's: Arban, Grande méthode, 1864 (both from memory)."""
        angles = np.radians([90, 150, 205, 335, 30])
        for share in (2 / 3, 1 / 3):
            centre = -(share - 0.5) * 2 * 25.0
            points = np.stack([25 * np.cos(angles), centre - 25 * np.sin(angles)], -1)
            self.assertAlmostEqual(float(rim_upper_share(rim_view(points))[0]), share, places=3)

    def test_without_all_five_points_there_is_no_rim(self) -> None:
        points = np.full((5, 2), np.nan)
        self.assertTrue(np.isnan(rim_ellipse(rim_view(points))).all())


class JudgedTests(SimpleTestCase):
    """Made-up heads with placed marks; 95 % intervals must hold the truth."""

    def reading(self, result: Judgement, measure: str) -> tuple[float, float, str]:
        found = next(r for r in result.readings if (r.measure, r.phase) == (measure, "hold"))
        assert found.value is not None and found.uncertainty is not None, found
        return found.value, found.uncertainty, found.verdict

    def faults(self, result: Judgement) -> set[str]:
        return {f.fault for f in result.findings if f.verdict == FAULT}

    def test_a_rim_is_read_and_judged_by_its_school(self) -> None:
        for share, wanted in ((0.40, {"rim-low"}), (0.67, set()), (0.88, {"rim-high"})):
            result, truth = placed(holds={"upper_share": share})
            value, spread, verdict = self.reading(result, "rim_upper_share")
            self.assertLess(abs(value - truth["rim_upper_share"]), 0.03)
            self.assertLess(abs(value - truth["rim_upper_share"]), spread)
            self.assertEqual(verdict == IN_BAND, not wanted, (share, value, spread))
            self.assertEqual(self.faults(result), wanted)
        result, truth = placed(holds={"offset": 5.5})
        value, spread, _ = self.reading(result, "rim_offset")
        self.assertLess(abs(value - truth["rim_offset"] / truth["rest_mouth_width_mm"]), 0.03)
        self.assertEqual(self.faults(result), {"rim-off-centre"})

    def test_a_plate_is_read_and_judged(self) -> None:
        result, truth = placed(
            instrument="flute", person="hana", holds={"hole_to_lip": 6.5, "tilt": 11}
        )
        value, _, _ = self.reading(result, "plate_tilt")
        self.assertAlmostEqual(value, truth["plate_tilt"], delta=1.5)
        value, spread, _ = self.reading(result, "hole_to_lip")
        self.assertLess(abs(value - truth["hole_to_lip"]), spread)
        self.assertEqual(self.faults(result), {"plate-low", "plate-tilted"})

    def test_what_nobody_marked_is_not_spoken_of(self) -> None:
        take = Script.model_validate(
            {"person": "ada", "instrument": "horn", "fps": 6, "steps": STEPS}
        )
        marks = clip.true_marks(take, TAKE_IDS)
        for name in RIM:
            marks.xy[:, marks.column(name)] = np.nan
        result = judged(marks, take.phases)
        self.assertFalse([r for r in result.readings if r.measure.startswith("rim")])
        self.assertFalse([f for f in result.findings if f.fault.startswith("rim")])


class TogetherTests(SimpleTestCase):
    """A textured disc that comes, moves a little, and goes, in steadied pictures."""

    def setUp(self) -> None:
        rng = np.random.default_rng(4)
        skin = cv2.GaussianBlur(rng.normal(128, 60, (432, 400)), (0, 0), 2)
        metal = cv2.GaussianBlur(rng.normal(128, 90, (432, 400)), (0, 0), 1.5)
        y, x = np.mgrid[:432, :400]
        self.shift = [(0, 0), (0, 0), (3, -2), (4, -2), (0, 0)]
        there = [False, True, True, True, False]
        pictures = []
        for (dx, dy), on in zip(self.shift, there, strict=True):
            disc = (x - 200 - dx) ** 2 + (y - 290 - dy) ** 2 < 35**2
            picture = np.where(disc & on, np.roll(metal, (dy, dx), (0, 1)), skin)
            pictures.append(np.clip(picture, 0, 255).astype(np.uint8))
        matrix = np.tile(np.array([[1.0, 0, 0], [0, 1.0, 0]]), (5, 1, 1))
        self.stabilised = StabilisedClip(
            np.array(pictures), matrix, np.ones(5, bool), np.zeros(5), 0, np.zeros((5, 2))
        )
        angles = np.radians([90, 150, 205, 335, 30])
        self.keys = [
            Keyframe(name, 1, 200 + 22 * float(np.cos(a)), 290 - 22 * float(np.sin(a)), 0.8, 3)
            for name, a in zip(RIM, angles, strict=True)
        ]

    def test_it_moves_as_one_and_is_hidden_where_it_is_not(self) -> None:
        seconds = np.arange(5) / 10
        marks = track_landmarks(self.stabilised, self.keys, TAKE_IDS, seconds)
        for key in self.keys:
            column = marks.column(key.landmark)
            self.assertEqual(list(marks.hidden[:, column]), [True, False, False, False, True])
            np.testing.assert_allclose(marks.xy[3, column], (key.x + 4, key.y - 2), atol=0.4)
        # A moved mark moves with its neighbours' help, and alone.
        again = [replace(self.keys[0], x=self.keys[0].x + 1), *self.keys[1:]]
        fresh = retrack_landmarks(self.stabilised, marks, together("rim_1"), again)
        self.assertAlmostEqual(
            float(fresh.xy[3, fresh.column("rim_1"), 0]), again[0].x + 4, delta=0.4
        )
        # One point placed just after all were found: it stands for the found one, on all frames,
        # and the others stay where they are.
        found = [replace(key, source=FOUND) for key in self.keys]
        moved = replace(self.keys[0], frame=2, x=self.keys[0].x + 8, y=self.keys[0].y - 2)
        marks = track_landmarks(self.stabilised, [*found, moved], TAKE_IDS, seconds)
        first, second = (marks.xy[:, marks.column(name)] for name in ("rim_1", "rim_2"))
        np.testing.assert_array_equal(first[2], (moved.x, moved.y))
        np.testing.assert_allclose(first[1], (self.keys[0].x + 5, self.keys[0].y), atol=0.5)
        np.testing.assert_allclose(second[3], (self.keys[1].x + 4, self.keys[1].y - 2), atol=0.5)
        self.assertEqual(together("rim_3"), tuple(m.id for m in EQUIPMENT["rim"]))
        self.assertEqual(together("ch_r"), ("ch_r",))
