"""The face frame: the picture with sway, roll and zoom of the head taken out.

The axis runs through the eye corners (outer, else inner), else the nose wings,
else the mouth corners; the origin is subnasale at rest. Each frame is brought
onto the rest face by the similarity that fits its anchors best. The origin is
*not* taken from subnasale frame by frame: a rim close under the nose drags
that mark, and the whole face with it.

A head is no flat card: when it turns or nods, what lies before the plane of the mouth's corners
moves one way and what lies behind it the other. Where the take knows how far the head has turned
(``turn_x``, ``turn_y``), each landmark is brought back by its depth.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from sulvet.core.anatomy.depth import depths
from sulvet.core.anatomy.landmarks import BY_ID, OPENING_ENDS
from sulvet.core.anatomy.marks import PLACED, Bools, Floats, Marks
from sulvet.core.anatomy.middle import middle

#: Weight of each anchor in the fit. Eye corners sit on bone; nose wings widen
#: a little with a smile, so they only help.
ANCHOR_WEIGHTS: dict[str, float] = {
    "ex_r": 1.0,
    "ex_l": 1.0,
    "en_r": 1.0,
    "en_l": 1.0,
    "al_r": 0.15,
    "al_l": 0.15,
}
AXIS_PAIRS: tuple[tuple[str, str], ...] = (
    ("ex_r", "ex_l"),
    ("en_r", "en_l"),
    ("al_r", "al_l"),
    ("ch_r", "ch_l"),
)


@dataclass(frozen=True)
class RestFace:
    """The student's own rest face in face coordinates.

    points      (L, 2) x toward the picture's right, y down, origin subnasale,
                pixels at the scale of the rest frames
    axis        ids of the pair that gave the horizontal
    axis_angle  angle of that pair in the picture at rest, degrees, positive
                when the head is turned clockwise as seen
    turn        (2,) how far the head was turned at rest, as ``turn_x`` and ``turn_y``
    """

    points: Floats
    axis: tuple[str, str]
    axis_angle: float
    turn: Floats = field(default_factory=lambda: np.zeros(2))

    @property
    def tells_roll(self) -> bool:
        """False when only the mouth itself gave the axis."""
        return self.axis[0] != "ch_r"


def similarity(source: Floats, target: Floats, weights: Floats) -> tuple[Floats, Floats, Floats]:
    """Weighted least-squares similarities that bring ``source`` onto ``target``.

    source   (T, N, 2)
    target   (N, 2) or (T, N, 2)
    weights  (T, N), zero for points not to be used

    Returns ``(a, b, shift)`` of shapes (T,), (T,), (T, 2): the map is
    ``x' = a x - b y + tx``, ``y' = b x + a y + ty``. Rows with fewer than two
    usable points are NaN. Closed form of the planar case of S. Umeyama,
    "Least-squares estimation of transformation parameters between two point
    patterns", IEEE PAMI 13 (1991).
    """
    target = np.broadcast_to(target, source.shape)
    usable = (weights > 0) & np.isfinite(source).all(-1) & np.isfinite(target).all(-1)
    w = np.where(usable, weights, 0.0)
    source = np.where(usable[..., None], source, 0.0)
    target = np.where(usable[..., None], target, 0.0)
    total = w.sum(-1)
    enough = usable.sum(-1) >= 2
    safe = np.where(enough, total, 1.0)
    mean_s = (w[..., None] * source).sum(-2) / safe[:, None]
    mean_t = (w[..., None] * target).sum(-2) / safe[:, None]
    s, t = source - mean_s[:, None], target - mean_t[:, None]
    spread = (w * (s**2).sum(-1)).sum(-1)
    enough &= spread > 1e-9
    spread = np.where(enough, spread, np.nan)
    a = (w * (s * t).sum(-1)).sum(-1) / spread
    b = (w * (s[..., 0] * t[..., 1] - s[..., 1] * t[..., 0])).sum(-1) / spread
    shift = mean_t - np.stack(
        [a * mean_s[:, 0] - b * mean_s[:, 1], b * mean_s[:, 0] + a * mean_s[:, 1]], axis=-1
    )
    return a, b, shift


def apply(a: Floats, b: Floats, shift: Floats, points: Floats) -> Floats:
    """Apply similarities of ``similarity`` to (T, N, 2) points."""
    x, y = points[..., 0], points[..., 1]
    return np.stack(
        [
            a[:, None] * x - b[:, None] * y + shift[:, None, 0],
            b[:, None] * x + a[:, None] * y + shift[:, None, 1],
        ],
        axis=-1,
    )


def undo(a: Floats, b: Floats, shift: Floats, points: Floats) -> Floats:
    """The reverse of ``apply``."""
    norm = a**2 + b**2
    ia, ib = a / norm, -b / norm
    moved = points - shift[:, None]
    return apply(ia, ib, np.zeros_like(shift), moved)


def anchor_weights(ids: tuple[str, ...], hidden: Bools) -> Floats:
    """(T, L) weight of each landmark as an anchor; zero where hidden or no anchor."""
    row = np.array([ANCHOR_WEIGHTS.get(name, 0.0) for name in ids])
    return np.where(hidden, 0.0, row)


def rest_face(marks: Marks, at_rest: Bools) -> RestFace | None:
    """The rest face: each landmark's median over the rest frames.

    at_rest  (T,) which frames belong to ``rest``

    None when nothing can hold a face frame: no rest frame, or no pair of
    landmarks seen at rest.
    """
    if not at_rest.any():
        return None
    xy = np.where(marks.hidden[at_rest][..., None], np.nan, marks.xy[at_rest])
    seen = np.asarray(np.isfinite(xy[..., 0]).any(axis=0))
    axis = next(
        (
            (right, left)
            for right, left in AXIS_PAIRS
            if right in marks.ids
            and left in marks.ids
            and seen[marks.column(right)]
            and seen[marks.column(left)]
        ),
        None,
    )
    if axis is None:
        return None
    # All rest frames onto the first complete one, then the median, so that sway
    # during rest does not smear the baseline.
    weights = anchor_weights(marks.ids, marks.hidden[at_rest])
    if (weights[0] > 0).sum() >= 2:
        a, b, shift = similarity(xy, xy[0], weights)
        xy = apply(a, b, shift, xy)
    points = np.full(xy.shape[1:], np.nan)
    points[seen] = middle(xy[:, seen])
    right, left = (points[marks.column(name)] for name in axis)
    # The subject's right eye is on the picture's left.
    angle = np.arctan2(left[1] - right[1], left[0] - right[0])
    origin = _origin(marks, at_rest, points, (left - right) / np.linalg.norm(left - right))
    cos, sin = np.cos(-angle), np.sin(-angle)
    turned = (points - origin) @ np.array([[cos, sin], [-sin, cos]])
    turn = middle(head_turn(marks)[at_rest])
    return RestFace(turned, axis, float(np.degrees(angle)), turn)


def head_turn(marks: Marks) -> Floats:
    """(T, 2) how far the head has turned since the anchor frame; 0 where nothing says so."""
    known = [marks.signals.get(name, np.zeros(len(marks))) for name in ("turn_x", "turn_y")]
    return np.nan_to_num(np.stack(known, axis=-1))


def parallax(marks: Marks, rest: RestFace) -> Floats:
    """(T, L, 2) by how much a head that has turned since rest moves each landmark against the
    plane of the mouth's corners, pixels of the rest scale."""
    turned = head_turn(marks) - rest.turn
    if not turned.any() or not {"ch_r", "ch_l"} <= set(marks.ids):
        return np.zeros((len(marks), len(marks.ids), 2))
    right, left = (rest.points[marks.column(name)] for name in ("ch_r", "ch_l"))
    deep = depths(marks.ids) * float(np.linalg.norm(left - right))
    return np.asarray(deep[None, :, None] * turned[:, None, :])


