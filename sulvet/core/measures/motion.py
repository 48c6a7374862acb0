"""What has one value a phase: stillness, collapse at the start, the way back, placing again.

Everything is in the face frame. Each is told for the phase it belongs to.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.measures.series import Measured
from sulvet.core.measures.stillness import displacement, stillness
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import Phase

#: Of ``form`` or ``place`` this much of the end is what ``hold`` is compared with, and of
#: ``change`` this much at either end, s.
FORMED = 0.2
#: After the end of the tone the face should not move for so long, s.
RELEASED = 0.3
#: Fewest frames that make a median.
FEWEST = 2
CORNERS, WINGS = ("ch_r", "ch_l"), ("al_r", "al_l")
LIPS, NOSE = ("ls", "li"), ("n", "prn")
#: What is held to the mouth, by the landmarks that say where it lies.
PLACED: tuple[tuple[str, ...], ...] = (
    ("rim_1", "rim_2", "rim_3", "rim_4", "rim_5"),
    ("mp_r", "mp_l"),
    ("hole_r", "hole_l", "hole_far"),
)


@dataclass(frozen=True)
class Moved:
    """One value of one phase: which phase of the take, the value ± its standard deviation.

    along  (T,) the same along the phase where that means anything, for the worst frame
    """

    measure: Measure
    phase: int
    value: float
    sigma: float
    along: Floats | None = None


@dataclass(frozen=True)
class Movement:
    """What a measure of motion is worked out from.

    view      the marks in the face frame
    measured  every series of the take
    """

    marks: Marks
    measured: Measured
    view: FaceView | SideView
    phases: list[Phase]

    @property
    def unit(self) -> float:
        """Rest mouth width, or lip to chin at rest, pixels of the rest scale."""
        view = self.view
        return view.rest_mouth_width if isinstance(view, FaceView) else view.unit

    def of(self, measure: Measure) -> Iterator[tuple[int, Phase]]:
        """The phases a measure has a value in, with their places."""
        for place, phase in enumerate(self.phases):
            if phase.name in measure.phases:
                yield place, phase


def motions(marks: Marks, measured: Measured, phases: list[Phase]) -> list[Moved]:
    """All that can be told of motion; what can't is missing."""
    view = measured.view or measured.side
    if view is None:
        return []
    side = "front" if isinstance(view, FaceView) else "side"
    take = Movement(marks, measured, view, phases)
    return [
        moved
        for measure in catalogue().of_source("motion", side)
        for moved in measure.value("")(measure, take)
        if np.isfinite(moved.value) and np.isfinite(moved.sigma)
    ]


def _seen(take: Movement, names: tuple[str, ...], inside: Bools) -> Bools:
    """(T,) of ``inside`` the frames on which all of these can be seen, in a head that is found.

    A mark may be seen where the head is lost: then nothing says where it lies in the face.
    """
    marks = take.marks
    if not set(names) <= set(marks.ids):
        return np.zeros_like(inside)
    columns = [marks.column(name) for name in names]
    known = ~marks.hidden[:, columns].any(axis=1)
    for name in names:
        known &= np.isfinite(take.view.point(name)).all(axis=1)
    return np.asarray(inside & known)


def stillness_of(measure: Measure, take: Movement) -> Iterator[Moved]:
    """How much some points move in the face frame, hundredths of the view's unit.

    In a slide as well as in a hold: the mouth should hardly move while the pitch does.
    """
    fixed = WINGS if isinstance(take.view, FaceView) else NOSE
    seconds = take.marks.seconds
    for place, phase in take.of(measure):
        inside = phase.holds(seconds)
        rows = _seen(take, measure.uses, inside)
        if rows.sum() < max(3, 0.5 * inside.sum()):
            continue
        part = take.view.frames(rows)
        value, sigma = stillness(part.point, measure.uses, fixed, take.unit, seconds[rows])
        along = np.full(len(take.marks), np.nan)
        along[rows] = displacement([part.point(p) for p in measure.uses], take.unit)
        yield Moved(measure, place, value, float(np.hypot(sigma, _error(measure, value))), along)


def _error(measure: Measure, value: float) -> float:
    return float(measure.error.sigma(value))


def collapse(measure: Measure, take: Movement) -> Iterator[Moved]:
    """How far a measure in the hold lies from where it was when the shape was formed.

    What both are unsure of alike, as of one mark that was followed, leaves the difference sure;
    by what the one is less sure than the other, as where a mark had to be found anew, it is unsure.
    """
    series, seconds = take.measured.series.get(measure.compares), take.marks.seconds
    for place, phase in take.of(measure):
        formed = [p for p in take.phases[:place] if p.name in ("form", "place")]
        if not formed or series is None:
            continue
        end = formed[-1].end
        ready = (seconds >= end - FORMED) & (seconds < end)
        known = np.isfinite(series.value)
        before, after = ready & known, phase.holds(seconds) & known
        if min(before.sum(), after.sum()) < FEWEST:
            continue
        value = float(np.median(series.value[after]) - np.median(series.value[before]))
        early, late = (float(np.median(series.sigma[rows])) for rows in (before, after))
        yield Moved(measure, place, value, float(np.hypot(_error(measure, value), late - early)))


