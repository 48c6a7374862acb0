"""Mouths laid over one another: their own lines, as near as they allow."""

from __future__ import annotations

from dataclasses import replace

from django.test import SimpleTestCase

from sulvet.core.drawing.outline import outline
from sulvet.core.drawing.sheet import Drawing, Shape
from sulvet.core.drawing.side import DIMENSIONS, strokes_with

CHIN = {f"cc_{n}": (-0.1 * n, -0.1 * n - 0.4) for n in range(1, 15)}
NOSE = {"n": (-0.1, 3.7), "prn": (1.0, 1.5)}
MOUTH = Shape({**NOSE, "sn": (0.1, 1.2), "ls": (0.2, 0.5), "sto": (0.0, 0.0), "li": (0.0, -0.4),
               **CHIN})  # fmt: skip
DRAWING = Drawing(
    "side", strokes_with({}), DIMENSIONS, MOUTH, MOUTH, (-2.0, -3.0, 3.0, 4.0), (0.1, 0.1, 0.1, 0.1)
)


class OutlineTests(SimpleTestCase):
    def test_the_nose_and_the_rest_face_are_left_out_and_the_box_is_near(self) -> None:
        lower = replace(MOUTH, points=MOUTH.points | {"cc_14": (-1.5, -2.0)})
        near = outline(DRAWING, (MOUTH, lower))
        self.assertEqual({stroke.pen for stroke in near.strokes} & {"rest", "zone"}, set())
        named = {place.x for stroke in near.strokes for place in stroke.places}
        self.assertFalse(named & set(NOSE))
        self.assertLessEqual({"sn", "ls", "li", "cc_1"}, named)
        # As far as either of both goes: the second's chin, the upper lip's root.
        self.assertEqual(near.box, (-1.5, -2.0, 0.2, 1.2))
        self.assertEqual((near.dimensions, near.room), ((), (0.0, 0.0, 0.0, 0.0)))

    def test_of_nothing_the_box_stays(self) -> None:
        self.assertEqual(outline(DRAWING, (Shape({}),)).box, DRAWING.box)
