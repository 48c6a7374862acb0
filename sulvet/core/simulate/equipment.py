"""What is held to the mouth: cup mouthpieces, reed mouthpieces, double reeds, the flute's plate.

Placement is said in the words of the measures (share of upper lip, depth,
angle …). Sizes are common ones, from memory; they stand in ``data/equipment.yaml``.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
import yaml

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate.mesh import (
    CANE,
    EBONITE,
    INSIDE,
    METAL,
    Ints,
    Mesh,
    grid_mesh,
)  # fmt: skip
from sulvet.core.simulate.mouth import Opening, stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull, smooth

SIZES = Path(__file__).parent / "data" / "equipment.yaml"
BRASS = (0.83, 0.62, 0.26)
SILVER = (0.80, 0.80, 0.79)
BLACK = (0.012, 0.012, 0.013)
STRAW = (0.62, 0.43, 0.19)
Points = dict[str, Floats]
#: How far from the tip the sides of a reed are marked in a close-up, mm.
SIDES_AT = 12.0
#: How far from the tip the table reaches, mm.
TABLE_END = 80.0
#: How square the section of a reed is: its sides are cut, not round.
SQUARE = 14.0


@cache
def sizes() -> dict[str, Any]:
    """Sizes of instruments' mouthpieces by name, mm."""
    table: dict[str, Any] = yaml.safe_load(SIZES.read_text(encoding="utf-8"))
    return table


@dataclass(frozen=True)
class Frame:
    """Where a thing is: its own axes in head coordinates.

    origin  mm; out  along the thing away from the face; up  its upper side;
    side    toward the subject's left, all unit
    """

    origin: Floats
    out: Floats
    up: Floats
    side: Floats

    def place(self, side: Any, up: Any, out: Any) -> Floats:
        """(..., 3) head coordinates of local ones, mm."""
        side, up, out = np.broadcast_arrays(side, up, out)
        return np.asarray(
            self.origin
            + side[..., None] * self.side
            + up[..., None] * self.up
            + out[..., None] * self.out
        )

    def local(self, points: Floats) -> tuple[Floats, Floats, Floats]:
        """Side, up and out of head coordinates, mm."""
        d = points - self.origin
        return d @ self.side, d @ self.up, d @ self.out


def _axes(origin: Floats, down: float, askew: float = 0.0) -> Frame:
    """A frame that points ``down`` degrees under the horizontal, turned ``askew`` to the left."""
    a, b = np.radians(down), np.radians(askew)
    out = np.array([np.sin(b) * np.cos(a), -np.sin(a), np.cos(b) * np.cos(a)])
    side = np.array([np.cos(b), 0.0, -np.sin(b)])
    return Frame(origin, out, np.cross(out, side), side)


