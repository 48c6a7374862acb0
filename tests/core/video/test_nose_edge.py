"""A profile's nose is brought back to where it was, or left where it is."""

from __future__ import annotations

from unittest.mock import patch

import cv2
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.nose_edge import NoseEdge

POINTS = {name: np.array(at, float) for name, at in
          {"n": (200, 120), "prn": (160, 190), "sn": (190, 205)}.items()}  # fmt: skip
STILL = np.eye(2, 3)


def profile(move: Floats = STILL) -> Image:
    """A nose before a bright wall, moved."""
    outline = np.array([(200, 0), (200, 120), (160, 190), (190, 205), (185, 432), (400, 432),
                        (400, 0)], float)  # fmt: skip
    picture = np.full((432, 400), 230, np.uint8)
    moved = outline @ move[:, :2].T + move[:, 2]
    cv2.fillPoly(picture, [np.round(moved * 16).astype(np.int32)], (90,), cv2.LINE_AA, 4)
    return np.asarray(cv2.GaussianBlur(picture, (0, 0), 1.0), np.uint8)


class NoseEdgeTests(SimpleTestCase):
    def setUp(self) -> None:
        nose = NoseEdge.of(profile(), POINTS, STILL)
        assert nose is not None
        self.nose = nose

    def test_a_nose_that_moved_and_turned_comes_back(self) -> None:
        for degrees, x, y in ((0.0, 0.0, 0.0), (0.0, -11.3, 4.0), (3.0, 9.0, -3.0)):
            move = np.asarray(cv2.getRotationMatrix2D((180.0, 170.0), degrees, 1.0))
            move[:, 2] += x, y
            back = self.nose.onto(profile(move))
            for name, place in POINTS.items():
                there = move[:, :2] @ place + move[:, 2]
                again = back[:, :2] @ there + back[:, 2]
                np.testing.assert_allclose(again, place, atol=0.8, err_msg=f"{degrees} {name}")

    def test_a_fit_that_does_not_come_to_an_end_leaves_the_shift(self) -> None:
        moved = profile(np.array([[1.0, 0, 6.0], [0, 1.0, -2.0]]))
        with patch("cv2.findTransformECC", side_effect=cv2.error("no end")):
            back = self.nose.onto(moved)
        np.testing.assert_allclose(back, [[1, 0, -6], [0, 1, 2]], atol=1e-9)

    def test_where_no_nose_shows_nothing_is_moved_or_looked_for(self) -> None:
        rng = np.random.default_rng(1)
        noise = rng.integers(0, 255, (432, 400)).astype(np.uint8)
        np.testing.assert_array_equal(self.nose.onto(noise), STILL)
        self.assertIsNone(NoseEdge.of(np.full((432, 400), 90, np.uint8), POINTS, STILL))
        aside = {name: place - [150.0, 0.0] for name, place in POINTS.items()}
        self.assertIsNone(NoseEdge.of(profile(), aside, STILL))
