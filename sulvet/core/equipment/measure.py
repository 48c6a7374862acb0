"""From a close-up and its marks to readings in millimetres and degrees.

``reed_tip``      the reed's tip over the mouthpiece's along the mouthpiece's axis, mm; below is
                  negative
``reed_offset``   the reed's middle beside the mouthpiece's at the tip, mm, right in the picture
``reed_skew``     the reed's axis against the mouthpiece's, degrees, clockwise
``ligature_gap``  how far the ligature's upper edge lies below the line of the cut on the
                  reed's middle, mm
``reed_gap``      height of a double reed's opening in its middle, mm
``reed_gap_width``  its width, mm
``reed_opening``  height over width of the opening
``reed_roll``     the blades' line against the square to the crook's, degrees, clockwise

Millimetres rest on the reed's usual width at its tip.
"""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter1d

from sulvet.core.anatomy.marks import Floats
from sulvet.core.equipment.edges import Fitted, Picture, across, fit, unit
from sulvet.core.equipment.kinds import Point, errors, kind, tip_width

OF_FAMILY = {
    "single-reed": ("reed_tip", "reed_offset", "reed_skew", "ligature_gap"),
    "double-reed": ("reed_gap", "reed_gap_width", "reed_opening", "reed_roll"),
}
#: From how far below the tip outlines are looked for, and how densely, mm.
FROM, LEVEL = 2.0, 0.75
#: How far an edge is looked for about a mark, mm, and how far a hand is likely off, in standard
#: deviations of its placing: a little more than one, so that a clear edge counts before a mark.
REACH, NEAR = 1.1, 1.5
#: How far a reed's side may lie off a line along the first axis through its mark, mm.
WIDE = 1.4
#: How much of a tip is averaged, share of the reed's width to both sides: wider, a round tip
#: would blur.
TIP_SHARE = 0.08
#: The same of bands across the reed, which are straight, and of an opening, which is not.
BAND_SHARE, GAP_SHARE = 0.12, 0.04
#: How much of an outline is averaged along it, mm to both sides, and how quickly the direction of
#: what has been followed so far is given up for that of the last step.
BESIDE, SMOOTHED = 0.35, 0.3
#: At tips and bands the first edge counts that is liked this share of the most liked one, since
#: behind it a third thing may differ even more (set on the made-up close-ups).
FIRST = 0.4
#: The bark and a ligature of brass differ little from what is behind them.
FAINT = 0.2
#: A picture's blur, px.
BLUR = 1.0
#: An outline of the mouthpiece nearer to the reed's than this may be the reed's own, mm.
COVERED = 0.35


@dataclass(frozen=True)
class Value:
    """A reading: its value and its standard deviation."""

    value: float
    sd: float


@dataclass(frozen=True)
class Measured:
    """What a close-up tells.

    values    by measure
    unknown   why a measure can't be told, by measure
    lines     what was found, px, by what it is: two ends each
    axis      foot and head of the thing's own axis, px; the head is the tip
    mm        millimetres to a pixel
    """

    values: dict[str, Value] = field(default_factory=dict)
    unknown: dict[str, str] = field(default_factory=dict)
    lines: dict[str, tuple[Point, Point]] = field(default_factory=dict)
    axis: tuple[Point, Point] | None = None
    mm: float | None = None

    def plain(self) -> dict[str, Any]:
        """As plain data."""
        return asdict(self)

    @staticmethod
    def of(row: dict[str, Any]) -> Measured:
        """Back from plain data."""
        return Measured(
            {name: Value(**value) for name, value in row["values"].items()},
            dict(row["unknown"]),
            {name: _ends(line) for name, line in row["lines"].items()},
            _ends(row["axis"]) if row["axis"] else None,
            row["mm"],
        )


def measure(
    image: NDArray[np.uint8],
    marks: dict[str, Point],
    hidden: frozenset[str],
    instrument: str,
    family: str,
) -> Measured:
    """Measure a close-up.

    image   (H, W, 3) RGB
    marks   pixels by what is marked; those in ``hidden`` are covered by something
    """
    wide = tip_width(instrument)
    named = {m.id: m.name.lower() for m in kind(family).marks}
    seen = {name: np.array(at) for name, at in marks.items() if name not in hidden}
    work = _Single if family == "single-reed" else _Double
    return work(image, seen, hidden, wide, named).result()


