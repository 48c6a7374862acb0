"""The mouth: closed loops around the opening, from the skin to the inside of the lips.

Every ring is drawn at the same angles. A ring's coordinate is 0 at the edge of
the red and 1 where the lips meet (or at the edge of the aperture); below 0 is
skin, above 1 the inside. Colour, roll and tuck all hang on it.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.pose import Pose
from sulvet.core.simulate.skull import Skull, face_y, gauss
from sulvet.core.simulate.skull import skull as skull_of

#: Angles round the mouth (a multiple of four: the corners and the middle are on it).
ANGLES = 176
SKIN_RINGS, RED_RINGS = 20, 14
#: Ring coordinates past the seam, inside the mouth.
INNER = (0.12, 0.3, 0.6, 1.0, 1.6, 2.4)
#: Where the mouth's own rings meet the head's grid: an ellipse, mm.
OUTER_X, OUTER_UP, OUTER_DOWN, OUTER_Y = 41.0, 14.6, 29.0, -18.0
UP, DOWN = ANGLES // 4, 3 * ANGLES // 4
LEFT, RIGHT = 0, ANGLES // 2
BORDER = SKIN_RINGS - 1
SEAM = SKIN_RINGS + RED_RINGS - 1


@dataclass(frozen=True)
class Opening:
    """A hole in the lips around a thing held between them.

    top, bottom  where the lips touch it in the middle, y in mm
    half         half its width there, mm
    power        exponent of its outline: 2 an ellipse, 4 nearly a box
    """

    top: float
    bottom: float
    half: float
    power: float = 3.0


@dataclass(frozen=True)
class Mouth:
    """The mouth's patch, and the rest places its points came from.

    xyz   (K, A, 3) mm, before the rest of the face moves
    rest  (K, A, 3) the same skin at rest
    ring  (K,) ring coordinate
    """

    xyz: Floats
    rest: Floats
    ring: Floats


@dataclass(frozen=True)
class _Loops:
    """One mouth shape: the middle line, the red's edge and the opening's edge."""

    x: Floats
    border: Floats
    seam: Floats


def stomion(person: Person) -> float:
    """y where this person's lips meet at rest, mm."""
    return float(face_y(-18.0, person))


def _thickness(sigma: Floats, person: Person) -> Floats:
    """Height of the red, mm, over σ = x / half width; upper and lower by the angle."""
    s = np.abs(sigma)
    fade = np.clip(1 - s**1.7, 0, 1) ** 0.85
    bow = 1 - person.bow / person.upper * gauss(s, 0, 0.13) + 0.05 * gauss(s, 0.24, 0.12)
    upper = person.upper * fade * bow
    lower = person.lower * np.clip(1 - s**2.5, 0, 1) ** 0.8
    top = np.arange(ANGLES) <= RIGHT
    return np.where(top, upper, lower)


def _loops(person: Person, pose: Pose, opening: Opening | None) -> _Loops:
    sigma = np.cos(np.arange(ANGLES) * 2 * np.pi / ANGLES)
    top = np.arange(ANGLES) <= RIGHT
    side = np.where(top, 1.0, -1.0)
    middle = stomion(person) - 0.2 * pose.jaw_drop
    half = person.mouth * pose.width
    x = half * sigma
    red = np.where(top, pose.upper_red, pose.lower_red)
    height = _thickness(sigma, person) * np.maximum(red, 0.02)
    up, down, ex, ox, power = _edges(pose, opening, middle)
    ex = min(ex, half * 0.95)
    reach = np.clip(1 - np.abs((x - ox) / max(ex, 1e-6)) ** power, 0, 1) ** (1 / power)
    lift = np.where(top, up, -down) * reach
    # The red's edge gives way more gently than the opening itself.
    wide = np.clip(1 - np.abs((x - ox) / max(half, 1e-6)) ** 2.2, 0, 1) ** 1.2
    give = np.where(top, up, -down) * np.maximum(wide**2, reach**2)
    ls = middle + up + height[UP]
    li = middle - down - height[DOWN]
    mid = (ls + li) / 2
    rest_mid = stomion(person) + (_thickness(sigma, person)[UP] - person.lower) / 2
    corner = np.empty(ANGLES)
    for mask, droop, rise in (
        (sigma >= 0, person.droop_l, pose.rise_l),
        (sigma < 0, person.droop_r, pose.rise_r),
    ):
        rest_angle = np.arctan2(stomion(person) - droop - rest_mid, person.mouth)
        corner[mask] = mid + half * np.tan(rest_angle + np.radians(rise))
    line = middle + (corner - middle) * np.abs(sigma) ** 2.0
    tubercle = -0.55 * gauss(sigma, 0, 0.17) + 0.35 * gauss(np.abs(sigma), 0.42, 0.2)
    tubercle = tubercle * (opening is None)
    line = line + tubercle * person.upper / 5.5 * np.clip(pose.upper_red, 0, 1)
    return _Loops(x, line + give + side * height, line + lift)