def release_move(measure: Measure, take: Movement) -> Iterator[Moved]:
    """The farthest that some points move just after the tone from where they were in it."""
    marks, view = take.marks, take.view
    for place, phase in take.of(measure):
        late = (marks.seconds > phase.end) & (marks.seconds <= phase.end + RELEASED)
        rows = _seen(take, measure.uses, late)
        held = _seen(take, measure.uses, phase.holds(marks.seconds))
        if rows.sum() < FEWEST or held.sum() < FEWEST:
            continue
        away = []
        for name in measure.uses:
            track = view.point(name)
            middle = np.median(track[held], axis=0)
            away.append(np.linalg.norm(track[rows] - middle, axis=1))
        value = float(np.max(away)) / take.unit * 100
        along = np.full(len(marks), np.nan)
        along[rows] = np.max(away, axis=0) / take.unit * 100
        columns = [marks.column(name) for name in measure.uses]
        drift = float(np.median(marks.drift[rows][:, columns])) / take.unit * 100
        sigma = float(np.hypot(drift, _error(measure, value)))
        yield Moved(measure, place, value, sigma, along)


def shape_distance(a: Floats, b: Floats) -> float:
    """How far two shapes differ once moved, turned and scaled onto one another, 0..1.

    a, b  (N, 2) the same points of both

    Root of the sum of squared distances of the two standardised shapes, as
    ``scipy.spatial.procrustes`` gives it (J. C. Gower, Psychometrika 40, 1975).
    """
    _, _, disparity = scipy.spatial.procrustes(a, b)
    return float(np.sqrt(disparity))


def return_error(measure: Measure, take: Movement) -> Iterator[Moved]:
    """How far the mouth's shape at the end of a change is from that at its beginning.

    Corners and lips; where a rim or mouthpiece covers the lips, the corners against the wings
    of the nose, which do not move.
    """
    marks, view = take.marks, take.view
    for place, phase in take.of(measure):
        inside = phase.holds(marks.seconds)
        early, late = marks.seconds <= phase.start + FORMED, marks.seconds >= phase.end - FORMED
        for points in (CORNERS + LIPS, CORNERS + WINGS):
            rows = _seen(take, points, inside)
            if min((rows & early).sum(), (rows & late).sum()) >= FEWEST:
                break
        else:
            continue
        shapes = [
            np.array([np.median(view.point(name)[rows & part], axis=0) for name in points])
            for part in (early, late)
        ]
        value = shape_distance(*shapes) * 100
        yield Moved(measure, place, value, max(_error(measure, value), 0.5))


def placing_spread(measure: Measure, take: Movement) -> Iterator[Moved]:
    """Where the equipment came to lie, each time it was placed, against their middle."""
    marks, view, phases = take.marks, take.view, take.phases
    placings = [place for place, _ in take.of(measure)]
    if len(placings) < 2:
        return
    for points in PLACED:
        spots = []
        for n in placings:
            end = phases[n].end
            late = (marks.seconds >= end - FORMED) & (marks.seconds <= end)
            rows = _seen(take, points, np.asarray(late))
            if rows.sum() >= FEWEST:
                middle = np.mean([view.point(name)[rows] for name in points], axis=0)
                spots.append(np.median(middle, axis=0))
        if len(spots) >= 2:
            away = np.array(spots) - np.mean(spots, axis=0)
            value = float(np.sqrt((away**2).sum() / (len(spots) - 1))) / take.unit * 100
            sigma = float(np.hypot(value / np.sqrt(2 * len(spots)), _error(measure, value)))
            yield Moved(measure, placings[-1], value, sigma)


def rim_gap(measure: Measure, take: Movement) -> Iterator[Moved]:
    """How far the rim stands off the upper lip while breathing, against the tone."""
    series, marks = take.measured.series[measure.compares], take.marks
    held = np.zeros(len(marks), dtype=bool)
    for phase in take.phases:
        if phase.name == "hold":
            held |= phase.holds(marks.seconds)
    on_lip = series.value[held & np.isfinite(series.value)]
    if len(on_lip) < FEWEST:
        return
    for place, phase in take.of(measure):
        values = series.value[phase.holds(marks.seconds)]
        values = values[np.isfinite(values)]
        if len(values) >= FEWEST:
            value = float(np.median(values) - np.median(on_lip))
            scale = take.measured.scales.at("profile")
            relative = scale.relative if scale else 0.0
            yield Moved(
                measure, place, value, float(np.hypot(relative * value, _error(measure, value)))
            )
