"""How full the lips are at rest."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Marks
from sulvet.core.phases import Phase, frames_of


def lip_share(marks: Marks, phases: list[Phase]) -> float | None:
    """Height of both lips at rest as a share of the mouth's width; None where rest is not seen.

    Seen from the front, between ``ls`` and ``li`` (labiale superius and inferius) and between the
    mouth corners; the median over the rest.
    """
    at_rest = frames_of(phases, "rest", marks.seconds)
    if not np.any(at_rest) or not {"ls", "li", "ch_r", "ch_l"} <= set(marks.ids):
        return None
    upper, lower, right, left = (
        marks.xy[at_rest, marks.ids.index(name)] for name in ("ls", "li", "ch_r", "ch_l")
    )
    shares = np.linalg.norm(lower - upper, axis=1) / np.linalg.norm(left - right, axis=1)
    known = shares[np.isfinite(shares)]
    return float(np.median(known)) if len(known) else None
