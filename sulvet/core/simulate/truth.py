"""What a made-up head truly shows: landmarks and measures from its surfaces, not from pixels.

Landmarks lie on the drawn surfaces themselves (vertices of the rings, or places
between the vertices of the head's grid); a coarse stand-in beside the surface
would be millimetres off. Measures are computed here a second time, in three
dimensions, from the definitions of the measures; nothing of ``core.measures``
is used.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.body import Body, body
from sulvet.core.simulate.camera import head_turn
from sulvet.core.simulate.equipment import AnyEquipment, Cup, Plate, Reed
from sulvet.core.simulate.mesh import EAR
from sulvet.core.simulate.mouth import BORDER, DOWN, LEFT, RIGHT, SEAM, UP
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.spots import Points, spots

#: Angle step of the lip peaks from the middle on the rings.
PEAK = 4
#: Inner and outer edge of the lip plate from the hole's near edge, across the hole, and how
#: far they lie under it, mm.
PLATE_EDGES, PLATE_EDGES_DOWN = (-3.4, 16.0), -8.5
#: A bump of the chin's contour lower than this is no fold, mm.
FOLD_MM = 0.25


def chin_contour(shown: Body) -> Floats:
    """(N, 3) the skin in the middle from ``li`` down to where the chin turns under."""
    lips = shown.lips[BORDER::-1, DOWN]
    column = shown.head[:, shown.skull.mid]
    rest = shown.skull.xyz[:, shown.skull.mid, 1]
    below = (shown.skull.rows < 17.6) & (rest < -47.3 * shown.person.face)
    whole = np.concatenate([lips, column[below]])
    return np.asarray(whole[: int(whole[:, 1].argmin()) + 1])


def landmarks(shown: Body, equipment: AnyEquipment | None = None) -> Points:
    """Every landmark by id, (3,) mm in head coordinates."""
    points = spots(shown.person).on(shown.head)
    lips = shown.lips
    points |= {
        "ch_l": lips[BORDER, LEFT],
        "ch_r": lips[BORDER, RIGHT],
        "ls": lips[BORDER, UP],
        "li": lips[BORDER, DOWN],
        "cph_l": lips[BORDER, UP - PEAK],
        "cph_r": lips[BORDER, UP + PEAK],
        "sto_s": lips[SEAM, UP],
        "sto_i": lips[SEAM, DOWN],
        # On a profile: where the lower lip ends, with or without something between the lips.
        "sto": lips[SEAM, DOWN],
    }
    contour = chin_contour(shown)
    li = points["li"]
    pg = min(_front_of_chin(shown.person), len(contour) - 1)
    points["pg"] = contour[pg]
    depth = _behind(contour[: pg + 1], li, contour[pg])
    points["sl"] = contour[int(depth.argmax())]
    points["me"] = contour[-1]
    opening = _aperture_ends(lips)
    if opening is not None:
        points["ap_r"], points["ap_l"] = opening
    # At the height of the mouth at rest: a smile that lifts the corners puffs nothing.
    corners = body(shown.person, Pose()).lips[BORDER]
    points |= _outline(shown, float(corners[RIGHT, 1] + corners[LEFT, 1]) / 2)
    ear = max(
        (m for m in shown.meshes if m.material == EAR), key=lambda m: float(m.xyz[:, 0].mean())
    )
    # The notch before the ear: front edge, half way up.
    front = ear.xyz[np.abs(ear.xyz[:, 1] - np.median(ear.xyz[:, 1])) < 4]
    points["t"] = front[front[:, 2].argmax()]
    if equipment is not None:
        points |= equipment.points()
        points |= _held(equipment, points)
    return points


def _held(equipment: AnyEquipment, points: Points) -> Points:
    """What a side view is marked with on the thing at the mouth."""
    frame = equipment.frame
    if isinstance(equipment, Cup):
        return {
            "rs_top": frame.place(0.0, equipment.outer, 1.0),
            "rs_low": frame.place(0.0, -equipment.outer, 1.0),
        }
    if isinstance(equipment, Reed):
        _, _, out = frame.local(points["sto_s"][None])
        body = np.array(equipment.size["body"], dtype=float)
        return {"mp_lip": frame.place(0.0, np.interp(out[0], body[:, 0], body[:, 2]), out[0])}
    # The plate's profile bends down to its edges before and behind the hole.
    hole = points["hole_far"] - points["hole_near"]
    way = hole / np.linalg.norm(hole)
    low = frame.place(0.0, PLATE_EDGES_DOWN, 0.0) - frame.place(0.0, 0.0, 0.0)
    near, far = PLATE_EDGES
    start = points["hole_near"] + low
    return {"ps_in": start + near * way, "ps_out": start + far * way}


@lru_cache(maxsize=8)
def _front_of_chin(person: Person) -> int:
    """Which point of the contour is the front of the chin at rest.

    There a line from the lip touches it; the most forward point says nothing on a
    receding chin. While the face moves it is the same place on the skin.
    """
    contour = chin_contour(body(person, Pose()))
    drop = contour[0, 1] - contour[:, 1]
    lean = np.where(drop > 9.0, (contour[:, 2] - contour[0, 2]) / np.maximum(drop, 1e-6), -np.inf)
    return int(lean.argmax())


def _behind(contour: Floats, above: Floats, below: Floats) -> Floats:
    """How far points of the midline lie behind the line between two of them, mm (y-z plane)."""
    line = (below - above)[1:]
    # Where the groove is the lip's own border there is no line, and nothing behind it.
    line = line / max(float(np.linalg.norm(line)), 1e-9)
    off = contour[:, 1:] - above[1:]
    # The line runs downward: behind it is toward -z.
    return np.asarray(off[:, 0] * line[1] - off[:, 1] * line[0]) * -1.0


def _aperture_ends(lips: Floats) -> tuple[Floats, Floats] | None:
    """Right and left end of the opening between the lips, or None when they are closed."""
    upper, lower = lips[SEAM, LEFT : RIGHT + 1], lips[SEAM, np.r_[0, -1 : -RIGHT - 1 : -1]]
    gap = upper[:, 1] - lower[:, 1]
    parted = np.flatnonzero(gap > 0.12)
    if not len(parted):
        return None
    left, right = parted[0], parted[-1]
    ends = []
    for inside, outside in ((right, right + 1), (left, left - 1)):
        # Between the last parted angle and the first closed one, by the gap.
        a, b = gap[inside], max(0.0, gap[outside])
        share = min(1.0, a / max(a - b, 1e-9))
        middle = (upper + lower) / 2
        ends.append(middle[inside] * (1 - share) + middle[outside] * share)
    return ends[0], ends[1]


def _outline(shown: Body, y: float) -> Points:
    """The cheeks' outline at mouth height as seen straight from the front."""
    head = shown.head
    above, below = head[:-1], head[1:]
    crossing = (above[..., 1] > y) & (below[..., 1] <= y) & (above[..., 2] > -76)
    share = (above[..., 1] - y) / np.where(crossing, above[..., 1] - below[..., 1], 1.0)
    place = above + (below - above) * share[..., None]
    x = np.where(crossing, place[..., 0], 0.0)
    right, left = np.unravel_index(x.argmin(), x.shape), np.unravel_index(x.argmax(), x.shape)
    return {"ck_r": place[right], "ck_l": place[left]}


