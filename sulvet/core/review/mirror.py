"""Single pictures of a face, measured at once against the face at rest: for the mirror."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.landmarks import HELD_BY, TAKE_IDS
from sulvet.core.anatomy.marks import FOUND, Bools, Floats, Marks
from sulvet.core.drawing.figure import PenPath, figure
from sulvet.core.drawing.front import front_drawing
from sulvet.core.drawing.sheet import Drawing, FrameAnchors, Pen, Place
from sulvet.core.drawing.side import side_drawing
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.frames import TakeContext
from sulvet.core.measures.series import Measured, measure
from sulvet.core.video.clip import Image
from sulvet.core.video.network_finder import NetworkFinder

#: Seconds between pictures as far as the measures are concerned.
APART = 0.1
#: What is drawn over the picture: the face at rest, and where the standard wants something.
OVER: tuple[Pen, ...] = ("rest", "zone")


@dataclass(frozen=True)
class Seen:
    """Landmarks of one picture: id → x, y and their standard deviation, pixels."""

    points: dict[str, tuple[float, float, float]]


@dataclass(frozen=True)
class Line:
    """A line over the picture, as SVG path data in its pixels."""

    pen: Pen
    path: str


@dataclass(frozen=True)
class LastMoments:
    """The last pictures, the newest last, measured against the face at rest.

    at_rest  (T,) which rows are the face at rest
    """

    marks: Marks
    at_rest: Bools
    measured: Measured
    view: str

    def readings(self) -> dict[str, float]:
        """Measure → its median over the last pictures; only what is seen on most of them."""
        out = {}
        for name, series in self.measured.series.items():
            values = series.value[~self.at_rest]
            if np.isfinite(values).mean() > 0.5:
                out[name] = float(np.nanmedian(values))
        return out

    def lines(self, standard: Standard, school: str) -> list[Line]:
        """The face at rest and the standard's zones over the newest picture; none where the face
        can't be laid there."""
        drawn = self._drawing(standard, school)
        if drawn is None:
            return []
        drawing, anchors = drawn
        move = anchors.moves[-1]
        if not np.isfinite(move).all():
            return []
        back, shift = np.linalg.inv(move[:4].reshape(2, 2)), move[4:]
        paths = figure(drawing, drawing.hold, {}).paths
        return [Line(one.pen, _svg(one, back, shift)) for one in paths if one.pen in OVER]

    def _drawing(self, standard: Standard, school: str) -> tuple[Drawing, FrameAnchors] | None:
        newest = np.zeros(len(self.marks), dtype=bool)
        newest[-1] = True
        bands = {m: standard.band(m, self.view, school) for m in self.measured.series}
        if self.measured.view is not None:
            return front_drawing(self.measured.view, self.marks, newest, bands, frozenset())
        if self.measured.side is not None:
            return side_drawing(
                self.measured.side, self.marks, newest, bands, standard.instrument,
                self.measured.scales,
            )  # fmt: skip
        return None


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


def last_moments(
    rest: Sequence[Seen], recent: Sequence[Seen], view: str, instrument: str
) -> LastMoments | None:
    """The last pictures against the face at rest; None without either.

    rest    some pictures of the relaxed face;  recent  the last pictures, the newest last
    """
    if not rest or not recent:
        return None
    marks = _marks([*rest, *recent])
    at_rest = np.arange(len(marks)) < len(rest)
    measured = measure(marks, at_rest, TakeContext(view, instrument, None))
    return LastMoments(marks, at_rest, measured, view)


def _marks(pictures: Sequence[Seen]) -> Marks:
    marks = Marks.empty(TAKE_IDS, [APART * n for n in range(len(pictures))])
    for row, one in enumerate(pictures):
        for name, (x, y, sigma) in one.points.items():
            column = marks.column(name)
            marks.xy[row, column], marks.sigma[row, column] = (x, y), sigma
            marks.hidden[row, column] = False
            marks.source[row, column] = FOUND
    return marks


def _svg(path: PenPath, back: Floats, shift: Floats) -> str:
    """From the sheet to the picture: a place of the sheet is ``x @ move + shift`` of it."""

    def at(place: Place) -> str:
        x, y = (np.asarray(place) - shift) @ back
        return f"{x:.1f} {y:.1f}"

    pieces = [" ".join(("C", at(a), at(b), at(end))) for a, b, end in path.pieces]
    return " ".join((f"M{at(path.start)}", *pieces, *(["Z"] if path.closed else [])))
