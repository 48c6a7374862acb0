"""The measured drawing: what a draughtsman would be handed, of either view.

Everything is in the face frame with y up, in the sheet's unit: mouth widths at rest
from the front, lip to chin at rest from the side. Every line is decided here, once: a
stroke names a pen and the places it runs through, and a place names an *anchor*, which
is a landmark, a landmark of the rest face, or a point derived from them (see ``anchors``).
Browser and paper look the anchors up in the mouth they draw, ink the strokes and lay out
the labels; no arithmetic of the trade is left to do.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.judgement.schema import Band
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.view import FaceView

#: Counts changes of what a drawing holds: a kept one of an older edition is not shown.
EDITION = 4
Place = tuple[float, float]
Bands = dict[str, Band | None]
#: ``rest`` the face at rest; ``lips``, ``skin`` and ``equipment`` the mouth drawn over it;
#: ``rim`` a rim that covers what lies under it; ``zone`` where the standard wants something;
#: ``axis`` a line that is thought, not seen; ``extension`` from what is measured to its
#: dimension line; ``dimension`` that line, ``tick`` its ends; ``inside`` what is in the mouth.
Pen = Literal[
    "rest", "lips", "skin", "equipment", "rim", "zone", "axis", "extension", "dimension", "tick",
    "inside",
]  # fmt: skip


Align = Literal["start", "middle", "end"]


@dataclass(frozen=True)
class At:
    """A place of the sheet.

    x, y      the anchors that give its coordinates; empty: the sheet's origin
    dx, dy    how far beside them it lies, units
    optional  left out of its stroke where an anchor is not seen
    """

    x: str = ""
    y: str = ""
    dx: float = 0.0
    dy: float = 0.0
    optional: bool = False


def at(anchor: str, dx: float = 0.0, dy: float = 0.0, optional: bool = False) -> At:
    """A place at one anchor, or beside it."""
    return At(anchor, anchor, dx, dy, optional)


@dataclass(frozen=True)
class Stroke:
    """A line with one pen; not drawn while an anchor is missing that it can't do without.

    form    ``straight`` from place to place; ``smooth`` through all of them; ``ellipse``: its
            centre, an end of its one half axis, an end of the other
    closed  an area
    """

    pen: Pen
    places: tuple[At, ...]
    form: Literal["straight", "smooth", "ellipse"] = "straight"
    closed: bool = False


@dataclass(frozen=True)
class Label:
    """Where a value is written, and which part of the text stands there."""

    place: At
    align: Align


@dataclass(frozen=True)
class Dimension:
    """How a measure is shown.

    always  shown in band as well; the others only when they are worth a look
    band    the measure whose band says whether it is out; empty: its own
    """

    measure: str
    strokes: tuple[Stroke, ...]
    label: Label
    always: bool = False
    band: str = ""

    def __post_init__(self) -> None:
        for name in (self.measure, self.band):
            if name and name not in catalogue():
                raise ValueError(f"a dimension of “{name}”: there is no such measure")


@dataclass(frozen=True)
class Shape:
    """Anchors of one mouth, and the landmarks among them that could not be seen."""

    points: dict[str, Place]
    covered: tuple[str, ...] = ()

    def with_anchors(self, derived: dict[str, Floats]) -> Shape:
        """The same with the first frame of derived anchors; what can't be told is left out."""
        known = {
            name: (round(float(x), 4), round(float(y), 4))
            for name, ((x, y), *_) in derived.items()
            if np.isfinite((x, y)).all()
        }
        return Shape({**self.points, **known}, self.covered)


@dataclass(frozen=True)
class Drawing:
    """One mouth over the rest face.

    strokes, dimensions  what to draw, in that order
    rest, hold  the face at rest and its median over the hold
    box         x and y of the lower left and the upper right corner that must be seen; an anchor
                ``box:left``, ``box:low``, ``box:right`` or ``box:high`` is one of its edges
    room        how far dimension lines stand out of the box, in the same order, units
    zones       name → where the standard wants a corner, the line of the lips, the skin …
    facing      -1 where the student looks to the picture's left: drawn mirrored, it looks as
                the picture does
    mm          units to a millimetre in the plane of the profile, side; None if unknown
    """

    view: Literal["front", "side"]
    strokes: tuple[Stroke, ...]
    dimensions: tuple[Dimension, ...]
    rest: Shape
    hold: Shape
    box: tuple[float, float, float, float]
    room: tuple[float, float, float, float]
    zones: dict[str, tuple[Place, ...]] = field(default_factory=dict)
    facing: Literal[-1, 1] = 1
    mm: float | None = None

    def plain(self) -> dict[str, Any]:
        """As plain lists."""
        return asdict(self)

    @staticmethod
    def of(row: dict[str, Any]) -> Drawing:
        """Back from plain lists."""
        left, low, right, high = row["box"]
        a, b, c, d = row["room"]
        return Drawing(
            view=row["view"],
            strokes=tuple(_stroke(one) for one in row["strokes"]),
            dimensions=tuple(
                Dimension(
                    one["measure"],
                    tuple(_stroke(stroke) for stroke in one["strokes"]),
                    Label(At(**one["label"]["place"]), one["label"]["align"]),
                    one["always"],
                    one["band"],
                )
                for one in row["dimensions"]
            ),
            rest=_shape(row["rest"]),
            hold=_shape(row["hold"]),
            box=(left, low, right, high),
            room=(a, b, c, d),
            zones={
                name: tuple((x, y) for x, y in corners) for name, corners in row["zones"].items()
            },
            facing=row["facing"],
            mm=row["mm"],
        )


