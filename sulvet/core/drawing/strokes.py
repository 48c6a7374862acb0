"""The measured drawing as strokes, for paper; the page in the browser draws its own while a
hand drags a mark.

All in the sheet's unit with y up. Whoever draws them only scales, and knows pens by name.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise
from math import hypot
from typing import Literal

import numpy as np

from sulvet.core.drawing.sheet import Dimension, Drawing, Line, Place, Shape

Pen = Literal["rest", "lips", "skin", "thing", "zone", "chain", "dimension", "end"]


@dataclass(frozen=True)
class Stroke:
    """A path of Bézier pieces: the start, then two handles and an end for each piece."""

    pen: Pen
    start: Place
    pieces: tuple[tuple[Place, Place, Place], ...]
    closed: bool = False


@dataclass(frozen=True)
class Label:
    """Where a value is written, and on which side of that place it stands."""

    at: Place
    text: str
    anchor: Literal["start", "middle", "end"]


@dataclass(frozen=True)
class Figure:
    """All of a drawing."""

    strokes: tuple[Stroke, ...]
    labels: tuple[Label, ...]


#: Half the length of a short arc; distance of a dimension line from the mouth; its end strokes.
ARC, AWAY, END = 0.22, 0.12, 0.025


def around(sheet: Figure, room: float) -> tuple[float, float, float, float]:
    """Left, low, right and high of all that is not mere skin, with room on all sides."""
    places = [
        place
        for stroke in sheet.strokes
        if stroke.pen not in ("skin", "rest")
        for place in (stroke.start, *(piece[2] for piece in stroke.pieces))
    ]
    places += [label.at for label in sheet.labels]
    xs, ys = zip(*places, strict=True)
    return min(xs) - room, min(ys) - room, max(xs) + room, max(ys) + room


#: A quarter of a circle as one Bézier piece: 4/3 (sqrt 2 - 1).
QUARTER = 0.5523


def inked(
    drawing: Drawing,
    mouth: Shape,
    rim: tuple[float, float, float, float] | None,
    told: dict[str, str],
) -> Figure:
    """The rest face dashed, the mouth over it, the zones, and the dimensions asked for.

    mouth, rim  what to draw over the rest face, usually the hold's
    told        measure → its value in words; all others are left out
    """
    strokes = [polygon("zone", corners) for name, corners in drawing.zones.items() if name != "rim"]
    strokes += _face(drawing, drawing.rest, "rest")
    if rim is not None:
        strokes += _rim(drawing, rim)
    strokes += _face(drawing, mouth, None)
    labels: list[Label] = []
    for dimension in drawing.dimensions:
        text = told.get(dimension.measure)
        if text is not None:
            drawn = _KINDS[dimension.kind](_Told(drawing, mouth, rim, dimension, text))
            strokes += drawn.strokes
            labels += drawn.labels
    return Figure(tuple(strokes), tuple(labels))


def straight(pen: Pen, *places: Place, closed: bool = False) -> Stroke:
    """Straight from place to place."""
    return Stroke(pen, places[0], tuple(
        (a, b, b) for a, b in pairwise(places)
    ), closed)  # fmt: skip


def polygon(pen: Pen, corners: tuple[Place, ...]) -> Stroke:
    """A closed figure."""
    return straight(pen, *corners, closed=True)


def smooth(pen: Pen, places: list[Place]) -> Stroke:
    """A smooth line through places: Catmull-Rom as Bézier pieces."""
    p = np.array(places)
    before, after = np.vstack([p[:1], p[:-1]]), np.vstack([p[1:], p[-1:]])
    tangent = (after - before) / 6
    pieces = tuple(
        (_place(p[n] + tangent[n]), _place(p[n + 1] - tangent[n + 1]), _place(p[n + 1]))
        for n in range(len(p) - 1)
    )
    return Stroke(pen, places[0], pieces)


def ellipse(pen: Pen, x: float, y: float, rx: float, ry: float) -> Stroke:
    """A closed ellipse in four pieces."""
    kx, ky = QUARTER * rx, QUARTER * ry
    pieces = (
        ((x + rx, y + ky), (x + kx, y + ry), (x, y + ry)),
        ((x - kx, y + ry), (x - rx, y + ky), (x - rx, y)),
        ((x - rx, y - ky), (x - kx, y - ry), (x, y - ry)),
        ((x + kx, y - ry), (x + rx, y - ky), (x + rx, y)),
    )
    return Stroke(pen, (x + rx, y), pieces, True)


def _place(point: np.ndarray[tuple[int], np.dtype[np.float64]]) -> Place:
    return float(point[0]), float(point[1])


def _face(drawing: Drawing, shape: Shape, pen: Pen | None) -> list[Stroke]:
    """The lines of one mouth; what it has covered stands where it was at rest."""
    strokes = []
    for line in drawing.lines:
        if pen == "rest" and line.part == "thing":
            continue
        places = _through(line, shape)
        if places:
            strokes.append(_stroke(pen or line.part, line, places))
    hole = hole_of(shape)
    if hole is not None and pen != "rest":
        strokes.append(ellipse("thing", *hole))
    return strokes


def _seen(name: str, shape: Shape) -> Place | None:
    return None if name in shape.covered else shape.points.get(name)


def _through(line: Line, shape: Shape) -> list[Place]:
    """The places a line runs through; empty when one that it needs is not seen."""
    needed = [_seen(name, shape) for name in line.points]
    if any(place is None for place in needed):
        return []
    names = list(line.points)
    if len(names) == 3 and len(line.optional) == 2:
        names = [names[0], line.optional[0], names[1], line.optional[1], names[2]]
    return [place for name in names if (place := _seen(name, shape)) is not None]


def _stroke(pen: Pen, line: Line, places: list[Place]) -> Stroke:
    x, y = places[0]
    bend = 0.28 * ARC
    if line.form == "under":
        return smooth(pen, [(x - ARC, y + bend), (x, y), (x + ARC, y + bend)])
    if line.form == "beside":
        inward = 1 if x < 0 else -1
        return smooth(pen, [(x + inward * bend, y + ARC), (x, y), (x + inward * bend, y - ARC)])
    return smooth(pen, places) if line.form == "smooth" else straight(pen, *places)


def hole_of(shape: Shape) -> tuple[float, float, float, float] | None:
    """The blow hole: it is as deep on the side of the lip as on the far one."""
    right, left, far = (_seen(name, shape) for name in ("hole_r", "hole_l", "hole_far"))
    if right is None or left is None or far is None:
        return None
    x, y = (right[0] + left[0]) / 2, (right[1] + left[1]) / 2
    return x, y, hypot(left[0] - right[0], left[1] - right[1]) / 2, abs(y - far[1])


def _rim(drawing: Drawing, rim: tuple[float, float, float, float]) -> list[Stroke]:
    x, y, rx, ry = rim
    strokes = [ellipse("thing", x, y, rx, ry)]
    if "rim" in drawing.zones:
        strokes.append(polygon("zone", drawing.zones["rim"]))
    reach = rx * float(np.sqrt(max(0.0, 1 - ((drawing.lip_line - y) / ry) ** 2)))
    line = drawing.lip_line
    return [*strokes, straight("chain", (x - reach, line), (x + reach, line))]


@dataclass(frozen=True)
class _Told:
    drawing: Drawing
    mouth: Shape
    rim: tuple[float, float, float, float] | None
    dimension: Dimension
    text: str

    def places(self) -> list[Place] | None:
        """The ends; None when one is not seen."""
        ends = [self.end(name) for name in self.dimension.ends]
        return None if any(p is None for p in ends) else [p for p in ends if p is not None]

    def end(self, name: str) -> Place | None:
        if name.startswith("rest:"):
            return self.drawing.rest.points.get(name.removeprefix("rest:"))
        if name == "hole_near":
            hole = hole_of(self.mouth)
            return None if hole is None else (hole[0], hole[1] + hole[3])
        return _seen(name, self.mouth)

    def bounds(self) -> tuple[float, float, float, float]:
        """Left, low, right and high of the mouth, what is held to it, and what is measured."""
        names = {n for line in self.drawing.lines if line.part != "skin" for n in line.points}
        seen = [p for n in (*names, *self.dimension.ends) if (p := self.end(n)) is not None]
        xs, ys = [p[0] for p in seen], [p[1] for p in seen]
        if self.rim is not None:
            x, y, rx, ry = self.rim
            xs, ys = [*xs, x - rx, x + rx], [*ys, y - ry, y + ry]
        return min(xs), min(ys), max(xs), max(ys)

    def middle(self) -> Place:
        """The middle of the lips; at rest where one of them is covered."""
        both = [_seen(name, self.mouth) for name in ("ls", "li")]
        if None in both:
            both = [self.drawing.rest.points.get(name) for name in ("ls", "li")]
        seen = [p for p in both if p is not None]
        if len(seen) < 2:
            return 0.0, 0.0
        return (seen[0][0] + seen[1][0]) / 2, (seen[0][1] + seen[1][1]) / 2


_NOTHING = Figure((), ())


def _ends(*places: Place) -> list[Stroke]:
    """The short strokes that end a dimension line."""
    return [straight("end", (x - END, y - END), (x + END, y + END)) for x, y in places]


def _across(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    (ax, _), (bx, _) = places
    low = t.bounds()[1] - AWAY
    lines = [straight("chain", (x, y), (x, low)) for x, y in places]
    line = straight("dimension", (ax, low), (bx, low))
    label = Label(((ax + bx) / 2, low + 0.025), t.text, "middle")
    return Figure((*lines, line, *_ends((ax, low), (bx, low))), (label,))


def _upright(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    left, _, right, _ = t.bounds()
    x = left - AWAY if t.dimension.side < 0 else right + AWAY
    (_, ay), (_, by) = places
    lines = [straight("chain", (from_x, y), (x, y)) for from_x, y in places]
    line = straight("dimension", (x, ay), (x, by))
    side = t.dimension.side
    label = Label((x + side * 0.04, (ay + by) / 2 - 0.03), t.text, "end" if side < 0 else "start")
    return Figure((*lines, line, *_ends((x, ay), (x, by))), (label,))


def _rise(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    ((x, y),) = places
    side = 1 if x > 0 else -1
    line = straight("dimension", t.middle(), (x, y))
    label = Label((x + side * 0.05, y - 0.02), t.text, "start" if side > 0 else "end")
    return Figure((line, *_ends((x, y))), (label,))


def _aside(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    x = sum(p[0] for p in places) / len(places)
    low = min(p[1] for p in places) - 0.06
    axis = straight("chain", (0.0, t.bounds()[3] + AWAY), (0.0, low))
    line = straight("dimension", (0.0, low), (x, low))
    return Figure((axis, line, *_ends((x, low))),
                 (Label((max(0.0, x) + 0.04, low - 0.02), t.text, "start"),))  # fmt: skip


def _share(t: _Told) -> Figure:
    if t.rim is None:
        return _NOTHING
    x, y, _, ry = t.rim
    top, low, line = y + ry, y - ry, t.drawing.lip_line
    return Figure(
        (straight("chain", (x, top), (x, low)), straight("dimension", (x, top), (x, line)),
         *_ends((x, top), (x, line))),
        (Label((x + 0.04, (top + line) / 2), t.text, "start"),),
    )  # fmt: skip


def _tilt(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    a, b = sorted(places)
    label = Label((b[0], min(a[1], b[1]) - 0.1), t.text, "end")
    return Figure((straight("dimension", a, b), straight("chain", a, (b[0], a[1]))), (label,))


def _lean(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    a, b = places
    return Figure(
        (straight("chain", a, (a[0], a[1] - 0.6)), straight("dimension", a, b)),
        (Label((a[0] + 0.06, a[1] - 0.6), t.text, "start"),),
    )


def _behind(t: _Told) -> Figure:
    start, end = (t.end(name) or t.drawing.rest.points.get(name) for name in t.dimension.ends[:2])
    contour = [p for name in t.dimension.ends[2:] if (p := t.end(name)) is not None]
    if start is None or end is None or not contour:
        return _NOTHING
    a, b, points = np.array(start), np.array(end), np.array(contour)
    way = (b - a) / np.linalg.norm(b - a)
    along, off = (points - a) @ way, (points - a) @ np.array([way[1], -way[0]])
    inside = (along > 0) & (along < np.linalg.norm(b - a))
    if not inside.any():
        return _NOTHING
    # A hollow's deepest point lies behind the line, a bulge's before it.
    hollow = not t.text.startswith("−")
    far = np.where(inside, off if hollow else -off, -np.inf).argmax()
    deepest, foot = _place(points[far]), _place(a + along[far] * way)
    at = (min(deepest[0], foot[0]) - 0.06, deepest[1] - 0.03)
    return Figure(
        (straight("chain", start, end), straight("dimension", foot, deepest),
         *_ends(foot, deepest)),
        (Label(at, t.text, "end"),),
    )  # fmt: skip


def _along(t: _Told) -> Figure:
    places = t.places()
    if not places:
        return _NOTHING
    lip, mark = places
    label = Label((lip[0] - 0.06, lip[1] + 0.06), t.text, "end")
    return Figure((straight("dimension", lip, mark), *_ends(lip)), (label,))


_KINDS: dict[str, Callable[[_Told], Figure]] = {
    "across": _across, "upright": _upright, "rise": _rise, "aside": _aside, "share": _share,
    "tilt": _tilt, "lean": _lean, "behind": _behind, "along": _along,
}  # fmt: skip
