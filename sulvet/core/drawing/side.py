"""The side view on the sheet: profile from nose to chin, and what is held to the mouth.

Origin where the lips meet at rest, unit lower lip to front of the chin at rest, x
forward whichever way the student looks.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
from sulvet.core.drawing import lines
from sulvet.core.drawing.anchors import CHIN_LINE, Seen, side_anchors
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
from sulvet.core.measures.catalogue import catalogue

FACE: tuple[Stroke, ...] = (
    lines.smooth_through("skin", ("n", "prn", "sn")),
    lines.smooth_through("lips", ("sn", "ls", "sto")),
    lines.smooth_through("lips", ("sto", "li")),
    lines.smooth_through("skin", ("li", *CONTOUR_IDS)),
)
HELD: tuple[Stroke, ...] = (
    lines.straight_between("equipment", "mp_lip", "ax_a", "ax_b"),
    lines.straight_between("equipment", "rs_top", "rs_low"),
    lines.straight_between("equipment", "ps_in", "ps_out"),
)
HOLLOW = Dimension(
    "chin_hollow",
    (
        lines.straight_between("axis", "chin_from", "chin_to"),
        lines.straight_between("dimension", "chin_foot", "chin_deepest"),
        *lines.ticks(at("chin_foot"), at("chin_deepest")),
    ),
    Label(at("chin_label"), "start"),
    always=True,
)
#: From where the lip ends back into the mouth: how much of the mouthpiece is in it.
DEPTH = Dimension(
    "depth",
    (
        lines.straight_between("inside", "mp_lip", "mp_tip"),
        *lines.ticks(at("mp_lip"), at("mp_tip")),
    ),
    Label(at("mp_tip", -0.06, 0.06), "end"),
    always=True,
)
DIMENSIONS: tuple[Dimension, ...] = (
    HOLLOW,
    # Behind the profile, where no instrument is.
    lines.upright("lower_red_side", "sto", "li", side=-1, always=True),
    lines.upright("upper_red_side", "ls", "sto", side=-1),
    lines.upright("chin_length_side", *CHIN_LINE, side=-1),
    DEPTH,
    lines.lean("instrument_angle", "ax_a", "ax", always=True),
    lines.lean("shank_angle", "rs_top", "rs", always=True),
    lines.across("rim_forward", "ls", "rs_top", row=0),
    lines.tilt("plate_roll", "ps_in", "ps_out", always=True),
)
SEEN = ("prn", "sn", "ls", "sto", "li", "pg", *CONTOUR_IDS)
AHEAD_OF = ("ax_a", "rs_top", "rs_low", "ps_out")
#: Room round the profile, units; how far ahead of the lips an instrument is shown; and room for
#: dimension lines: left, low, right, high.
ROOM, AHEAD, DIMENSION_ROOM = 0.3, 2.2, (0.3, 0.06, 0.14, 0.02)
#: How far an open zone of the chin reaches behind the line, hundredths of the unit.
OPEN_HOLLOW = 34.0
#: Half the height of the zone on the mouthpiece, units.
HALF_ZONE = 0.16


@dataclass(frozen=True)
class SideSheet:
    """A side view brought onto its sheet; ``mm`` as in ``Drawing``."""

    view: SideView
    marks: Marks
    sheet: Sheet
    rest: Shape
    mm: float | None

    @staticmethod
    def of(view: SideView, marks: Marks, scales: Scales) -> SideSheet:
        """The sheet of a take's own rest profile."""
        resting = view.at_rest()
        origin = resting.point("sto")[0]
        if not np.isfinite(origin).all():
            origin = (resting.point("ls")[0] + resting.point("li")[0]) / 2
        sheet, scale = Sheet(origin, view.unit), scales.at("profile")
        mm = None if scale is None else round(1.0 / (scale.mm_per_px * view.unit), 5)
        return SideSheet(view, marks, sheet, sheet.shape(resting, _landmarks()), mm)

    def derived(self, depth: Floats | None) -> dict[str, Floats]:
        """Derived anchor → (T, 2) on each frame; ``depth`` (T,) of the mouthpiece, mm."""
        seen = Seen(self.sheet.seen(self.view, self.marks, _landmarks()), self.rest.points)
        return side_anchors(seen, self.taken(depth, len(self.marks)))

    def taken(self, depth: Floats | None, count: int) -> Floats:
        """(T,) a depth in units of the sheet; NaN where it can't be told."""
        if depth is None or self.mm is None:
            return np.full(count, np.nan)
        return np.asarray(depth * self.mm)


def known_depth(instrument: str) -> tuple[float, float] | None:
    """Tip to mark of an instrument's mouthpiece and its standard deviation, mm; None without."""
    table = catalogue().on_frames("side", instrument)
    return next((m.known_length(instrument) for m in table if m.id == "depth"), None)


