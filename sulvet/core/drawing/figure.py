"""The measured drawing inked for paper: paths of Bézier pieces and the words beside them.

All in the sheet's unit with y up; whoever puts them on paper only scales. The browser does the
same in ``figure.ts``; a test holds both against one fixture, point by point.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from math import hypot

import numpy as np

from sulvet.core.drawing.sheet import Align, At, Dimension, Drawing, Pen, Place, Shape, Stroke

#: A quarter of a circle as one Bézier piece: 4/3 (sqrt 2 - 1).
QUARTER = 0.5523


@dataclass(frozen=True)
class PenPath:
    """A path of Bézier pieces: the start, then two handles and an end for each piece."""

    pen: Pen
    start: Place
    pieces: tuple[tuple[Place, Place, Place], ...]
    closed: bool = False


@dataclass(frozen=True)
class Text:
    """Where a value is written, and which part of it stands there."""

    at: Place
    text: str
    align: Align


@dataclass(frozen=True)
class Figure:
    """All of a drawing."""

    paths: tuple[PenPath, ...]
    texts: tuple[Text, ...]


def figure(drawing: Drawing, mouth: Shape, values: Mapping[str, str]) -> Figure:
    """A mouth over the rest face, with the dimensions asked for.

    mouth   what to draw over the rest face, usually the hold's
    values  measure → its value in words; all others are left out
    """
    anchors = anchors_of(drawing, mouth)
    wanted = [d for d in drawing.dimensions if d.measure in values and fits(d, anchors, drawing)]
    strokes = [*drawing.strokes, *(stroke for d in wanted for stroke in d.strokes)]
    drawn = [(one, resolved(one.places, anchors)) for one in strokes]
    texts = [
        Text(place, values[d.measure], d.label.align)
        for d in wanted
        if (place := place_of(d.label.place, anchors)) is not None
    ]
    return Figure(tuple(inked(one, places) for one, places in drawn if places), tuple(texts))


def anchors_of(drawing: Drawing, mouth: Shape) -> dict[str, Place]:
    """All anchors of one mouth on a drawing: what is covered is not among them."""
    left, low, right, high = drawing.box
    return {
        **{f"rest:{name}": place for name, place in drawing.rest.points.items()},
        **{name: place for name, place in mouth.points.items() if name not in mouth.covered},
        "box:left": (left, low), "box:low": (left, low),
        "box:right": (right, high), "box:high": (right, high),
    }  # fmt: skip


def place_of(at: At, anchors: Mapping[str, Place]) -> Place | None:
    """A place of the sheet; None while one of its anchors is missing."""
    x, y = anchors.get(at.x), anchors.get(at.y)
    if (at.x and x is None) or (at.y and y is None):
        return None
    return (x[0] if x else 0.0) + at.dx, (y[1] if y else 0.0) + at.dy


def resolved(places: tuple[At, ...], anchors: Mapping[str, Place]) -> list[Place]:
    """The places of a stroke; empty while one is missing that it can't do without."""
    found = []
    for at in places:
        place = place_of(at, anchors)
        if place is not None:
            found.append(place)
        elif not at.optional:
            return []
    return found


def fits(dimension: Dimension, anchors: Mapping[str, Place], drawing: Drawing) -> bool:
    """Whether all lines of a dimension are known and lie on the sheet, room beside it included."""
    low, high = drawing.box[0] - drawing.room[0], drawing.box[2] + drawing.room[2]
    strokes = [resolved(stroke.places, anchors) for stroke in dimension.strokes]
    return all(places and all(low <= x <= high for x, _ in places) for places in strokes)


def close(drawing: Drawing, values: Mapping[str, str]) -> Drawing:
    """The same for a small piece of paper: as near as mouth, equipment and dimensions allow."""
    if drawing.view == "side":
        return drawing
    anchors = anchors_of(drawing, drawing.hold)
    places = [
        place
        for stroke in drawing.strokes
        if stroke.pen not in ("skin", "rest")
        for place in _extent(stroke, resolved(stroke.places, anchors))
    ]
    places += [
        place
        for d in drawing.dimensions
        if d.measure in values
        for stroke in d.strokes
        for at in stroke.places
        # What hangs on the box goes with it.
        if not (at.x + at.y).count("box:") and (place := place_of(at, anchors)) is not None
    ]
    xs, ys = zip(*places, strict=True)
    box = min(xs) - NEAR, min(ys) - NEAR, max(xs) + NEAR, max(ys) + NEAR
    return replace(drawing, box=box)


def _extent(stroke: Stroke, places: list[Place]) -> list[Place]:
    """Places between which all of a stroke lies: an ellipse has two ends more than it names."""
    if stroke.form != "ellipse" or not places:
        return places
    (x, y), *ends = places
    return [*places, *((2 * x - a, 2 * y - b) for a, b in ends)]


#: Room round the mouth when the drawing is near, units.
NEAR = 0.05


def inked(stroke: Stroke, places: list[Place]) -> PenPath:
    """A stroke as a path."""
    if stroke.form == "ellipse":
        (x, y), side, top = places
        rx, ry = hypot(side[0] - x, side[1] - y), hypot(top[0] - x, top[1] - y)
        return ellipse(stroke.pen, x, y, rx, ry)
    drawn = smooth if stroke.form == "smooth" else straight
    return drawn(stroke.pen, places, stroke.closed)


def straight(pen: Pen, places: list[Place], closed: bool = False) -> PenPath:
    """Straight from place to place."""
    return PenPath(pen, places[0], tuple((a, b, b) for a, b in pairwise(places)), closed)


def smooth(pen: Pen, places: list[Place], closed: bool = False) -> PenPath:
    """A smooth line through places: Catmull-Rom as Bézier pieces."""
    p = np.array(places)
    before, after = np.vstack([p[:1], p[:-1]]), np.vstack([p[1:], p[-1:]])
    tangent = (after - before) / 6
    pieces = tuple(
        (_place(p[n] + tangent[n]), _place(p[n + 1] - tangent[n + 1]), _place(p[n + 1]))
        for n in range(len(p) - 1)
    )
    return PenPath(pen, places[0], pieces, closed)


def ellipse(pen: Pen, x: float, y: float, rx: float, ry: float) -> PenPath:
    """A closed ellipse in four pieces."""
    kx, ky = QUARTER * rx, QUARTER * ry
    pieces = (
        ((x + rx, y + ky), (x + kx, y + ry), (x, y + ry)),
        ((x - kx, y + ry), (x - rx, y + ky), (x - rx, y)),
        ((x - rx, y - ky), (x - kx, y - ry), (x, y - ry)),
        ((x + kx, y - ry), (x + rx, y - ky), (x + rx, y)),
    )
    return PenPath(pen, (x + rx, y), pieces, True)


def _place(point: np.ndarray[tuple[int], np.dtype[np.float64]]) -> Place:
    return float(point[0]), float(point[1])