#: Pairs whose middle lies on the midline of the face: how much each counts, and how far it
#: lies behind subnasale, as a share of mouth width (made-up heads). A head that is turned
#: shifts what lies behind to the other side.
MIDLINE: tuple[tuple[str, str, float, float], ...] = (
    ("ch_r", "ch_l", 2.0, 0.17),
    ("ex_r", "ex_l", 1.0, 0.42),
    ("en_r", "en_l", 1.0, 0.24),
    ("al_r", "al_l", 1.0, -0.13),
)


def _origin(marks: Marks, at_rest: Bools, points: Floats, along: Floats) -> Floats:
    """Where the face frame's origin lies: subnasale, on the midline of the whole face.

    A face mesh sees subnasale up to a twentieth of the mouth's width beside the middle
    (measured), so the middle comes from all pairs, with the head's turn taken off.
    Where the teacher has placed subnasale, it is that place.
    """
    pairs = [
        (points[marks.column(r)], points[marks.column(le)], weight, behind)
        for r, le, weight, behind in MIDLINE
        if r in marks.ids and le in marks.ids
    ]
    pairs = [pair for pair in pairs if np.isfinite(pair[0]).all() and np.isfinite(pair[1]).all()]
    has_sn = "sn" in marks.ids and bool(np.isfinite(points[marks.column("sn")]).all())
    if has_sn and (marks.source[at_rest, marks.column("sn")] == PLACED).any():
        return np.asarray(points[marks.column("sn")])
    seen = marks.signals.get("mesh_yaw", np.full(len(marks), np.nan))[at_rest]
    turned = np.sin(np.radians(np.nanmedian(seen))) if np.isfinite(seen).any() else 0.0
    # Without the mouth's corners the turn is not taken off: nothing says how wide it is.
    wide = float(np.linalg.norm(pairs[0][1] - pairs[0][0])) if pairs and pairs[0][2] > 1 else 0.0
    total = sum(weight for _, _, weight, _ in pairs)
    if not total:
        return np.asarray(points[marks.column("sn")])
    between = sum(
        weight * ((right + left) @ along / 2 + behind * wide * turned)
        for right, left, weight, behind in pairs
    )
    base = points[marks.column("sn")] if has_sn else (pairs[0][0] + pairs[0][1]) / 2
    return np.asarray(base + (float(between) / total - base @ along) * along)


