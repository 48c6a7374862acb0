"""Single pictures of a face, measured at once against the face at rest: for the mirror."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.landmarks import HELD_BY, TAKE_IDS
from sulvet.core.anatomy.marks import FOUND, Marks
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.series import measure
from sulvet.core.video.clip import Image
from sulvet.core.video.network_finder import NetworkFinder

#: Seconds between pictures as far as the measures are concerned.
APART = 0.1


@dataclass(frozen=True)
class Seen:
    """Landmarks of one picture: id → x, y and their standard deviation, pixels."""

    points: dict[str, tuple[float, float, float]]


def seen(rgb: Image, family: str, view: str) -> Seen | None:
    """The widest face of a picture, seen from the side that is asked for; None without one."""
    for face in NetworkFinder(HELD_BY.get(family, "")).find(rgb):
        if face.view == view:
            return Seen({
                name: (float(x), float(y), float(face.spread(name)))
                for name, (x, y) in face.points.items()
                if name in TAKE_IDS
            })  # fmt: skip
        return None
    return None


def readings(
    rest: Sequence[Seen], recent: Sequence[Seen], view: str, instrument: str
) -> dict[str, float]:
    """Measure → its median over the last pictures, over the face at rest; only what is seen.

    rest    some pictures of the relaxed face;  recent  the last pictures, the newest last
    """
    if not rest or not recent:
        return {}
    marks = _marks([*rest, *recent])
    at_rest = np.arange(len(marks)) < len(rest)
    found = measure(marks, at_rest, TakeContext(view, instrument, None)).series
    out = {}
    for name, series in found.items():
        values = series.value[~at_rest]
        if np.isfinite(values).mean() > 0.5:
            out[name] = float(np.nanmedian(values))
    return out


def _marks(pictures: Sequence[Seen]) -> Marks:
    marks = Marks.empty(TAKE_IDS, [APART * n for n in range(len(pictures))])
    for row, one in enumerate(pictures):
        for name, (x, y, sigma) in one.points.items():
            column = marks.column(name)
            marks.xy[row, column], marks.sigma[row, column] = (x, y), sigma
            marks.hidden[row, column] = False
            marks.source[row, column] = FOUND
    return marks