@dataclass(frozen=True)
class Cup:
    """A brass mouthpiece on the lips.

    upper_share  share of the outer rim that lies above the line where the lips meet
    offset       of its centre from the midline toward the subject's left, mm
    angle        degrees under the horizontal
    away         how far it is held off the lips, mm (a gap on the breath, or not there yet)
    gold         plated
    """

    person: Person
    skull: Skull
    kind: str
    upper_share: float = 0.5
    offset: float = 0.0
    angle: float = 8.0
    away: float = 0.0
    gold: bool = False

    @property
    def outer(self) -> float:
        """Radius of the rim's outer edge, mm."""
        return float(sizes()[self.kind]["outer"]) / 2

    @property
    def inner(self) -> float:
        """Radius of the cup's opening, mm."""
        return float(sizes()[self.kind]["inner"]) / 2

    @property
    def frame(self) -> Frame:
        """The rim's plane and the axis of the shank."""
        a = np.radians(self.angle)
        radius = self.outer
        line = stomion(self.person)
        top = line + self.upper_share * 2 * radius * np.cos(a)
        centre = np.array([self.offset, top - radius * np.cos(a), 0.0])
        frame = _axes(centre, self.angle)
        turn = np.linspace(0, 2 * np.pi, 48, endpoint=False)
        ring = frame.place(radius * np.cos(turn), radius * np.sin(turn), 0.0)
        depth = self.skull.skin_z(ring[:, 0], ring[:, 1], grid=False)
        lip = np.exp(-(((ring[:, 1] - line) / (self.person.upper + 1.5)) ** 2))
        depth = depth + lip * (self.person.upper_full + 0.2)
        reach = (depth - ring[:, 2]) * np.cos(a)
        at = float(np.quantile(reach, 0.7)) - 0.5 + self.away
        return replace(frame, origin=centre + frame.out * at)

    def opening(self, person: Person, skull: Skull) -> Opening | None:
        """The lips close inside the cup."""
        del person, skull
        return None

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """Lips and skin give way to the rim and bulge a little into the cup."""
        del above
        frame = self.frame
        side, up, out = frame.local(now)
        r = np.hypot(side, up)
        rim = self.outer
        bulge = 1.4 * np.clip(1 - (r / self.inner) ** 2, 0, 1) - 0.15
        limit = np.where(r < rim, bulge, -0.1 + 0.55 * np.maximum(r - rim, 0) ** 1.4)
        near = (r < rim + 7) & (out > -25) & (rest[..., 2] > -40)
        back = np.where(near, np.minimum(out, limit) - out, 0.0)
        # The dent runs out into the skin around.
        dent = 0.5 * np.exp(-np.maximum(r - rim, 0) / 3.0) * smooth(out, -9, -1) * near
        return np.asarray(now + (back - dent)[..., None] * frame.out)

    def meshes(self) -> list[Mesh]:
        """Rim, cup, body and shank as one turned shape."""
        size = sizes()[self.kind]
        r_o, r_i, length = self.outer, self.inner, float(size["length"])
        edge = (r_o - r_i) * 0.5
        profile = np.array(
            [
                (2.0, 0.62 * r_i * 2), (r_i * 0.5, 0.45 * r_i * 2), (r_i * 0.85, 0.28 * r_i * 2),
                (r_i * 0.97, 3.0), (r_i, 1.2), (r_i + edge * 0.35, 0.35), (r_i + edge, 0.0),
                (r_o - edge * 0.35, 0.35), (r_o, 1.5), (r_o - 0.2, 3.6), (r_o - 1.6, 5.2),
                (r_o - 2.6, 9), (r_o * 0.80, 16), (r_o * 0.66, 22), (r_o * 0.48, 29),
                (5.6, 36), (4.7, 42), (5.2, 46), (4.8, length - 1), (4.3, length), (2.6, length),
                (2.4, length - 14),
            ],
        )  # fmt: skip
        s = np.linspace(0, len(profile) - 1, 130)
        radius = np.interp(s, np.arange(len(profile)), profile[:, 0])[:, None]
        out = np.interp(s, np.arange(len(profile)), profile[:, 1])[:, None]
        turn = np.linspace(0, 2 * np.pi, 73)[None]
        xyz = self.frame.place(radius * np.cos(turn), radius * np.sin(turn), out)
        places = np.stack(np.broadcast_arrays(turn * 10, out), -1)
        tint = BRASS if self.gold else SILVER
        return [grid_mesh(METAL, xyz, places, tint=tint)]

    def points(self) -> Points:
        """Five points of the outer rim that the shank does not hide, and the centre."""
        turn = np.radians([90.0, 150.0, 205.0, 335.0, 30.0])
        ring = self.frame.place(self.outer * np.cos(turn), self.outer * np.sin(turn), 1.0)
        found = {f"rim_{k}": point for k, point in enumerate(ring, 1)}
        return found | {"rim_centre": self.frame.place(0.0, 0.0, 1.0)}


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
        free = _axes(np.zeros(3), 90 - self.angle, self.askew)
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


