"""From a close-up and its marks to readings in millimetres and degrees.

``reed_tip``      the reed's tip over the mouthpiece's along the mouthpiece's axis, mm; below is
                  negative
``reed_offset``   the reed's middle beside the mouthpiece's at the tip, mm, right in the picture
``reed_skew``     the reed's axis against the mouthpiece's, degrees, clockwise
``ligature_gap``  how far the ligature's upper edge lies below the line of the cut on the
                  reed's middle, mm
``reed_gap``      height of a double reed's opening in its middle, mm
``reed_gap_width``  its width, mm
``reed_opening``  height over width of the opening
``reed_roll``     the blades' line against the square to the crook's, degrees, clockwise

Millimetres rest on the reed's usual width at its tip.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sulvet.core.equipment.double import Double
from sulvet.core.equipment.kinds import Point, kind, tip_width
from sulvet.core.equipment.results import Measured
from sulvet.core.equipment.single import Single


def measure(
    image: NDArray[np.uint8],
    marks: dict[str, Point],
    hidden: frozenset[str],
    instrument: str,
    family: str,
) -> Measured:
    """Measure a close-up.

    image   (H, W, 3) RGB
    marks   pixels by what is marked; those in ``hidden`` are covered by something
    """
    wide = tip_width(instrument)
    named = {m.id: m.name.lower() for m in kind(family).marks}
    seen = {name: np.array(at) for name, at in marks.items() if name not in hidden}
    work = Single if family == "single-reed" else Double
    return work(image, seen, hidden, wide, named).result()
