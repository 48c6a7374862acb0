"""The rest face of another take of the same student, for a clip that shows none.

It is brought onto the clip by what sits on bone, with how far the head is turned
against it, and stands as some frames more at the end. What two takes share is the
person: where each mark was put is each take's own, so nothing of it drops out of
a change from rest.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.frame import ANCHOR_WEIGHTS, anchor_weights, apply, similarity
from sulvet.core.anatomy.marks import FOLLOWED, NONE, Bools, Floats, Marks
from sulvet.core.anatomy.solid import Solid, solid_fit
from sulvet.core.phases import Phase, frames_of

#: The frames added; one would do, but medians over rest expect some.
ROWS = 3
#: How much each point of bone counts for the fit: what carries the face frame, and what lies
#: under the nose, without which a close-up has too little.
BONE = ANCHOR_WEIGHTS | {"sn": 0.15}
LEAST_BONE = 4
#: The signals that say how far the head is turned against the anchor frame.
TURN = ("turn_x", "turn_y")
#: How far a head may be turned between two takes, as a sine, standard deviation; and what a
#: point of bone is off by, widths of the mouth: another camera, another day (no source).
LIKELY_TURN, OFF = 0.10, 0.02
#: Corners at rest and beside a rim are found in two ways that differ by this (painted faces).
OFF_CORNERS = 0.05


def rest_of(marks: Marks, phases: list[Phase]) -> Marks | None:
    """One frame that is a take's rest face: each landmark's median; None without a rest."""
    at_rest = frames_of(phases, "rest", marks.seconds) & ~marks.hidden[:, marks.column("sn")]
    if not at_rest.any():
        return None
    rows = np.flatnonzero(at_rest)
    xy = np.where(marks.hidden[rows][..., None], np.nan, marks.xy[rows])
    weights = anchor_weights(marks.ids, marks.hidden[rows])
    middle = len(rows) // 2
    if (weights[middle] > 0).sum() >= 2:
        xy = apply(*similarity(xy, xy[middle], weights), xy)
    seen = np.asarray(np.isfinite(xy[..., 0]).any(axis=0))
    place = np.full(xy.shape[1:], np.nan)
    place[seen] = np.nanmedian(xy[:, seen], axis=0)
    sigma = np.full(len(marks.ids), np.nan)
    sigma[seen] = np.nanmedian(marks.sigma[rows][:, seen], axis=0)
    signals: dict[str, Floats] = {
        name: np.array([float(np.nanmedian(marks.signals[name][rows]))])
        for name in ("mesh_yaw", "mesh_pitch")
        if name in marks.signals and np.isfinite(marks.signals[name][rows]).any()
    }
    one = Marks.empty(marks.ids, np.zeros(1))
    return replace(
        one, xy=place[None], sigma=sigma[None], drift=sigma[None].copy(), hidden=~seen[None],
        source=np.where(seen, FOLLOWED, NONE)[None].astype(np.int8), signals=signals,
    )  # fmt: skip


def plain(rest: Marks) -> dict[str, Any]:
    """One frame at rest for keeping: each landmark's place and standard deviation."""
    seen = np.flatnonzero(~rest.hidden[0])
    return {
        "points": {
            rest.ids[k]: [round(float(v), 3) for v in (*rest.xy[0, k], rest.sigma[0, k])]
            for k in seen
        },
        "signals": {name: round(float(values[0]), 3) for name, values in rest.signals.items()},
    }


def of_plain(kept: dict[str, Any], ids: tuple[str, ...]) -> Marks:
    """Back from ``plain``."""
    one = Marks.empty(ids, np.zeros(1))
    for name, (x, y, sigma) in kept["points"].items():
        if name in ids:
            column = one.column(name)
            one.xy[0, column], one.sigma[0, column], one.drift[0, column] = (x, y), sigma, sigma
            one.hidden[0, column], one.source[0, column] = False, FOLLOWED
    one.signals.update({name: np.array([value]) for name, value in kept["signals"].items()})
    return one


