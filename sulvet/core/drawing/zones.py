"""The zones of a standard on a face that is nobody's, and what dragging one of them means.

The face is a plain one of common proportions, in millimetres; only the zones matter.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.frame import rest_face
from sulvet.core.anatomy.landmarks import CONTOUR_IDS, HELD_BY, SIDE_HELD_BY, TAKE_IDS
from sulvet.core.anatomy.marks import PLACED, Floats, Marks
from sulvet.core.anatomy.profile import side_view
from sulvet.core.anatomy.scale import Scale, Scales, sizes
from sulvet.core.drawing.anchors import CHIN_LINE
from sulvet.core.drawing.front import front_drawing
from sulvet.core.drawing.sheet import Bands, Drawing, FrameAnchors, Place
from sulvet.core.drawing.side import known_depth, side_drawing
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.placement import RIM
from sulvet.core.measures.view import FaceView

#: Millimetres, x toward the picture's right, y down, origin between the lips.
FRONT_FACE: dict[str, Place] = {
    "ch_r": (-25.0, 0.0), "ch_l": (25.0, 0.0), "ls": (0.0, -8.0), "li": (0.0, 9.0),
    "cph_r": (-5.0, -9.5), "cph_l": (5.0, -9.5), "sto_s": (0.0, 0.0), "sto_i": (0.0, 0.0),
    "sn": (0.0, -21.0), "al_r": (-17.0, -26.0), "al_l": (17.0, -26.0), "me": (0.0, 44.0),
    "ex_r": (-45.0, -70.0), "ex_l": (45.0, -70.0), "en_r": (-17.0, -69.0), "en_l": (17.0, -69.0),
}  # fmt: skip
#: The same of a profile that looks to the right, origin under the nose.
PROFILE: dict[str, Place] = {
    "n": (-4.0, -42.0), "prn": (16.0, -6.0), "sn": (0.0, 0.0), "ls": (2.0, 13.0),
    "sto": (-1.0, 18.0), "li": (0.0, 26.0), "sl": (-4.0, 34.0), "pg": (0.0, 42.0),
}  # fmt: skip
#: The skin from lip to chin lies so far behind the line between them, and goes on under it.
HOLLOW, DOWN = 3.4, 22.0


def zones_of(standard: Standard, view: str, school: str) -> Drawing:
    """A plain face with the zones of a standard.

    ValueError when the face can't be drawn, which is a mistake in this file.
    """
    bands: Bands = {
        band.measure: standard.band(band.measure, view, school) for band in standard.all_bands
    }
    drawn = _front(standard, bands) if view == "front" else _side(standard, bands)
    if drawn is None:
        raise ValueError("the plain face can't be drawn")
    return drawn[0]


def _marks(points: dict[str, Place]) -> Marks:
    marks = Marks.empty(TAKE_IDS, [0.0, 0.1])
    for name, place in points.items():
        column = marks.column(name)
        marks.xy[:, column] = np.array(place) + 200.0
        marks.sigma[:, column] = marks.drift[:, column] = 0.1
        marks.source[:, column], marks.hidden[:, column] = PLACED, False
    return marks


REST, HELD = np.array([True, False]), np.array([False, True])


def _front(standard: Standard, bands: Bands) -> tuple[Drawing, FrameAnchors] | None:
    points = dict(FRONT_FACE)
    if HELD_BY.get(standard.family) == "rim" and standard.instrument in sizes()["rim"]:
        radius = sizes()["rim"][standard.instrument]["mm"] / 2
        share = bands.get("rim_upper_share")
        middle = 0.5
        if share is not None and share.low is not None and share.high is not None:
            middle = (share.low + share.high) / 2
        centre = radius * (1 - 2 * middle)
        for n, name in enumerate(RIM):
            angle = 2 * np.pi * n / len(RIM)
            points[name] = (radius * float(np.sin(angle)), centre - radius * float(np.cos(angle)))
    marks = _marks(points)
    rest = rest_face(marks, REST)
    if rest is None:
        return None
    return front_drawing(FaceView.of(marks, rest), marks, HELD, bands, frozenset())


def _side(standard: Standard, bands: Bands) -> tuple[Drawing, FrameAnchors] | None:
    points = dict(PROFILE)
    for n, name in enumerate(CONTOUR_IDS):
        down = DOWN * n / (len(CONTOUR_IDS) - 1)
        inside = down <= 16
        x = -4 * HOLLOW * (down / 16) * (1 - down / 16) if inside else -0.25 * (down - 16) ** 2
        points[name] = (x, 26.0 + down)
    known = known_depth(standard.instrument)
    if SIDE_HELD_BY.get(standard.family) == "beak" and known is not None:
        depth, lean = bands.get("depth"), bands.get("instrument_angle")
        taken = _middle(depth.low if depth else None, depth.high if depth else None, known[0] / 3)
        angle = np.radians(_middle(lean.low if lean else None, lean.high if lean else None, 80.0))
        way = np.array([np.sin(angle), np.cos(angle)])
        lip = np.array([4.0, 16.0])
        near = lip + (known[0] - taken) * way
        points |= {"mp_lip": _place(lip), "ax_a": _place(near), "ax_b": _place(near + 20 * way)}
    marks = _marks(points)
    view = side_view(marks, REST)
    if view is None:
        return None
    scales = Scales((Scale(1.0, 0.01, "plain", "profile"),))
    return side_drawing(view, marks, HELD, bands, standard.instrument, scales)


def _middle(low: float | None, high: float | None, other: float) -> float:
    return other if low is None or high is None else (low + high) / 2


def _place(point: Floats) -> Place:
    return float(point[0]), float(point[1])


@dataclass(frozen=True)
class Dragged:
    """What dragging an edge of a zone means: which measure's figure becomes what."""

    measure: str
    figure: str
    value: float


