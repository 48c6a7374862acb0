"""What else is in the picture: glasses, fingers, a scarf."""

from __future__ import annotations

import numpy as np
from numpy.random import Generator

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.mesh import CLOTH, EAR, EBONITE, METAL, Mesh, grid_mesh
from sulvet.core.simulate.person import RGB, Person
from sulvet.core.simulate.skin import EYE_Y


def _random_rgb(rng: Generator, darkest: float) -> RGB:
    red, green, blue = (float(v) for v in np.exp(rng.uniform(np.log(darkest), np.log(0.7), 3)))
    return red, green, blue


def tube(line: Floats, radius: Floats | float, material: int, tint: RGB) -> Mesh:
    """A round body along a line of (N, 3) places, mm."""
    way = np.gradient(line, axis=0)
    way /= np.linalg.norm(way, axis=1, keepdims=True) + 1e-9
    helper = np.where(np.abs(way[:, :1]) < 0.8, [[1.0, 0, 0]], [[0, 1.0, 0]])
    side = np.cross(way, helper)
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    up = np.cross(side, way)
    turn = np.linspace(0, 2 * np.pi, 17)[None, :, None]
    r = np.broadcast_to(np.asarray(radius, float), (len(line),))[:, None, None]
    xyz = line[:, None] + r * (np.cos(turn) * side[:, None] + np.sin(turn) * up[:, None])
    along = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    places = np.stack(np.broadcast_arrays(turn[..., 0] * 4, along[:, None]), -1)
    return grid_mesh(material, xyz, places, closed=False, tint=tint)


def glasses(rng: Generator, person: Person) -> list[Mesh]:
    """Two rims, a bridge and the arms, of wire or thick plastic."""
    thick = rng.uniform() < 0.5
    material, radius = (EBONITE, float(rng.uniform(1.3, 2.4))) if thick else (METAL, 0.7)
    tint = _random_rgb(rng, 0.01)
    wide, tall, power = rng.uniform(20, 26), rng.uniform(14, 22), rng.uniform(2.0, 4.0)
    y, z = EYE_Y + rng.uniform(-4, 2), 2.0 + rng.uniform(0, 5)
    parts = []
    t = np.linspace(0, 2 * np.pi, 41)
    for sign in (-1, 1):
        centre = sign * max(30.0 * person.eye_gap, wide + 5)
        x = centre + wide * np.sign(np.cos(t)) * np.abs(np.cos(t)) ** (2 / power)
        up = y + tall * np.sign(np.sin(t)) * np.abs(np.sin(t)) ** (2 / power)
        deep = z - 0.0035 * x**2
        parts.append(tube(np.stack([x, up, deep], -1), radius, material, tint))
        s = np.linspace(0, 1, 20)
        out = sign * (abs(centre) + wide)
        arm = np.stack([
            out + (sign * 74 * person.head - out) * s**0.6, y + 6 + 0 * s, z - 8 - 84 * s
        ], -1)  # fmt: skip
        parts.append(tube(arm, radius, material, tint))
    s = np.linspace(-1, 1, 12)
    inner = max(30.0 * person.eye_gap, wide + 5) - wide
    bridge = np.stack([inner * s, y + 4 + 2 * (1 - s**2), z + 1 - 0 * s], -1)
    return [*parts, tube(bridge, radius, material, tint)]


def fingers(rng: Generator, person: Person, near: Floats) -> list[Mesh]:
    """One to four fingers that come from the side or from below and end near a place, mm."""
    sign, count = float(rng.choice([-1, 1])), int(rng.integers(1, 5))
    start = near + np.array([sign * rng.uniform(30, 90), -rng.uniform(20, 90), rng.uniform(5, 60)])
    gap = rng.uniform(13, 18)
    across = np.cross(near - start, rng.normal(0, 1, 3))
    across /= np.linalg.norm(across)
    parts = []
    for k in range(count):
        shift = across * gap * (k - (count - 1) / 2)
        s = np.linspace(0, 1, 24)[:, None]
        bend = np.array([0.0, 1.0, 0.6]) * rng.uniform(0, 22) * np.sin(np.pi * s)
        end = near + shift + rng.normal(0, 4, 3)
        line = (start + shift) * (1 - s) + end * s + bend
        radius = rng.uniform(5.5, 8.5) * np.sqrt(np.clip((1 - s[:, 0]) / 0.12, 0.02, 1)) ** 0.8
        parts.append(tube(line, radius, EAR, person.skin))
    return parts


def scarf(rng: Generator, person: Person) -> list[Mesh]:
    """A scarf or a high collar round the neck, up to the chin at most."""
    del person
    t = np.linspace(0, 2 * np.pi, 61)
    height = -rng.uniform(82, 110)
    line = np.stack([
        68 * np.sin(t), height + 7 * np.cos(t * 2 + rng.uniform(0, 6)), -82 + 60 * np.cos(t)
    ], -1)  # fmt: skip
    return [tube(line, float(rng.uniform(12, 22)), CLOTH, _random_rgb(rng, 0.02))]
