"""What is looked for by its edge: cheeks' outline, opening of the lips, the chin's skin."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import cv2
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.anatomy.marks import PLACED, Floats, Marks
from sulvet.core.review import points_on
from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from sulvet.core.video.keyframes import Keyframe
from sulvet.core.video.network_finder import default_finder
from sulvet.core.video.opening import opening
from sulvet.core.video.outline import REACH, _one_of_many, cheeks
from sulvet.core.video.stabilise import stabilise
from sulvet.core.video.stabilised_clip import StabilisedClip
from sulvet.core.video.texture import chin_texture
from sulvet.core.video.track import track_landmarks
from tests import rendered

#: Frames at rest, then in the hold; nothing in between has to be drawn.
REST, HOLD = (0, 1, 2), (7, 8)
LANDMARKS = ("ch_r", "ch_l", "ls", "li", "sn", "pg", "ex_r", "ex_l", "al_r", "al_l")


@dataclass
class Drawn:
    """A made-up take drawn on some frames, its marks exact on every frame."""

    pictures: list[np.ndarray[Any, Any]]
    grays: np.ndarray[Any, np.dtype[np.uint8]]
    stabilised: StabilisedClip
    marks: Marks
    truths: list[clip.Moment]

    def shift(self, name: str) -> Floats:
        """How far a landmark has come from rest to hold, clip pixels, as marked."""
        column = self.marks.column(name)
        return np.asarray(self.marks.xy[-1, column] - self.marks.xy[0, column])

    def true_shift(self, name: str) -> Floats:
        """The same as it truly has."""
        return np.subtract(self.truths[-1].places[name], self.truths[0].places[name])


def drawn(**pose: float) -> Drawn:
    return _drawn(tuple(sorted(pose.items())))


@cache
def _drawn(pose: tuple[tuple[str, float], ...]) -> Drawn:
    script = Script.model_validate({
        "person": "ben", "instrument": "trombone", "fps": 8, "size": [960, 540], "seed": 5,
        "camera": {"distance": 560, "fov": 20, "aim": [0, 4, -25]},
        "move": {"sway": 0.6, "turn": 0.2, "lips": 0, "hand": 0},
        "steps": [{"phase": "rest", "seconds": 0.5},
                  {"phase": "hold", "seconds": 0.8, "base": "rest", "pose": dict(pose),
                   "held": False}],
    })  # fmt: skip
    rows = [*REST, *HOLD]
    shown = rendered.frames(script, rows)
    pictures, truths = [picture for picture, _ in shown], [truth for _, truth in shown]
    grays = np.array([cv2.cvtColor(p, cv2.COLOR_RGB2GRAY) for p in pictures])
    keys = [
        Keyframe(name, n, truths[n].places[name][0], truths[n].places[name][1], 0.5, PLACED)
        for name in LANDMARKS
        for n in range(len(rows))
    ]
    stabilised = stabilise(grays, 1.0, 0, points_on(keys, 0))
    marks = track_landmarks(stabilised, keys, TAKE_IDS, np.arange(len(rows)) / 8)
    return Drawn(pictures, grays, stabilised, marks, truths)


class EdgeTests(SimpleTestCase):
    """One class, since one process then draws each take once."""

    def test_a_puff_moves_the_outline_as_far_as_it_does(self) -> None:
        # The mesh says where to begin looking at rest, and nothing more.
        for pose in ({}, {"cheek_r": 11.0, "cheek_l": 11.0}, {"cheek_l": 11.0}):
            take = drawn(**pose)
            guess = default_finder().find(take.pictures[0])[0].points
            cheeks(take.stabilised, take.grays, 1.0, guess, take.marks)
            for name in ("ck_r", "ck_l"):
                self.assertFalse(take.marks.hidden[:, take.marks.column(name)].any(), name)
                # A puff of 11 mm is some 17 pixels here; the aim is a millimetre, 2.7 pixels.
                off = take.shift(name)[0] - take.true_shift(name)[0]
                self.assertLess(
                    abs(off), 4.0, (pose, name, take.shift(name), take.true_shift(name))
                )

    def test_one_edge_among_strands_of_hair_is_no_outline(self) -> None:
        def strip(*edges: tuple[int, float]) -> Floats:
            offset = np.arange(-REACH, REACH + 1)
            return np.tile(
                sum(sharp * np.exp(-0.5 * ((offset - at) / 1.2) ** 2) for at, sharp in edges),
                (9, 1),
            )

        self.assertFalse(_one_of_many(strip((0, 5.0))))
        self.assertFalse(_one_of_many(strip((0, 5.0), (3, 4.0))), "its own width")
        self.assertFalse(_one_of_many(strip((0, 5.0), (9, 2.0))), "a faint one")
        self.assertTrue(_one_of_many(strip((0, 5.0), (9, 4.0))))

    def test_an_outline_that_the_teacher_placed_stays(self) -> None:
        take = drawn()
        marks = take.marks.copied()
        marks.xy[:, marks.column("ck_r")] = (340.0, 330.0)
        marks.source[1, marks.column("ck_r")] = PLACED
        guess = default_finder().find(take.pictures[0])[0].points
        cheeks(take.stabilised, take.grays, 1.0, guess, marks)
        np.testing.assert_array_equal(marks.xy[:, marks.column("ck_r")], [(340.0, 330.0)] * 5)

    def test_without_a_guess_no_cheek_is_claimed(self) -> None:
        take = drawn()
        marks = Marks.empty(TAKE_IDS, take.marks.seconds)
        cheeks(take.stabilised, take.grays, 1.0, {}, marks)
        self.assertTrue(np.isnan(marks.xy).all())

    def test_parted_lips_are_measured_and_closed_ones_have_no_opening(self) -> None:
        take = drawn(aperture_height=5.0, aperture_width=15.0)
        marks = opening(take.stabilised, take.marks.copied(), np.array([True] * 3 + [False] * 2))

        upper, lower = (marks.xy[:, marks.column(name), 1] for name in ("sto_s", "sto_i"))
        self.assertEqual(lower[0] - upper[0], 0.0)
        true = np.subtract(take.truths[-1].places["sto_i"], take.truths[-1].places["sto_s"])[1]
        self.assertAlmostEqual((lower[-1] - upper[-1]) / true, 1.0, delta=0.35)
        ends = [marks.xy[-1, marks.column(name), 0] for name in ("ap_r", "ap_l")]
        places = [take.truths[-1].places[name][0] for name in ("ap_r", "ap_l")]
        self.assertAlmostEqual((ends[1] - ends[0]) / (places[1] - places[0]), 1.0, delta=0.3)
        # Closed lips meet where they truly do.
        meet = marks.xy[0, marks.column("sto_s"), 1]
        self.assertAlmostEqual(meet, take.truths[0].places["sto_s"][1], delta=2.5)

    def test_an_opening_that_the_teacher_placed_stays(self) -> None:
        take = drawn(aperture_height=5.0, aperture_width=15.0)
        marks = take.marks.copied()
        column = marks.column("sto_s")
        marks.xy[:, column], marks.hidden[:, column] = (480.0, 300.0), False
        marks.source[2, column] = PLACED
        opening(take.stabilised, marks, np.array([True] * 3 + [False] * 2))
        np.testing.assert_array_equal(marks.xy[:, column], [(480.0, 300.0)] * 5)

    def test_a_bunched_chin_is_rougher_than_at_rest_and_a_plain_one_is_not(self) -> None:
        for pose, low, high in (({}, 0.9, 1.1), ({"chin_raise": 5.5}, 1.25, 9.0)):
            take = drawn(**pose)
            rough = chin_texture(take.stabilised, take.marks)
            ratio = float(np.mean(rough[3:]) / np.mean(rough[:3]))
            self.assertTrue(low < ratio < high, (pose, rough))
