"""A reed's mouthpiece from the side, from the places the landmark network names."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.landmark_network import Landmarks
from sulvet.core.video.mouthpiece_edge import Ligature, sharpened

#: A ligature is believed to be seen from this probability on.
SEEN = 0.5
#: Both marks on the axis err together across it: it leans by so much of what each claims.
TOGETHER = 0.3
#: Where a lip ends on a mouthpiece a network is wrong and sure at once: never surer than this, in
#: widths of the mouth.
LIP_SIGMA = 0.022


def mouthpiece_from_side(found: Landmarks, rgb: Image) -> list[tuple[str, Floats, float]]:
    """Where the upper lip ends on it, and the ligature's two edges: id, pixels, sigma.

    The ligature only where both its edges are seen; they are moved onto what the (H, W, 3)
    picture shows of them.
    """
    unit = found.mouth.unit
    lip = max(found.spread("mp_lip"), LIP_SIGMA * unit)
    marks = [("mp_lip", found.at("mp_lip"), lip)]
    if min(found.sure("ax_a"), found.sure("ax_b")) < SEEN:
        return marks
    near, far = found.at("ax_a"), found.at("ax_b")
    along = float(np.hypot(found.spread("ax_a"), found.spread("ax_b")) / np.sqrt(2))
    lean = TOGETHER * along / max(float(np.linalg.norm(far - near)), 1.0)
    seen = sharpened(rgb, Ligature(near, far, along, lean))
    sigma = max(seen.along, seen.across)
    return [*marks, ("ax_a", seen.near, sigma), ("ax_b", seen.far, sigma)]
