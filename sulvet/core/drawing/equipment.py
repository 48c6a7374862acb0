"""The equipment form of the measured drawing: reed and mouthpiece to scale, in millimetres.

Single reeds stand tip up, y up from the mouthpiece's tip; double reeds are seen from their tip,
upright as in the picture, from the middle between the blades' corners. Whoever draws it only
draws.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.drawing.sheet import Place
from sulvet.core.equipment.edges import across, unit
from sulvet.core.equipment.kinds import Point
from sulvet.core.equipment.results import Measured
from sulvet.core.judgement.closeups import VIEW, JudgedCloseUp
from sulvet.core.judgement.results import FAULT, WATCH
from sulvet.core.judgement.schema import Band
from sulvet.core.judgement.standards import Standard

#: How tall a ligature is drawn and how far it stands out beside the body, mm: it is only hinted at.
LIGATURE, BESIDE = 14.0, 1.2
#: How far a round corner of a reed's tip reaches, share of its half width and mm.
CORNER, CORNER_MM = 0.82, 1.0
#: Half the width of the enlarged piece about the tip, mm; its height goes with it.
TIP_PANE = 8.0
ROOM = 2.5
#: How far a crook hangs down, share of half the blades' width.
HANGS = 1.5


@dataclass(frozen=True)
class Stroke:
    """A line or, ``closed``, an area, mm."""

    part: str
    points: tuple[Place, ...]
    closed: bool = False


@dataclass(frozen=True)
class Span:
    """A dimension: what it measures, from where to where, and whether it is out of band."""

    measure: str
    start: Place
    end: Place
    out: bool


@dataclass(frozen=True)
class Pane:
    """A piece of the drawing: left, low, right, high, mm."""

    name: str
    box: tuple[float, float, float, float]


@dataclass(frozen=True)
class EquipmentDrawing:
    """Areas first, so that lines lie over them."""

    strokes: tuple[Stroke, ...]
    zones: tuple[Stroke, ...]
    spans: tuple[Span, ...]
    panes: tuple[Pane, ...]


def equipment_drawing(
    measured: Measured, judged: JudgedCloseUp, standard: Standard
) -> EquipmentDrawing | None:
    """The drawing of a close-up; None while too little is marked for one."""
    if measured.axis is None or measured.mm is None:
        return None
    work = _Single if standard.family == "single-reed" else _Double
    return work(measured, judged, standard).drawn()


def _rounded(points: list[Floats]) -> tuple[Place, ...]:
    return tuple((round(float(x), 3), round(float(y), 3)) for x, y in points)


class _Sheet:
    """Millimetres from pixels, and what both kinds draw alike."""

    def __init__(self, measured: Measured, judged: JudgedCloseUp, standard: Standard) -> None:
        assert measured.axis is not None and measured.mm is not None
        self.lines, self.mm = measured.lines, measured.mm
        self.values = {r.measure: r for r in judged.readings}
        self.standard = standard
        self.strokes: list[Stroke] = []
        self.zones: list[Stroke] = []
        self.spans: list[Span] = []
        self.foot, self.head = (np.array(end) for end in measured.axis)
        self.up = self.upward()
        self.right = across(self.up)

    def upward(self) -> Floats:
        """The picture's direction that is up on the sheet."""
        raise NotImplementedError

    def drawn(self) -> EquipmentDrawing:
        """All of it."""
        raise NotImplementedError

    def mm_of(self, at: Point) -> Floats:
        """A point of the picture on the sheet."""
        d = (np.array(at) - self.head) * self.mm
        return np.array([d @ self.right, d @ self.up])

    def line(self, name: str) -> Ends | None:
        """Both ends of something found, the lower first."""
        if name not in self.lines:
            return None
        a, b = (self.mm_of(end) for end in self.lines[name])
        return (a, b) if a[1] <= b[1] else (b, a)

    def band(self, measure: str) -> Band | None:
        """The band of a measure."""
        return self.standard.band(measure, VIEW, self.standard.schools[0].id)

    def stroke(self, part: str, points: list[Floats], closed: bool = False) -> None:
        """Draw something."""
        self.strokes.append(Stroke(part, _rounded(points), closed))

    def span(self, measure: str, start: Floats, end: Floats, by: str = "") -> None:
        """Draw a dimension of what could be measured; ``by`` is what says whether it is out."""
        reading = self.values[measure]
        if reading.value is not None:
            ends = _rounded([start, end])
            out = self.values[by or measure].verdict in (FAULT, WATCH)
            self.spans.append(Span(measure, ends[0], ends[1], out))

    def result(self, panes: tuple[Pane, ...]) -> EquipmentDrawing:
        """What was drawn."""
        return EquipmentDrawing(
            tuple(self.strokes), tuple(self.zones), tuple(self.spans), panes
        )  # fmt: skip


