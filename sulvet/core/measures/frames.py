"""Marks seen in a face frame, and how that frame answers to a mark that is moved.

What a measure's uncertainty rests on: move one mark by a step, on the frames alone or on the
rest frame as well, and see how the measure changes.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy import profile as side_face
from sulvet.core.anatomy.frame import ANCHOR_WEIGHTS, RestFace, carry_hidden, rest_face, similarity
from sulvet.core.anatomy.landmarks import IRIS_IDS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.anatomy.profile import SideView, side_view
from sulvet.core.anatomy.scale import Scale, from_length, iris_scale, sizes
from sulvet.core.measures import beak, posture
from sulvet.core.measures.corners import CARRIED_SIGMA
from sulvet.core.measures.placement import RIM, rim_ellipse
from sulvet.core.measures.view import FaceView

#: How far a mark is moved to see how a measure answers, pixels.
STEP = 0.05
#: A mark that moves the whole face frame, not only itself.
FRONT_FRAME = frozenset({*ANCHOR_WEIGHTS, "sn"})
SIDE_FRAME = frozenset({*side_face.ANCHORS, "pg"})
AnyView = FaceView | SideView


@dataclass(frozen=True)
class TakeContext:
    """What is known of a take beside its marks.

    view, instrument  which measures there are, and which sizes are known
    known_mm          how long the teacher says ``kl_a`` to ``kl_b`` is, mm
    """

    view: str = "front"
    instrument: str = ""
    known_mm: float | None = None


class FaceFrame:
    """Marks seen in a face frame, and how that frame answers to a mark that is moved."""

    marks: Marks
    view: FaceView | SideView | None = None
    rest: RestFace | None = None
    front: FaceView | None = None
    side: SideView | None = None
    frame: frozenset[str] = frozenset()

    def __init__(self, marks: Marks, at_rest: Bools) -> None:
        self.marks, self.at_rest = marks, at_rest
        self._remade: dict[tuple[int, int], tuple[AnyView, Floats]] = {}
        self._steps: dict[int, tuple[Floats, Floats]] = {}

    def base(self) -> FaceView | SideView:
        """The view of the rest face itself."""
        assert self.view is not None
        return self.view.at_rest()

    def yaw(self) -> Floats:
        """(T,) the head's turn to the side, degrees; NaN where it can't be told."""
        return np.full(len(self.marks), np.nan)

    def scales(self, context: TakeContext) -> list[Scale]:
        """What millimetres can be taken from."""
        raise NotImplementedError

    def some(self, rows: NDArray[np.int64]) -> FaceFrame:
        """The same for some frames, with the rest face of the whole take."""
        raise NotImplementedError

    def nudged(self, column: int, axis: int) -> AnyView:
        """The view with one mark moved by ``STEP`` on the frames alone."""
        if self.marks.ids[column] in self.frame:
            return self._once_rebuilt(column, axis)[0]
        assert self.view is not None
        face = self.view.face.copy()
        face[:, column] += STEP * self._once_stepped(axis)[0]
        return replace(self.view, face=face, memo={})

    def nudged_with_rest(self, column: int, axis: int) -> tuple[AnyView, AnyView]:
        """The view with one mark moved on the frames and at rest, and its rest view."""
        view = self.nudged(column, axis)
        if self.marks.ids[column] in self.frame:
            rest = self._once_rebuilt(column, axis)[1]
        else:
            points = self.rest_points().copy()
            points[column] += STEP * self._once_stepped(axis)[1]
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

    def _once_rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        """``rebuilt``, worked out once."""
        if (column, axis) not in self._remade:
            self._remade[column, axis] = self.rebuilt(column, axis)
        return self._remade[column, axis]

    def _once_stepped(self, axis: int) -> tuple[Floats, Floats]:
        """``step``, worked out once."""
        if axis not in self._steps:
            self._steps[axis] = self.step(axis)
        return self._steps[axis]

    def unit(self) -> float:
        """The length that ``MW`` or ``%`` mean, pixels of the rest scale."""
        raise NotImplementedError

    def _moved(self, column: int, axis: int) -> Marks:
        xy = self.marks.xy.copy()
        xy[:, column, axis] += STEP
        return self.marks.moved(xy)

    def _known(self, context: TakeContext, apart: Floats, sigma: float, plane: str) -> list[Scale]:
        if context.known_mm is None:
            return []
        scale = from_length(apart, context.known_mm, 0.01 * context.known_mm, sigma, "known", plane)
        return [scale] if scale else []

    def _px_sigma(self, names: tuple[str, ...]) -> float:
        """Standard deviation of a distance between two marks, pixels."""
        columns = [self.marks.column(name) for name in names if name in self.marks.ids]
        sigma = self.marks.sigma[:, columns]
        seen = np.isfinite(sigma) & ~self.marks.hidden[:, columns]
        return float(np.sqrt(2) * np.median(sigma[seen])) if seen.any() else 1.0


class FrontFrame(FaceFrame):
    """A front view: hung on eye corners and nose wings."""

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
        if self.rest is not None and "turn_x" in self.marks.signals:
            # What the nose shows was taken off with the turn that all features tell.
            turned = posture.TURN_SHARE * (self.marks.signals["turn_x"] - self.rest.turn[0])
            by_nose = by_nose + np.degrees(np.arcsin(np.clip(turned, -1, 1)))
        resting = by_nose[self.at_rest]
        if not np.isfinite(seen).any() or not np.isfinite(resting).any():
            return by_nose
        return np.asarray(np.nanmedian(seen) + by_nose - np.nanmedian(resting))

    def unit(self) -> float:
        """The length that ``MW`` or ``%`` mean, pixels of the rest scale."""
        assert self.front is not None
        return self.front.rest_mouth_width

    def scales(self, context: TakeContext) -> list[Scale]:
        """What millimetres can be taken from."""
        assert self.front is not None
        view, table = self.front, sizes()
        found: list[Scale | None] = []

        def apart(one: str, other: str) -> Floats:
            gap = np.asarray(np.linalg.norm(view.point(one) - view.point(other), axis=1))
            hidden = view.is_covered(one) | view.is_covered(other)
            return np.where(hidden, np.nan, gap)

        found += self._known(
            context, apart("kl_a", "kl_b"), self._px_sigma(("kl_a", "kl_b")), "lips"
        )
        kind = context.instrument
        if kind in table["rim"]:
            wide = 2 * rim_ellipse(view)[:, 2]
            wide[view.is_covered(RIM[0])] = np.nan
            size = table["rim"][kind]
            # Five marks on a circle tell its width about as well as two across.
            found.append(
                from_length(wide, size["mm"], size["sigma"], self._px_sigma(RIM), "rim", "rim")
            )
        for equipment, ends, plane in (
            ("mouthpiece", ("mp_r", "mp_l"), "lips"),
            ("hole", ("hole_r", "hole_l"), "hole"),
        ):
            if kind in table[equipment]:
                size = table[equipment][kind]
                sigma = self._px_sigma(ends)
                found.append(
                    from_length(apart(*ends), size["mm"], size["sigma"], sigma, equipment, plane)
                )
        resting = self.base()
        irises = {n: resting.point(n)[0] for n in IRIS_IDS if np.isfinite(resting.point(n)).all()}
        if irises:
            found.append(iris_scale(irises, self._px_sigma(IRIS_IDS) / np.sqrt(2)))
        return [scale for scale in found if scale is not None]

    def some(self, rows: NDArray[np.int64]) -> FaceFrame:
        """The same for some frames, with the rest face of the whole take."""
        part = FrontFrame.__new__(FrontFrame)
        FaceFrame.__init__(part, self.marks.rows(rows), self.at_rest[rows])
        assert self.rest is not None
        part._with(self.rest)
        return part

    def rest_points(self) -> Floats:
        """(L, 2) the rest face, face frame."""
        assert self.rest is not None
        return self.rest.points

    def resting(self, view: AnyView, points: Floats) -> AnyView:
        """A view compared with another rest face."""
        assert isinstance(view, FaceView)
        return replace(view, rest=replace(view.rest, points=points), memo={})

    def rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        """The view and the rest face, both made anew with one mark moved by ``STEP``."""
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
        """What a step of one pixel in the picture shows in the face frame
        on each frame, and in the rest face."""
        assert self.rest is not None
        weights = np.array([ANCHOR_WEIGHTS.get(name, 0.0) for name in self.marks.ids])
        weights = np.where(self.marks.hidden, 0.0, weights)
        a, b, _ = similarity(self.marks.xy, self.rest.points, weights)
        here = np.stack([a, b] if axis == 0 else [-b, a], axis=-1)
        turn = -np.radians(self.rest.axis_angle)
        cos, sin = np.cos(turn), np.sin(turn)
        return here, np.array([cos, sin] if axis == 0 else [-sin, cos])


class SideFrame(FaceFrame):
    """A profile: hung on nose root and nose tip."""

    frame = SIDE_FRAME
    plain: SideView | None = None

    def __init__(self, marks: Marks, at_rest: Bools) -> None:
        super().__init__(marks, at_rest)
        self.view = self.side = side_view(marks, at_rest)

    def unit(self) -> float:
        """The length that ``MW`` or ``%`` mean, pixels of the rest scale."""
        assert self.side is not None
        return self.side.unit

    def scales(self, context: TakeContext) -> list[Scale]:
        """What millimetres can be taken from."""
        assert self.side is not None
        view, table = self.side, sizes()
        found: list[Scale | None] = []

        def seen(length: Floats, name: str) -> Floats:
            hidden = self.marks.hidden[:, self.marks.column(name)]
            return np.where(hidden, np.nan, length)

        ends = view.point("kl_a") - view.point("kl_b")
        apart = seen(np.asarray(np.linalg.norm(ends, axis=1)), "kl_a")
        found += self._known(context, apart, self._px_sigma(("kl_a", "kl_b")), "profile")
        for kinds, names, length, key, sigma in (
            (table["beak"], ("ax_a", "ax_b"), beak.axis_length, "axis", "axis_sigma"),
            (table["rim"], ("rs_top", "rs_low"), beak.rim_height, "mm", "sigma"),
        ):
            if context.instrument in kinds:
                size = kinds[context.instrument]
                pixels = seen(length(view), names[0])
                found.append(
                    from_length(
                        pixels,
                        size[key],
                        size[sigma],
                        self._px_sigma(names),
                        names[0],
                        "profile",
                    )
                )
        return [scale for scale in found if scale is not None]

    def some(self, rows: NDArray[np.int64]) -> FaceFrame:
        """The same for some frames, with the rest face of the whole take."""
        assert self.side is not None
        part = SideFrame.__new__(SideFrame)
        FaceFrame.__init__(part, self.marks.rows(rows), self.at_rest[rows])
        part.view = part.side = self.side.frames(rows)
        return part

    def rest_points(self) -> Floats:
        """(L, 2) the rest face, face frame."""
        assert self.side is not None
        return self.side.rest

    def resting(self, view: AnyView, points: Floats) -> AnyView:
        """A view compared with another rest face."""
        assert isinstance(view, SideView)
        return replace(view, rest=points, memo={})

    def rebuilt(self, column: int, axis: int) -> tuple[AnyView, Floats]:
        """The view and the rest face, both made anew with one mark moved by ``STEP``."""
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
        """What a step of one pixel in the picture shows in the face frame
        on each frame, and in the rest face."""
        assert self.side is not None
        turn = np.radians(self.side.turn)
        cos, sin = np.cos(turn), np.sin(turn)
        # The frame mirrors where the student looks left; the take's zoom hardly changes.
        flat = self.side.turned[:, axis]
        here = np.stack([cos * flat[0] - sin * flat[1], sin * flat[0] + cos * flat[1]], axis=-1)
        return here, np.asarray(flat)
