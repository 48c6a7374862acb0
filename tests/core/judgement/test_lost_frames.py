"""Frames on which the head is lost, in any pattern: what can't be told says so, never NaN."""

from __future__ import annotations

import json
from dataclasses import asdict

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.results import Judgement
from sulvet.core.phases import Phase
from tests.core.faces import FPS, take, with_corners
from tests.core.judging import judged

PHASES = [
    Phase("rest", 0.0, 1.0), Phase("form", 1.2, 1.8), Phase("hold", 2.0, 3.6),
    Phase("release", 3.6, 4.2),
]  # fmt: skip
ANCHORS = ("ex_r", "ex_l", "en_r", "en_l", "al_r", "al_l")


def lost(marks: Marks, start: float, lasts: float, names: tuple[str, ...]) -> None:
    """From a moment on nothing is known of some landmarks, for a while."""
    rows = (marks.seconds >= start) & (marks.seconds < start + lasts)
    for name in names:
        column = marks.column(name)
        marks.hidden[rows, column] = True
        marks.xy[rows, column] = np.nan


def as_json(result: Judgement) -> str:
    """As it is stored and sent; ValueError where a value is not a number."""
    readings = [asdict(one) for one in result.readings]
    return json.dumps(readings + [asdict(one) for one in result.findings], allow_nan=False)


class LostFramesTests(SimpleTestCase):
    @settings(max_examples=40, deadline=None)
    @given(
        st.lists(
            st.tuples(
                st.floats(0, 5), st.floats(1 / FPS, 3),
                st.lists(st.sampled_from([*ANCHORS, "ch_r", "ls"]), min_size=1, max_size=8),
            ),
            max_size=4,
        )
    )  # fmt: skip
    def test_no_nan_leaves_the_core(self, gaps: list[tuple[float, float, list[str]]]) -> None:
        marks = take(with_corners(6.0, 1.1))
        for start, lasts, names in gaps:
            lost(marks, start, lasts, tuple(names))
        as_json(judged(marks, PHASES))

    def test_a_head_lost_at_the_release_leaves_the_release_untold(self) -> None:
        marks = take(with_corners(6.0, 1.1))
        lost(marks, 3.6, 1.0, ANCHORS)
        result = judged(marks, PHASES)
        as_json(result)
        told = [r for r in result.readings if r.measure == "release_move" and r.value is not None]
        self.assertEqual(told, [])