def _edges(
    pose: Pose, opening: Opening | None, middle: float
) -> tuple[float, float, float, float, float]:
    """How far the edge lies above and below the middle, half width, centre, exponent."""
    if opening is not None:
        return opening.top - middle, middle - opening.bottom, opening.half, 0.0, opening.power
    tall = pose.aperture_height
    return 0.4 * tall, 0.6 * tall, pose.aperture_width / 2, pose.aperture_x, 2.0


def mouth(person: Person, skull: Skull, pose: Pose, opening: Opening | None = None) -> Mouth:
    """The mouth in a pose, and the same points at rest."""
    now = _surface(person, skull, pose, opening)
    ring = np.concatenate(
        [
            np.linspace(-1, 0, SKIN_RINGS),
            np.linspace(0, 1, RED_RINGS + 1)[1:],
            1 + np.array(INNER),
        ]
    )
    return Mouth(now, _at_rest(person), ring)


@lru_cache(maxsize=4)
def _at_rest(person: Person) -> Floats:
    """The mouth's points on the rest face: the same for every moment of a take."""
    return _surface(person, skull_of(person), Pose(), None)


def _surface(person: Person, skull: Skull, pose: Pose, opening: Opening | None) -> Floats:
    phi = np.arange(ANGLES) * 2 * np.pi / ANGLES
    top = np.arange(ANGLES) <= RIGHT
    side = np.where(top, 1.0, -1.0)
    now = _loops(person, pose, opening)
    rest = _loops(person, Pose(), None)
    outer_x = OUTER_X * np.cos(phi)
    outer_y = OUTER_Y * person.face + np.where(top, OUTER_UP, OUTER_DOWN) * np.sin(phi)
    outer_y = np.where(top, np.minimum(outer_y, -2.6), outer_y * 1.0)
    sigma = np.abs(np.cos(phi))
    forward = pose.protrude + 9.0 * max(0.0, 1 - pose.width) * (1 if pose.protrude >= 0 else 0)

    corner_of = np.where(np.cos(phi) >= 0, LEFT, RIGHT)
    t = np.linspace(0, 1, SKIN_RINGS)[:, None] ** 0.9
    carry = t**2.2 * (2.2 - 1.2 * t)
    sx = outer_x + (rest.x - outer_x) * t + (now.x - rest.x) * carry
    sy = outer_y + (rest.border - outer_y) * t + (now.border - rest.border) * carry
    sz = skull.skin_z(sx, sy, grid=False) + forward * carry
    # The corner lies in a small dimple.
    sz = sz - 0.9 * gauss(np.hypot(sx - now.x[corner_of], (sy - now.seam[corner_of]) * 0.8), 0, 3.4)
    # A faint raised line runs along the red's edge.
    sz = sz + 0.35 * gauss(t, 1.0, 0.12) * (1 - sigma**3)
    skin = np.stack([sx, sy, sz], -1)

    r = np.linspace(0, 1, RED_RINGS + 1)[1:, None]
    full = np.where(top, person.upper_full, person.lower_full)
    red = np.where(top, pose.upper_red, pose.lower_red)
    swell = full * np.clip(1 - sigma**2.4, 0, 1) ** 0.8 * np.clip(red, 0, 1.6) ** 0.6
    swell = swell * (1 + 0.05 * pose.press)
    x = np.broadcast_to(now.x, (RED_RINGS, ANGLES))
    y = now.border + (now.seam - now.border) * np.sin(np.pi / 2 * r) ** 0.9
    z = skull.skin_z(x, y, grid=False) + forward
    z = z - 0.9 * gauss(np.hypot(x - now.x[corner_of], (y - now.seam[corner_of]) * 0.8), 0, 3.4)
    depth = (2.0 + 0.25 * pose.press) * np.clip(1 - sigma**4, 0, 1) ** 0.5 + 0.3
    z = z + swell * (4 * r * (1 - r)) ** 0.75 + 0.35 * gauss(r, 0.0, 0.25) * (1 - sigma**3)
    z = z + swell * 0.35 * r - depth * (1 - np.cos(np.pi / 2 * r)) ** 1.4
    lips = np.stack([x, y, z], -1)

    k = np.array(INNER)[:, None]
    # Inside the mouth the lips turn away from one another; closed lips overlap a hair.
    iy = now.seam + side * (1.6 * k**1.5 - 0.25 * np.exp(-((k - 0.3) ** 2) / 0.08))
    iz = z[-1] - 3.2 * k
    ix = now.x * (1 - 0.02 * k)
    inner = np.stack(np.broadcast_arrays(ix, iy, iz), -1)
    return np.concatenate([skin, lips, inner])
