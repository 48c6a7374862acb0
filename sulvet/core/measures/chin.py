"""Chin and jaw seen from the front: how close the chin comes to the lip, how low the jaw is.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("li", "pg", "sn", "me")
>>> points = np.array([[(0.0, 20.0), (3.0, 60.0), (0.0, -10.0), (0.0, 80.0)]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> round(float(chin_length(view)[0]), 2), float(jaw_drop(view)[0])
(40.11, 90.0)
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.measures.view import FaceView


def chin_length(view: FaceView) -> Floats:
    """(T,) ``li`` to ``pg``, pixels of the rest scale."""
    return np.asarray(np.linalg.norm(view.point("pg") - view.point("li"), axis=1))


def jaw_drop(view: FaceView) -> Floats:
    """(T,) ``sn`` to ``me`` along the face's vertical, pixels of the rest scale.

    ``sn`` from the rest face: a rim close under the nose drags the mark.
    """
    origin = view.at_rest().point("sn")[0, 1]
    return np.asarray(view.point("me")[:, 1] - origin)


def texture(marks: Marks, at_rest: Bools) -> tuple[Floats, float]:
    """(T,) the chin skin's small-scale contrast over that at rest, and the noise of that.

    at_rest  (T,) which frames belong to the phase ``rest``

    The noise is what one and the same skin at rest differs by from frame to frame.
    """
    contrast = marks.signals.get("chin_texture", np.full(len(marks), np.nan))
    resting = contrast[at_rest & np.isfinite(contrast)]
    base = float(np.median(resting)) if len(resting) > 1 else float("nan")
    if not base > 0:
        return np.full(len(marks), np.nan), 0.0
    noise = float(np.std(resting) / base) if len(resting) > 2 else 0.0
    return np.asarray(contrast / base), noise