#: Zone → the measure whose band it shows; corners show two.
SHOWS = {"rim": "rim_upper_share", "chin": "chin_hollow", "depth": "depth"}


def dragged(standard: Standard, view: str, school: str, zone: str, place: Place) -> Dragged:
    """The figure that the nearest edge of a zone becomes when it is dragged to a place.

    zone   ``ch_r`` or ``ch_l``, ``rim``, ``chin`` or ``depth``
    place  on the sheet of ``zones_of``

    KeyError for a zone that is not there. An edge that the band leaves open is not drawn
    in: the other one is meant.
    """
    drawing = zones_of(standard, view, school)
    corners = drawing.zones[zone]
    if zone in ("ch_r", "ch_l"):
        return _corner(drawing, corners, zone, place)
    low, high, at = _ends(drawing, corners, zone, place, standard.instrument)
    band = standard.band(SHOWS[zone], view, school)
    assert band is not None
    nearer_low = abs(at - low) < abs(at - high)
    figure = "low" if band.high is None or (nearer_low and band.low is not None) else "high"
    return Dragged(SHOWS[zone], figure, round(at, 3 if zone == "rim" else 1))


def _corner(drawing: Drawing, corners: tuple[Place, ...], zone: str, place: Place) -> Dragged:
    """Widths and angles as ``front._zone`` draws them, the other way round."""
    rest = drawing.rest.points[zone]
    middle = _mid(drawing)
    side, zero = (1.0 if rest[0] > 0 else -1.0), np.arctan2(rest[1] - 0.0, abs(rest[0]))

    def figures_at(point: Place) -> tuple[float, float]:
        # Never beyond the middle of the mouth.
        reach = max(side * (point[0] - middle[0]), 0.05)
        lift = np.degrees(np.arctan2(point[1] - middle[1], reach) - zero)
        return reach / abs(rest[0]), float(lift)

    ends = [figures_at(corner) for corner in corners]
    widths, rises = sorted({round(w, 3) for w, _ in ends}), sorted({round(r, 2) for _, r in ends})
    width, rise = figures_at(place)
    # What the place leaves farthest is meant; inside the zone, the nearest edge.
    beyond = _beyond(width, widths), _beyond(rise, rises)
    if beyond[0] > beyond[1]:
        figure = "low" if abs(width - widths[0]) < abs(width - widths[-1]) else "high"
        return Dragged("mouth_width", figure, round(width, 2))
    figure = "low" if abs(rise - rises[0]) < abs(rise - rises[-1]) else "high"
    return Dragged("corner_rise", figure, round(rise, 1))


def _beyond(value: float, edges: list[float]) -> float:
    """How far a value lies beyond the nearer edge, negative inside, in widths of the band."""
    return max(edges[0] - value, value - edges[-1]) / (edges[-1] - edges[0])


def _mid(drawing: Drawing) -> Place:
    ls, li = drawing.rest.points["ls"], drawing.rest.points["li"]
    return (ls[0] + li[0]) / 2, (ls[1] + li[1]) / 2


def _ends(
    drawing: Drawing, corners: tuple[Place, ...], zone: str, place: Place, instrument: str
) -> tuple[float, float, float]:
    """Low and high edge of a strip, and where a place lies, in the measure's own unit."""

    def figures_at(point: Place) -> float:
        if zone == "rim":
            top, low = (drawing.hold.points[name][1] for name in ("rim_top", "rim_low"))
            # The rim goes with its band: what counts is where the line of the lips would lie.
            return float((top - point[1]) / (top - low))
        if zone == "chin":
            a, b = (np.array(drawing.hold.points[name]) for name in CHIN_LINE)
            way = (b - a) / np.linalg.norm(b - a)
            return float((np.array(point) - a) @ np.array([way[1], -way[0]])) * 100
        lip, mark = (np.array(drawing.hold.points[name]) for name in ("mp_lip", "ax_a"))
        back = (lip - mark) / np.linalg.norm(lip - mark)
        known = known_depth(instrument)
        assert known is not None and drawing.mm is not None
        return known[0] - float((np.array(point) - mark) @ back) / drawing.mm

    values = sorted(figures_at(corner) for corner in corners)
    return values[0], values[-1], figures_at(place)
