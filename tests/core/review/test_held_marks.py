"""Corners in the hold: as they were followed, as they are seen, and as one eye sees them."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any, cast

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.landmarks import REQUIRED
from sulvet.core.anatomy.marks import Marks
from sulvet.core.phases import Phase
from sulvet.core.review.held_marks import LOOK_OFF, SHORT, held_keys
from sulvet.core.video.finder import Face
from sulvet.core.video.keyframes import Keyframe

#: One look a row: a bare face, then a rim on it; the right corner is seen at x 100, then at 90.
REST, HELD = 0, 2
HOLD = Phase("hold", 0.15, 0.35)


def corner_key(
    drift: float, aside: float = 0.0, hidden: bool = False, moved: float = 0.0
) -> Keyframe:
    """The right corner's key in the hold, when following took it from x 100 by so much with this
    drift."""
    rest = Face(
        dict.fromkeys(REQUIRED, np.array([100.0, 50.0])), 300.0, 0.0,
        aside={"ch_r": np.array([aside, 0.0])} if aside else {},
    )  # fmt: skip
    held = Face(
        {"ch_r": np.array([90.0, 50.0])}, 300.0, 1.0, sigma={"ch_r": 1.0}, equipment="rim",
    )  # fmt: skip
    footage = SimpleNamespace(
        faces={REST: [rest], 1: [rest], HELD: [held], 3: [held]}, seconds=np.arange(4) / 10
    )
    matrix = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
    stabilised = SimpleNamespace(
        head_found=np.ones(4, bool), to_stabilised=np.array([matrix] * 4),
        to_stabilised_pixels=lambda row, at: at, scale=lambda row: 1.0, anchor=REST,
    )  # fmt: skip
    marks = Marks.empty(("ch_r",), [0.0, 0.1, 0.2, 0.3])
    marks.xy[:], marks.drift[:], marks.hidden[:] = (100.0, 50.0), drift, hidden
    marks.xy[HELD:, 0, 0] += moved
    found = held_keys(cast(Any, footage), cast(Any, stabilised), HOLD, "front", marks)
    return next(key for key in found if key.landmark == "ch_r")


class HeldCornerTests(SimpleTestCase):
    def test_the_surer_of_following_and_seeing_counts_more(self) -> None:
        seen = corner_key(1.0, hidden=True)
        self.assertEqual(seen.x, 90.0)
        own = LOOK_OFF * seen.sigma
        for drift in (0.2, own, 8.0):
            key = corner_key(drift)
            # Inverse variances: common practice, no source.
            wanted = (90 * own**-2 + 100 * drift**-2) / (own**-2 + drift**-2)
            self.assertAlmostEqual(key.x, wanted)
        self.assertGreater(corner_key(0.2).sigma, 4.0, "ten pixels apart, surer than that both")

    def test_what_moved_far_is_followed_less_surely(self) -> None:
        for moved in (-4.0, -20.0):
            drift, own = np.hypot(0.2, SHORT * moved), LOOK_OFF * corner_key(1.0, hidden=True).sigma
            wanted = (90 * own**-2 + (100 + moved) * drift**-2) / (own**-2 + drift**-2)
            self.assertAlmostEqual(corner_key(0.2, moved=moved).x, wanted)

    def test_what_another_eye_moved_a_corner_by_at_rest_is_added_in_the_hold(self) -> None:
        self.assertAlmostEqual(corner_key(1.0, aside=3.0, hidden=True).x, 93.0)
