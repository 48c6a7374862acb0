"""The measured drawing: what a draughtsman would be handed, of either view.

Everything is in the face frame with y up, in the sheet's unit: mouth widths at rest
from the front, lip to chin at rest from the side. Whoever draws it only draws: no
arithmetic of the trade is left to do.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, field, replace
from typing import Any, Literal

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.judgement.standards import Band
from sulvet.core.measures.view import FaceView

#: Counts changes of what a drawing holds: a kept one of an older edition is not shown.
EDITION = 3
Place = tuple[float, float]
Bands = dict[str, Band | None]


@dataclass(frozen=True)
class Line:
    """A line of the drawing through landmarks, in order.

    part      what it belongs to, which says how heavy it is
    points    landmarks it runs through; it is drawn when all of them are there
    optional  those that are left out where they are not seen
    form      ``smooth`` through all points, ``straight`` from one to the next, or a short
              arc ``under`` or ``beside`` a single one
    """

    part: Literal["lips", "skin", "thing"]
    points: tuple[str, ...]
    optional: tuple[str, ...] = ()
    form: Literal["smooth", "straight", "under", "beside"] = "smooth"


@dataclass(frozen=True)
class Dimension:
    """How a measure is shown.

    kind    ``across`` and ``upright``: from end to end along x or y, on a line of its own;
            ``rise``: a corner's lift seen from the middle of the lips; ``aside``: from the
            face's midline; ``share``: how a line cuts the rim; ``tilt``: a line against
            the horizontal; ``lean``: against the vertical; ``behind``: the farthest
            that a contour lies from the line of its ends; ``along``: on the axis
    ends    landmarks from which to which
    side    on which side of the drawing its line runs: -1 left or under, 1 right or above
    always  shown in band as well; the others only when they are worth a look
    band    the measure whose band says whether it is out; empty: its own
    """

    measure: str
    kind: Literal[
        "across", "upright", "rise", "aside", "share", "tilt", "lean", "behind", "along"
    ]  # fmt: skip
    ends: tuple[str, ...]
    side: Literal[-1, 1] = 1
    always: bool = False
    band: str = ""


@dataclass(frozen=True)
class Shape:
    """Landmarks of one mouth, and those of them that could not be seen."""

    points: dict[str, Place]
    covered: tuple[str, ...] = ()


@dataclass(frozen=True)
class Drawing:
    """One mouth over the rest face.

    lines, dimensions  what to draw, by landmark
    rest, hold  the face at rest and its median over the hold
    box         x and y of the lower left and the upper right corner that must be seen
    zones       name → where the standard wants a corner, the line of the lips, the skin …
    moves       (T, 6) x' = m0 x + m2 y + m4, y' = m1 x + m3 y + m5 from pixels of the
                picture to the sheet; NaN where the frame can't be told
    rims        (T, 4) centre, half width and half height of the rim; empty when there is none
    rim         the same over the hold
    lip_line    height of the line of the lips at rest, front
    facing      -1 where the student looks to the picture's left: drawn mirrored, it looks as
                the picture does
    mm          units to a millimetre in the plane of the profile, side; None if unknown
    """

    view: Literal["front", "side"]
    lines: tuple[Line, ...]
    dimensions: tuple[Dimension, ...]
    rest: Shape
    hold: Shape
    box: tuple[float, float, float, float]
    zones: dict[str, tuple[Place, ...]] = field(default_factory=dict)
    moves: Floats = field(default_factory=lambda: np.zeros((0, 6)))
    rims: Floats = field(default_factory=lambda: np.zeros((0, 4)))
    rim: tuple[float, float, float, float] | None = None
    lip_line: float = 0.0
    facing: Literal[-1, 1] = 1
    mm: float | None = None

    def small(self) -> dict[str, Any]:
        """As plain lists, without where every frame lies."""
        row = asdict(replace(self, moves=np.zeros((0, 6)), rims=np.zeros((0, 4))))
        return {name: value for name, value in row.items() if name not in ("moves", "rims")}

    @staticmethod
    def of(row: dict[str, Any]) -> Drawing:
        """Back from plain lists."""
        low_x, low_y, high_x, high_y = row["box"]
        return Drawing(
            view=row["view"],
            lines=tuple(
                Line(one["part"], tuple(one["points"]), tuple(one["optional"]), one["form"])
                for one in row["lines"]
            ),
            dimensions=tuple(
                Dimension(**{**one, "ends": tuple(one["ends"])}) for one in row["dimensions"]
            ),
            rest=_shape(row["rest"]),
            hold=_shape(row["hold"]),
            box=(low_x, low_y, high_x, high_y),
            zones={
                name: tuple((x, y) for x, y in corners) for name, corners in row["zones"].items()
            },
            rim=tuple(row["rim"]) if row["rim"] else None,
            lip_line=row["lip_line"],
            facing=row["facing"],
            mm=row["mm"],
        )


def _shape(row: dict[str, Any]) -> Shape:
    return Shape({name: (x, y) for name, (x, y) in row["points"].items()}, tuple(row["covered"]))


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

    def moves(self, view: FaceView | SideView) -> Floats:
        """(T, 6) from the picture to the sheet; see ``Drawing.moves``.

        The face frame is an affine image of the picture on every frame; three points on
        both give it back, all of them with less rounding.
        """
        there = np.isfinite(view.face).all(-1) & np.isfinite(view.picture).all(-1)
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


def landmarks_of(lines: tuple[Line, ...], dimensions: tuple[Dimension, ...]) -> tuple[str, ...]:
    """All landmarks a drawing speaks of, once each."""
    named = [name for line in lines for name in (*line.points, *line.optional)]
    named += [name for d in dimensions for name in d.ends]
    return tuple(dict.fromkeys(named))


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
