"""How much red of each lip shows, seen from the front.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("ls", "sto_s", "sto_i", "li")
>>> points = np.array([[(0.0, -9.0), (0.0, -1.0), (0.0, 1.0), (0.0, 11.0)]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> float(upper_red(view)[0]), float(lower_red(view)[0])
(8.0, 10.0)
"""

from __future__ import annotations

from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.view import FaceView


def _down(view: FaceView, above: str, below: str) -> Floats:
    return view.point(below)[:, 1] - view.point(above)[:, 1]


def upper_red(view: FaceView) -> Floats:
    """(T,) ``ls`` to ``sto_s`` along the face's vertical, pixels of the rest scale."""
    return _down(view, "ls", "sto_s")


def lower_red(view: FaceView) -> Floats:
    """(T,) ``sto_i`` to ``li`` along the face's vertical, pixels of the rest scale."""
    return _down(view, "sto_i", "li")