def _ends(line: Any) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = line
    return (ax, ay), (bx, by)


def _point(at: Floats) -> Point:
    return round(float(at[0]), 2), round(float(at[1]), 2)


class _Work:
    """What both kinds share."""

    def __init__(
        self,
        image: NDArray[np.uint8],
        marks: dict[str, Floats],
        hidden: frozenset[str],
        wide: float,
        named: dict[str, str],
    ) -> None:
        self.image, self.marks, self.hidden = image, marks, hidden
        self.wide, self.named = wide, named
        self.values: dict[str, Value] = {}
        self.unknown: dict[str, str] = {}
        self.lines: dict[str, tuple[Point, Point]] = {}
        self.near = NEAR * errors().click_px

    def lacks(self, measure: str, names: tuple[str, ...]) -> bool:
        """Say what is missing for a measure; whether anything is."""
        missing = [self.named[n] for n in names if n not in self.marks and n not in self.hidden]
        covered = [self.named[n] for n in names if n in self.hidden]
        if missing:
            self.unknown[measure] = f"Mark the {' and the '.join(missing)}."
        elif covered:
            self.unknown[measure] = f"The {' and the '.join(covered)} can't be seen."
        return bool(missing or covered)

    def in_order(self, first: str, last: str, way: Floats) -> None:
        """Two marks that were changed over are taken for one another: ``last`` lies farther
        along ``way``."""
        if first in self.marks and last in self.marks:
            a, b = self.marks[first], self.marks[last]
            if float((b - a) @ way) < 0:
                self.marks[first], self.marks[last] = b, a

    def told(self, measure: str, value: float, sd: float, floor: float) -> None:
        """Keep a reading."""
        self.values[measure] = Value(value, float(np.hypot(sd, floor)))

    def result(self) -> Measured:
        raise NotImplementedError


@dataclass(frozen=True)
class _Axes:
    """A frame along the thing: origin at the reed's tip, ``down`` from it, ``right`` beside it."""

    origin: Floats
    down: Floats

    @property
    def right(self) -> Floats:
        return across(-self.down)

    def place(self, s: float, x: float) -> Floats:
        return np.asarray(self.origin + s * self.down + x * self.right)

    def local(self, at: Floats) -> tuple[float, float]:
        d = at - self.origin
        return float(d @ self.down), float(d @ self.right)


