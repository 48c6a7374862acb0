"""What has one value a phase: stillness, collapse at the start, the way back, placing again.

Everything is in the face frame. Each is told for the phase it belongs to.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import procrustes

from sulvet.core.anatomy.landmarks import CONTOUR_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.measures.series import Measured
from sulvet.core.measures.stillness import displacement, stillness
from sulvet.core.measures.table import model
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import Phase

#: Of ``form`` or ``place`` this much of the end is what ``hold`` is compared with, and of
#: ``change`` this much at either end, s.
FORMED = 0.2
#: After the end of the tone the face should not move for so long, s.
RELEASED = 0.3
#: Fewest frames that make a median.
FEWEST = 2


@dataclass(frozen=True)
class Kind:
    """One measure of motion.

    view   from which side it shows
    needs  landmarks that must be seen while it is measured
    thing  what has to be held to the mouth for it
    """

    id: str
    unit: str
    view: Literal["front", "side"]
    needs: tuple[str, ...]
    thing: str = ""


CORNERS, WINGS = ("ch_r", "ch_l"), ("al_r", "al_l")
LIPS, NOSE = ("ls", "li"), ("n", "prn")
#: Places of the contour between lip and chin.
GROOVE = CONTOUR_IDS[3:10]
PLACED: dict[str, tuple[str, ...]] = {
    "rim": ("rim_1", "rim_2", "rim_3", "rim_4", "rim_5"),
    "mouthpiece": ("mp_r", "mp_l"),
    "plate": ("hole_r", "hole_l", "hole_far"),
}
#: What may give way when the air starts, and in which view.
COLLAPSING: dict[str, Literal["front", "side"]] = {
    "corner_rise": "front",
    "lower_red": "front",
    "chin_hollow": "side",
    "lower_red_side": "side",
}
UNITS = {"corner_rise": "deg", "lower_red": "ratio", "chin_hollow": "%", "lower_red_side": "ratio"}
STILL: dict[str, tuple[str, ...]] = {
    "stillness": CORNERS,
    "stillness_chin": ("pg",),
    "stillness_lips_side": LIPS,
    "stillness_chin_side": GROOVE,
}
KINDS: tuple[Kind, ...] = (
    Kind("stillness", "% MW", "front", CORNERS),
    Kind("stillness_chin", "% MW", "front", ("pg",)),
    *(
        Kind(f"stillness_{thing}", "% MW", "front", points, thing)
        for thing, points in PLACED.items()
    ),
    Kind("stillness_lips_side", "%", "side", LIPS),
    Kind("stillness_chin_side", "%", "side", GROOVE),
    *(Kind(f"collapse_{name}", UNITS[name], view, ()) for name, view in COLLAPSING.items()),
    Kind("release_move", "% MW", "front", CORNERS),
    Kind("release_move_side", "%", "side", LIPS),
    Kind("return_error", "%", "front", CORNERS),
    Kind("placing_spread", "% MW", "front", ()),
    Kind("rim_gap", "mm", "side", (), "rim-side"),
)
BY_ID: dict[str, Kind] = {kind.id: kind for kind in KINDS}


@dataclass(frozen=True)
class Moved:
    """One value of one phase: which phase of the take, the value ± its standard deviation.

    along  (T,) the same along the phase where that means anything, for the worst frame
    """

    kind: Kind
    phase: int
    value: float
    sigma: float
    along: Floats | None = None


def motions(marks: Marks, measured: Measured, phases: list[Phase]) -> list[Moved]:
    """All that can be told of motion; what can't is missing."""
    view = measured.view or measured.side
    if view is None:
        return []
    found = [
        *_still(marks, measured, view, phases),
        *_collapses(marks, measured, phases),
        *_releases(marks, view, phases),
    ]
    if isinstance(view, FaceView):
        found += [*_returns(marks, view, phases), *_placings(marks, view, phases)]
    else:
        found += _gaps(marks, measured, phases)
    return found


def _unit(view: FaceView | SideView) -> float:
    return view.rest_mouth_width if isinstance(view, FaceView) else view.unit


def _side_of(view: FaceView | SideView) -> str:
    return "front" if isinstance(view, FaceView) else "side"


def _seen(marks: Marks, names: tuple[str, ...], inside: Bools) -> Bools:
    """(T,) of ``inside`` the frames on which all of these can be seen."""
    if not set(names) <= set(marks.ids):
        return np.zeros_like(inside)
    columns = [marks.column(name) for name in names]
    known = np.isfinite(marks.xy[:, columns, 0]) & ~marks.hidden[:, columns]
    return np.asarray(inside & known.all(axis=1))


def _still(
    marks: Marks, measured: Measured, view: FaceView | SideView, phases: list[Phase]
) -> Iterator[Moved]:
    fixed = WINGS if isinstance(view, FaceView) else NOSE
    groups = STILL | {f"stillness_{thing}": names for thing, names in PLACED.items()}
    for place, phase in enumerate(phases):
        # In a slide as well: the mouth should hardly move while the pitch does.
        if phase.name not in ("hold", "change"):
            continue
        inside = phase.holds(marks.seconds)
        for name, points in groups.items():
            kind = BY_ID[name]
            rows = _seen(marks, points, inside)
            if kind.view != _side_of(view) or rows.sum() < max(3, 0.5 * inside.sum()):
                continue
            part = view.frames(rows)
            value, sigma = stillness(part.point, points, fixed, _unit(view), marks.seconds[rows])
            along = np.full(len(marks), np.nan)
            along[rows] = displacement([part.point(p) for p in points], _unit(view))
            sigma = float(np.hypot(sigma, _floor(name, value)))
            yield Moved(kind, place, value, sigma, along)


