"""The middle of several values of which some are missing."""

from __future__ import annotations

import numpy as np

from sulvet.core.anatomy.marks import Floats


def middle(values: Floats) -> Floats:
    """The median over the first axis without what is NaN; NaN where everything is.

    As ``numpy.nanmedian``, which takes ten times as long over a few rows.
    """
    ordered = np.sort(values, axis=0)  # NaN comes last
    count = np.isfinite(ordered).sum(axis=0)
    low, high = np.maximum(count - 1, 0) // 2, count // 2
    last = len(ordered) - 1
    two = [np.take_along_axis(ordered, np.minimum(at, last)[None], axis=0)[0] for at in (low, high)]
    return np.asarray((two[0] + two[1]) / 2)
