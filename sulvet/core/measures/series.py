"""Every measure along time, compared with rest, in its unit, with its uncertainty."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy import profile as side_face
from sulvet.core.anatomy.frame import ANCHOR_WEIGHTS, RestFace, carry_hidden, rest_face, similarity
from sulvet.core.anatomy.landmarks import IRIS_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView, side_view
from sulvet.core.anatomy.scale import Scale, Scales, from_length, iris_scale, sizes
from sulvet.core.measures import beak, posture
from sulvet.core.measures.corners import CARRIED_SIGMA
from sulvet.core.measures.placement import RIM, rim_ellipse
from sulvet.core.measures.table import Measure, measures, model
from sulvet.core.measures.view import FaceView

#: Uncertainty is worked out on so many frames; they stand for their neighbours, since
#: marks of one track are as sure on one frame as on the next.
SAMPLES = 12
STEP = 0.05
#: A mark that moves the whole face frame, not only itself.
FRONT_FRAME = frozenset({*ANCHOR_WEIGHTS, "sn"})
SIDE_FRAME = frozenset({*side_face.ANCHORS, "pg"})


AnyView = FaceView | SideView


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
    """All series of a take, the face they are compared with, and the head's turn.

    view    the marks of a front take in the face frame, ``side`` those of a side take;
            None without a usable rest face
    scales  what turns pixels of the rest scale into millimetres
    yaw     (T,) estimated turn to the side, degrees; NaN where it can't be told
    """

    series: dict[str, Series]
    measures: dict[str, Measure]
    rest: RestFace | None
    yaw: Floats
    view: FaceView | None
    side: SideView | None = None
    scales: Scales = field(default_factory=Scales)


@dataclass(frozen=True)
class TakeContext:
    """What is known of a take beside its marks.

    view, instrument  which measures there are, and which sizes are known
    known_mm          how long the teacher says ``kl_a`` to ``kl_b`` is, mm
    """

    view: str = "front"
    instrument: str = ""
    known_mm: float | None = None


def measure(marks: Marks, at_rest: Bools, facts: TakeContext | None = None) -> Measured:
    """Measure a take.

    at_rest  (T,) which frames belong to the phase ``rest``

    Without a usable rest face every series is NaN.
    """
    facts = facts or TakeContext()
    table = measures(facts.view, facts.instrument)
    lens = _Side(marks, at_rest) if facts.view == "side" else _Front(marks, at_rest)
    if lens.view is None:
        return _nothing(marks, table)
    scales = Scales(tuple(lens.scales(facts)))
    possible = tuple(m for m in table if _has_marks(lens.marks, m))
    values = _values(lens, possible, scales, lens.view, lens.base())
    spread = _spread(lens, possible, scales)
    series = {}
    for m in table:
        if m.id not in values or (m.told in ("mm", "mm2") and scales.at(m.plane) is None):
            series[m.id] = _blank(m, marks)
            continue
        value, sigma = values[m.id], spread[m.id]
        for name in m.must_see:
            value = np.where(marks.hidden[:, marks.column(name)], np.nan, value)
        series[m.id] = Series(m.id, m.unit, value, np.where(np.isnan(value), np.nan, sigma))
    series |= _signals(marks, at_rest, facts.view)
    yaw = lens.yaw()
    if "head_yaw" in series:
        # The mesh tells the turn at rest better than a nose does.
        series["head_yaw"] = replace(series["head_yaw"], value=yaw)
    return Measured(series, {m.id: m for m in table}, lens.rest, yaw, lens.front, lens.side, scales)


def _nothing(marks: Marks, table: tuple[Measure, ...]) -> Measured:
    nothing = np.full(len(marks), np.nan)
    blank = {m.id: _blank(m, marks) for m in table}
    return Measured(blank, {m.id: m for m in table}, None, nothing, None)


def _blank(m: Measure, marks: Marks) -> Series:
    nothing = np.full(len(marks), np.nan)
    return Series(m.id, m.unit, nothing, nothing)


def _signals(marks: Marks, at_rest: Bools, view: str) -> dict[str, Series]:
    """What was read off the picture itself, over rest."""
    if view != "front":
        return {}
    texture = marks.signals.get("chin_texture", np.full(len(marks), np.nan))
    resting = texture[at_rest & np.isfinite(texture)]
    base = float(np.median(resting)) if len(resting) > 1 else float("nan")
    value = texture / base if base > 0 else np.full(len(marks), np.nan)
    # What one and the same skin at rest differs by from frame to frame, and the floor.
    noise = float(np.std(resting) / base) if len(resting) > 2 and base > 0 else 0.0
    sigma = np.hypot(noise, _extra("chin_texture", value - 1.0))
    return {"chin_texture": Series("chin_texture", "ratio", value, sigma)}


def _has_marks(marks: Marks, m: Measure) -> bool:
    return all(
        name in marks.ids and bool(np.isfinite(marks.xy[:, marks.column(name), 0]).any())
        for name in m.must_see
    )


class _FaceFrame:
    """Marks seen in a face frame, and how that frame answers to a mark that is moved."""

    marks: Marks
    view: FaceView | SideView | None = None
    rest: RestFace | None = None
    front: FaceView | None = None
    side: SideView | None = None
    frame: frozenset[str] = frozenset()

    def __init__(self, marks: Marks, at_rest: Bools) -> None:
        self.marks, self.at_rest = marks, at_rest

    def base(self) -> FaceView | SideView:
        assert self.view is not None
        return self.view.at_rest()

    def yaw(self) -> Floats:
        return np.full(len(self.marks), np.nan)

    def scales(self, facts: TakeContext) -> list[Scale]:
        raise NotImplementedError

    def some(self, rows: NDArray[np.int64]) -> _FaceFrame:
        raise NotImplementedError

    def nudged(self, column: int, axis: int) -> AnyView:
        """The view with one mark moved by ``STEP`` on the frames alone."""
        if self.marks.ids[column] in self.frame:
            return self.rebuilt(column, axis)[0]
        assert self.view is not None
        face = self.view.face.copy()
        face[:, column] += STEP * self.step(axis)[0]
        return replace(self.view, face=face, memo={})

    def nudged_with_rest(self, column: int, axis: int) -> tuple[AnyView, AnyView]:
        """The view with one mark moved on the frames and at rest, and its rest view."""
        view = self.nudged(column, axis)
        if self.marks.ids[column] in self.frame:
            rest = self.rebuilt(column, axis)[1]
        else:
            points = self.rest_points().copy()
            points[column] += STEP * self.step(axis)[1]
            rest = points
        both = self.resting(view, rest)
        return both, both.at_rest()

    def rest_points(self) -> Floats:
        """(L, 2) the rest face."""
        raise NotImplementedError

    def resting(self, view: AnyView, points: Floats) -> AnyView:
        """A view compared with another rest face."""
        raise NotImplementedError

    def rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        """The view with a mark moved that carries the face frame, and the rest face so moved."""
        raise NotImplementedError

    def step(self, axis: int) -> tuple[Floats, Floats]:
        """(T, 2) and (2,): how a step of one pixel in the picture shows in the face frame
        on each frame, and in the rest face."""
        raise NotImplementedError

    def unit(self) -> float:
        """The length that ``MW`` or ``%`` mean, pixels of the rest scale."""
        raise NotImplementedError

    def _moved(self, column: int, axis: int) -> Marks:
        xy = self.marks.xy.copy()
        xy[:, column, axis] += STEP
        return self.marks.moved(xy)

    def _known(self, facts: TakeContext, apart: Floats, sigma: float, plane: str) -> list[Scale]:
        if facts.known_mm is None:
            return []
        scale = from_length(apart, facts.known_mm, 0.01 * facts.known_mm, sigma, "known", plane)
        return [scale] if scale else []

    def _px_sigma(self, names: tuple[str, ...]) -> float:
        """Standard deviation of a distance between two marks, pixels."""
        columns = [self.marks.column(name) for name in names if name in self.marks.ids]
        sigma = self.marks.sigma[:, columns]
        seen = np.isfinite(sigma) & ~self.marks.hidden[:, columns]
        return float(np.sqrt(2) * np.median(sigma[seen])) if seen.any() else 1.0


class _Front(_FaceFrame):
    frame = FRONT_FRAME
    plain: RestFace | None = None

    def __init__(self, marks: Marks, at_rest: Bools) -> None:
        super().__init__(marks, at_rest)
        rest = rest_face(marks, at_rest)
        corners = [marks.column("ch_r"), marks.column("ch_l")]
        if rest is None or not rest.tells_roll or np.isnan(rest.points[corners]).any():
            return
        self._with(rest)

    def _with(self, rest: RestFace) -> None:
        self.rest = rest
        self.marks = carry_hidden(self.marks, rest, CARRIED_SIGMA)
        self.view = self.front = FaceView.of(self.marks, rest)

    def yaw(self) -> Floats:
        """As the mesh saw it at rest, and how it changed since; by the nose alone without mesh."""
        assert self.front is not None
        by_nose = posture.yaw(self.front)
        seen = self.marks.signals.get("mesh_yaw", np.full(len(by_nose), np.nan))[self.at_rest]
        if not np.isfinite(seen).any():
            return by_nose
        return np.asarray(np.nanmedian(seen) + by_nose - np.nanmedian(by_nose[self.at_rest]))

    def unit(self) -> float:
        assert self.front is not None
        return self.front.rest_mouth_width

    def scales(self, facts: TakeContext) -> list[Scale]:
        assert self.front is not None
        view, table = self.front, sizes()
        found: list[Scale | None] = []

        def apart(one: str, other: str) -> Floats:
            gap = np.asarray(np.linalg.norm(view.point(one) - view.point(other), axis=1))
            hidden = view.is_covered(one) | view.is_covered(other)
            return np.where(hidden, np.nan, gap)

        found += self._known(facts, apart("kl_a", "kl_b"), self._px_sigma(("kl_a", "kl_b")), "lips")
        kind = facts.instrument
        if kind in table["rim"]:
            wide = 2 * rim_ellipse(view)[:, 2]
            wide[view.is_covered(RIM[0])] = np.nan
            size = table["rim"][kind]
            # Five marks on a circle tell its width about as well as two across.
            found.append(
                from_length(wide, size["mm"], size["sigma"], self._px_sigma(RIM), "rim", "rim")
            )
        for thing, ends, plane in (
            ("mouthpiece", ("mp_r", "mp_l"), "lips"),
            ("hole", ("hole_r", "hole_l"), "hole"),
        ):
            if kind in table[thing]:
                size = table[thing][kind]
                sigma = self._px_sigma(ends)
                found.append(
                    from_length(apart(*ends), size["mm"], size["sigma"], sigma, thing, plane)
                )
        resting = self.base()
        irises = {n: resting.point(n)[0] for n in IRIS_IDS if np.isfinite(resting.point(n)).all()}
        if irises:
            found.append(iris_scale(irises, self._px_sigma(IRIS_IDS) / np.sqrt(2)))
        return [scale for scale in found if scale is not None]

    def some(self, rows: NDArray[np.int64]) -> _FaceFrame:
        part = _Front.__new__(_Front)
        _FaceFrame.__init__(part, self.marks.rows(rows), self.at_rest[rows])
        assert self.rest is not None
        part._with(self.rest)
        return part

    def rest_points(self) -> Floats:
        assert self.rest is not None
        return self.rest.points

    def resting(self, view: AnyView, points: Floats) -> AnyView:
        assert isinstance(view, FaceView)
        return replace(view, rest=replace(view.rest, points=points), memo={})

    def rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        assert self.rest is not None and self.front is not None
        nudged = self._moved(column, axis)
        view = replace(FaceView.of(nudged, self.rest), covered=self.front.covered)
        points = self.rest.points
        if self.plain is None:
            self.plain = rest_face(self.marks, self.at_rest)
        moved = rest_face(nudged, self.at_rest)
        if self.plain is not None and moved is not None:
            # The rest face is that of the whole take; these few frames tell how it answers.
            points = points + moved.points - self.plain.points
        return view, points

    def step(self, axis: int) -> tuple[Floats, Floats]:
        assert self.rest is not None
        weights = np.array([ANCHOR_WEIGHTS.get(name, 0.0) for name in self.marks.ids])
        weights = np.where(self.marks.hidden, 0.0, weights)
        a, b, _ = similarity(self.marks.xy, self.rest.points, weights)
        here = np.stack([a, b] if axis == 0 else [-b, a], axis=-1)
        turn = -np.radians(self.rest.axis_angle)
        cos, sin = np.cos(turn), np.sin(turn)
        return here, np.array([cos, sin] if axis == 0 else [-sin, cos])


class _Side(_FaceFrame):
    frame = SIDE_FRAME
    plain: SideView | None = None

    def __init__(self, marks: Marks, at_rest: Bools) -> None:
        super().__init__(marks, at_rest)
        self.view = self.side = side_view(marks, at_rest)

    def unit(self) -> float:
        assert self.side is not None
        return self.side.unit

    def scales(self, facts: TakeContext) -> list[Scale]:
        assert self.side is not None
        view, table = self.side, sizes()
        found: list[Scale | None] = []

        def seen(length: Floats, name: str) -> Floats:
            hidden = self.marks.hidden[:, self.marks.column(name)]
            return np.where(hidden, np.nan, length)

        ends = view.point("kl_a") - view.point("kl_b")
        apart = seen(np.asarray(np.linalg.norm(ends, axis=1)), "kl_a")
        found += self._known(facts, apart, self._px_sigma(("kl_a", "kl_b")), "profile")
        for kinds, names, length, key in (
            (table["beak"], ("ax_a", "ax_b"), beak.axis_length, "axis"),
            (table["rim"], ("rs_top", "rs_low"), beak.rim_height, "mm"),
        ):
            if facts.instrument in kinds:
                size = kinds[facts.instrument]
                sigma = size["sigma"] if key == "mm" else 0.3
                pixels = seen(length(view), names[0])
                found.append(
                    from_length(
                        pixels, size[key], sigma, self._px_sigma(names), names[0], "profile"
                    )
                )
        return [scale for scale in found if scale is not None]

    def some(self, rows: NDArray[np.int64]) -> _FaceFrame:
        assert self.side is not None
        part = _Side.__new__(_Side)
        _FaceFrame.__init__(part, self.marks.rows(rows), self.at_rest[rows])
        part.view = part.side = self.side.frames(rows)
        return part

    def rest_points(self) -> Floats:
        assert self.side is not None
        return self.side.rest

    def resting(self, view: AnyView, points: Floats) -> AnyView:
        assert isinstance(view, SideView)
        return replace(view, rest=points, memo={})

    def rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        assert self.side is not None
        if self.plain is None:
            self.plain = side_view(self.marks, self.at_rest)
        nudged = side_view(self._moved(column, axis), self.at_rest)
        if nudged is None or self.plain is None:
            return self.side, self.side.rest
        # The rest profile is that of the whole take; these few frames tell how it answers.
        face = self.side.face + nudged.face - self.plain.face
        turn = self.side.turn + nudged.turn - self.plain.turn
        view = replace(self.side, face=face, turn=turn, memo={})
        return view, self.side.rest + nudged.rest - self.plain.rest

    def step(self, axis: int) -> tuple[Floats, Floats]:
        assert self.side is not None
        turn = np.radians(self.side.turn)
        cos, sin = np.cos(turn), np.sin(turn)
        # The frame mirrors where the student looks left; the take's zoom hardly changes.
        flat = self.side.turned[:, axis]
        here = np.stack([cos * flat[0] - sin * flat[1], sin * flat[0] + cos * flat[1]], axis=-1)
        return here, np.asarray(flat)


def _values(
    lens: _FaceFrame, table: tuple[Measure, ...], scales: Scales, view: object, base: object
) -> dict[str, Floats]:
    """Each measure on each frame of ``view``, against ``base``, in its unit."""
    done: dict[Callable[..., Floats], tuple[Floats, Floats]] = {}
    out = {}
    for m in table:
        if m.value not in done:
            done[m.value] = m.value(view), m.value(base)
        value, resting = done[m.value]
        if m.against == "difference":
            value = value - resting
        elif m.against == "ratio":
            with np.errstate(divide="ignore", invalid="ignore"):
                value = value / resting
        out[m.id] = _told(lens, m, value, scales)
    return out


def _told(lens: _FaceFrame, m: Measure, value: Floats, scales: Scales) -> Floats:
    """A value in pixels of the rest scale in the unit it is told in."""
    if m.told == "MW":
        return value / lens.unit()
    if m.told == "%":
        return value / lens.unit() * 100
    if m.told in ("mm", "mm2"):
        scale = scales.at(m.plane)
        factor = np.nan if scale is None else scale.mm_per_px ** (2 if m.told == "mm2" else 1)
        value = value * factor
        return value if m.known is None else m.known[0] - value
    return value


def _rows(lens: _FaceFrame) -> NDArray[np.int64]:
    count = len(lens.marks)
    rows = np.linspace(0, count - 1, min(SAMPLES, count)).astype(int)
    resting = np.flatnonzero(lens.at_rest)
    return np.asarray(
        np.unique(np.concatenate([rows, resting[:: max(1, len(resting) // 6)]])), dtype=np.int64
    )


def _spread(lens: _FaceFrame, table: tuple[Measure, ...], scales: Scales) -> dict[str, Floats]:
    """Standard deviation of every measure, carried through numerically, first order.

    The error that a mark shares with its rest keyframe moves rest and frame
    together; the drift moves the frame alone. What is counted is not propagated.
    """
    rows = _rows(lens)
    part = lens.some(rows)
    marks, view = part.marks, part.view
    assert view is not None
    base = lens.base()
    smooth = tuple(m for m in table if m.unit != "count")
    plain = _values(lens, table, scales, view, base)
    variance = {m.id: np.zeros(len(rows)) for m in table}
    shared = np.sqrt(np.maximum(np.nan_to_num(marks.sigma**2 - marks.drift**2), 0.0))
    drift = np.nan_to_num(marks.drift)
    known = np.isfinite(marks.xy[..., 0]).any(axis=0)
    used = {name for m in smooth for name in m.uses} | lens.frame
    nudges = [
        (column, axis)
        for column, name in enumerate(marks.ids)
        if name in used and known[column]
        for axis in (0, 1)
    ]
    # On the frames alone: all nudges side by side, as one long take with one rest face.
    alone = [n for n in nudges if drift[:, n[0]].any()]
    views = [part.nudged(column, axis) for column, axis in alone]
    if views:
        stacked = _values(lens, smooth, scales, _stack(view, views), base)
        for key, values in stacked.items():
            slopes = np.nan_to_num((values.reshape(len(alone), -1) - plain[key]) / STEP)
            weights = np.array([drift[:, column] for column, _ in alone])
            variance[key] += ((slopes * weights) ** 2).sum(axis=0)
    # Together with the rest face. What carries the face frame carries both alike, so only
    # what is not compared with rest can change.
    for column, axis in nudges:
        name = marks.ids[column]
        if not shared[:, column].any():
            continue
        if name in lens.frame:
            touched = tuple(m for m in smooth if m.against == "nothing" or name in m.uses)
        else:
            touched = tuple(m for m in smooth if name in m.uses)
        seen, resting = part.nudged_with_rest(column, axis)
        for key, value in _values(lens, touched, scales, seen, resting).items():
            slope = np.nan_to_num((value - plain[key]) / STEP)
            variance[key] += (slope * shared[:, column]) ** 2
    for m in table:
        variance[m.id] += _beside_marks(m, plain[m.id], view, scales) ** 2
    every = np.arange(len(lens.marks))
    return {
        key: np.interp(every, rows, np.sqrt(np.nan_to_num(value)))
        for key, value in variance.items()
    }


def _stack(view: AnyView, views: list[AnyView]) -> AnyView:
    """Several views of the same frames and rest face as one, one after the other."""
    face = np.concatenate([v.face for v in views])
    if isinstance(view, FaceView):
        picture = np.concatenate([v.picture for v in views])
        covered = None if view.covered is None else np.tile(view.covered, (len(views), 1))
        return FaceView(view.ids, face, picture, view.rest, covered)
    turn = np.concatenate([v.turn for v in views if isinstance(v, SideView)])
    picture = np.tile(view.picture, (len(views), 1, 1))
    return replace(view, face=face, picture=picture, turn=turn, memo={})


def _beside_marks(m: Measure, value: Floats, view: FaceView | SideView, scales: Scales) -> Floats:
    """(T,) standard deviation from the scale, a known length, and what no mark accounts for."""
    parts = [_extra(m.id, value - (1.0 if m.against == "ratio" else 0.0))]
    if m.told in ("mm", "mm2"):
        scale = scales.at(m.plane)
        relative = 0.0 if scale is None else scale.relative * (2 if m.told == "mm2" else 1)
        measured = value if m.known is None else m.known[0] - value
        parts.append(relative * np.nan_to_num(np.abs(measured)))
    if m.known is not None:
        parts.append(np.full(len(value), m.known[1]))
    if m.more is not None:
        parts.append(np.nan_to_num(m.more(view)))
    return np.asarray(np.sqrt(sum(part**2 for part in parts)))


def _extra(name: str, change: Floats) -> Floats:
    """What the table of ``model.toml`` says of a measure at this much change."""
    row = model().get(name, {})
    return np.asarray(
        np.hypot(row.get("floor", 0.0), row.get("share", 0.0) * np.nan_to_num(np.abs(change)))
    )
