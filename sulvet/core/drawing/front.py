"""The front view on the sheet: lips, nose, chin and cheeks, and what is held to the mouth.

Origin in the middle of the lips at rest, unit the mouth's width at rest, x toward
the picture's right.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.drawing import lines
from sulvet.core.drawing.anchors import Seen, front_anchors
from sulvet.core.drawing.sheet import (
    Bands,
    Dimension,
    Drawing,
    FrameAnchors,
    Label,
    Place,
    Shape,
    Sheet,
    Stroke,
    anchors_in,
    around,
    at,
    unseen,
)
from sulvet.core.judgement.schema import Band
from sulvet.core.measures.corners import mid_lip
from sulvet.core.measures.placement import RIM, lip_line, rim_ellipse
from sulvet.core.measures.view import FaceView

CORNERS = ("ch_r", "ch_l")
PEAKS, OPENING = ("cph_r", "cph_l"), ("ap_r", "ap_l")
FACE: tuple[Stroke, ...] = (
    lines.smooth_through("lips", ("ch_r", "cph_r", "ls", "cph_l", "ch_l"), PEAKS),
    lines.smooth_through("lips", ("ch_r", "li", "ch_l")),
    lines.smooth_through("lips", ("ch_r", "ap_r", "sto_s", "ap_l", "ch_l"), OPENING),
    lines.smooth_through("lips", ("ch_r", "ap_r", "sto_i", "ap_l", "ch_l"), OPENING),
    lines.smooth_through("skin", ("al_r", "sn", "al_l")),
    lines.arc_under("me"),
    lines.arc_beside("ck_r", 1),
    lines.arc_beside("ck_l", -1),
)
HELD: tuple[Stroke, ...] = (
    lines.straight_between("equipment", "mp_r", "mp_l"),
    lines.straight_between("equipment", "pl_r", "pl_l"),
    Stroke("equipment", (at("hole_centre"), at("hole_side"), at("hole_near")), "ellipse", True),
)
RIM_LINE = lines.straight_between("axis", "rim_line_r", "rim_line_l")
RIM_ROUND = Stroke("rim", (at("rim_centre"), at("rim_side"), at("rim_top")), "ellipse", True)


def _rise(side: str, align: int) -> Dimension:
    """A corner's lift seen from the middle of the lips."""
    corner = f"ch_{side}"
    return Dimension(
        f"corner_rise_{side}",
        (lines.straight_between("axis", "lips_middle", corner), *lines.ticks(at(corner))),
        Label(at(corner, align * 0.05, -0.02), "start" if align > 0 else "end"),
        always=True,
        band="corner_rise",
    )


SHARE = Dimension(
    "rim_upper_share",
    (
        lines.straight_between("axis", "rim_top", "rim_low"),
        lines.straight_between("dimension", "rim_top", "rim_line"),
        *lines.ticks(at("rim_top"), at("rim_line")),
    ),
    Label(at("rim_upper", 0.04, -0.02), "start"),
    always=True,
)
DIMENSIONS: tuple[Dimension, ...] = (
    _rise("r", -1),
    _rise("l", 1),
    lines.across("mouth_width", *CORNERS, row=0, label="lips_middle", always=True),
    SHARE,
    lines.aside("rim_offset", "rim_centre", "rim_low"),
    lines.aside("mouthpiece_offset", "mp_middle", "mp_middle", always=True),
    lines.tilt("plate_tilt", "pl_r", "pl_l", always=True),
    lines.upright("hole_to_lip", "li", "hole_near", side=1, always=True),
    lines.across("aperture_width", *OPENING, row=1),
    lines.upright("aperture_height", "sto_s", "sto_i", side=-1),
    lines.upright("upper_red", "ls", "sto_s", side=1),
    lines.upright("lower_red", "sto_i", "li", side=1),
    lines.upright("chin_length", "li", "pg", side=-1),
    lines.across("cheek_out_r", "ck_r", "rest:ck_r", row=1),
    lines.across("cheek_out_l", "rest:ck_l", "ck_l", row=1, label="rest:ck_l"),
)
#: What must be seen on the sheet, and what only when it is worth a look.
SEEN = (*CORNERS, "ls", "li", "sn", "me")
CHEEKS = ("ck_r", "ck_l")
#: Room round that, mouth widths; and for dimension lines: left, low, right, high.
ROOM, DIMENSION_ROOM = 0.16, (0.2, 0.3, 0.2, 0.02)


