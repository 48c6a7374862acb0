"""The front view on the sheet: lips, nose, chin and cheeks, and what is held to the mouth.

Origin in the middle of the lips at rest, unit the mouth's width at rest, x toward
the picture's right.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.drawing.sheet import (
    Bands,
    Dimension,
    Drawing,
    Line,
    Place,
    Shape,
    Sheet,
    around,
    landmarks_of,
    unseen,
)
from sulvet.core.judgement.standards import Band
from sulvet.core.measures.corners import mid_lip
from sulvet.core.measures.placement import RIM, lip_line, rim_ellipse
from sulvet.core.measures.view import FaceView

CORNERS = ("ch_r", "ch_l")
LINES: tuple[Line, ...] = (
    Line("lips", ("ch_r", "ls", "ch_l"), ("cph_r", "cph_l")),
    Line("lips", ("ch_r", "li", "ch_l")),
    Line("lips", ("ch_r", "sto_s", "ch_l"), ("ap_r", "ap_l")),
    Line("lips", ("ch_r", "sto_i", "ch_l"), ("ap_r", "ap_l")),
    Line("skin", ("al_r", "sn", "al_l")),
    Line("skin", ("me",), form="under"),
    Line("skin", ("ck_r",), form="beside"),
    Line("skin", ("ck_l",), form="beside"),
    Line("thing", ("mp_r", "mp_l"), form="straight"),
    Line("thing", ("pl_r", "pl_l"), form="straight"),
)
DIMENSIONS: tuple[Dimension, ...] = (
    Dimension("corner_rise_r", "rise", ("ch_r",), -1, True, "corner_rise"),
    Dimension("corner_rise_l", "rise", ("ch_l",), 1, True, "corner_rise"),
    Dimension("mouth_width", "across", CORNERS, -1, True),
    Dimension("rim_upper_share", "share", (), 1, True),
    Dimension("rim_offset", "aside", RIM, -1),
    Dimension("mouthpiece_offset", "aside", ("mp_r", "mp_l"), 1, True),
    Dimension("plate_tilt", "tilt", ("pl_r", "pl_l"), 1, True),
    Dimension("hole_to_lip", "upright", ("li", "hole_near"), 1, True),
    Dimension("aperture_width", "across", ("ap_r", "ap_l"), 1),
    Dimension("aperture_height", "upright", ("sto_s", "sto_i"), 1),
    Dimension("upper_red", "upright", ("ls", "sto_s"), -1),
    Dimension("lower_red", "upright", ("sto_i", "li"), 1),
    Dimension("chin_length", "upright", ("li", "pg"), -1),
    Dimension("cheek_out_r", "across", ("ck_r", "rest:ck_r"), 1),
    Dimension("cheek_out_l", "across", ("rest:ck_l", "ck_l"), 1),
)
#: What must be seen on the sheet, and what only when it is worth a look.
SEEN = (*CORNERS, "ls", "li", "sn", "me")
CHEEKS = ("ck_r", "ck_l")
#: Room round that, mouth widths.
ROOM = 0.16


def front_drawing(
    view: FaceView, marks: Marks, inside: Bools, bands: Bands, flagged: frozenset[str]
) -> Drawing | None:
    """The median mouth over some frames, over the rest face.

    inside   (T,) the frames, usually those of ``hold``
    bands    measure → its band
    flagged  measures that are not in band

    None when the corners are not known at rest. What the frames don't show is left out.
    """
    if not inside.any():
        return None
    resting, sheet = view.at_rest(), _sheet(view)
    # The hole's near edge lies under the lip: it is drawn, never marked.
    named = (*landmarks_of(LINES, DIMENSIONS), "hole_r", "hole_l", "hole_far", *RIM)
    part = FaceView(view.ids, view.face[inside], view.picture[inside], view.rest)
    covered = unseen(marks, inside, named)
    rest = _in_order(sheet.shape(resting, named))
    hold = _in_order(sheet.shape(part, named, covered))
    if not set(CORNERS) <= set(rest.points):
        return None
    seen_middle = mid_lip(part)[np.isfinite(mid_lip(part)).all(axis=1)]
    middle = sheet.place(np.median(seen_middle, axis=0)) if len(seen_middle) else (0.0, 0.0)
    zones: dict[str, tuple[Place, ...]] = {}
    rise, width = bands.get("corner_rise"), bands.get("mouth_width")
    if rise is not None and width is not None and None not in (rise.low, width.low):
        zones = {name: _zone(rest.points[name], middle, rise, width) for name in CORNERS}
    rims = _rims(view, marks, sheet)
    rim = _median(rims[inside]) if len(rims) else None
    share = bands.get("rim_upper_share")
    if rim is not None and share is not None and share.low is not None and share.high is not None:
        zones["rim"] = _lip_zone(rim, share.low, share.high)
    line = sheet.place(np.array([sheet.origin[0], lip_line(resting)[0]]))[1]
    seen = SEEN + (CHEEKS if flagged & {"cheek_out_r", "cheek_out_l"} else ())
    box = around((rest, hold), seen, ROOM)
    if rim is not None:
        box[3] = max(box[3], rim[1] + rim[3] + ROOM / 2)
        box[1] = min(box[1], rim[1] - rim[3] - ROOM / 2)
    left, low, right, high = box
    return Drawing(
        "front", LINES, DIMENSIONS, rest, hold, (left, low, right, high), zones,
        sheet.moves(view), rims, rim, line,
    )  # fmt: skip


def _in_order(shape: Shape) -> Shape:
    """Without the ends of an opening that do not lie between middle and corners: a closed mouth
    has none, and a line through them would turn back on itself."""
    names = ("ch_r", "ap_r", "sto_s", "ap_l", "ch_l")
    along = [shape.points[name][0] for name in names if name in shape.points]
    if len(along) == len(names) and along == sorted(along):
        return shape
    points = {name: p for name, p in shape.points.items() if name not in ("ap_r", "ap_l")}
    return Shape(points, shape.covered)


def _sheet(view: FaceView) -> Sheet:
    return Sheet(mid_lip(view.at_rest())[0], view.rest_mouth_width)


def rim_of(view: FaceView, marks: Marks) -> tuple[float, float, float, float] | None:
    """The rim on the last frame of a view; None when it is not seen there."""
    rims = _rims(view, marks, _sheet(view))
    return _median(rims[-1:]) if len(rims) else None


def _rims(view: FaceView, marks: Marks, sheet: Sheet) -> Floats:
    """(T, 4) the rim on each frame on which it is seen; empty when it is marked on none."""
    if not set(RIM) <= set(marks.ids):
        return np.zeros((0, 4))
    there = ~marks.hidden[:, [marks.column(name) for name in RIM]].any(axis=1)
    ellipse = np.where(there[:, None], rim_ellipse(view), np.nan)
    if not np.isfinite(ellipse).all(axis=1).any():
        return np.zeros((0, 4))
    return np.concatenate([sheet.places(ellipse[:, :2]), ellipse[:, 2:] / sheet.unit], axis=1)


def _median(rims: Floats) -> tuple[float, float, float, float] | None:
    seen = rims[np.isfinite(rims).all(axis=1)]
    if not len(seen):
        return None
    x, y, half_width, half_height = (round(float(v), 4) for v in np.median(seen, axis=0))
    return x, y, half_width, half_height


def _lip_zone(rim: tuple[float, float, float, float], low: float, high: float) -> tuple[Place, ...]:
    """The part of the rim in which the line of the lips may lie."""
    x, y, half_width, half_height = rim
    top = y + half_height
    edges = []
    for share, sides in ((low, (-1, 1)), (high, (1, -1))):
        level = top - share * 2 * half_height
        reach = half_width * float(np.sqrt(max(0.0, 1 - ((level - y) / half_height) ** 2)))
        edges += [(round(x + side * reach, 4), round(level, 4)) for side in sides]
    return tuple(edges)


def _zone(rest: Place, middle: Place, rise: Band, width: Band) -> tuple[Place, ...]:
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