def with_rest(
    marks: Marks, phases: list[Phase], rest: Marks | None
) -> tuple[Marks, list[Phase]]:  # fmt: skip
    """A take without a rest of its own, followed by the borrowed one.

    rest  one frame, see ``rest_of``

    As it was where it has a rest of its own by now, where nothing is borrowed, or where the two
    don't fit.
    """
    if rest is None or any(phase.name == "rest" for phase in phases):
        return marks, phases
    wide = float(np.linalg.norm(rest.xy[0, rest.column("ch_l")] - rest.xy[0, rest.column("ch_r")]))
    row = _best_row(marks, rest)
    if row is None or not np.isfinite(wide):
        return marks, phases
    onto = _onto(marks, rest, row, wide)
    # As the head was held at rest: what turning moves is taken off with the turn.
    places = rest.xy[0] @ onto.turned.T + onto.shift
    scale = float(np.hypot(*onto.turned[0]))
    off = np.array([OFF_CORNERS if name in ("ch_r", "ch_l") else OFF for name in marks.ids])
    sigma = np.hypot(rest.sigma[0], off * wide) * scale
    times = marks.seconds[-1] + 1.0 + 0.1 * np.arange(ROWS)
    # Every change from rest is off by what the borrowed mark is off by as well.
    own = np.hypot(marks.sigma, np.nan_to_num(sigma))
    signals = {}
    for name in {*marks.signals, *rest.signals}:
        before = marks.signals.get(name, np.full(len(marks), np.nan))
        after = rest.signals.get(name, np.array([np.nan]))[0]
        signals[name] = np.append(before, np.full(ROWS, after))
    for k, name in enumerate(TURN):
        turned = marks.signals.get(name, np.zeros(len(marks)))
        signals[name] = np.append(turned, np.full(ROWS, turned[row] - onto.turn[k]))
    both = Marks(
        marks.ids,
        np.append(marks.frames, marks.frames[-1] + 1 + np.arange(ROWS)),
        np.append(marks.seconds, times),
        np.concatenate([marks.xy, np.tile(places, (ROWS, 1, 1))]),
        np.concatenate([own, np.tile(sigma, (ROWS, 1))]),
        np.concatenate([own, np.tile(sigma, (ROWS, 1))]),
        np.concatenate([marks.source, np.tile(rest.source, (ROWS, 1))]),
        np.concatenate([marks.hidden, np.tile(rest.hidden, (ROWS, 1))]),
        signals,
    )
    return both, [*phases, Phase("rest", float(times[0]), float(times[-1]))]


def _bone(marks: Marks, rest: Marks) -> list[str]:
    return [name for name in BONE if name in marks.ids and not rest.hidden[0, rest.column(name)]]


def _shown(marks: Marks, names: list[str]) -> Bools:
    columns = [marks.column(name) for name in names]
    return np.asarray(~marks.hidden[:, columns] & np.isfinite(marks.xy[:, columns, 0]))


def _best_row(marks: Marks, rest: Marks) -> int | None:
    """The frame that shows most of the bone, turned least."""
    shown = _shown(marks, _bone(marks, rest)).sum(axis=1)
    if not len(shown) or shown.max() < LEAST_BONE:
        return None
    turned = [np.nan_to_num(marks.signals.get(n, np.zeros(len(marks)))) for n in TURN]
    return int(np.argmax(shown - np.hypot(*turned)))


def _onto(marks: Marks, rest: Marks, row: int, wide: float) -> Solid:
    """The movement from the rest face to one frame."""
    names = [n for n in _bone(marks, rest) if _shown(marks, [n])[row, 0]]
    there = np.array([marks.xy[row, marks.column(name)] for name in names])
    here = np.array([rest.xy[0, rest.column(name)] for name in names])
    weight = np.array([BONE[name] for name in names])
    return solid_fit(here, there, depths(tuple(names)) * wide, weight, OFF * wide / LIKELY_TURN)
