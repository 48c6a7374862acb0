"""A double reed looked at from its tip: two blades, the opening between them, the crook behind."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate.equipment import Frame, Points, Reed, sizes
from sulvet.core.simulate.equipment.common import STRAW
from sulvet.core.simulate.mesh import CANE, INSIDE, Mesh, grid_mesh
from sulvet.core.simulate.mouth import Opening
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull

#: The opening reaches to this share of the blades' width.
OPENING_SHARE = 0.92
#: How thick the blades are at the tip, in the middle and at the sides, mm (from memory).
THICK, THIN = 0.22, 0.10
#: How far down the blades the shape of the tip is felt, mm.
TIP_REACH = 6.0
#: Places along the crook where its line is marked, shares of its length.
CROOK_MARKS = (0.72, 0.97)
#: Exponent of the opening's outline: 2 is an ellipse, less is more pointed at the ends.
LENS = 1.8


@dataclass(frozen=True)
class EndOn:
    """A double reed on its crook, tip toward the lens.

    gap   height of the opening in its middle, mm
    roll  of the blades on the crook, degrees, clockwise as the lens sees them
    """

    person: Person
    skull: Skull
    kind: str
    gap: float = 1.2
    roll: float = 0.0
    away: float = 0.0

    @property
    def size(self) -> dict[str, Any]:
        """The kind's sizes."""
        found: dict[str, Any] = sizes()[self.kind]
        return found

    @property
    def frame(self) -> Frame:
        """Origin in the middle of the tip, ``out`` away from the lens, upright like the crook."""
        return Frame(np.zeros(3), np.array([0.0, 0, -1]), np.array([0.0, 1, 0]), np.eye(3)[0])

    @property
    def blades(self) -> Frame:
        """The blades' own frame, turned on the crook."""
        a = np.radians(self.roll)
        up, side = self.frame.up, self.frame.side
        return Frame(
            self.frame.origin, self.frame.out,
            up * np.cos(a) + side * np.sin(a), side * np.cos(a) - up * np.sin(a),
        )  # fmt: skip

    def opening(self, person: Person, skull: Skull) -> Opening | None:
        """There is no mouth in the picture."""
        del person, skull
        return None

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """Nor any lips that give way."""
        del rest, above
        return now

    @property
    def half(self) -> float:
        """Half the blades' width at the tip, mm."""
        return float(self.size["body"][0][1])

    def meshes(self) -> list[Mesh]:
        """Blades, the dark between them, wires and thread, and what the reed sits on."""
        size = self.size
        parts = self._blades()
        for band in size.get("bands", ()):
            rows = np.array(band["rings"], float)
            parts.append(Reed.tube(self.frame, rows, band.get("power", 2.2), band["is"]))
        if "crook" in size:
            parts.append(Reed.crook(self.frame, size["crook"]))
        return parts

    def _blades(self) -> list[Mesh]:
        table = np.array(self.size["body"], float)
        s = np.linspace(0, table[-1, 0], 90)[:, None]
        wide, top = (np.interp(s, table[:, 0], table[:, k]) for k in (1, 2))
        tip = self.gap / 2 + THICK
        top = top + (tip - table[0, 2]) * np.exp(-((s / TIP_REACH) ** 2))
        turn = np.linspace(0, 2 * np.pi, 121)[None]
        cos, sin = np.cos(turn), np.sin(turn)
        frame = self.blades
        outer = frame.place(wide * cos, top * sin, s + 0 * turn)
        flat = np.stack(np.broadcast_arrays(turn * 9, s), -1)
        x, y = self._rim(turn)
        # The cut edge of the cane between outside and opening, then the tunnel behind it.
        deep = np.linspace(0, 10, 12)[:, None]
        close = 1 - 0.6 * deep / 10
        edge = np.stack([frame.place(wide[0] * cos, top[0] * sin, 0 * turn)[0],
                         frame.place(x, y, 0 * turn)[0]])  # fmt: skip
        tunnel = frame.place(x * close, y * close, deep + 0 * turn)
        floor = np.stack([tunnel[-1], np.broadcast_to(tunnel[-1].mean(axis=0), tunnel[-1].shape)])
        dark = (0.02, 0.014, 0.010)
        return [
            grid_mesh(CANE, outer, flat, tint=STRAW),
            grid_mesh(CANE, edge, flat[:2] * 0 + 3.0, tint=STRAW),
            grid_mesh(INSIDE, tunnel, flat[:12], tint=dark),
            grid_mesh(INSIDE, floor, flat[:2], tint=dark),
        ]

    def _rim(self, turn: Any) -> tuple[Floats, Floats]:
        """Outline of the opening at the tip over the angle, mm."""
        cos, sin = np.cos(turn), np.sin(turn)
        x = OPENING_SHARE * self.half * np.sign(cos) * np.abs(cos) ** (2 / LENS)
        y = self.gap / 2 * np.sign(sin) * np.abs(sin) ** (2 / LENS)
        return x, y

    def points(self) -> Points:
        """Blades' corners, the opening's four ends, and the crook's line where there is one."""
        blades, end = self.blades, OPENING_SHARE * self.half
        points = {
            "blade_r": blades.place(self.half, 0.0, 0.0),
            "blade_l": blades.place(-self.half, 0.0, 0.0),
            "gap_r": blades.place(end, 0.0, 0.0),
            "gap_l": blades.place(-end, 0.0, 0.0),
            "gap_top": blades.place(0.0, self.gap / 2, 0.0),
            "gap_bottom": blades.place(0.0, -self.gap / 2, 0.0),
        }
        if "crook" in self.size:
            up, out = Reed.crook_line(self.size["crook"], np.array(CROOK_MARKS))
            for name, u, o in zip(("crook_a", "crook_b"), up, out, strict=True):
                points[name] = self.frame.place(0.0, u, o)
        return points

    def values(self) -> dict[str, float]:
        """What a close-up of it truly shows, by measure."""
        wide = 2 * OPENING_SHARE * self.half
        values = {"reed_gap": self.gap, "reed_gap_width": wide, "reed_opening": self.gap / wide}
        return values | ({"reed_roll": self.roll} if "crook" in self.size else {})