#: Lower and upper end; a right and a left one.
Ends = tuple[Floats, Floats]
Sides = tuple[Ends, Ends]


def _at(line: Ends, y: float) -> float:
    """x of a line's prolongation at a height."""
    (ax, ay), (bx, by) = line
    return float(ax + (bx - ax) * (y - ay) / max(by - ay, 1e-9))


def _on(line: Ends, y: float, lift: float = 0.0) -> Floats:
    """The point of a line's prolongation at a height, drawn ``lift`` higher."""
    return np.array([_at(line, y), y + lift])


class _Single(_Sheet):
    def upward(self) -> Floats:
        return unit(self.head - self.foot)

    def drawn(self) -> EquipmentDrawing:
        mouth, sides, tip = self._height("mouth_tip"), self._pair("reed"), self._height("reed_tip")
        assert sides is not None and tip is not None
        # Heights count from the mouthpiece's tip where it shows, else from the reed's.
        base = tip if mouth is None else mouth
        self.head = self.head + self.up * base / self.mm
        tip, low = tip - base, self._low()
        rails, sides = self._pair("rail"), self._pair("reed")
        assert sides is not None
        half = max(abs(_at(side, tip)) for side in sides)
        wide = half if rails is None else max(abs(_at(rail, low)) for rail in rails)
        if rails is not None:
            self._body(rails, low)
        self._reed(sides, tip, low)
        cut, ligature = self._height("cut"), self._height("lig_top")
        if cut is not None:
            self.stroke("cut", [np.array([_at(side, cut), cut]) for side in sides])
        if ligature is not None:
            self._ligature(ligature, wide)
        self._zones(half, wide, cut)
        middle = (_at(sides[0], tip) + _at(sides[1], tip)) / 2
        if mouth is not None:
            self.span("reed_tip", np.array([middle, 0.0]), np.array([middle, tip]))
        if rails is not None:
            self.span("reed_offset", np.array([0.0, tip - 3.2]), np.array([middle, tip - 3.2]))
            foot = (_at(sides[0], low) + _at(sides[1], low)) / 2
            self.span("reed_skew", np.array([foot, low]), np.array([middle, tip]))
        if cut is not None and ligature is not None:
            x = half + 0.6
            self.span("ligature_gap", np.array([x, cut]), np.array([x, ligature]))
        floor = low - LIGATURE * 0.6
        side = wide + BESIDE + ROOM + 3
        return self.result((
            Pane("whole", (-side, floor, side, ROOM)),
            Pane("tip", (-TIP_PANE, -0.75 * TIP_PANE, TIP_PANE, 0.4 * TIP_PANE)),
        ))  # fmt: skip

    def _height(self, name: str) -> float | None:
        line = self.line(name)
        return None if line is None else float((line[0][1] + line[1][1]) / 2)

    def _low(self) -> float:
        """As far down as something is known."""
        found = [self.line(name) for name in self.lines]
        return min(float(line[0][1]) for line in found if line is not None)

    def _pair(self, name: str) -> Sides | None:
        right, left = self.line(f"{name}_r"), self.line(f"{name}_l")
        return None if right is None or left is None else (right, left)

    def _body(self, rails: Sides, low: float) -> None:
        right, left = rails
        top = [_on(left, -1.0, 0.7), np.array([_at(left, 0.0) * 0.97, 0.0]),
               np.array([_at(right, 0.0) * 0.97, 0.0]), _on(right, -1.0, 0.7)]  # fmt: skip
        self.stroke(
            "body", [left[0], *top, right[0], _on(right, low), _on(left, low)], closed=True
        )  # fmt: skip

    def _reed(self, sides: Sides, tip: float, low: float) -> None:
        right, left = sides
        corners = [np.array([_at(side, tip) * CORNER, tip]) for side in (left, right)]
        below = tip - CORNER_MM
        outline = [_on(left, low), _on(left, below), *corners, _on(right, below), _on(right, low)]
        self.stroke("reed", outline, closed=True)

    def _ligature(self, top: float, wide: float) -> None:
        x, low = wide + BESIDE, top - LIGATURE
        corners = [(-x, top), (x, top), (x, low), (-x, low)]
        self.stroke("ligature", [np.array(c) for c in corners], closed=True)

    def _zones(self, half: float, wide: float, cut: float | None) -> None:
        tip, gap = self.band("reed_tip"), self.band("ligature_gap")
        if tip is not None and tip.low is not None and tip.high is not None:
            self._zone("tip", half * CORNER, tip.low, tip.high)
        if gap is not None and gap.low is not None and cut is not None:
            self._zone("ligature", wide, cut - gap.low - 2.0, cut - gap.low)

    def _zone(self, part: str, x: float, low: float, high: float) -> None:
        corners = [(-x, high), (x, high), (x, low), (-x, low)]
        self.zones.append(Stroke(part, _rounded([np.array(c) for c in corners]), True))