@lru_cache(maxsize=8)
def at_rest(person: Person) -> tuple[Points, Floats]:
    """Landmarks and chin contour of the rest face."""
    shown = body(person, Pose())
    return landmarks(shown), chin_contour(shown)


def measures(shown: Body, points: Points, equipment: AnyEquipment | None) -> dict[str, float]:
    """Every measure that this moment has, from three dimensions.

    Front measures look straight along the head's own depth, side measures along
    its breadth. Lengths in mm, changes over the rest face as ratios, angles in
    degrees, as ``docs/measuring.md`` defines them.
    """
    rest, _ = at_rest(shown.person)
    covered = isinstance(equipment, Cup | Reed)
    out = _mouth(points, rest, covered) | _chin(shown, points, rest)
    out["head_roll"] = shown.pose.roll
    # Of the head alone: a chin that drops or rises is no nod.
    turned = head_turn(shown.pose) @ (rest["n"] - rest["pg"])
    rest_line = rest["n"] - rest["pg"]
    # Raised, the top of the head goes back.
    out["head_nod"] = _deg(rest_line[1], rest_line[2]) - _deg(turned[1], turned[2])
    if isinstance(equipment, Cup):
        out |= _rim(shown, points, equipment)
    elif isinstance(equipment, Reed):
        out |= _reed(shown, points, equipment)
    elif isinstance(equipment, Plate):
        out |= _plate(points, rest, equipment)
    return out


