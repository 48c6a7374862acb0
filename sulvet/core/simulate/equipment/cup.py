"""A brass mouthpiece: rim, cup, body and shank."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate.equipment.common import BRASS, SILVER, Frame, Points, axes, sizes
from sulvet.core.simulate.mesh import METAL, Mesh, grid_mesh
from sulvet.core.simulate.mouth import Opening, stomion
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import Skull, smooth


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
        frame = axes(centre, self.angle)
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