@dataclass(frozen=True)
class Plate:
    """A flute's lip plate under the lower lip.

    hole_to_lip  near edge of the hole under the border of the lower lip, mm; positive is low
    offset       of the hole from the midline toward the subject's left, mm
    tilt         of the plate against the lips in the picture, degrees, subject's left side up
    roll         turned toward the mouth, degrees
    away         how far it is held off its place, mm
    """

    person: Person
    skull: Skull
    hole_to_lip: float = 0.0
    offset: float = 0.0
    tilt: float = 0.0
    roll: float = 0.0
    away: float = 0.0

    @property
    def frame(self) -> Frame:
        """Origin at the hole's near edge; ``out`` across the hole away from the lips."""
        border = stomion(self.person) - self.person.lower
        y = border - self.hole_to_lip
        z = float(self.skull.skin_z(0.0, border)[0, 0]) + 1.6
        frame = _axes(np.array([self.offset, y, z]), 24.0 - self.roll)
        lean = np.radians(self.tilt)
        side = np.array([np.cos(lean), np.sin(lean), 0.0])
        out = frame.out - (frame.out @ side) * side
        out /= np.linalg.norm(out)
        origin = frame.origin + self.away * np.array([0.0, -0.5, 0.9])
        return Frame(origin, out, np.cross(out, side), side)

    def opening(self, person: Person, skull: Skull) -> Opening | None:
        """The lips shape their own opening above it."""
        del person, skull
        return None

    def _profile(self, t: Floats) -> tuple[Floats, Floats]:
        """The plate from the chin (-1) over the hole (0..1) to its outer edge (2): out, up, mm."""
        long = float(sizes()["flute"]["hole_deep"])
        knots = np.array([-1.0, -0.5, 0.0, 0.5, 1.0, 1.5, 2.0])
        out = np.array([-3.4, -2.2, 0.0, long * 0.5, long, long + 4.0, long + 6.0])
        up = np.array([-8.0, -3.2, 0.0, 0.35, -0.2, -3.6, -9.0])
        return np.interp(t, knots, out), np.interp(t, knots, up)

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """The chin gives way behind the plate."""
        del above
        frame = self.frame
        side, up, out = frame.local(now)
        half = float(sizes()["flute"]["plate_wide"]) / 2
        oval = np.sqrt(np.clip(1 - (side / half) ** 2, 0, 1))
        knots_up, knots_out = np.array([-9.0, -8.0, -3.2, 0.0]), np.array([-3.6, -3.4, -2.2, 0.0])
        limit = np.interp(up, knots_up, knots_out) - 0.4
        under = (up < -0.2) & (up > -9.5 * oval) & (oval > 0) & (rest[..., 2] > -40)
        back = np.where(under, np.minimum(limit - out, 0), 0) * smooth(oval, 0.0, 0.35)
        return np.asarray(now + back[..., None] * frame.out)

    def meshes(self) -> list[Mesh]:
        """Plate with its hole, chimney and tube."""
        size = sizes()["flute"]
        frame = self.frame
        half, wide, long = size["plate_wide"] / 2, size["hole_wide"] / 2, size["hole_deep"] / 2
        x = np.linspace(-half, half, 121)[None]
        t = np.linspace(-1, 2, 91)[:, None]
        oval = np.sqrt(np.clip(1 - (x / (half + 0.01)) ** 2, 0, 1))
        tt = 0.5 + (t - 0.5) * (0.25 + 0.75 * oval)
        out, up = self._profile(tt)
        up = up - 0.004 * x**2
        xyz = frame.place(x + 0 * t, up, out)
        places = np.stack(np.broadcast_arrays(x, t * 10), -1)
        plate = grid_mesh(METAL, xyz, places, tint=SILVER)
        in_hole = ((x / wide) ** 2 + ((out - long) / long) ** 2 < 1).ravel()
        kept: Ints = plate.triangles[~in_hole[plate.triangles].all(axis=1)]
        turn = np.linspace(0, 2 * np.pi, 61)[None]
        depth = np.linspace(0.3, -6, 8)[:, None]
        wall = frame.place(
            1.03 * wide * np.cos(turn) + 0 * depth,
            depth + 0 * turn,
            long + 1.03 * long * np.sin(turn) + 0 * depth,
        )
        rim_lip = grid_mesh(METAL, wall[:2], wall[:2, :, :2], tint=SILVER)
        dark = grid_mesh(INSIDE, wall[1:], wall[1:, :, :2], tint=(0.02, 0.018, 0.016))
        floor = frame.place(
            1.1 * wide * np.cos(turn) * np.array([[0.0], [1.0]]),
            -5.5,
            long + 1.1 * long * np.sin(turn) * np.array([[0.0], [1.0]]),
        )
        bottom = grid_mesh(INSIDE, floor, floor[..., :2], tint=(0.012, 0.010, 0.009))
        along = np.concatenate([np.linspace(-190, 41, 60), [41.6, 42.0, 42.0]])[:, None]
        cap = np.concatenate([np.ones(60), [0.95, 0.85, 0.01]])[:, None]
        radius = size["tube"] / 2 * cap
        tube = frame.place(
            along + 0 * turn,
            -radius * 1.0 - 4.0 + radius * np.sin(turn),
            long + radius * np.cos(turn),
        )
        pipe = grid_mesh(
            METAL, tube, np.stack(np.broadcast_arrays(turn * 9, along), -1), flip=True, tint=SILVER
        )
        return [replace(plate, triangles=kept), rim_lip, dark, bottom, pipe]

    def points(self) -> Points:
        """The hole's four ends and the plate's axis."""
        size = sizes()["flute"]
        wide, long = size["hole_wide"] / 2, size["hole_deep"]
        frame, end = self.frame, size["plate_wide"] / 2
        return {
            "hole_near": frame.place(0.0, 0.0, 0.0),
            "hole_far": frame.place(0.0, -0.2, long),
            "hole_r": frame.place(-wide, 0.2, long / 2),
            "hole_l": frame.place(wide, 0.2, long / 2),
            "pl_r": frame.place(-end, -0.004 * end**2, long / 2),
            "pl_l": frame.place(end, -0.004 * end**2, long / 2),
        }


AnyEquipment = Cup | Reed | Plate
CUPS = ("horn", "trumpet", "trombone")
REEDS = ("clarinet", "saxophone", "oboe", "bassoon")


def equipment(instrument: str, person: Person, skull: Skull, **placed: Any) -> AnyEquipment:
    """What this instrument puts to the mouth; ValueError for an unknown instrument."""
    if instrument in CUPS:
        return Cup(person, skull, instrument, **placed)
    if instrument in REEDS:
        return Reed(person, skull, instrument, **placed)
    if instrument == "flute":
        return Plate(person, skull, **placed)
    raise ValueError(f"There is no instrument “{instrument}”.")
