"""The side view on the sheet: profile from nose to chin, and what is held to the mouth.

Origin where the lips meet at rest, unit lower lip to front of the chin at rest, x
forward whichever way the student looks.
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
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
from sulvet.core.measures.table import measures

CHIN_LINE = ("li", "pg")
LINES: tuple[Line, ...] = (
    Line("skin", ("n", "prn", "sn")),
    Line("lips", ("sn", "ls", "sto")),
    Line("lips", ("sto", "li")),
    Line("skin", ("li", *CONTOUR_IDS)),
    Line("thing", ("mp_lip", "ax_a", "ax_b"), form="straight"),
    Line("thing", ("rs_top", "rs_low"), form="straight"),
    Line("thing", ("ps_in", "ps_out"), form="straight"),
)
DIMENSIONS: tuple[Dimension, ...] = (
    Dimension("chin_hollow", "behind", (*CHIN_LINE, *CONTOUR_IDS), -1, True),
    Dimension("lower_red_side", "upright", ("sto", "li"), 1, True),
    Dimension("upper_red_side", "upright", ("ls", "sto"), 1),
    Dimension("chin_length_side", "upright", CHIN_LINE, -1),
    Dimension("depth", "along", ("mp_lip", "ax_a"), 1, True),
    Dimension("instrument_angle", "lean", ("ax_a", "ax_b"), 1, True),
    Dimension("shank_angle", "lean", ("rs_top", "rs_low"), 1, True),
    Dimension("rim_forward", "across", ("ls", "rs_top"), 1),
    Dimension("plate_roll", "tilt", ("ps_in", "ps_out"), 1, True),
)
SEEN = ("prn", "sn", "ls", "sto", "li", "pg", *CONTOUR_IDS)
HELD = ("ax_a", "rs_top", "rs_low", "ps_out")
#: Room round the profile, units; and how far ahead of the lips an instrument is shown.
ROOM, AHEAD = 0.3, 2.2
#: How far an open zone of the chin reaches behind the line, hundredths of the unit.
OPEN_HOLLOW = 34.0
#: Half the height of the zone on the mouthpiece, units.
HALF_ZONE = 0.16


def side_drawing(
    view: SideView,
    marks: Marks,
    inside: Bools,
    bands: Bands,
    instrument: str,
    scales: Scales,
) -> Drawing | None:
    """The median profile over some frames, over the rest profile.

    inside  (T,) the frames, usually those of ``hold``
    bands   measure → its band
    scales  what millimetres rest on

    None when the frames show no lips.
    """
    if not inside.any():
        return None
    resting = view.at_rest()
    origin = resting.point("sto")[0]
    if not np.isfinite(origin).all():
        origin = (resting.point("ls")[0] + resting.point("li")[0]) / 2
    sheet = Sheet(origin, view.unit)
    named = landmarks_of(LINES, DIMENSIONS)
    covered = unseen(marks, inside, named)
    rest = sheet.shape(resting, named)
    hold = sheet.shape(view.frames(inside), named, covered)
    if "li" not in rest.points or "li" not in hold.points:
        return None
    scale = scales.at("profile")
    mm = None if scale is None else round(1.0 / (scale.mm_per_px * view.unit), 5)
    left, low, right, high = around((rest, hold), SEEN, ROOM)
    ahead = [hold.points[name][0] for name in HELD if name in hold.points]
    right = max(right, min(max(ahead, default=right) + ROOM, AHEAD))
    return Drawing(
        "side", LINES, DIMENSIONS, rest, hold, (left, low, right, high),
        _zones(hold, bands, instrument, mm), sheet.moves(view), mm=mm,
        facing=1 if view.way > 0 else -1,
    )  # fmt: skip


def _zones(
    hold: Shape, bands: Bands, instrument: str, mm: float | None
) -> dict[str, tuple[Place, ...]]:
    points, zones = hold.points, {}
    hollow = bands.get("chin_hollow")
    if hollow is not None and set(CHIN_LINE) <= set(points):
        zones["chin"] = _beside(points["li"], points["pg"], hollow)
    depth = bands.get("depth")
    known = next((m.known for m in measures("side", instrument) if m.id == "depth"), None)
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
