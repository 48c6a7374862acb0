"""A reed mouthpiece or a double reed, in the mouth or held before the camera."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate.equipment.common import (
    BLACK,
    BRASS,
    SILVER,
    STRAW,
    Frame,
    Points,
    axes,
    sizes,
)
from sulvet.core.simulate.mesh import CANE, EBONITE, METAL, Mesh, grid_mesh
from sulvet.core.simulate.mouth import Opening, stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull, smooth

#: How far from the tip the sides of a reed are marked in a close-up, mm.
SIDES_AT = 12.0
#: How far from the tip the table reaches, mm.
TABLE_END = 80.0
#: How square the section of a reed is: its sides are cut, not round.
SQUARE = 14.0


@dataclass(frozen=True)
class Reed:
    """A reed mouthpiece or a double reed in the mouth.

    away    how far it is held off its place, mm
    depth   from the tip to where the upper lip touches it, mm
    angle   between its axis and the vertical of the face, degrees
    offset  of its axis from the midline toward the subject's left, mm
    askew   turned toward the subject's left, degrees
    close_up  held before the camera by itself, tip up, the reed toward the lens
    tip, shift, skew, ligature  the reed's tip above the mouthpiece's and its shift to the
            picture's right (mm), its turn clockwise (degrees), and how far the ligature is
            slid up (mm)
    """

    person: Person
    skull: Skull
    kind: str
    depth: float = 12.7
    angle: float = 38.0
    offset: float = 0.0
    askew: float = 0.0
    away: float = 0.0
    close_up: bool = False
    tip: float = -0.4
    shift: float = 0.0
    skew: float = 0.0
    ligature: float = 0.0

    @property
    def size(self) -> dict[str, Any]:
        """The kind's sizes."""
        found: dict[str, Any] = sizes()[self.kind]
        return found

    def _section(self, s: Any) -> tuple[Floats, Floats, Floats]:
        """Half width, top and bottom over the distance from the tip, mm."""
        table = np.array(self.size["body"], dtype=float)
        half, top, bottom = (np.interp(s, table[:, 0], table[:, k]) for k in (1, 2, 3))
        return half, top, bottom

    @property
    def frame(self) -> Frame:
        """Origin at the tip, ``out`` along the axis away from the face."""
        if self.close_up:
            down, away = np.array([0.0, -1.0, 0.0]), np.array([0.0, 0.0, -1.0])
            return Frame(np.array([self.offset, 0.0, 0.0]), down, away, np.array([-1.0, 0, 0]))
        free = axes(np.zeros(3), 90 - self.angle, self.askew)
        _, top, _ = self._section(self.depth)
        touch = free.place(0.0, top, self.depth)
        line = stomion(self.person)
        z = float(self.skull.skin_z(0.0, line)[0, 0]) - 0.8
        y_top, y_bottom = self._cut(free, touch)
        up = 0.36 * (y_top - y_bottom)
        return replace(
            free, origin=np.array([self.offset, line + up, z]) - touch + free.out * self.away
        )

    def _cut(self, frame: Frame, touch: Floats) -> tuple[float, float]:
        """Top and bottom, y, of the upright cut through the point where the lip touches."""
        s = np.linspace(0, 60, 400)
        _, top, bottom = self._section(s)
        upper, lower = frame.place(0.0, top, s), frame.place(0.0, bottom, s)
        y_top = float(touch[1])
        behind = lower[:, 2] - touch[2]
        cross = np.argmin(np.abs(behind))
        return y_top, float(min(lower[cross, 1], upper[:, 1].max()))

    def opening(self, person: Person, skull: Skull) -> Opening | None:
        """The lips lie on it above and below."""
        del skull
        # The mouth opens as the mouthpiece comes near.
        share = float(smooth(np.array(self.away), 34.0, 8.0))
        if share <= 0:
            return None
        frame = replace(self, away=0.0).frame
        half, top, _ = self._section(self.depth)
        y_top, y_bottom = self._cut(frame, frame.place(0.0, top, self.depth))
        line = stomion(person)
        return Opening(
            line + (y_top + 0.1 - line) * share,
            line + (y_bottom - 0.1 - line) * share,
            (float(half) + 0.9) * (0.4 + 0.6 * share),
            2.6,
        )

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """Push lips out of the body: those above it up, those below it down."""
        frame = self.frame
        side, up, out = frame.local(now)
        half, top, bottom = self._section(np.clip(out, 0, 200))
        inside = (np.abs(side) < half) & (out > 0) & (rest[..., 2] > -40) & (self.away < 34)
        round_ = np.sqrt(np.clip(1 - (side / np.maximum(half, 1e-3)) ** 2, 0, 1)) ** 0.7
        high, low = top * round_, bottom * round_
        shift = np.where(above, np.maximum(high + 0.15 - up, 0), np.minimum(low - 0.15 - up, 0))
        shift = np.where(inside & (np.abs(shift) < 8), shift, 0)
        return np.asarray(now + shift[..., None] * frame.up)

    def meshes(self) -> list[Mesh]:
        """Body, reed, ligature and what they sit on."""
        frame, size = self.frame, self.size
        body = np.array(size["body"], float)
        if self.close_up:
            # The table on which the reed lies is flat; in the mouth nobody sees it.
            body[:, 3] = np.where(body[:, 0] < TABLE_END, 0.0, body[:, 3])
        parts = [self.tube(frame, body, size.get("power", 2.4), size["is"])]
        if "reed" in size:
            cane = np.array(size["reed"], float)
            if self.close_up:
                # Close by, the bark shows where the cut begins.
                way = self._reed_frame()
                parts += [self.tube(way, cane[:-1], SQUARE, "cane", end=False),
                          self.tube(way, cane[-2:], SQUARE, "bark", start=False)]  # fmt: skip
            else:
                parts.append(self.tube(self._reed_frame(), cane, 5.0, "cane"))
        for band in size.get("bands", ()):
            rows = np.array(band["rings"], float)
            rows[:, 0] -= self.ligature if band.get("slides") else 0.0
            parts.append(self.tube(frame, rows, band.get("power", 2.2), band["is"]))
        if "crook" in size:
            parts.append(self.crook(frame, size["crook"]))
        return parts

    @staticmethod
    def tube(
        frame: Frame,
        rows: Floats,
        power: float,
        material: str,
        start: bool = True,
        end: bool = True,
    ) -> Mesh:
        """A body from rings (s, half width, top, bottom), closed at ``start`` and ``end``."""
        s = np.unique(np.concatenate([np.linspace(rows[0, 0], rows[-1, 0], 90), rows[:, 0]]))
        half, top, bottom = (np.interp(s, rows[:, 0], rows[:, k])[:, None] for k in (1, 2, 3))
        turn = np.linspace(0, 2 * np.pi, 61)[None]
        cos, sin = np.cos(turn), np.sin(turn)
        x = half * np.sign(cos) * np.abs(cos) ** (2 / power)
        middle = np.where(bottom < 0, 0.0, bottom)
        y = np.where(
            sin > 0,
            middle + (top - middle) * np.abs(sin) ** (2 / max(2.0, power - 0.4)),
            middle + (bottom - middle) * np.abs(sin) ** (2 / power),
        )
        xyz = frame.place(x, y, s[:, None] + 0 * turn)
        caps = [np.broadcast_to(xyz[k].mean(axis=0), xyz[k].shape)[None] for k in (0, -1)]
        xyz = np.concatenate([*caps[: int(start)], xyz, *caps[2 - int(end) :]])
        along = np.concatenate([s[:1][: int(start)], s, s[-1:][: int(end)]])[:, None]
        places = np.stack(np.broadcast_arrays(x[:1] * 0 + turn * 9, along), -1)
        kinds = {
            "ebonite": (EBONITE, BLACK), "cane": (CANE, STRAW), "brass": (METAL, BRASS),
            "bark": (CANE, (0.46, 0.27, 0.09)), "silver": (METAL, SILVER),
            "wood": (EBONITE, (0.03, 0.016, 0.010)),
            "cork": (CANE, (0.40, 0.26, 0.13)), "thread": (CANE, (0.30, 0.02, 0.02)),
        }  # fmt: skip
        kind, tint = kinds[material]
        return grid_mesh(kind, xyz, places, tint=tint)

    @staticmethod
    def crook_line(size: dict[str, Any], shares: Floats) -> tuple[Floats, Floats]:
        """Up and out of a crook's axis at shares of its length, mm."""
        s = np.linspace(0, size["length"], 60)
        bend = np.radians(size["bend"]) * smooth(s, 0.15 * size["length"], size["length"])
        step = np.gradient(s)
        out = size["from"] + np.cumsum(np.cos(bend) * step)
        up = size["up"] - np.cumsum(np.sin(bend) * step)
        at = shares * size["length"]
        return np.interp(at, s, up), np.interp(at, s, out)

    @staticmethod
    def crook(frame: Frame, size: dict[str, Any]) -> Mesh:
        """A thin metal tube that curves down from the reed."""
        s = np.linspace(0, size["length"], 60)[:, None]
        bend = np.radians(size["bend"]) * smooth(s, 0.15 * size["length"], size["length"])
        step = np.gradient(s, axis=0)
        out = size["from"] + np.cumsum(np.cos(bend) * step, axis=0)
        up = -np.cumsum(np.sin(bend) * step, axis=0)
        radius = size["radius"] + size["grow"] * s
        turn = np.linspace(0, 2 * np.pi, 33)[None]
        x = radius * np.cos(turn)
        y = size["up"] + up + radius * np.sin(turn) * np.cos(bend)
        z = out + radius * np.sin(turn) * np.sin(bend)
        places = np.stack(np.broadcast_arrays(turn * 4, s), -1)
        return grid_mesh(
            METAL, frame.place(x, y, z), places, tint=BRASS if size["gold"] else SILVER
        )

    def points(self) -> Points:
        """Tip, a visible mark at a known distance, and two points of the axis."""
        if self.close_up:
            return self._close_points()
        frame = self.frame
        mark = float(self.size["mark"])
        _, top, bottom = self._section(np.array([0.0, mark, mark + 20]))
        half, high, low = self._section(self.depth + 2.0)
        return {
            "mp_r": frame.place(-half, (high + low) / 2, self.depth + 2.0),
            "mp_l": frame.place(half, (high + low) / 2, self.depth + 2.0),
            "mp_tip": frame.place(0.0, top[0], 0.0),
            "mp_mark": frame.place(0.0, top[1], mark),
            "ax_a": frame.place(0.0, (top[1] + bottom[1]) / 2, mark),
            "ax_b": frame.place(0.0, (top[2] + bottom[2]) / 2, mark + 20),
        }

    def _reed_frame(self) -> Frame:
        """The reed's own frame: slid along the mouthpiece and turned on it."""
        frame, turn = self.frame, -np.radians(self.skew)
        side = frame.side * np.cos(turn) + frame.out * np.sin(turn)
        out = frame.out * np.cos(turn) - frame.side * np.sin(turn)
        # The picture's right is the thing's own negative side in a close-up.
        origin = frame.origin - frame.out * self.tip - frame.side * self.shift
        return Frame(origin, out, frame.up, side)

    def _close_points(self) -> Points:
        """What a teacher marks on a close-up; right and left are the picture's."""
        frame, reed, size = self.frame, self._reed_frame(), self.size
        blade = np.array(size["reed"], dtype=float)
        cut = float(blade[-2, 0])
        points: Points = {
            "reed_tip": reed.place(0.0, 0.0, 0.0),
            "mouth_tip": frame.place(0.0, 0.0, 0.0),
            "lig_top": reed.place(0.0, -4.9, cut + self._ligature_gap),
            "cut": reed.place(0.0, blade[-2, 3], cut),
        }
        # The picture's right is the thing's own negative side here.
        for name, sign in (("r", -1.0), ("l", 1.0)):
            half = float(np.interp(SIDES_AT, blade[:, 0], blade[:, 1]))
            points[f"reed_{name}"] = reed.place(sign * half, -0.6, SIDES_AT)
            wide = float(self._section(SIDES_AT)[0])
            points[f"rail_{name}"] = frame.place(sign * wide, 0.0, SIDES_AT)
        return points

    @property
    def _ligature_gap(self) -> float:
        """From the cut to the ligature's upper edge along the reed's middle, mm."""
        top = float(self.size["bands"][0]["rings"][0][0]) - self.ligature
        along = (top + self.tip) / float(np.cos(np.radians(self.skew)))
        return along - float(self.size["reed"][-2][0])

    def values(self) -> dict[str, float]:
        """What a close-up of it truly shows, by measure; see ``core.equipment``."""
        return {
            "reed_tip": self.tip,
            "reed_offset": self.shift,
            "reed_skew": self.skew,
            "ligature_gap": self._ligature_gap,
        }