def _landmarks() -> tuple[str, ...]:
    """The landmarks a side drawing is made of."""
    return tuple(sorted(anchors_in((*FACE, *HELD), DIMENSIONS) | set(CHIN_LINE)))


def side_drawing(
    view: SideView,
    marks: Marks,
    inside: Bools,
    bands: Bands,
    instrument: str,
    scales: Scales,
    depth: Floats | None = None,
) -> tuple[Drawing, FrameAnchors] | None:
    """The median profile over some frames, over the rest profile; and where every frame lies.

    inside  (T,) the frames, usually those of ``hold``
    bands   measure → its band
    scales  what millimetres rest on
    depth   (T,) how much of the mouthpiece is in the mouth, mm

    None when the frames show no lips.
    """
    if not inside.any():
        return None
    side = SideSheet.of(view, marks, scales)
    rest, sheet = side.rest, side.sheet
    hold = sheet.shape(view.frames(inside), _landmarks(), unseen(marks, inside, _landmarks()))
    if "li" not in rest.points or "li" not in hold.points:
        return None
    held = None if depth is None else _median(depth[inside])
    seen = {n: np.array([p]) for n, p in hold.points.items() if n not in hold.covered}
    hold = hold.with_anchors(side_anchors(Seen(seen, rest.points), side.taken(held, 1)))
    left, low, right, high = around((rest, hold), SEEN, ROOM)
    ahead = [hold.points[name][0] for name in AHEAD_OF if name in hold.points]
    right = max(right, min(max(ahead, default=right) + ROOM, AHEAD))
    zones = _zones(hold, bands, instrument, side.mm)
    drawing = Drawing(
        "side", strokes_with(zones), DIMENSIONS, rest, hold,
        (left, low, right, high), DIMENSION_ROOM, zones, 1 if view.way > 0 else -1, side.mm,
    )  # fmt: skip
    return drawing, FrameAnchors(sheet.moves(view), side.derived(depth))


def strokes_with(zones: Mapping[str, Sequence[Place]]) -> tuple[Stroke, ...]:
    """All strokes of a side view, in the order in which they lie over one another.

    zones  name → corners, as in ``Drawing``
    """
    under = tuple(lines.zone(corners) for corners in zones.values())
    return (*under, *lines.at_rest(FACE), *FACE, *HELD)


def _median(values: Floats) -> Floats:
    """(1,) the median of what is known."""
    known = values[np.isfinite(values)]
    return np.array([np.median(known) if len(known) else np.nan])


def _zones(
    hold: Shape, bands: Bands, instrument: str, mm: float | None
) -> dict[str, tuple[Place, ...]]:
    points, zones = hold.points, {}
    hollow = bands.get("chin_hollow")
    if hollow is not None and set(CHIN_LINE) <= set(points):
        zones["chin"] = _beside(points["li"], points["pg"], hollow)
    depth = bands.get("depth")
    known = known_depth(instrument)
    if depth is not None and known is not None and mm and {"mp_lip", "ax_a"} <= set(points):
        zones["depth"] = _on_axis(points["mp_lip"], points["ax_a"], depth, known[0], mm)
    return zones


def _beside(start: Place, end: Place, band: Band) -> tuple[Place, ...]:
    """The strip behind the line from lip to chin in which the skin's deepest point may lie."""
    a, b = np.array(start), np.array(end)
    way = (b - a) / np.linalg.norm(b - a)
    behind = np.array([way[1], -way[0]])
    near = (0.0 if band.low is None else band.low) / 100
    far = (OPEN_HOLLOW if band.high is None else band.high) / 100
    inner, outer = a + 0.12 * (b - a), a + 0.88 * (b - a)
    return _rounded([inner + near * behind, outer + near * behind, outer + far * behind,
                     inner + far * behind])  # fmt: skip


def _on_axis(lip: Place, mark: Place, band: Band, known: float, mm: float) -> tuple[Place, ...]:
    """Where on the mouthpiece the upper lip may end."""
    a, b = np.array(lip), np.array(mark)
    back = (a - b) / np.linalg.norm(a - b)
    up = np.array([back[1], -back[0]])
    up = up if up[1] > 0 else -up
    low = known - (band.low if band.low is not None else 0.0)
    high = known - (band.high if band.high is not None else known)
    near, far = b + high * mm * back, b + low * mm * back
    return _rounded([near + HALF_ZONE * up, far + HALF_ZONE * up, far - HALF_ZONE * up,
                     near - HALF_ZONE * up])  # fmt: skip


def _rounded(places: list[Floats]) -> tuple[Place, ...]:
    return tuple((round(float(x), 4), round(float(y), 4)) for x, y in places)