def into_face(marks: Marks, rest: RestFace, xy: Floats | None = None) -> Floats:
    """All marks in the face frame: (T, L, 2), pixels of the rest scale.

    Rows without at least two visible anchors are NaN.
    """
    xy = marks.xy if xy is None else xy
    weights = anchor_weights(marks.ids, marks.hidden)
    if not rest.tells_roll:
        return np.full_like(xy, np.nan)
    moved = parallax(marks, rest)
    a, b, shift = similarity(xy, rest.points + moved, weights)
    return apply(a, b, shift, xy) - moved


def carry_hidden(marks: Marks, rest: RestFace, carried_sigma: float) -> Marks:
    """Give hidden points the place they would have at rest.

    carried_sigma  standard deviation of such a place, share of rest mouth width

    Under a mouthpiece the middle of the lips can't be seen; its rest position
    carried with the head is the best guess, and its sigma says so. Points of
    something held to the mouth are not carried, nor are the ends of the opening between the
    lips: they are there or they are not.
    """
    missing = marks.hidden & np.isfinite(rest.points[:, 0])
    missing &= np.array([
        name not in OPENING_ENDS and not (name in BY_ID and BY_ID[name].equipment)
        for name in marks.ids
    ])  # fmt: skip
    if not missing.any() or not rest.tells_roll:
        return marks
    weights = anchor_weights(marks.ids, marks.hidden)
    turned = rest.points + parallax(marks, rest)
    a, b, shift = similarity(marks.xy, turned, weights)
    places = undo(a, b, shift, np.broadcast_to(turned, marks.xy.shape))
    width = float(
        np.linalg.norm(rest.points[marks.column("ch_l")] - rest.points[marks.column("ch_r")])
    )
    sigma = (carried_sigma * width / np.hypot(a, b))[:, None]
    # What the mark at rest was off by goes with it, shared with the rest face.
    out = marks.copied()
    own = np.sqrt(np.maximum(np.nan_to_num(out.sigma**2 - out.drift**2), 0.0))
    out.xy[missing] = places[missing]
    out.drift[:] = np.where(missing, sigma, out.drift)
    out.sigma[:] = np.where(missing, np.hypot(sigma, own), out.sigma)
    return out
