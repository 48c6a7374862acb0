"""The front view's measured drawing: what a draughtsman would be handed.

Everything is in the face frame, in rest mouth widths, origin in the middle of
the lips at rest, x toward the picture's right, y up. Whoever draws it only
draws: no arithmetic of the trade is left to do.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.judgement.standards import Band
from sulvet.core.measures.corners import mid_lip
from sulvet.core.measures.placement import RIM, lip_line, rim_ellipse
from sulvet.core.measures.view import FaceView

OUTLINE = ("ch_r", "cph_r", "ls", "cph_l", "ch_l", "li", "sto_s", "sto_i")
CORNERS = ("ch_r", "ch_l")


@dataclass(frozen=True)
class Shape:
    """Landmarks of one mouth, and those of them that could not be seen."""

    points: dict[str, tuple[float, float]]
    covered: tuple[str, ...]


@dataclass(frozen=True)
class FrontDrawing:
    """One mouth over the rest face.

    rest, now  the two shapes; the middle of the lips of both is where ``corner_rise`` is seen from
    middle     that point for ``now``
    zones      corner id → the quadrilateral the standard wants that corner in;
               "rim" → where in the rim the standard wants the line of the lips
    rim        centre, half width and half height of the outer rim, if it is marked
    lip_line   height of the line of the lips at rest
    """

    rest: Shape
    now: Shape
    middle: tuple[float, float]
    zones: dict[str, tuple[tuple[float, float], ...]]
    rim: tuple[float, float, float, float] | None = None
    lip_line: float = 0.0


def front_drawing(
    view: FaceView,
    marks: Marks,
    inside: Bools,
    rise: Band | None,
    width: Band | None,
    share: Band | None = None,
) -> FrontDrawing | None:
    """The median mouth over some frames.

    inside       (T,) the frames, usually those of ``hold``
    rise, width, share  the bands of ``corner_rise``, ``mouth_width`` and ``rim_upper_share``

    None when the frames show no mouth corners.
    """
    if not inside.any():
        return None
    unit = view.rest_mouth_width
    resting = view.at_rest()
    origin = mid_lip(resting)[0]

    def scaled(point: Floats) -> tuple[float, float]:
        x, y = (point - origin) / unit
        return round(float(x), 4), round(float(-y), 4)

    part = FaceView(view.ids, view.face[inside], view.picture[inside], view.rest)
    covered = tuple(
        name
        for name in OUTLINE
        if name in marks.ids and marks.hidden[inside, marks.column(name)].mean() > 0.5
    )
    if set(CORNERS) & set(covered):
        return None
    shapes = []
    for one, gone in ((resting, ()), (part, covered)):
        points = {}
        for name in OUTLINE:
            track = one.point(name)
            if np.isfinite(track[:, 0]).any():
                points[name] = scaled(np.nanmedian(track, axis=0))
        if not set(CORNERS) <= set(points):
            return None
        shapes.append(Shape(points, gone))
    middle = np.nanmedian(mid_lip(part), axis=0)
    zones = {}
    if rise is not None and width is not None and None not in (rise.low, width.low):
        zones = {
            name: _zone(shapes[0].points[name], scaled(middle), rise, width) for name in CORNERS
        }
    rim = _rim(part, marks, inside, scaled)
    if rim is not None and share is not None and share.low is not None and share.high is not None:
        zones["rim"] = _lip_zone(rim, share.low, share.high)
    line = scaled(np.array([origin[0], lip_line(resting)[0]]))[1]
    return FrontDrawing(shapes[0], shapes[1], scaled(middle), zones, rim, line)


def _rim(
    part: FaceView, marks: Marks, inside: Bools, scaled: Callable[[Floats], tuple[float, float]]
) -> tuple[float, float, float, float] | None:
    """The median rim of the frames on which it is seen."""
    if not set(RIM) <= set(marks.ids):
        return None
    there = ~marks.hidden[inside][:, [marks.column(name) for name in RIM]].any(axis=1)
    ellipse = rim_ellipse(part)[there]
    if not np.isfinite(ellipse).all(axis=1).any():
        return None
    x, y, half_width, half_height = np.nanmedian(ellipse, axis=0)
    unit = part.rest_mouth_width
    centre = scaled(np.array([x, y]))
    return (*centre, round(float(half_width / unit), 4), round(float(half_height / unit), 4))


def _lip_zone(
    rim: tuple[float, float, float, float], low: float, high: float
) -> tuple[tuple[float, float], ...]:
    """The part of the rim in which the line of the lips may lie."""
    x, y, half_width, half_height = rim
    top = y + half_height
    edges = []
    for share, sides in ((low, (-1, 1)), (high, (1, -1))):
        level = top - share * 2 * half_height
        reach = half_width * float(np.sqrt(max(0.0, 1 - ((level - y) / half_height) ** 2)))
        edges += [(round(x + side * reach, 4), round(level, 4)) for side in sides]
    return tuple(edges)


def _zone(
    rest: tuple[float, float], middle: tuple[float, float], rise: Band, width: Band
) -> tuple[tuple[float, float], ...]:
    """Where a corner may be: widths and angles of the bands, turned about mid-lip.

    The corner's own angle at rest is where the band of ``corner_rise`` has its zero.
    """
    side = 1.0 if rest[0] > 0 else -1.0
    zero = np.arctan2(rest[1], abs(rest[0]))
    corners = [(rise.low, width.low), (rise.low, width.high), (rise.high, width.high),
               (rise.high, width.low)]  # fmt: skip
    out = []
    for angle, share in corners:
        reach = abs(rest[0]) * float(share or 0.0)
        lift = reach * np.tan(zero + np.radians(float(angle or 0.0)))
        out.append((round(middle[0] + side * reach, 4), round(middle[1] + float(lift), 4)))
    return tuple(out)
