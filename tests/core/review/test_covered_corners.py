"""Corners of the mouth behind a rim are hidden where the looks don't see them."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any, cast

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.anatomy.marks import FOLLOWED, PLACED, Marks
from sulvet.core.phases import Phase
from sulvet.core.review.covered_corners import RIM, without_covered_corners
from sulvet.core.review.looks import UNSURE
from sulvet.core.video.finder import Face
from sulvet.core.video.stabilised_clip import MOUTH

HOLD = Phase("hold", 0.15, 1.0)
ROUND = np.array([[np.sin(a), np.cos(a)] for a in (0.3, 1.4, 2.6, 4.0, 5.3)])


def hidden(
    seen: float, at: float = 15.0, source: int = FOLLOWED, sigma: float = 1.0, held: str = "rim"
) -> list[bool]:
    """Where the left corner is hidden: a rim of radius 20 at the origin from the third frame of
    ten on, the corner followed to this far beside its middle, a share of the looks seeing it."""
    marks = Marks.empty(("ch_r", "ch_l", *RIM), np.arange(10) / 10)
    marks.xy[:, 0], marks.xy[:, 1], marks.xy[:, 2:] = (-50.0, 0.0), (at, 0.0), 20 * ROUND
    marks.hidden[:] = False
    marks.hidden[:2, 2:] = True
    marks.source[:, 1] = source
    faces = {
        row: [
            Face(
                {"ch_r": np.zeros(2)} | ({"ch_l": np.zeros(2)} if n < seen * 8 else {}),
                300.0,
                1.0,
                sigma={"ch_l": sigma, "ch_r": 1.0},
                equipment=held,
            )
        ]
        for n, row in enumerate(range(2, 10))
    }
    footage = SimpleNamespace(faces=faces, seconds=marks.seconds)
    stabilised = SimpleNamespace(scale=lambda row: 1.0, head_found=np.ones(10, bool))
    out = without_covered_corners(marks, cast(Any, footage), cast(Any, stabilised), HOLD)
    assert not out.hidden[:, 0].any()
    return list(out.hidden[:, 1])


class CoveredCornerTests(SimpleTestCase):
    def test_a_corner_followed_onto_a_rim_is_hidden_where_it_is_not_seen(self) -> None:
        self.assertEqual(hidden(0.1), [False] * 2 + [True] * 8)

    def test_a_look_that_is_unsure_has_not_seen_it(self) -> None:
        self.assertTrue(hidden(1.0, sigma=1.5 * UNSURE * MOUTH)[5])
        self.assertEqual(hidden(0.1, at=25.0, held="mouthpiece")[5:], [True] * 5)

    def test_what_is_seen_or_beside_the_rim_or_placed_stays(self) -> None:
        for stays in (hidden(0.5), hidden(0.1, at=25.0), hidden(0.1, source=PLACED)):
            self.assertFalse(np.any(stays))