@dataclass(frozen=True)
class FrontSheet:
    """A front view brought onto its sheet."""

    view: FaceView
    marks: Marks
    sheet: Sheet
    rest: Shape
    lip_line: float

    @staticmethod
    def of(view: FaceView, marks: Marks) -> FrontSheet:
        """The sheet of a take's own rest face."""
        resting = view.at_rest()
        sheet = Sheet(mid_lip(resting)[0], view.rest_mouth_width)
        rest = _in_order(sheet.shape(resting, _landmarks()))
        line = sheet.place(np.array([sheet.origin[0], lip_line(resting)[0]]))[1]
        return FrontSheet(view, marks, sheet, rest, line)

    def rims(self) -> Floats:
        """(T, 4) the rim on each frame; NaN where it is not seen."""
        nothing = np.full((len(self.marks), 4), np.nan)
        if not set(RIM) <= set(self.marks.ids):
            return nothing
        columns = [self.marks.column(name) for name in RIM]
        there = np.asarray(~self.marks.hidden[:, columns].any(axis=1))
        ellipse = np.where(there[:, None], rim_ellipse(self.view), np.nan)
        places = [self.sheet.places(ellipse[:, :2]), ellipse[:, 2:] / self.sheet.unit]
        rims = np.concatenate(places, axis=1)
        return np.where(np.isfinite(rims).all(axis=1, keepdims=True), rims, np.nan)

    def derived(self) -> dict[str, Floats]:
        """Derived anchor → (T, 2) on each frame."""
        seen = Seen(self.sheet.seen(self.view, self.marks, _landmarks()), self.rest.points)
        return front_anchors(seen, self.rims(), self.lip_line)


def _landmarks() -> tuple[str, ...]:
    """The landmarks a front drawing is made of."""
    # The hole's near edge lies under the lip: it is drawn, never marked.
    named = anchors_in((*FACE, *HELD), DIMENSIONS) | {"hole_r", "hole_l", "hole_far", *RIM}
    return tuple(sorted(named))


def front_drawing(
    view: FaceView, marks: Marks, inside: Bools, bands: Bands, flagged: frozenset[str]
) -> tuple[Drawing, FrameAnchors] | None:
    """The median mouth over some frames, over the rest face; and where every frame lies on it.

    inside   (T,) the frames, usually those of ``hold``
    bands    measure → its band
    flagged  measures that are not in band

    None when the corners are not known at rest. What the frames don't show is left out.
    """
    if not inside.any():
        return None
    front = FrontSheet.of(view, marks)
    rest, sheet = front.rest, front.sheet
    if not set(CORNERS) <= set(rest.points):
        return None
    part = FaceView(view.ids, view.face[inside], view.picture[inside], view.rest)
    hold = _in_order(sheet.shape(part, _landmarks(), unseen(marks, inside, _landmarks())))
    frames = front.derived()
    rim = _median(front.rims()[inside])
    hold = with_derived(hold, rest, rim, front.lip_line)
    middle = (
        sheet.place(np.median(mid, axis=0)) if len(mid := _known(mid_lip(part))) else (0.0, 0.0)
    )
    zones: dict[str, tuple[Place, ...]] = {}
    rise, width = bands.get("corner_rise"), bands.get("mouth_width")
    if rise is not None and width is not None and None not in (rise.low, width.low):
        zones = {name: _zone(rest.points[name], middle, rise, width) for name in CORNERS}
    share = bands.get("rim_upper_share")
    if rim is not None and share is not None and share.low is not None and share.high is not None:
        zones["rim"] = _lip_zone(rim, share.low, share.high)
    seen = SEEN + (CHEEKS if flagged & {"cheek_out_r", "cheek_out_l"} else ())
    left, low, right, high = around((rest, hold), seen, ROOM)
    if rim is not None:
        high = max(high, rim[1] + rim[3] + ROOM / 2)
        low = min(low, rim[1] - rim[3] - ROOM / 2)
    drawing = Drawing(
        "front", strokes_with(zones), DIMENSIONS, rest, hold, (left, low, right, high),
        DIMENSION_ROOM, zones,
    )  # fmt: skip
    return drawing, FrameAnchors(sheet.moves(view), frames)


def strokes_with(zones: Mapping[str, Sequence[Place]]) -> tuple[Stroke, ...]:
    """All strokes of a front view, in the order in which they lie over one another.

    zones  name → corners, as in ``Drawing``
    """
    under = tuple(lines.zone(corners) for name, corners in zones.items() if name != "rim")
    over = (lines.zone(zones["rim"]),) if "rim" in zones else ()
    return (*under, *lines.at_rest(FACE), *FACE, *HELD, RIM_ROUND, *over, RIM_LINE)


def with_derived(
    shape: Shape, rest: Shape, rim: tuple[float, float, float, float] | None, line: float
) -> Shape:
    """A mouth with its derived anchors."""
    seen = {n: np.array([p]) for n, p in shape.points.items() if n not in shape.covered}
    rims = np.array([rim if rim is not None else (np.nan,) * 4])
    return shape.with_anchors(front_anchors(Seen(seen, rest.points), rims, line))


def _known(points: Floats) -> Floats:
    return np.asarray(points[np.isfinite(points).all(axis=1)])


def _in_order(shape: Shape) -> Shape:
    """Without the ends of an opening that do not lie between middle and corners: a closed mouth
    has none, and a line through them would turn back on itself."""
    names = ("ch_r", "ap_r", "sto_s", "ap_l", "ch_l")
    along = [shape.points[name][0] for name in names if name in shape.points]
    if len(along) == len(names) and along == sorted(along):
        return shape
    points = {name: p for name, p in shape.points.items() if name not in ("ap_r", "ap_l")}
    return Shape(points, shape.covered)


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