def _stroke(row: dict[str, Any]) -> Stroke:
    places = tuple(At(**place) for place in row["places"])
    return Stroke(row["pen"], places, row["form"], row["closed"])


def _shape(row: dict[str, Any]) -> Shape:
    return Shape({name: (x, y) for name, (x, y) in row["points"].items()}, tuple(row["covered"]))


@dataclass(frozen=True)
class FrameAnchors:
    """Where every frame lies on a drawing's sheet.

    moves    (T, 6) x' = m0 x + m2 y + m4, y' = m1 x + m3 y + m5 from pixels of the
             picture to the sheet; NaN where the frame can't be told
    derived  derived anchor → (T, 2); NaN where it can't be told
    """

    moves: Floats
    derived: dict[str, Floats]


@dataclass(frozen=True)
class Sheet:
    """From the face frame to the sheet: an origin and a unit; y is turned up."""

    origin: Floats
    unit: float

    def place(self, point: Floats) -> Place:
        """One point on the sheet."""
        x, y = (point - self.origin) / self.unit
        return round(float(x), 4), round(float(-y), 4)

    def places(self, points: Floats) -> Floats:
        """(..., 2) points on the sheet."""
        return np.asarray((points - self.origin) / self.unit * np.array([1.0, -1.0]))

    def shape(
        self, view: FaceView | SideView, wanted: tuple[str, ...], covered: tuple[str, ...] = ()
    ) -> Shape:
        """The median of some frames."""
        points = {}
        for name in wanted:
            track = view.point(name)
            if np.isfinite(track[:, 0]).any():
                points[name] = self.place(np.nanmedian(track, axis=0))
        return Shape(points, tuple(name for name in covered if name in wanted))

    def seen(
        self, view: FaceView | SideView, marks: Marks, wanted: tuple[str, ...]
    ) -> dict[str, Floats]:
        """Landmark → (T, 2) on each frame; NaN where it is hidden or unknown."""
        found = {}
        for name in wanted:
            if name in view.ids:
                hidden = marks.hidden[:, marks.column(name), None]
                found[name] = np.where(hidden, np.nan, self.places(view.point(name)))
        return found

    def moves(self, view: FaceView | SideView) -> Floats:
        """(T, 6) from the picture to the sheet; see ``FrameAnchors.moves``.

        The face frame is an affine image of the picture on every frame; three points on
        both give it back, all of them with less rounding.
        """
        there = np.asarray(np.isfinite(view.face).all(-1) & np.isfinite(view.picture).all(-1))
        out = np.full((len(view.face), 6), np.nan)
        weight = there[..., None].astype(float)
        count = np.maximum(weight.sum(1), 1.0)
        source = np.where(there[..., None], view.picture, 0.0)
        target = np.where(there[..., None], self.places(view.face), 0.0)
        mean_s, mean_t = source.sum(1) / count, target.sum(1) / count
        s, t = (source - mean_s[:, None]) * weight, (target - mean_t[:, None]) * weight
        spread = np.einsum("tni,tnj->tij", s, s)
        good = (there.sum(1) >= 3) & (np.linalg.det(spread) > 1e-6)
        linear = np.linalg.solve(spread[good], np.einsum("tni,tnj->tij", s, t)[good])
        shift = mean_t[good] - np.einsum("ti,tij->tj", mean_s[good], linear)
        out[good] = np.concatenate([linear.reshape(-1, 4), shift], axis=1)
        return out


def anchors_in(strokes: tuple[Stroke, ...], dimensions: tuple[Dimension, ...]) -> set[str]:
    """All anchors that strokes speak of, those of the rest face by their landmark."""
    every = [*strokes, *(stroke for d in dimensions for stroke in d.strokes)]
    named = {name for one in every for place in one.places for name in (place.x, place.y)}
    return {name.removeprefix("rest:") for name in named if name}


def unseen(marks: Marks, inside: Bools, wanted: tuple[str, ...]) -> tuple[str, ...]:
    """Landmarks that are hidden on more than half of some frames."""
    return tuple(
        name
        for name in wanted
        if name in marks.ids and marks.hidden[inside, marks.column(name)].mean() > 0.5
    )


def around(shapes: tuple[Shape, ...], names: tuple[str, ...], room: float) -> list[float]:
    """Left, low, right, high of some landmarks, with room on all sides."""
    places = np.array([s.points[n] for s in shapes for n in names if n in s.points])
    low, high = places.min(axis=0) - room, places.max(axis=0) + room
    return [float(low[0]), float(low[1]), float(high[0]), float(high[1])]
