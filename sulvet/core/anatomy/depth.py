"""Which landmarks lie before the plane of the mouth's corners, and how far."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.data_files import Strict, read_table

FILE = Path(__file__).parent / "data" / "depths.toml"


class _Depths(Strict):
    version: int
    depth: dict[str, float]


@cache
def _table() -> dict[str, float]:
    return read_table(FILE, _Depths).depth


def depths(ids: tuple[str, ...]) -> Floats:
    """(L,) widths of the mouth at rest before the plane of its corners; 0 where unknown.

    >>> depths(("ch_r", "prn")).tolist()
    [0.0, 0.52]
    """
    return np.array([_table().get(name, 0.0) for name in ids])
