"""The opening of a double reed, measured in a close-up seen end on."""

from __future__ import annotations

import numpy as np
from scipy.ndimage import gaussian_filter1d

from sulvet.core.anatomy.marks import Floats
from sulvet.core.equipment.edges import Picture, across, unit
from sulvet.core.equipment.kinds import errors
from sulvet.core.equipment.results import Measured, point
from sulvet.core.equipment.work import FIRST, OF_FAMILY, Work
from sulvet.core.language import said

#: A picture's blur, px.
BLUR = 1.0
#: How much of the opening is averaged, share of the width to both sides: it is not straight.
GAP_SHARE = 0.04


class Double(Work):
    """Two blades from their tip."""

    def result(self) -> Measured:
        """Readings, or for each measure the reason why there is none."""
        corners = ("blade_r", "blade_l")
        names = OF_FAMILY["double-reed"]
        if [m for m in names if self.lacks(m, corners)]:
            return Measured(unknown=self.unknown)
        self.in_order("blade_l", "blade_r", np.array([1.0, 0.0]))
        right, left = (self.marks[n] for n in corners)
        wide_px = float(np.linalg.norm(right - left))
        px = wide_px / self.wide
        if px < 4:
            reason = said("The blades are too small in the picture. Film closer.")
            return Measured(unknown=dict.fromkeys(names, reason))
        mm = 1 / px
        line = unit(right - left)
        self.in_order("gap_l", "gap_r", line)
        self.in_order("gap_top", "gap_bottom", across(line))
        self.lines["blades"] = (point(left), point(right))
        click = errors().click_px
        # The corners carry the scale, and each is no surer than the hand.
        self._opening(line, px, mm, click, float(np.hypot(errors().width, 1.4 * click / wide_px)))
        if not self.lacks("reed_roll", ("crook_a", "crook_b")):
            a, b = self.marks["crook_a"], self.marks["crook_b"]
            down = unit(b - a) if (b - a) @ across(line) > 0 else unit(a - b)
            turn = np.degrees(np.arctan2(float(down @ line), float(down @ across(line))))
            apart = max(float(np.linalg.norm(b - a)), 1.0)
            sd = np.degrees(np.hypot(click / wide_px, click / apart))
            self.lines["crook"] = (point(a), point(b))
            self.keep("reed_roll", float(turn), float(sd) * np.sqrt(2), errors().reed_roll)
        middle = (right + left) / 2
        return Measured(
            self.values, self.unknown, self.lines,
            (point(middle + across(line) * self.wide * px), point(middle)), mm,
        )  # fmt: skip

    def _opening(self, line: Floats, px: float, mm: float, click: float, scale: float) -> None:
        ends = ("gap_r", "gap_l")
        wide = None
        if not self.lacks("reed_gap_width", ends):
            right, left = (self.marks[n] for n in ends)
            wide = float((right - left) @ line) * mm
            self.keep("reed_gap_width", wide, click * np.sqrt(2) * mm, wide * scale)
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
            self.lines[name] = (point(place - side), point(place + side))
            found.append((place, sd))
        gap = max(float((found[1][0] - found[0][0]) @ down) * mm, 0.0)
        # A shut opening is a line as wide as the lens blurs it.
        sd = float(np.hypot(found[0][1] + BLUR, found[1][1])) * mm
        self.keep("reed_gap", gap, float(np.hypot(sd, gap * scale)), errors().reed_gap)
        if wide is None or wide <= 0:
            self.unknown["reed_opening"] = self.unknown.get("reed_gap_width", "")
            return
        sigma = float(np.hypot(self.values["reed_gap"].sd, gap * click * 1.5 * mm / wide)) / wide
        self.keep("reed_opening", gap / wide, sigma, 0.0)

    def _darkest(
        self, picture: Picture, ends: tuple[Floats, Floats], down: Floats, half: float
    ) -> tuple[Floats, Floats]:
        """The darkest place between the marks of an opening, and its colour."""
        middle = (ends[0] + ends[1]) / 2
        tall = abs(float((ends[1] - ends[0]) @ down))
        along, seen = picture.strip(middle, down, tall / 2 + self.near, half, seen=True)
        at = int(np.argmin(gaussian_filter1d(seen[:, 0], 2.0)))
        return middle + along[at] * down, seen[at]