def _floor(name: str, value: float) -> float:
    row = model().get(name, {})
    return float(np.hypot(row.get("floor", 0.0), row.get("share", 0.0) * abs(value)))


def _collapses(marks: Marks, measured: Measured, phases: list[Phase]) -> Iterator[Moved]:
    for place, phase in enumerate(phases):
        if phase.name != "hold":
            continue
        formed = [p for p in phases[:place] if p.name in ("form", "place")]
        if not formed:
            continue
        end = formed[-1].end
        ready = (marks.seconds >= end - FORMED) & (marks.seconds < end)
        inside = phase.holds(marks.seconds)
        for name in COLLAPSING:
            series = measured.series.get(name)
            if series is None:
                continue
            before, after = (series.value[rows] for rows in (ready, inside))
            if min(np.isfinite(before).sum(), np.isfinite(after).sum()) < FEWEST:
                continue
            value = float(np.nanmedian(after) - np.nanmedian(before))
            kind = BY_ID[f"collapse_{name}"]
            yield Moved(kind, place, value, _floor(kind.id, value))


def _releases(marks: Marks, view: FaceView | SideView, phases: list[Phase]) -> Iterator[Moved]:
    kind = BY_ID["release_move" if isinstance(view, FaceView) else "release_move_side"]
    for place, phase in enumerate(phases):
        if phase.name != "hold":
            continue
        late = (marks.seconds > phase.end) & (marks.seconds <= phase.end + RELEASED)
        rows = _seen(marks, kind.needs, late)
        held = _seen(marks, kind.needs, phase.holds(marks.seconds))
        if rows.sum() < FEWEST or held.sum() < FEWEST:
            continue
        away = []
        for name in kind.needs:
            track = view.point(name)
            middle = np.median(track[held], axis=0)
            away.append(np.linalg.norm(track[rows] - middle, axis=1))
        value = float(np.max(away)) / _unit(view) * 100
        along = np.full(len(marks), np.nan)
        along[rows] = np.max(away, axis=0) / _unit(view) * 100
        columns = [marks.column(name) for name in kind.needs]
        drift = float(np.median(marks.drift[rows][:, columns])) / _unit(view) * 100
        yield Moved(kind, place, value, float(np.hypot(drift, _floor(kind.id, value))), along)


def shape_distance(a: Floats, b: Floats) -> float:
    """How far two shapes differ once moved, turned and scaled onto one another, 0..1.

    a, b  (N, 2) the same points of both

    Root of the sum of squared distances of the two standardised shapes, as
    ``scipy.spatial.procrustes`` gives it (J. C. Gower, Psychometrika 40, 1975).
    """
    _, _, disparity = procrustes(a, b)
    return float(np.sqrt(disparity))


def _returns(marks: Marks, view: FaceView, phases: list[Phase]) -> Iterator[Moved]:
    """How far the mouth's shape at the end of a change is from that at its beginning.

    Corners and lips; where a rim or mouthpiece covers the lips, the corners against the wings
    of the nose, which do not move.
    """
    kind = BY_ID["return_error"]
    for place, phase in enumerate(phases):
        if phase.name != "change":
            continue
        inside = phase.holds(marks.seconds)
        early, late = marks.seconds <= phase.start + FORMED, marks.seconds >= phase.end - FORMED
        for points in (CORNERS + LIPS, CORNERS + WINGS):
            rows = _seen(marks, points, inside)
            if min((rows & early).sum(), (rows & late).sum()) >= FEWEST:
                break
        else:
            continue
        shapes = [
            np.array([np.median(view.point(name)[rows & part], axis=0) for name in points])
            for part in (early, late)
        ]
        value = shape_distance(*shapes) * 100
        yield Moved(kind, place, value, max(_floor(kind.id, value), 0.5))


def _placings(marks: Marks, view: FaceView, phases: list[Phase]) -> Iterator[Moved]:
    """Where the thing came to lie, each time it was placed, against their middle."""
    kind = BY_ID["placing_spread"]
    placings = [n for n, phase in enumerate(phases) if phase.name == "place"]
    if len(placings) < 2:
        return
    for points in PLACED.values():
        spots = []
        for n in placings:
            end = phases[n].end
            late = (marks.seconds >= end - FORMED) & (marks.seconds <= end)
            rows = _seen(marks, points, np.asarray(late))
            if rows.sum() >= FEWEST:
                middle = np.mean([view.point(name)[rows] for name in points], axis=0)
                spots.append(np.median(middle, axis=0))
        if len(spots) >= 2:
            away = np.array(spots) - np.mean(spots, axis=0)
            value = float(np.sqrt((away**2).sum() / (len(spots) - 1))) / view.rest_mouth_width * 100
            sigma = float(np.hypot(value / np.sqrt(2 * len(spots)), _floor(kind.id, value)))
            yield Moved(kind, placings[-1], value, sigma)


def _gaps(marks: Marks, measured: Measured, phases: list[Phase]) -> Iterator[Moved]:
    """How far the rim stands off the upper lip while breathing, against the tone."""
    series = measured.series["rim_forward"]
    held = np.zeros(len(marks), dtype=bool)
    for phase in phases:
        if phase.name == "hold":
            held |= phase.holds(marks.seconds)
    on_lip = series.value[held & np.isfinite(series.value)]
    if len(on_lip) < FEWEST:
        return
    for place, phase in enumerate(phases):
        values = series.value[phase.holds(marks.seconds)]
        values = values[np.isfinite(values)]
        if phase.name == "breathe" and len(values) >= FEWEST:
            value = float(np.median(values) - np.median(on_lip))
            scale = measured.scales.at("profile")
            relative = scale.relative if scale else 0.0
            sigma = float(np.hypot(relative * value, _floor("rim_gap", value)))
            yield Moved(BY_ID["rim_gap"], place, value, sigma)
