"""A flute's lip plate with its hole."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate.equipment.common import SILVER, Frame, Points, axes, sizes
from sulvet.core.simulate.mesh import INSIDE, METAL, Ints, Mesh, grid_mesh
from sulvet.core.simulate.mouth import Opening, stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull, smooth


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
    kind: str
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
        frame = axes(np.array([self.offset, y, z]), 24.0 - self.roll)
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
        long = float(sizes()[self.kind]["hole_deep"])
        knots = np.array([-1.0, -0.5, 0.0, 0.5, 1.0, 1.5, 2.0])
        out = np.array([-3.4, -2.2, 0.0, long * 0.5, long, long + 4.0, long + 6.0])
        up = np.array([-8.0, -3.2, 0.0, 0.35, -0.2, -3.6, -9.0])
        return np.interp(t, knots, out), np.interp(t, knots, up)

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """The chin gives way behind the plate."""
        del above
        frame = self.frame
        side, up, out = frame.local(now)
        half = float(sizes()[self.kind]["plate_wide"]) / 2
        oval = np.sqrt(np.clip(1 - (side / half) ** 2, 0, 1))
        knots_up, knots_out = np.array([-9.0, -8.0, -3.2, 0.0]), np.array([-3.6, -3.4, -2.2, 0.0])
        limit = np.interp(up, knots_up, knots_out) - 0.4
        under = (up < -0.2) & (up > -9.5 * oval) & (oval > 0) & (rest[..., 2] > -40)
        back = np.where(under, np.minimum(limit - out, 0), 0) * smooth(oval, 0.0, 0.35)
        return np.asarray(now + back[..., None] * frame.out)

    def meshes(self) -> list[Mesh]:
        """Plate with its hole, chimney and tube."""
        size = sizes()[self.kind]
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
        size = sizes()[self.kind]
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
