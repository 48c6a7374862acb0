"""The measured drawing is the marks, to scale, in the face frame."""

from __future__ import annotations

import math

import numpy as np
from django.test import SimpleTestCase

from sulvet.core.drawing.front import FrontDrawing, front_drawing
from sulvet.core.judgement.standards import standard
from sulvet.core.measures.series import measure
from sulvet.core.phases import frames_of
from tests.core.faces import PHASES, take, with_corners


def drawn(rise: float, width: float, covered: tuple[str, ...] = ()) -> FrontDrawing | None:
    marks = take(with_corners(rise, width))
    held = frames_of(PHASES, "hold", marks.seconds)
    for name in covered:
        marks.hidden[held, marks.column(name)] = True
    measured = measure(marks, frames_of(PHASES, "rest", marks.seconds))
    assert measured.view is not None
    horn = standard("horn")
    bands = [horn.band(m, "front", "two-thirds") for m in ("corner_rise", "mouth_width")]
    return front_drawing(measured.view, marks, held, *bands)


class FrontDrawingTests(SimpleTestCase):
    def test_corners_stand_where_rise_and_width_say(self) -> None:
        drawing = drawn(10.0, 1.2)
        assert drawing is not None
        x, y = drawing.now.points["ch_l"]
        self.assertAlmostEqual(x, 0.6, places=3)
        self.assertAlmostEqual(math.degrees(math.atan2(y, x)), 10.0, delta=0.02)
        self.assertEqual(drawing.rest.points["ch_r"], (-0.5, 0.0))
        # Up is up: the upper lip lies above the lower one.
        self.assertGreater(drawing.now.points["ls"][1], drawing.now.points["li"][1])

    def test_a_corner_in_its_band_lies_in_its_zone_and_a_smile_outside(self) -> None:
        for rise, width, inside in ((0.0, 1.0, True), (2.0, 0.9, True), (9.0, 1.13, False)):
            drawing = drawn(rise, width)
            assert drawing is not None
            for name, zone in drawing.zones.items():
                corners = np.array(zone)
                x, y = drawing.now.points[name]
                # A point is inside a convex polygon if it lies on one side of all edges.
                ends = np.roll(corners, -1, axis=0)
                turn = (ends[:, 0] - corners[:, 0]) * (y - corners[:, 1]) - (
                    ends[:, 1] - corners[:, 1]
                ) * (x - corners[:, 0])
                self.assertEqual(bool((turn > 0).all() or (turn < 0).all()), inside, (name, rise))

    def test_covered_landmarks_are_named_and_covered_corners_leave_nothing_to_draw(self) -> None:
        drawing = drawn(0.0, 1.0, ("ls", "li"))
        assert drawing is not None
        self.assertEqual(drawing.now.covered, ("ls", "li"))
        self.assertIsNone(drawn(0.0, 1.0, ("ch_l",)))
