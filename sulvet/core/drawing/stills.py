"""Frames of a take worth laying beside those of another, each with its place on the sheet.

Two takes are compared in the face frame of the older one: its sheet is the common
one, and the newer is brought onto it by what sits on bone (eye corners from the
front, nose from the side), not by the mouth, which is what has changed.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, replace
from math import hypot
from typing import Any, Literal

import numpy as np

from sulvet.core.anatomy.frame import ANCHOR_WEIGHTS, similarity
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import ANCHORS, SideView
from sulvet.core.drawing.sheet import Drawing, FrameAnchors, Place, Shape
from sulvet.core.judgement.results import Judgement
from sulvet.core.phases import Phase, frames_of

#: At most so many frames of a phase are kept, evenly spread over its middle.
PER_PHASE = 9
#: The share of a phase at either end in which the mouth is still on its way.
BORDER = 0.15
Move = tuple[float, float, float, float, float, float]
#: A similarity of the plane: x' = a x - b y + tx, y' = b x + a y + ty.
Onto = tuple[float, float, float, float]
SAME: Onto = (1.0, 0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Still:
    """One frame and how it lies on its take's own sheet.

    pose    degrees: turned to the side and raised (front), raised (side); 0 where unknown
    move    from pixels of the picture to the sheet, as in ``FrameAnchors.moves``
    points  landmarks and derived anchors on the sheet
    """

    frame: int
    phase: str
    pose: tuple[float, float]
    move: Move
    points: dict[str, Place]
    covered: tuple[str, ...] = ()


@dataclass(frozen=True)
class Stills:
    """The frames of one take, and where its anchors lie on its sheet at rest."""

    anchors: dict[str, Place]
    frames: tuple[Still, ...]

    def plain(self) -> dict[str, Any]:
        """As plain lists."""
        return asdict(self)

    @staticmethod
    def of(row: dict[str, Any]) -> Stills:
        """Back from plain lists."""
        frames = []
        for one in row["frames"]:
            points = {name: (x, y) for name, (x, y) in one["points"].items()}
            frames.append(Still(
                one["frame"], one["phase"], tuple(one["pose"]), tuple(one["move"]), points,
                tuple(one["covered"]),
            ))  # fmt: skip
        return Stills({n: (x, y) for n, (x, y) in row["anchors"].items()}, tuple(frames))

    def before(self, frame: int) -> Stills:
        """Those of frames before this one: a borrowed rest has none to show."""
        return replace(self, frames=tuple(one for one in self.frames if one.frame < frame))

    def phases(self) -> tuple[str, ...]:
        """Phases of which there are frames, in their order."""
        return tuple(dict.fromkeys(one.phase for one in self.frames))

    def of_phase(self, phase: str) -> tuple[Still, ...]:
        """The frames of one phase."""
        return tuple(one for one in self.frames if one.phase == phase)


def stills_of(
    judged: Judgement, marks: Marks, phases: list[Phase], drawing: Drawing, anchors: FrameAnchors
) -> Stills:
    """The frames of a judged take that can be laid on its drawing's sheet.

    anchors  where every frame lies on it
    """
    view = judged.view or judged.side
    assert view is not None
    sides = isinstance(view, SideView)
    # What is held to the mouth is not there at rest.
    drawn = {**drawing.rest.points, **drawing.hold.points}
    names = [name for name in view.ids if name in drawn]
    pose = _pose(judged, marks)
    frames = []
    for phase in dict.fromkeys(p.name for p in phases):
        for row in _spread(frames_of(phases, phase, marks.seconds), anchors.moves):
            move, points = anchors.moves[row], {}
            for name in names:
                column = marks.column(name)
                place = _moved(move, marks.xy[row, column])
                if np.isfinite(place).all():
                    points[name] = (round(float(place[0]), 4), round(float(place[1]), 4))
            covered = tuple(n for n in points if marks.hidden[row, marks.column(n)])
            shape = Shape(points, covered).with_anchors(
                {name: places[row : row + 1] for name, places in anchors.derived.items()}
            )
            turned = (round(float(pose[row, 0]), 2), round(float(pose[row, 1]), 2))
            frames.append(Still(int(row), phase, turned, _six(move), shape.points, covered))
    # A rest face's anchors on the sheet: where its own frames put them.
    resting = frames_of(phases, "rest", marks.seconds)
    fixed = {}
    for name in ANCHORS if sides else ANCHOR_WEIGHTS:
        if name not in marks.ids:
            continue
        column = marks.column(name)
        seen = resting & ~marks.hidden[:, column]
        there = _moved(anchors.moves[seen].T, marks.xy[seen, column].T)
        there = there[:, np.isfinite(there).all(axis=0)]
        if there.shape[1]:
            x, y = np.median(there, axis=1)
            fixed[name] = (round(float(x), 4), round(float(y), 4))
    return Stills(fixed, tuple(frames))


def _pose(judged: Judgement, marks: Marks) -> Floats:
    """(T, 2) how the head is held, against its own rest; 0 where nothing tells."""
    if judged.side is not None:
        first, second = judged.side.turn, np.zeros(len(marks))
    else:
        nothing = np.full(len(marks), np.nan)
        yaw = judged.series.get("head_yaw")
        first = nothing if yaw is None else yaw.value
        second = marks.signals.get("mesh_pitch", nothing)
    return np.asarray(np.nan_to_num(np.stack([first, second], axis=1)))


def _spread(inside: Bools, moves: Floats) -> list[int]:
    rows = np.flatnonzero(inside)
    border = int(BORDER * len(rows))
    rows = rows[border : len(rows) - border]
    rows = rows[np.isfinite(moves[rows]).all(axis=1)] if len(moves) else rows[:0]
    if not len(rows):
        return []
    return [int(rows[n]) for n in np.unique(np.linspace(0, len(rows) - 1, PER_PHASE).round())
            .astype(int)]  # fmt: skip


def _moved(move: Floats, point: Floats) -> Floats:
    """A point of the picture on the sheet, or many: (6, N) and (2, N)."""
    x, y = point
    return np.asarray([
        move[0] * x + move[2] * y + move[4],
        move[1] * x + move[3] * y + move[5],
    ])  # fmt: skip


def _six(values: Floats) -> Move:
    a, b, c, d, e, f = (round(float(v), 8) for v in values)
    return a, b, c, d, e, f


def nearest(then: Stills, now: Stills, phase: str) -> tuple[Still, Still] | None:
    """The pair of frames of one phase in which the head is held most alike.

    None when one of the takes shows no frame of the phase.
    """
    pairs = [(a, b) for a in then.of_phase(phase) for b in now.of_phase(phase)]
    return min(pairs, key=lambda pair: _apart(*pair), default=None)


def _apart(a: Still, b: Still) -> float:
    return float(np.hypot(a.pose[0] - b.pose[0], a.pose[1] - b.pose[1]))


def onto(now: Stills, then: Stills) -> Onto:
    """The similarity that brings the sheet of ``now`` onto that of ``then``.

    Least squares over the anchors that both show at rest; the same sheet where fewer
    than two do: each mouth is then its own measure.
    """
    weights = ANCHORS | ANCHOR_WEIGHTS
    shared = [name for name in then.anchors if name in now.anchors]
    if len(shared) < 2:
        return SAME
    a, b, shift = similarity(
        np.array([[now.anchors[name] for name in shared]]),
        np.array([then.anchors[name] for name in shared]),
        np.array([[weights[name] for name in shared]]),
    )
    if not np.isfinite(a[0]):
        return SAME
    return (round(float(a[0]), 6), round(float(b[0]), 6),
            round(float(shift[0, 0]), 6), round(float(shift[0, 1]), 6))  # fmt: skip


def brought(
    drawing: Drawing, by: Onto, box: tuple[float, float, float, float], facing: Literal[-1, 1]
) -> Drawing:
    """A drawing on another sheet, without zones: over a picture they would hide the mouth.

    box, facing  the part of that sheet that is shown, and which way it looks
    """
    return replace(
        drawing,
        strokes=tuple(stroke for stroke in drawing.strokes if stroke.pen != "zone"),
        rest=brought_shape(drawing.rest, by),
        hold=brought_shape(drawing.hold, by),
        zones={},
        mm=None if drawing.mm is None else drawing.mm * hypot(by[0], by[1]),
        box=box,
        facing=facing,
    )


def brought_shape(shape: Shape, by: Onto) -> Shape:
    """A mouth on another sheet."""
    return Shape({name: placed(by, p) for name, p in shape.points.items()}, shape.covered)


def shown(
    then: Drawing, now: Drawing, by: Onto, faces: tuple[Stills, ...] = ()
) -> tuple[float, float, float, float]:
    """The part of the older sheet in which both mouths are seen.

    faces  whose anchors must be seen as well: the eyes, from the front
    """
    x0, y0, x1, y1 = now.box
    corners = [placed(by, p) for p in ((x0, y0), (x1, y0), (x0, y1), (x1, y1))]
    corners += [(then.box[0], then.box[1]), (then.box[2], then.box[3])]
    for stills in faces:
        for x, y in stills.anchors.values():
            corners += [(x - FACE, y), (x + FACE, y + FACE)]
    xs, ys = zip(*corners, strict=True)
    x0, y0, x1, y1 = min(xs), min(ys), max(xs), max(ys)
    # A narrow strip is hard to read beside another.
    missing = max(0.0, LEAST_WIDE * (y1 - y0) - (x1 - x0)) / 2
    return x0 - missing, y0, x1 + missing, y1


#: A picture is at least so wide for its height.
LEAST_WIDE = 0.92
#: Room round the eyes when the whole face is wanted, units of the sheet.
FACE = 0.45


def placed(by: Onto, place: Place) -> Place:
    """A place of one sheet on another."""
    a, b, tx, ty = by
    x, y = place
    return round(a * x - b * y + tx, 4), round(b * x + a * y + ty, 4)


def chained(move: Move, by: Onto) -> Move:
    """From the picture over its own sheet to another."""
    a, b, tx, ty = by
    m0, m1, m2, m3, m4, m5 = move
    return (
        a * m0 - b * m1, b * m0 + a * m1,
        a * m2 - b * m3, b * m2 + a * m3,
        a * m4 - b * m5 + tx, b * m4 + a * m5 + ty,
    )  # fmt: skip
