"""Where the landmarks of a face lie on the drawn surfaces of its head."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.mesh import grid_normals
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skin import EYE_Y, IRIS_MM, eye_corners
from sulvet.core.simulate.skull import skull

Points = dict[str, Floats]


@dataclass(frozen=True)
class _Spots:
    """Places on the head's grid: fractional rows and columns of named points."""

    names: tuple[str, ...]
    row: Floats
    column: Floats

    def on(self, head: Floats) -> Points:
        """The points on a posed grid."""
        r0 = np.clip(self.row.astype(int), 0, head.shape[0] - 2)
        c0 = np.clip(self.column.astype(int), 0, head.shape[1] - 2)
        fr, fc = (self.row - r0)[:, None], (self.column - c0)[:, None]
        spots = (
            head[r0, c0] * (1 - fr) * (1 - fc)
            + head[r0, c0 + 1] * (1 - fr) * fc
            + head[r0 + 1, c0] * fr * (1 - fc)
            + head[r0 + 1, c0 + 1] * fr * fc
        )
        return dict(zip(self.names, spots, strict=True))


@lru_cache(maxsize=8)
def spots(person: Person) -> _Spots:
    """Where the landmarks of the rigid and half-rigid face lie on this person's grid."""
    base = skull(person)
    inner, outer = eye_corners(person)
    centre = (inner + outer) / 2 - 0.4
    wanted: list[tuple[str, float, float]] = []
    for side, sign in (("r", -1.0), ("l", 1.0)):
        wanted += [
            (f"en_{side}", sign * inner, EYE_Y),
            (f"ex_{side}", sign * outer, EYE_Y + 1.0),
            (f"iris_{side}_in", sign * (centre - IRIS_MM), EYE_Y + 1.2),
            (f"iris_{side}_out", sign * (centre + IRIS_MM), EYE_Y + 1.2),
            (f"or_{side}", sign * 30.0, EYE_Y - 11.0),
        ]
    names, rows, columns = [], [], []
    for name, x, y in wanted:
        row, column = _find(base.xyz, x, y, base.row(5.0), base.row(9.0))
        names.append(name)
        rows.append(row)
        columns.append(column)
    wing = base.row(9.36)
    facing = grid_normals(base.xyz)[..., 2]
    half = base.xyz.shape[1] - base.mid
    for side, sign in (("r", -1), ("l", 1)):
        # The widest point of the wing that still faces forward.
        turned = facing[wing, base.mid :: sign][:half]
        out = np.abs(base.xyz[wing, base.mid :: sign][:half, 0]) > 9.0 * person.nose_width
        column = base.mid + sign * int(np.argmax(out & (turned < 0.45)))
        names.append(f"al_{side}")
        rows.append(float(wing))
        columns.append(float(column))
        jaw = base.row(16.0)
        strip = base.xyz[jaw, base.mid :: sign][:half]
        names.append(f"go_{side}")
        rows.append(float(jaw))
        columns.append(float(base.mid + sign * int(np.abs(strip[:, 2] + 58).argmin())))
    for name, v in (("n", 6.0), ("sn", 10.0)):
        names.append(name)
        rows.append(float(base.row(v)))
        columns.append(float(base.mid))
    tip = slice(base.row(8.0), base.row(9.8))
    names.append("prn")
    rows.append(float(tip.start + base.xyz[tip, base.mid, 2].argmax()))
    columns.append(float(base.mid))
    return _Spots(tuple(names), np.array(rows), np.array(columns))


def _find(xyz: Floats, x: float, y: float, top: int, bottom: int) -> tuple[float, float]:
    """Row and column of the front surface at x, y: nearest vertex, then Newton's steps."""
    part = xyz[top:bottom]
    gap = (part[..., 0] - x) ** 2 + (part[..., 1] - y) ** 2 + 1e6 * (part[..., 2] < -60)
    r, c = np.unravel_index(int(gap.argmin()), gap.shape)
    row, column = float(r + top), float(c)
    for _ in range(12):
        r0, c0 = int(row), int(column)
        fr, fc = row - r0, column - c0
        a, b, d, e = xyz[r0, c0], xyz[r0, c0 + 1], xyz[r0 + 1, c0], xyz[r0 + 1, c0 + 1]
        here = a * (1 - fr) * (1 - fc) + b * (1 - fr) * fc + d * fr * (1 - fc) + e * fr * fc
        by_row = (d - a) * (1 - fc) + (e - b) * fc
        by_column = (b - a) * (1 - fr) + (e - d) * fr
        step = np.linalg.solve(
            np.stack([by_row[:2], by_column[:2]], -1), np.array([x, y]) - here[:2]
        )
        row, column = row + float(step[0]), column + float(step[1])
    return row, column
