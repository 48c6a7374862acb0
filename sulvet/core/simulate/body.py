"""A person in a pose: every surface of the head, ready to be drawn and to be measured."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.simulate import hair as dress
from sulvet.core.simulate.deform import move_skin
from sulvet.core.simulate.mesh import (
    INSIDE,
    SKIN,
    TEETH,
    Ints,
    Mesh,
    grid_mesh,
    grid_normals,
    grid_triangles,
)  # fmt: skip
from sulvet.core.simulate.mouth import (
    ANGLES,
    BORDER,
    OUTER_DOWN,
    OUTER_UP,
    OUTER_X,
    OUTER_Y,
    SEAM,
    Mouth,
    Opening,
    mouth,
    stomion,
)  # fmt: skip
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.skull import Skull, skull

ENAMEL = (0.72, 0.66, 0.54)


class Equipment(Protocol):
    """Something held to the mouth."""

    def opening(self, person: Person, skull: Skull) -> Opening | None:
        """The hole the lips leave for it, or None when they close before it."""

    def press(self, rest: Floats, now: Floats, above: Bools) -> Floats:
        """Push skin and lips (..., 3) out of it.

        ``rest`` says what the points are, ``above`` which belong over the lips' line.
        """

    def meshes(self) -> list[Mesh]:
        """What is drawn."""


@dataclass(frozen=True)
class Body:
    """One moment of a person in head coordinates, mm.

    head    (R, C, 3) the head's grid as posed
    lips    (K, A, 3) the mouth's rings as posed
    meshes  everything that is drawn
    """

    person: Person
    pose: Pose
    skull: Skull
    head: Floats
    lips: Floats
    meshes: list[Mesh]


@lru_cache(maxsize=4)
def _still(person: Person) -> tuple[list[Mesh], Ints]:
    """What does not move: hair, ears, shirt; the head's triangles without the mouth's place."""
    base = skull(person)
    rows, columns = base.xyz.shape[:2]
    x, y, z = (base.xyz[..., k] for k in range(3))
    height = y - OUTER_Y * person.face
    up = np.where(height > 0, height / (OUTER_UP - 0.8), height / (OUTER_DOWN - 1.0))
    hole = ((x / (OUTER_X - 1.2)) ** 2 + up**2 < 1) & (z > -45) & (y < -3.2)
    triangles = grid_triangles(rows, columns)
    kept = triangles[~hole.ravel()[triangles].all(axis=1)]
    meshes = [*dress.hair(person, base), *dress.ears(person, base), *dress.shirt(person)]
    return meshes, kept


def body(person: Person, pose: Pose, equipment: Equipment | None = None) -> Body:
    """Pose a person, with what they hold to their mouth."""
    base = skull(person)
    still, triangles = _still(person)
    opening = equipment.opening(person, base) if equipment else None
    shape = mouth(person, base, pose, opening)
    head = move_skin(base.xyz, base.xyz, person, pose)
    lips = move_skin(shape.rest, shape.xyz, person, pose)
    if equipment:
        head = equipment.press(base.xyz, head, base.xyz[..., 1] > stomion(person))
        # The inside of the lips may lie within the thing: nobody sees it there.
        outer = slice(0, SEAM + 1)
        top = np.broadcast_to(np.arange(ANGLES) <= ANGLES // 2, lips[outer].shape[:2])
        lips[outer] = equipment.press(shape.rest[outer], lips[outer], top)
    normal = grid_normals(head)
    count = head.shape[0] * head.shape[1]
    skin = Mesh(
        SKIN, head.reshape(-1, 3), normal.reshape(-1, 3), triangles,
        base.texture.reshape(-1, 2), np.full((count, 2), -1.0),
    )  # fmt: skip
    meshes = [skin, _lips(base, shape, lips, pose), *still, *_inside(person, base, pose, lips)]
    if equipment:
        meshes += equipment.meshes()
    return Body(person, pose, base, head, lips, meshes)


def _lips(base: Skull, shape: Mouth, lips: Floats, pose: Pose) -> Mesh:
    rows = lips.shape[0]
    rest = shape.rest
    places = np.stack(
        [base.skin_uv[k](rest[..., 0], rest[..., 1], grid=False) for k in range(2)], -1
    )
    # Rolled in, less of the red is left outside; rolled out, the wet inside shows.
    ring = np.broadcast_to(shape.ring[:, None], rest.shape[:2]).copy()
    top = np.arange(ANGLES) <= ANGLES // 2
    red = np.where(top, pose.upper_red, pose.lower_red)
    material = np.where(ring > 1, red + (ring - 1), ring * red)
    ring = np.where(ring > 0, material, ring)
    along = np.broadcast_to(rest[BORDER, :, 0] + np.where(top, 0, 23.0), ring.shape)
    return Mesh(
        SKIN, lips.reshape(-1, 3), grid_normals(lips, closed=True, flip=True).reshape(-1, 3),
        grid_triangles(rows, ANGLES, closed=True), places.reshape(-1, 2),
        np.stack([ring, along], -1).reshape(-1, 2),
    )  # fmt: skip


def _inside(person: Person, base: Skull, pose: Pose, lips: Floats) -> list[Mesh]:
    """Teeth and the dark behind them, where the lips part."""
    gap = lips[SEAM, ANGLES // 4, 1] - lips[SEAM, 3 * ANGLES // 4, 1]
    if gap < 0.3:
        return []
    x = np.linspace(-19, 19, 77)[None]
    depth = base.skin_z(x, np.full_like(x, stomion(person)), grid=False) - 7.5 - 0.006 * x**2
    seam = stomion(person) - 0.2 * pose.jaw_drop
    meshes = []
    for edge, side in ((seam - 1.2, 1.0), (seam - 1.4 - 0.85 * pose.jaw_drop, -1.0)):
        t = np.linspace(0, 1, 9)[:, None]
        y = edge + side * (9.5 * t) + 0.02 * x**2 * side * (1 - t)
        z = depth + 0.8 * np.sin(np.pi * t) - (1.6 if side < 0 else 0.0)
        xyz = np.stack(np.broadcast_arrays(x, y, z), -1)
        places = np.stack(np.broadcast_arrays(x, t * 9.5), -1)
        meshes.append(grid_mesh(TEETH, xyz, places, flip=side < 0, tint=ENAMEL))
    wall_x, wall_y = np.linspace(-26, 26, 9)[None], np.linspace(12, -26, 9)[:, None] + seam
    xyz = np.stack(np.broadcast_arrays(wall_x, wall_y, np.full_like(wall_x * wall_y, -26.0)), -1)
    meshes.append(grid_mesh(INSIDE, xyz, xyz[..., :2], tint=(0.06, 0.015, 0.012)))
    return meshes


def joined(body: Body) -> tuple[Floats, Floats, NDArray[np.int32], NDArray[np.int8], Floats]:
    """Join all meshes: places, normals, triangles with their material, attributes of places."""
    triangles, material, attributes = [], [], []
    start = 0
    for part in body.meshes:
        triangles.append(part.triangles + start)
        material.append(np.full(len(part.triangles), part.material, np.int8))
        lip = part.lip if part.lip is not None else np.full((len(part.xyz), 2), -1.0)
        tint = np.broadcast_to(np.array(part.tint), (len(part.xyz), 3))
        attributes.append(np.concatenate([part.map, lip, tint], axis=1))
        start += len(part.xyz)
    return (
        np.concatenate([m.xyz for m in body.meshes]),
        np.concatenate([m.normal for m in body.meshes]),
        np.concatenate(triangles).astype(np.int32),
        np.concatenate(material),
        np.concatenate(attributes),
    )
