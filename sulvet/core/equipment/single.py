"""A single reed on its mouthpiece, measured in a close-up."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.equipment.edges import Fitted, Picture, across, fit, unit
from sulvet.core.equipment.kinds import errors
from sulvet.core.equipment.results import Measured, point
from sulvet.core.equipment.work import FIRST, OF_FAMILY, REACH, Axes, Work
from sulvet.core.language import said

#: From how far below the tip outlines are looked for, and how densely, mm.
FROM, LEVEL = 2.0, 0.75
#: How far a reed's side may lie off a line along the first axis through its mark, mm.
WIDE = 1.4
#: How much of a tip is averaged, share of the reed's width to both sides: wider, a round tip
#: would blur.
TIP_SHARE = 0.08
#: The same of bands across the reed, which are straight.
BAND_SHARE = 0.12
#: How much of an outline is averaged along it, mm to both sides, and how quickly the direction of
#: what has been followed so far is given up for that of the last step.
BESIDE, SMOOTHED = 0.35, 0.3
#: The bark and a ligature of brass differ little from what is behind them.
FAINT = 0.2
#: An outline of the mouthpiece nearer to the reed's than this may be the reed's own, mm.
COVERED = 0.35


class Single(Work):
    """Mouthpiece with reed, tip up or however it is held: the axis comes from the marks."""

    SIDES = ("reed_r", "reed_l")
    RAILS = ("rail_r", "rail_l")

    def result(self) -> Measured:
        """Readings, or for each measure the reason why there is none."""
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
            reason = said("The marks lie too close together. Film closer, or place them again.")
            return Measured(unknown=dict.fromkeys(OF_FAMILY["single-reed"], reason))
        self.picture = Picture.of(self.image, self.px)
        self.axes = Axes(marks["reed_tip"], unit(foot - marks["reed_tip"]))
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
        return Measured(self.values, self.unknown, self.lines, (point(end), point(head)), mm)

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
            self.lines[name] = (point(ends[0]), point(ends[1]))
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

    def _along(self, pair: tuple[Fitted, Fitted], axes: Axes) -> Axes:
        slope = self._middle(pair).terms[1]
        return Axes(axes.origin, unit(axes.down + slope * axes.right))

    def _crooked(
        self, reed: tuple[Fitted, Fitted], rails: tuple[Fitted, Fitted], mm: float
    ) -> None:
        """How far the reed lies beside the mouthpiece and turned on it."""
        of_reed, of_body = self._middle(reed), self._middle(rails)
        slope = float(of_reed.terms[1] - of_body.terms[1])
        slope_sd = float(np.hypot(of_reed.slope_sd, of_body.slope_sd))
        # Down the axis the reed goes to the right: its tip leans to the left.
        self.keep("reed_skew", -float(np.degrees(np.arctan(slope))),
                  float(np.degrees(slope_sd)), errors().reed_skew)  # fmt: skip
        beside = (of_reed.at(0) - of_body.at(0)) * mm
        sd = float(np.hypot(of_reed.height_sd, of_body.height_sd)) * mm
        self.keep("reed_offset", beside, sd, errors().reed_offset)

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
        self.lines[name] = (point(place - side), point(place + side))
        return place, sure

    def _tip(self, body: Axes, mm: float) -> None:
        px, up = self.px, -body.down
        half = TIP_SHARE * self.wide * px
        tip, tip_sd = self._found("reed_tip", up, half, self.cane, FIRST)
        if self.lacks("reed_tip", ("mouth_tip",)):
            return
        mouth = self.marks["mouth_tip"]
        beyond = self.picture.colour(mouth + 1.5 * px * up, mouth + 3.5 * px * up, half)
        edge, edge_sd = self._found("mouth_tip", body.down, half, beyond, FIRST)
        over = float((tip - edge) @ up) * mm
        sigma = float(np.hypot(tip_sd, edge_sd)) * mm
        self.keep("reed_tip", over, float(np.hypot(sigma, over * errors().lean)), errors().reed_tip)

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
        sigma = float(np.hypot(cut_sd, top_sd)) * mm
        self.keep("ligature_gap", gap, float(np.hypot(sigma, gap * share)), errors().ligature_gap)