def _deg(adjacent: float, opposite: float) -> float:
    return float(np.degrees(np.arctan2(opposite, adjacent)))


def _rise(points: Points, side: str, lips: Points) -> float:
    arm = points[f"ch_{side}"] - (lips["ls"] + lips["li"]) / 2
    return _deg(abs(float(arm[0])), float(arm[1]))


def _mouth(points: Points, rest: Points, covered: bool) -> dict[str, float]:
    # Under a rim or mouthpiece the corners are seen from the middle of the lips at rest.
    lips = rest if covered else points
    rise = {side: _rise(points, side, lips) - _rise(rest, side, rest) for side in "rl"}

    def wide(p: Points) -> float:
        return float(np.linalg.norm((p["ch_l"] - p["ch_r"])[:2]))

    out = {
        "corner_rise_r": rise["r"],
        "corner_rise_l": rise["l"],
        "corner_rise": (rise["r"] + rise["l"]) / 2,
        "corner_asymmetry": rise["r"] - rise["l"],
        "mouth_width": wide(points) / wide(rest),
        "rest_mouth_width_mm": wide(rest),
        "upper_red": _drop(points, "ls", "sto_s") / _drop(rest, "ls", "sto_s"),
        "lower_red": _drop(points, "sto_i", "li") / _drop(rest, "sto_i", "li"),
        "jaw_drop": _drop(points, "sn", "me") / _drop(rest, "sn", "me"),
        "cheek_out_r": float(rest["ck_r"][0] - points["ck_r"][0]),
        "cheek_out_l": float(points["ck_l"][0] - rest["ck_l"][0]),
        "chin_length": float(
            np.linalg.norm((points["li"] - points["pg"])[:2])
            / np.linalg.norm((rest["li"] - rest["pg"])[:2])
        ),
        "aperture_height": 0.0,
        "aperture_width": 0.0,
        "aperture_area": 0.0,
    }
    if "ap_r" in points:
        height = max(0.0, _drop(points, "sto_s", "sto_i"))
        width = float(points["ap_l"][0] - points["ap_r"][0])
        out |= {
            "aperture_height": height,
            "aperture_width": width,
            "aperture_area": float(np.pi / 4 * height * width),
            "aperture_offset": float(points["ap_l"][0] + points["ap_r"][0]) / 2,
        }
    return out


def _drop(points: Points, above: str, below: str) -> float:
    return float(points[above][1] - points[below][1])