class _Double(_Sheet):
    def upward(self) -> Floats:
        return np.array([0.0, -1.0])

    def drawn(self) -> EquipmentDrawing:
        left, right = (self.mm_of(end) for end in self.lines["blades"])
        way, half = unit(right - left), float(np.linalg.norm(right - left)) / 2
        over = np.array([-way[1], way[0]])
        gap, wide = self.values["reed_gap"].value, self.values["reed_gap_width"].value
        reach = half if wide is None else wide / 2
        tall = 0.0 if gap is None else gap
        crook = self.lines.get("crook")
        if crook is not None:
            # Only its direction counts: it is drawn hanging from the blades.
            a, b = sorted((self.mm_of(end) for end in crook), key=lambda end: -end[1])
            down = unit(b - a)
            self.stroke("crook", [down * 0.25 * half, down * HANGS * half])
        self.stroke("reed", _oval(way, over, half, tall / 2 + 0.12 * half), closed=True)
        self.stroke("dark", _oval(way, over, reach, tall / 2), closed=True)
        band = self.band("reed_opening")
        if band is not None and band.low is not None and band.high is not None:
            for part, share in (("least", band.low), ("most", band.high)):
                oval = _oval(way, over, reach, share * reach)
                self.zones.append(Stroke(part, _rounded(oval), True))
        if gap is not None:
            x = way * half * 1.14
            self.span("reed_gap", x - over * gap / 2, x + over * gap / 2, "reed_opening")
        above = over * (tall / 2 + 0.3 * half)
        self.span("reed_gap_width", above - way * reach, above + way * reach)
        self.span("reed_roll", -way * half * 1.1, -way * half * 1.6)
        # Room on the right for the height in figures, on the left for the angle.
        box = (-1.75 * half, -HANGS * half, 2.35 * half, 0.95 * half)
        return self.result((Pane("tip", box),))


def _oval(way: Floats, over: Floats, a: float, b: float) -> list[Floats]:
    turn = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    return [a * np.cos(t) * way + b * np.sin(t) * over for t in turn]
