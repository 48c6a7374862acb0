"""A first look at made-up clips: those that can be read, and what to do about the others."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
from django.test import SimpleTestCase

from sulvet.core.review.first_look import ADVICE, Problem, _pictures, first_look, seen
from sulvet.core.video.clip import Image
from sulvet.core.video.network_finder import NetworkFinder
from sulvet.demo.scenario import TAKES

REST, PLAYING, PITCHES = (0.2, 1.1), (2.5, 6.0), (130.0, 1000.0)
FRONT, SIDE, CLOSE = (TAKES / f"{name}.mp4" for name in
                      ("ida-front-5", "aino-side-14", "nils-four-1"))  # fmt: skip


class FirstLookTests(SimpleTestCase):
    def look(self, clip: Path, view: str, family: str = "brass") -> tuple[Problem, ...]:
        return first_look(clip, view, family, REST, PLAYING, PITCHES).problems

    def test_what_can_be_read(self) -> None:
        self.assertEqual(self.look(FRONT, "front"), ())
        self.assertEqual(self.look(CLOSE, "front"), ())
        self.assertEqual(
            first_look(SIDE, "side", "single-reed", REST, PLAYING, (600.0, 2200.0)).problems, ()
        )

    def test_the_other_side_and_no_tone(self) -> None:
        self.assertEqual(self.look(FRONT, "side"), ("not from the side",))
        self.assertEqual(self.look(SIDE, "front", "single-reed")[0], "not straight")
        # Asked to play long before the tone: none was played then.
        told = first_look(FRONT, "front", "brass", REST, (0.0, 0.5), PITCHES)
        self.assertEqual((told.problems, told.advice), (("no tone",), ADVICE["no tone"]))

    def test_dark_blurred_far_empty_and_two(self) -> None:
        pictures, finder = _pictures(FRONT, REST), NetworkFinder("rim")
        self.assertEqual(len(pictures), 4)
        height, width = pictures[0].shape[:2]

        def all_of(change: object) -> set[Problem]:
            return seen([change(one) for one in pictures], "front", finder)  # type: ignore[operator]

        def two(one: Image) -> Image:
            half = one[:, width // 4 : width - width // 4]
            return np.ascontiguousarray(np.hstack([half, half]))

        self.assertEqual(all_of(lambda one: one), set())
        self.assertEqual(all_of(lambda one: (one * 0.15).astype(np.uint8)), {"too dark"})
        self.assertIn("blurred", all_of(lambda one: cv2.GaussianBlur(one, (0, 0), 14)))
        self.assertEqual(all_of(lambda one: np.full_like(one, 128)), {"no mouth"})
        self.assertEqual(seen([], "front", finder), {"too short"})
        for quarters in (1, 2):
            turned = all_of(lambda one, n=quarters: np.ascontiguousarray(np.rot90(one, n)))
            self.assertEqual(turned, {"turned"})
        small = all_of(lambda one: cv2.resize(one, (width // 3, height // 3)))
        self.assertIn("too far", small)
        self.assertIn("somebody else", all_of(two))