def _chin(shown: Body, points: Points, rest: Points) -> dict[str, float]:
    contour = chin_contour(shown)
    inside = contour[:, 1] >= points["pg"][1] - 1e-9
    depth = _behind(contour[inside], points["li"], points["pg"])
    bumps = 0
    highest = lowest = depth[0]
    falling = True
    # A fold is a place where the depth falls and rises again by more than FOLD_MM.
    for value in depth:
        if falling:
            highest = max(highest, value)
            if value < highest - FOLD_MM:
                falling, lowest = False, value
        else:
            lowest = min(lowest, value)
            if value > lowest + FOLD_MM:
                bumps, falling, highest = bumps + 1, True, value
    to_groove = _behind(contour[inside], points["li"], points["sl"])
    upto = contour[inside][:, 1] >= points["sl"][1]

    def length(p: Points, a: str, b: str) -> float:
        return float(np.linalg.norm((p[a] - p[b])[1:]))

    return {
        "chin_hollow": float(depth.max() if depth.max() > -depth.min() else depth.min()),
        "fold_count": float(bumps),
        "flesh_forward": float(max(0.0, -to_groove[upto].min())),
        "upper_red_side": length(points, "ls", "sto_s") / length(rest, "ls", "sto_s"),
        "lower_red_side": length(points, "sto_i", "li") / length(rest, "sto_i", "li"),
        "chin_length_side": length(points, "li", "pg") / length(rest, "li", "pg"),
        "lip_line_order": float(points["ls"][2] - points["li"][2]),
    }


def _rim(shown: Body, points: Points, cup: Cup) -> dict[str, float]:
    down = points["pg"] - points["n"]
    cos = float(cup.frame.out @ down / np.linalg.norm(down))
    level = head_turn(shown.pose) @ cup.frame.out
    a = np.radians(cup.angle)
    centre = points["rim_centre"]
    top = centre[1] + cup.outer * np.cos(a)
    bottom = centre[1] - cup.outer * np.cos(a)
    line = float(points["sto_s"][1] + points["sto_i"][1]) / 2
    inner_top = centre[1] + cup.inner * np.cos(a)
    inner_bottom = centre[1] - cup.inner * np.cos(a)
    return {
        "rim_upper_share": float((top - line) / (top - bottom)),
        "cup_upper_share": float((inner_top - line) / (inner_top - inner_bottom)),
        "rim_offset": float(centre[0]),
        "rim_below_lip": float(points["li"][1] - bottom),
        "red_above_rim": max(0.0, float(points["ls"][1] - max(top, points["sto_s"][1]))),
        "rim_gap": cup.away,
        "shank_angle": float(np.degrees(np.arccos(cos))),
        "shank_level": float(-np.degrees(np.arcsin(level[1]))),
    }


def _reed(shown: Body, points: Points, reed: Reed) -> dict[str, float]:
    frame = reed.frame
    upper = points["sto_s"]
    _, _, out = frame.local(upper[None])
    down = points["pg"] - points["n"]
    cos = float(frame.out @ down / np.linalg.norm(down))
    level = head_turn(shown.pose) @ frame.out
    return {
        "depth": float(out[0]),
        "instrument_angle": float(np.degrees(np.arccos(cos))),
        "instrument_level": float(-np.degrees(np.arcsin(level[1]))),
        "mouthpiece_offset": reed.offset,
    }


def _plate(points: Points, rest: Points, plate: Plate) -> dict[str, float]:
    near, far = points["hole_near"], points["hole_far"]
    hole = (points["hole_r"] + points["hole_l"]) / 2
    lip = points["li"]
    # Seen from the front the lip hides what of the hole lies above its border.
    tall = float(near[1] - far[1])
    hidden = np.clip((near[1] - lip[1]) / max(tall, 1e-6), 0, 1)
    angle = np.arccos(1 - 2 * hidden)
    axis = points["pl_l"] - points["pl_r"]
    corners = rest["ch_l"] - rest["ch_r"]
    middle = float(points["ap_l"][0] + points["ap_r"][0]) / 2 if "ap_r" in points else 0.0
    return {
        "plate_tilt": _deg(axis[0], axis[1]) - _deg(corners[0], corners[1]),
        "plate_roll": plate.roll,
        "hole_to_lip": float(lip[1] - near[1]),
        "hole_cover": float((angle - np.sin(angle) * np.cos(angle)) / np.pi),
        "hole_offset": float(hole[0]) - middle,
    }