class _Single(_Work):
    """Mouthpiece with reed, tip up or however it is held: the axis comes from the marks."""

    SIDES = ("reed_r", "reed_l")
    RAILS = ("rail_r", "rail_l")

    def result(self) -> Measured:
        needed = ("reed_tip", *self.SIDES)
        blocked = [m for m in OF_FAMILY["single-reed"] if self.lacks(m, needed)]
        if blocked:
            return Measured(unknown=self.unknown)
        marks, sides = self.marks, [self.marks[n] for n in self.SIDES]
        middle = (sides[0] + sides[1]) / 2
        low = [marks[n] for n in ("lig_top", "cut") if n in marks]
        foot = max(low, key=lambda p: float(np.linalg.norm(p - marks["reed_tip"])), default=middle)
        self.px = float(np.linalg.norm(sides[0] - sides[1])) / self.wide
        length = float(np.linalg.norm(foot - marks["reed_tip"]))
        if self.px < 2 or length < 2 * self.px:
            reason = "The marks lie too close together. Film closer, or place them again."
            return Measured(unknown=dict.fromkeys(OF_FAMILY["single-reed"], reason))
        self.picture = Picture.of(self.image, self.px)
        self.axes = _Axes(marks["reed_tip"], unit(foot - marks["reed_tip"]))
        for right, left in (self.SIDES, self.RAILS):
            self.in_order(left, right, self.axes.right)
        self.cane = self.picture.colour(
            self.axes.place(1.0 * self.px, 0), self.axes.place(5 * self.px, 0), 1.5 * self.px
        )
        reed = self._pair(self.SIDES, length)
        # The first axis came from single clicks; the sides know better.
        self.axes = self._along(reed, self.axes)
        reed = self._pair(self.SIDES, length)
        mm = self._scale(reed)
        rails = None
        if not any(self.lacks(m, self.RAILS) for m in ("reed_offset", "reed_skew")):
            rails = self._pair(self.RAILS, length, reed)
        body = self.axes if rails is None else self._along(rails, self.axes)
        if rails is not None:
            self._crooked(reed, rails, mm)
        self._tip(body, mm)
        self._ligature(mm)
        head = body.place(0, self._middle(rails or reed).at(0))
        end = body.place(length, self._middle(rails or reed).at(length))
        return Measured(self.values, self.unknown, self.lines, (_point(end), _point(head)), mm)

    def _scale(self, reed: tuple[Fitted, Fitted]) -> float:
        """Millimetres to a pixel, from the width of the sides' prolongation at the tip."""
        return self.wide / max(reed[0].at(0) - reed[1].at(0), 1.0)

    def _pair(
        self, names: tuple[str, str], length: float, beside: tuple[Fitted, Fitted] | None = None
    ) -> tuple[Fitted, Fitted]:
        """Right and left outline along the axis, px: of the reed, or of the mouthpiece ``beside``
        the reed's, where that does not lie over it."""
        found = []
        for k, (name, way) in enumerate(zip(names, (1.0, -1.0), strict=True)):
            s, x = self.axes.local(self.marks[name])
            reed = None if beside is None else beside[k]
            points = (
                self._sides(x, way, length)
                if reed is None
                else self._rails(s, x, way, length, reed)
            )
            curve = fit(points[:, 0], points[:, 1], 1 if reed is None else 2, 1.0)
            if curve is None:
                click = errors().click_px
                curve = Fitted(np.array([x, 0.0]), click, click / (10 * self.px), s, s)
            found.append(curve)
            ends = [self.axes.place(t, curve.at(t)) for t in (curve.low, curve.high)]
            self.lines[name] = (_point(ends[0]), _point(ends[1]))
        return found[0], found[1]

    def _sides(self, x: float, way: float, length: float) -> Floats:
        """(N, 2) places along and beside the axis where the reed ends, px.

        Its sides are straight and go with the axis, so that on each level whatever differs
        most from cane counts: a streak of the grain may lie nearer to the mark.
        """
        px, right = self.px, self.axes.right
        rows = []
        for at in np.arange(FROM * px, length - 1.5 * px, LEVEL * px):
            place = self.axes.place(at, x)
            edge = self.picture.edge(place, right * way, BESIDE * px, WIDE * px, np.inf, self.cane)
            if edge is not None:
                rows.append((at, x + way * edge[0]))
        return np.array(rows).reshape(-1, 2)

    def _rails(self, s: float, x: float, way: float, length: float, reed: Fitted) -> Floats:
        """The same of the mouthpiece, which widens: followed from its mark both ways.

        reed  the reed's outline on this side, which is not meant
        """
        px, right = self.px, self.axes.right
        out = right * way
        rows: list[tuple[float, float]] = []
        for turn in (1, -1):
            at, slope = s, 0.0
            x_now = rows[0][1] if rows else x
            while FROM * px <= at <= length - 1.5 * px:
                place = self.axes.place(at, x_now)
                wall = self.picture.colour(
                    place + 1.4 * px * out, place + 3.0 * px * out, 0.6 * px
                )  # fmt: skip
                but = ((x_now - reed.at(at)) * way - COVERED * px / 2, np.inf)
                edge = self.picture.edge(
                    place, -out, BESIDE * px, REACH * px, self.near, wall, but
                )  # fmt: skip
                if edge is not None:
                    new = x_now - way * edge[0]
                    slope += SMOOTHED * (new - x_now - slope) if rows else 0.0
                    rows.append((at, new))
                    x_now = new
                x_now += slope
                at += turn * LEVEL * px
        found = np.array(rows).reshape(-1, 2)
        over = np.array([reed.at(at) for at in found[:, 0]])
        return np.asarray(found[(found[:, 1] - over) * way > COVERED * px])

    @staticmethod
    def _middle(pair: tuple[Fitted, Fitted]) -> Fitted:
        """The line half way between two outlines, as far as both were found."""
        right, left = pair
        low, high = max(right.low, left.low), min(right.high, left.high)
        if high - low < 1:
            low, high = min(right.low, left.low), max(right.high, left.high) + 1
        s = np.linspace(low, high, 40)
        x = np.array([(right.at(t) + left.at(t)) / 2 for t in s])
        slope, height = np.polyfit(s, x, 1)
        return Fitted(
            np.array([height, slope]),
            float(np.hypot(right.height_sd, left.height_sd)) / 2,
            float(np.hypot(right.slope_sd, left.slope_sd)) / 2,
            low,
            high,
        )

    def _along(self, pair: tuple[Fitted, Fitted], axes: _Axes) -> _Axes:
        slope = self._middle(pair).terms[1]
        return _Axes(axes.origin, unit(axes.down + slope * axes.right))

    def _crooked(
        self, reed: tuple[Fitted, Fitted], rails: tuple[Fitted, Fitted], mm: float
    ) -> None:
        """How far the reed lies beside the mouthpiece and turned on it."""
        of_reed, of_body = self._middle(reed), self._middle(rails)
        slope = float(of_reed.terms[1] - of_body.terms[1])
        slope_sd = float(np.hypot(of_reed.slope_sd, of_body.slope_sd))
        # Down the axis the reed goes to the right: its tip leans to the left.
        self.told("reed_skew", -float(np.degrees(np.arctan(slope))),
                  float(np.degrees(slope_sd)), errors().reed_skew)  # fmt: skip
        beside = (of_reed.at(0) - of_body.at(0)) * mm
        sd = float(np.hypot(of_reed.height_sd, of_body.height_sd)) * mm
        self.told("reed_offset", beside, sd, errors().reed_offset)

    def _found(
        self, name: str, way: Floats, half: float, known: Floats | None, worth: float
    ) -> tuple[Floats, float]:
        """A mark moved to its edge along ``way``, and its standard deviation there, px."""
        at = self.marks[name]
        edge = self.picture.edge(
            at, way, half, REACH * self.px, self.near, known, worth=worth
        )  # fmt: skip
        place, sure = (at, errors().click_px) if edge is None else (at + edge[0] * way, edge[1])
        side = across(way) * max(half, 0.1 * self.wide * self.px)
        self.lines[name] = (_point(place - side), _point(place + side))
        return place, sure

    def _tip(self, body: _Axes, mm: float) -> None:
        px, up = self.px, -body.down
        half = TIP_SHARE * self.wide * px
        tip, tip_sd = self._found("reed_tip", up, half, self.cane, FIRST)
        if self.lacks("reed_tip", ("mouth_tip",)):
            return
        mouth = self.marks["mouth_tip"]
        beyond = self.picture.colour(mouth + 1.5 * px * up, mouth + 3.5 * px * up, half)
        edge, edge_sd = self._found("mouth_tip", body.down, half, beyond, FIRST)
        over = float((tip - edge) @ up) * mm
        spread = float(np.hypot(tip_sd, edge_sd)) * mm
        self.told(
            "reed_tip", over, float(np.hypot(spread, over * errors().lean)), errors().reed_tip
        )

    def _ligature(self, mm: float) -> None:
        """Along the reed itself, on its middle: a crooked reed has its cut beside the body's."""
        if self.lacks("ligature_gap", ("cut", "lig_top")):
            return
        half = BAND_SHARE * self.wide * self.px
        # Shade lies on the bark before the ligature, and its edge is rounded: whatever changes
        # most sharply first.
        down = self.axes.down
        places = [self._found(n, down, half, None, FAINT) for n in ("cut", "lig_top")]
        (cut, cut_sd), (top, top_sd) = places
        # Both lie nearer to the lens than the tip, where the scale comes from.
        gap = float((top - cut) @ down) * mm * (1 - errors().nearer)
        share = float(np.hypot(errors().width, errors().lean))
        spread = float(np.hypot(cut_sd, top_sd)) * mm
        self.told("ligature_gap", gap, float(np.hypot(spread, gap * share)), errors().ligature_gap)


