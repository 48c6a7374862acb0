"""A rim's edge is found where it is, and nowhere else."""

from __future__ import annotations

import cv2
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.video.clip import Image
from sulvet.core.video.network_rim import under_rim
from sulvet.core.video.rim_edge import FLATTENED, Ring, sharpened

CENTRE, RADIUS, LEAN = np.array([330.4, 251.7]), 71.3, 8.0


def picture(rng: np.random.Generator, ring: bool) -> Image:
    """Skin, lips and a shank, and a rim with a cup before them; four times as fine, then shrunk."""
    out = np.full((2000, 2600, 3), (196, 150, 128), np.uint8)
    out[900:1060, 900:1700] = (150, 84, 84)
    if ring:
        middle, r = CENTRE * 4 + 1.5, RADIUS * 4
        for share, grey in ((1.0, 205), (0.78, 120), (0.5, 180)):
            box = (tuple(middle), (2 * r * share, 2 * r * share * FLATTENED), LEAN)
            cv2.ellipse(out, box, (grey, grey, grey + 6), -1, cv2.LINE_AA)
        cv2.line(out, (1320, 1200), (1350, 1990), (160, 160, 170), 190)
    small = cv2.resize(out, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    return np.asarray(np.clip(small + rng.normal(0, 5, small.shape), 0, 255), np.uint8)


class RimEdgeTests(SimpleTestCase):
    def test_a_guess_a_tenth_of_the_radius_off_comes_to_lie_on_the_edge(self) -> None:
        rng = np.random.default_rng(3)
        shown = picture(rng, ring=True)
        for _ in range(12):
            guess = Ring(
                CENTRE + rng.normal(0, 0.07 * RADIUS, 2), RADIUS * rng.normal(1, 0.05),
                float(np.radians(LEAN)), 0.08 * RADIUS,
            )  # fmt: skip
            found = sharpened(shown, guess)
            self.assertLess(float(np.linalg.norm(found.centre - CENTRE)), 0.02 * RADIUS)
            self.assertAlmostEqual(found.radius / RADIUS, 1.0, delta=0.02)
            self.assertLess(found.sigma, guess.sigma / 1.5)

    def test_without_an_edge_or_in_part_outside_the_guess_stays_as_it_is(self) -> None:
        guess = Ring(CENTRE + 3.0, RADIUS, 0.0, 5.0)
        self.assertIs(sharpened(picture(np.random.default_rng(4), ring=False), guess), guess)
        outside = Ring(np.array([10.0, 20.0]), RADIUS, 0.0, 5.0)
        self.assertIs(sharpened(np.full((500, 650, 3), 90, np.uint8), outside), outside)

    def test_a_corner_at_the_edge_of_the_rim_counts_as_covered(self) -> None:
        turns = np.radians((0.0, 60.0, 115.0, 245.0, 300.0))
        edge = CENTRE + RADIUS * np.column_stack([np.cos(turns), np.sin(turns)])
        held = [(f"rim_{n}", place, 1.0) for n, place in enumerate(edge, 1)]
        for beyond, covered in ((-30.0, True), (3.0, True), (12.0, False)):
            place = CENTRE + np.array([RADIUS + beyond, 0.0])
            self.assertEqual(under_rim(held, place, 5.0), covered, beyond)
        self.assertFalse(under_rim([], CENTRE, 5.0))
