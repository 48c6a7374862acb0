"""Some mouths laid over one another: their own lines alone, as near as they allow."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from sulvet.core.drawing.figure import anchors_of, resolved
from sulvet.core.drawing.sheet import Drawing, Pen, Shape

#: What is of the mouth and of what is held to it.
PENS: tuple[Pen, ...] = ("lips", "skin", "equipment", "rim", "inside")
#: The nose tells nothing of a mouth and would take half of a side view.
NOSE = {"n", "prn"}


def outline(drawing: Drawing, mouths: Sequence[Shape]) -> Drawing:
    """The drawing without rest face, zones, dimensions and nose, its box what the mouths fill.

    mouths  on the sheet of the drawing; where nothing of them is drawn the box stays
    """
    strokes = tuple(
        stroke
        for stroke in drawing.strokes
        if stroke.pen in PENS and not NOSE & {place.x for place in stroke.places}
    )
    places = [
        place
        for mouth in mouths
        for stroke in strokes
        for place in resolved(stroke.places, anchors_of(drawing, mouth))
    ]
    box = drawing.box
    if len(places) > 1:
        xs, ys = zip(*places, strict=True)
        box = min(xs), min(ys), max(xs), max(ys)
    return replace(
        drawing, strokes=strokes, dimensions=(), zones={}, box=box, room=(0.0, 0.0, 0.0, 0.0)
    )
