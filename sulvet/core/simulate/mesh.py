"""Meshes: what is drawn, and how grids become triangles."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats

Ints = NDArray[np.int32]

#: Materials. A triangle's material is its mesh's.
SKIN, HAIR, CLOTH, METAL, EBONITE, CANE, TEETH, EAR, INSIDE = range(9)


@dataclass(frozen=True)
class Mesh:
    """Vertices with what the shading needs.

    xyz, normal  (N, 3) mm, head coordinates
    triangles    (M, 3)
    map          (N, 2) place on the material's own map, mm
    lip          (N, 2) ring coordinate of the lips (-1 where there are none) and
                 place along them, mm
    tint         linear RGB of the material, where the person's own does not say
    """

    material: int
    xyz: Floats
    normal: Floats
    triangles: Ints
    map: Floats
    lip: Floats | None = None
    tint: tuple[float, float, float] = (0.5, 0.5, 0.5)


def grid_triangles(rows: int, columns: int, closed: bool = False) -> Ints:
    """(M, 3) triangles of a grid of vertices; ``closed`` joins the last column to the first."""
    i = np.arange(rows - 1)[:, None] * columns
    j = np.arange(columns if closed else columns - 1)[None]
    k = (j + 1) % columns
    a, b, c, d = i + j, i + k, i + columns + j, i + columns + k
    both = np.stack([np.stack([a, b, c], -1), np.stack([b, d, c], -1)], 2)
    return np.asarray(both.reshape(-1, 3), dtype=np.int32)


def grid_normals(xyz: Floats, closed: bool = False, flip: bool = False) -> Floats:
    """(R, C, 3) unit normals of a grid; ``flip`` when its columns run the other way round."""
    work = np.concatenate([xyz[:, -1:], xyz, xyz[:, :1]], axis=1) if closed else xyz
    normal = np.cross(np.gradient(work, axis=0), np.gradient(work, axis=1))
    if closed:
        normal = normal[:, 1:-1]
    normal /= np.linalg.norm(normal, axis=-1, keepdims=True) + 1e-12
    return np.asarray(-normal if flip else normal)


def grid_mesh(
    material: int,
    xyz: Floats,
    places: Floats,
    closed: bool = False,
    flip: bool = False,
    tint: tuple[float, float, float] = (0.5, 0.5, 0.5),
) -> Mesh:
    """A whole grid as a mesh."""
    return Mesh(
        material,
        xyz.reshape(-1, 3),
        grid_normals(xyz, closed, flip).reshape(-1, 3),
        grid_triangles(xyz.shape[0], xyz.shape[1], closed),
        places.reshape(-1, 2),
        tint=tint,
    )
