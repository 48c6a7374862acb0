"""A ligature is found where it is along a mouthpiece, and nowhere else."""

from __future__ import annotations

import cv2
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.video.clip import Image
from sulvet.core.video.mouthpiece_edge import Ligature, sharpened

SIZE, LONG, THICK, LEAN = (640, 480), 52.0, 60.0, np.radians(24.0)
WAY = np.array([np.cos(LEAN), np.sin(LEAN)])
UP = np.array([-WAY[1], WAY[0]])
NEAR = np.array([290.3, 231.6])
FAR = NEAR + LONG * WAY


def picture(rng: np.random.Generator, ligature: bool) -> Image:
    """A black mouthpiece out of a cheek, wedge first; a metal band round it, or none."""
    out = np.full((SIZE[1] * 4, SIZE[0] * 4, 3), (88, 96, 120), np.uint8)
    cv2.rectangle(out, (0, 0), (230 * 4, SIZE[1] * 4), (196, 150, 128), -1)

    def shape(begin: float, end: float, thin: float, thick: float, colour: int) -> None:
        corners = [
            NEAR + begin * WAY - thin / 2 * UP, NEAR + end * WAY - thick / 2 * UP,
            NEAR + end * WAY + thick / 2 * UP, NEAR + begin * WAY + thin / 2 * UP,
        ]  # fmt: skip
        places = np.rint(np.array(corners) * 4 + 1.5).astype(np.int32)
        cv2.fillPoly(out, [places], (colour, colour, colour + 8), cv2.LINE_AA)

    shape(-90.0, 0.0, 20.0, THICK, 30)
    shape(0.0, 300.0, THICK, THICK, 30)
    if ligature:
        shape(0.0, LONG, THICK + 4, THICK + 4, 190)
    small = cv2.resize(out, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    return np.asarray(np.clip(small + rng.normal(0, 4, small.shape), 0, 255), np.uint8)


def lean(found: Ligature) -> float:
    """Of its axis against the true one, degrees."""
    way = found.far - found.near
    return float(np.degrees(np.arctan2(way @ UP, way @ WAY)))


class MouthpieceEdgeTests(SimpleTestCase):
    def test_a_guess_a_fifth_of_the_length_off_comes_to_lie_on_the_edges(self) -> None:
        rng = np.random.default_rng(5)
        shown = picture(rng, ligature=True)
        for _ in range(12):
            off = rng.normal(0, 0.1 * LONG, (2, 2))
            guess = Ligature(NEAR + off[0], FAR + off[1], 0.2 * LONG, 0.15)
            found = sharpened(shown, guess)
            for place, true in ((found.near, NEAR), (found.far, FAR)):
                self.assertLess(abs(float((place - true) @ WAY)), 0.05 * LONG)
            self.assertLess(abs(lean(found)), 3.0)
            self.assertLess(found.along, guess.along / 1.5)

    def test_what_shows_no_edge_stays_a_guess_and_as_unsure(self) -> None:
        rng = np.random.default_rng(6)
        guess = Ligature(NEAR, FAR, 0.2 * LONG, 0.15)
        grain = np.asarray(rng.normal(120, 5, (*SIZE[::-1], 3)).clip(0, 255), np.uint8)
        self.assertIs(sharpened(grain, guess), guess)
        # Its outlines show, so how it leans is known, but not where along it a ligature would be.
        bare = sharpened(picture(rng, ligature=False), guess)
        self.assertAlmostEqual(bare.along, guess.along, places=6)
        self.assertLess(abs(lean(bare)), 2.5)
        beyond = Ligature(np.array([-60.0, -40.0]), np.array([-20.0, -30.0]), 8.0, 0.15)
        self.assertIs(sharpened(grain, beyond), beyond)
