"""Every measure along time, as change from rest, with its uncertainty."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from sulvet.core.anatomy.frame import ANCHOR_WEIGHTS, RestFace, carry_hidden, rest_face
from sulvet.core.anatomy.landmarks import BY_ID
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.measures import corners, placement, posture
from sulvet.core.measures.view import FaceView

#: Standard deviation of a hidden point carried with the head, share of MW.
CARRIED_SIGMA = 0.015


@dataclass(frozen=True)
class Measure:
    """One thing measured on every frame.

    against_rest  how it is compared with the rest face: ``difference``,
                  ``ratio``, or ``nothing`` (an absolute value)
    needs         landmarks that must be visible; hidden ones make "can't tell"
    carried       landmarks that go into it too, from their rest place when hidden
    more          standard deviation that no mark's own accounts for
    """

    id: str
    unit: str
    against_rest: Literal["difference", "ratio", "nothing"]
    value: Callable[[FaceView], Floats]
    needs: tuple[str, ...]
    carried: tuple[str, ...] = ("ls", "li")
    more: Callable[[FaceView], Floats] | None = None

    @property
    def thing(self) -> str:
        """What has to be held to the mouth for it, or an empty string."""
        return next((BY_ID[name].thing for name in self.needs if BY_ID[name].thing), "")


MEASURES: tuple[Measure, ...] = (
    Measure("corner_rise", "deg", "difference", corners.corner_rise, ("ch_r", "ch_l")),
    Measure("corner_rise_r", "deg", "difference", corners.corner_rise_r, ("ch_r",)),
    Measure("corner_rise_l", "deg", "difference", corners.corner_rise_l, ("ch_l",)),
    Measure("corner_asymmetry", "deg", "difference", corners.corner_asymmetry, ("ch_r", "ch_l")),
    Measure("mouth_width", "ratio", "ratio", corners.mouth_width, ("ch_r", "ch_l")),
    Measure("head_roll", "deg", "nothing", posture.head_roll, ()),
    Measure(
        "rim_upper_share", "share", "nothing", placement.rim_upper_share, placement.RIM,
        ("sto_s", "sto_i"), placement.rim_upper_share_carried,
    ),
    Measure("rim_offset", "MW", "nothing", placement.rim_offset, placement.RIM, ("sn",)),
    Measure("rim_below_lip", "MW", "nothing", placement.rim_below_lip, placement.RIM, ("li",)),
    Measure(
        "mouthpiece_offset", "MW", "nothing", placement.mouthpiece_offset, ("mp_r", "mp_l"), ("sn",)
    ),
    Measure("plate_tilt", "deg", "nothing", placement.plate_tilt, ("pl_r", "pl_l"), ()),
    Measure(
        "hole_to_lip", "MW", "nothing", placement.hole_to_lip,
        ("hole_r", "hole_l", "hole_far"), ("li",),
    ),
    Measure(
        "hole_cover", "share", "nothing", placement.hole_cover,
        ("hole_r", "hole_l", "hole_far"), ("li",),
    ),
)  # fmt: skip


@dataclass(frozen=True)
class Series:
    """One measure along time.

    value  (T,) in the measure's unit; NaN where it can't be told
    sigma  (T,) standard deviation, same unit
    """

    measure: str
    unit: str
    value: Floats
    sigma: Floats


@dataclass(frozen=True)
class Measured:
    """All series of a take, the face they are compared with, and the head's turn."""

    series: dict[str, Series]
    rest: RestFace | None
    yaw: Floats
    view: FaceView | None


def _possible(marks: Marks) -> tuple[Measure, ...]:
    """The measures for which there are marks at all: most takes have no rim and no plate."""

    def known(name: str) -> bool:
        return name in marks.ids and bool(np.isfinite(marks.xy[:, marks.column(name), 0]).any())

    return tuple(m for m in MEASURES if not m.thing or all(known(name) for name in m.needs))


def _values(marks: Marks, rest: RestFace, measures: tuple[Measure, ...]) -> dict[str, Floats]:
    view = FaceView.of(marks, rest)
    base = view.at_rest()
    out: dict[str, Floats] = {}
    for measure in measures:
        value = measure.value(view)
        if measure.against_rest == "difference":
            value = value - measure.value(base)
        elif measure.against_rest == "ratio":
            value = value / measure.value(base)
        out[measure.id] = value
    return out


def _spread(
    marks: Marks,
    at_rest: Bools,
    rest: RestFace,
    values: dict[str, Floats],
    measures: tuple[Measure, ...],
) -> dict[str, Floats]:
    """Standard deviation of every measure, carried through numerically.

    The error that a mark shares with its rest keyframe moves rest and frame
    together; the drift moves the frame alone. First order in both.
    """
    step = 0.01
    shared = np.sqrt(np.maximum(np.nan_to_num(marks.sigma**2 - marks.drift**2), 0.0))
    drift = np.nan_to_num(marks.drift)
    variance = {name: np.zeros(len(marks)) for name in values}
    matter = {*ANCHOR_WEIGHTS, *(n for m in measures for n in (*m.needs, *m.carried))}
    for column, name_of in enumerate(marks.ids):
        if name_of not in matter or not np.isfinite(marks.xy[:, column, 0]).any():
            continue
        for axis in (0, 1):
            xy = marks.xy.copy()
            xy[:, column, axis] += step
            nudged = marks.moved(xy)
            together = rest_face(nudged, at_rest)
            if together is None:
                continue
            for spread, face in ((shared, together), (drift, rest)):
                if not spread[:, column].any():
                    continue
                for name, value in _values(nudged, face, measures).items():
                    slope = np.nan_to_num((value - values[name]) / step)
                    variance[name] += (slope * spread[:, column]) ** 2
    return {name: np.sqrt(value) for name, value in variance.items()}


def measure(marks: Marks, at_rest: Bools) -> Measured:
    """Measure a take.

    at_rest  (T,) which frames belong to the phase ``rest``

    Without a usable rest face every series that is a change from rest is NaN.
    """
    nothing = np.full(len(marks), np.nan)
    rest = rest_face(marks, at_rest)
    if rest is None or not rest.tells_roll or np.isnan(rest.points[_corner_columns(marks)]).any():
        empty = {m.id: Series(m.id, m.unit, nothing, nothing) for m in MEASURES}
        return Measured(empty, None, nothing, None)
    marks = carry_hidden(marks, rest, CARRIED_SIGMA)
    measures = _possible(marks)
    values = _values(marks, rest, measures)
    spread = _spread(marks, at_rest, rest, values, measures)
    series = {}
    view = FaceView.of(marks, rest)
    for m in MEASURES:
        if m.id not in values:
            series[m.id] = Series(m.id, m.unit, nothing, nothing)
            continue
        value = values[m.id].copy()
        sigma = spread[m.id]
        if m.more is not None:
            sigma = np.hypot(sigma, m.more(view))
        for name in m.needs:
            value[marks.hidden[:, marks.column(name)]] = np.nan
        series[m.id] = Series(m.id, m.unit, value, np.where(np.isnan(value), np.nan, sigma))
    return Measured(series, rest, posture.yaw(view), view)


def _corner_columns(marks: Marks) -> list[int]:
    return [marks.column("ch_r"), marks.column("ch_l")]