class _Double(_Work):
    """Two blades from their tip."""

    def result(self) -> Measured:
        corners = ("blade_r", "blade_l")
        names = OF_FAMILY["double-reed"]
        if [m for m in names if self.lacks(m, corners)]:
            return Measured(unknown=self.unknown)
        self.in_order("blade_l", "blade_r", np.array([1.0, 0.0]))
        right, left = (self.marks[n] for n in corners)
        wide_px = float(np.linalg.norm(right - left))
        px = wide_px / self.wide
        if px < 4:
            reason = "The blades are too small in the picture. Film closer."
            return Measured(unknown=dict.fromkeys(names, reason))
        mm = 1 / px
        line = unit(right - left)
        self.in_order("gap_l", "gap_r", line)
        self.in_order("gap_top", "gap_bottom", across(line))
        self.lines["blades"] = (_point(left), _point(right))
        click = errors().click_px
        # The corners carry the scale, and each is no surer than the hand.
        self._opening(line, px, mm, click, float(np.hypot(errors().width, 1.4 * click / wide_px)))
        if not self.lacks("reed_roll", ("crook_a", "crook_b")):
            a, b = self.marks["crook_a"], self.marks["crook_b"]
            down = unit(b - a) if (b - a) @ across(line) > 0 else unit(a - b)
            turn = np.degrees(np.arctan2(float(down @ line), float(down @ across(line))))
            apart = max(float(np.linalg.norm(b - a)), 1.0)
            sd = np.degrees(np.hypot(click / wide_px, click / apart))
            self.lines["crook"] = (_point(a), _point(b))
            self.told("reed_roll", float(turn), float(sd) * np.sqrt(2), errors().reed_roll)
        middle = (right + left) / 2
        return Measured(
            self.values, self.unknown, self.lines,
            (_point(middle + across(line) * self.wide * px), _point(middle)), mm,
        )  # fmt: skip

    def _opening(self, line: Floats, px: float, mm: float, click: float, scale: float) -> None:
        ends = ("gap_r", "gap_l")
        wide = None
        if not self.lacks("reed_gap_width", ends):
            right, left = (self.marks[n] for n in ends)
            wide = float((right - left) @ line) * mm
            self.told("reed_gap_width", wide, click * np.sqrt(2) * mm, wide * scale)
        if self.lacks("reed_gap", ("gap_top", "gap_bottom")):
            self.unknown["reed_opening"] = self.unknown["reed_gap"]
            return
        top, bottom = self.marks["gap_top"], self.marks["gap_bottom"]
        picture = Picture.of(self.image, px)
        half = GAP_SHARE * self.wide * px
        down = across(line)
        inner, dark = self._darkest(picture, (top, bottom), down, half)
        reach = max(0.8 * px, 2 * self.near)
        found: list[tuple[Floats, float]] = []
        for name, mark, way in (("gap_top", top, -down), ("gap_bottom", bottom, down)):
            # A hand may have put it on the other side of a narrow dark.
            at = mark + max(1.0 - float((mark - inner) @ way), 0.0) * way
            edge = picture.edge(at, way, half, reach, self.near, dark, worth=FIRST)
            place, sd = (at, click) if edge is None else (at + edge[0] * way, edge[1])
            side = 0.25 * self.wide * px * line
            self.lines[name] = (_point(place - side), _point(place + side))
            found.append((place, sd))
        gap = max(float((found[1][0] - found[0][0]) @ down) * mm, 0.0)
        # A shut opening is a line as wide as the lens blurs it.
        sd = float(np.hypot(found[0][1] + BLUR, found[1][1])) * mm
        self.told("reed_gap", gap, float(np.hypot(sd, gap * scale)), errors().reed_gap)
        if wide is None or wide <= 0:
            self.unknown["reed_opening"] = self.unknown.get("reed_gap_width", "")
            return
        spread = float(np.hypot(self.values["reed_gap"].sd, gap * click * 1.5 * mm / wide)) / wide
        self.told("reed_opening", gap / wide, spread, 0.0)

    def _darkest(
        self, picture: Picture, ends: tuple[Floats, Floats], down: Floats, half: float
    ) -> tuple[Floats, Floats]:
        """The darkest place between the marks of an opening, and its colour."""
        middle = (ends[0] + ends[1]) / 2
        tall = abs(float((ends[1] - ends[0]) @ down))
        along, seen = picture.strip(middle, down, tall / 2 + self.near, half, seen=True)
        at = int(np.argmin(gaussian_filter1d(seen[:, 0], 2.0)))
        return middle + along[at] * down, seen[at]
