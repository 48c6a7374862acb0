"""The opening between the lips, where something lets it be seen: flute, free buzz, clear rims.

>>> import numpy as np
>>> from sulvet.core.anatomy.frame import RestFace
>>> ids = ("sto_s", "sto_i", "ap_r", "ap_l")
>>> points = np.array([[(1.0, -2.0), (1.0, 2.0), (-9.0, 0.0), (11.0, 0.0)]])
>>> view = FaceView(ids, points, points, RestFace(points[0], ("ex_r", "ex_l"), 0.0))
>>> float(aperture_height(view)[0]), float(aperture_width(view)[0]), float(aperture_offset(view)[0])
(4.0, 20.0, 1.0)
>>> round(float(aperture_area(view)[0]), 2)
62.83
"""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.measures.view import FaceView


def aperture_height(view: FaceView) -> Floats:
    """(T,) between the inner edges of the lips in the middle, pixels of the rest scale; NaN where
    they meet: shut lips have no opening, and a shade can hide a small one.

    Its ends need not be known: in low light they are lost long before the middle is.
    """
    gap = view.point("sto_i")[:, 1] - view.point("sto_s")[:, 1]
    return np.where(gap > 0, gap, np.nan)


def aperture_width(view: FaceView) -> Floats:
    """(T,) between the ends of the opening, pixels of the rest scale."""
    return np.asarray(np.linalg.norm(view.point("ap_l") - view.point("ap_r"), axis=1))


def aperture_area(view: FaceView) -> Floats:
    """(T,) area of the ellipse with these two axes, squared pixels of the rest scale."""
    return np.asarray(np.pi / 4 * aperture_height(view) * aperture_width(view))


def aperture_offset(view: FaceView) -> Floats:
    """(T,) middle of the opening from the face's midline, pixels; positive toward the
    picture's right, which is the student's own left."""
    return (view.point("ap_l") + view.point("ap_r"))[:, 0] / 2
