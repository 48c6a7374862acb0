"""A painted face: the simplest camera stand-in with exact truth.

One face is shaded once from a height field, with skin texture that belongs to
it. Each frame bends that picture with a thin-plate spline whose knots are the
landmarks, so the truth is exact, then moves the head, lays a brass rim over
the lips if told to, and adds sensor noise. Flat, front view only.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import RBFInterpolator

from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import Floats

Image = NDArray[np.uint8]
Array = NDArray[Any]

#: Half size of the painted sheet, pixels; the face's origin is between the eyes.
HALF = 340
#: Half of a rim of 24.5 mm, pixels of the sheet.
RIM_RADIUS = 24.5
#: Landmarks at rest, pixels of the sheet from the origin. Proportions after
#: adult averages (outer eye corners 87 mm: Farkas, from memory), 2.0 px a mm.
POINTS: dict[str, tuple[float, float]] = {
    "ex_r": (-86.0, 0.0),
    "ex_l": (86.0, 0.0),
    "en_r": (-34.0, 4.0),
    "en_l": (34.0, 4.0),
    "al_r": (-35.0, 80.0),
    "al_l": (35.0, 80.0),
    "sn": (0.0, 92.0),
    "ch_r": (-51.0, 133.0),
    "ch_l": (51.0, 133.0),
    "cph_r": (-12.0, 113.0),
    "cph_l": (12.0, 113.0),
    "ls": (0.0, 117.0),
    "sto_s": (0.0, 132.0),
    "sto_i": (0.0, 133.0),
    "li": (0.0, 153.0),
}
#: Knots that stay where they are when the mouth moves.
PINNED: tuple[tuple[float, float], ...] = (
    (-142, 20), (142, 20), (-135, 110), (135, 110), (-95, 185), (95, 185), (0, 226), (0, 200),
    (-60, 205), (60, 205), (0, 60), (-90, 60), (90, 60), (0, -60), (-339, -339), (339, -339),
    (-339, 339), (339, 339), (-339, 0), (339, 0), (0, 339), (-60, -40), (60, -40),
)  # fmt: skip


@dataclass(frozen=True)
class Person:
    """An invented face: colours as RGB 0..1, ``width`` as a factor, ``seed`` for the skin."""

    skin: tuple[float, float, float] = (0.86, 0.66, 0.54)
    lip: tuple[float, float, float] = (0.72, 0.40, 0.38)
    hair: tuple[float, float, float] = (0.22, 0.15, 0.10)
    eye: tuple[float, float, float] = (0.32, 0.24, 0.16)
    shirt: tuple[float, float, float] = (0.22, 0.30, 0.40)
    width: float = 1.0
    freckles: float = 0.3
    seed: int = 1


@dataclass(frozen=True)
class Pose:
    """One moment.

    rise     corner rise against rest, degrees, seen from mid-lip
    width    mouth width over rest
    rim      opacity 0..1 of a brass mouthpiece on the lips; rim_rise and rim_right say where
             it lies, pixels of the sheet
    roll     degrees, clockwise as seen; shift in pixels; zoom as a factor
    """

    rise: float = 0.0
    width: float = 1.0
    rim: float = 0.0
    rim_rise: float = 14.0
    rim_right: float = 0.0
    roll: float = 0.0
    shift: tuple[float, float] = (0.0, 0.0)
    zoom: float = 1.0
    gold: bool = False


def _blob(x: Array, y: Array, cx: float, cy: float, rx: float, ry: float) -> Floats:
    return np.asarray(np.exp(-(((x - cx) / rx) ** 2 + ((y - cy) / ry) ** 2)))


def _step(distance: Array, soft: float) -> Floats:
    return np.asarray(1.0 / (1.0 + np.exp(-np.clip(distance / soft, -30, 30))))


def _height(x: Floats, y: Floats) -> Floats:
    """Relief of the face, pixels toward the camera."""
    z = 120 * np.sqrt(np.clip(1 - (x / 175) ** 2 - ((y - 15) / 265) ** 2, 0.002, 1))
    z += 26 * _blob(x, y, 0, 72, 17, 26) + 15 * _blob(x, y, 0, 30, 13, 45)
    z += 11 * (_blob(x, y, -24, 80, 11, 11) + _blob(x, y, 24, 80, 11, 11))
    z += 8 * (_blob(x, y, -58, -30, 44, 12) + _blob(x, y, 58, -30, 44, 12))
    z -= 11 * (_blob(x, y, -60, 2, 36, 20) + _blob(x, y, 60, 2, 36, 20))
    z += 7 * (_blob(x, y, -82, 62, 36, 30) + _blob(x, y, 82, 62, 36, 30))
    z += 7 * _blob(x, y, 0, 124, 46, 11) + 10 * _blob(x, y, 0, 144, 36, 11)
    z -= 6 * _blob(x, y, 0, 133, 48, 2.5)
    z -= 3 * _blob(x, y, 0, 102, 4, 9)
    z -= 8 * _blob(x, y, 0, 167, 34, 9)
    z += 11 * _blob(x, y, 0, 197, 34, 20)
    return np.asarray(z)


def _noise(rng: np.random.Generator, size: int, scale: float) -> Floats:
    field = cv2.GaussianBlur(rng.standard_normal((size, size)), (0, 0), scale)
    return np.asarray(field / field.std())


def _sum(parts: Iterator[Array]) -> Floats:
    return np.asarray(np.sum(list(parts), axis=0))


def _between(x: Array, knots: list[tuple[float, float]]) -> Floats:
    xs, ys = zip(*knots, strict=True)
    return np.asarray(np.interp(x, xs, ys, left=ys[0], right=ys[-1]))


@lru_cache(maxsize=8)
def sheet(person: Person) -> Image:
    """The rest face on its sheet, (680, 680, 3) RGB."""
    rng = np.random.default_rng(person.seed)
    size = 2 * HALF
    axis = np.arange(size) - HALF + 0.5
    px, y = np.meshgrid(axis, axis)
    x = px / person.width
    z = cv2.GaussianBlur(_height(x, y), (0, 0), 1.5)
    z = z + 0.10 * _noise(rng, size, 1.2) + 0.16 * _noise(rng, size, 3)
    gy, gx = np.gradient(z)
    normal = np.stack([-gx, -gy, np.ones_like(z)], -1)
    normal /= np.linalg.norm(normal, axis=-1, keepdims=True)
    light = np.array([-0.38, -0.50, 0.78])
    light /= np.linalg.norm(light)
    diffuse = np.clip(normal @ light, 0, 1)
    shade = 0.42 + 0.66 * diffuse
    half = light + np.array([0, 0, 1.0])
    gloss = np.clip(normal @ (half / np.linalg.norm(half)), 0, 1)

    skin = np.array(person.skin)
    colour = np.ones((size, size, 3)) * skin
    mottle = 0.020 * _noise(rng, size, 6) + 0.018 * _noise(rng, size, 1.3)
    colour *= 1 + mottle[..., None]
    blush = _blob(x, y, -80, 70, 40, 30) + _blob(x, y, 80, 70, 40, 30) + _blob(x, y, 0, 74, 22, 16)
    colour += blush[..., None] * np.array([0.045, -0.02, -0.02])
    spots = np.clip(_noise(rng, size, 1.6) - 2.1, 0, 1.2)
    freckle = spots * (0.35 + 0.65 * np.clip(blush, 0, 1)) * person.freckles
    colour *= 1 - np.clip(freckle, 0, 0.6)[..., None] * np.array([0.35, 0.5, 0.6])

    # Lips: upper border with its bow, lower border as one curve, the line between.
    upper = _between(
        x, [(-51, 133), (-36, 123), (-12, 113), (0, 117), (12, 113), (36, 123), (51, 133)]
    )
    lower = 133 + 20 * np.sqrt(np.clip(1 - (x / 51) ** 2, 0, 1)) ** 1.15
    red = _step(y - upper, 0.9) * _step(lower - y, 1.1) * _step(51 - np.abs(x), 1.0)
    lines = 0.06 * _noise(rng, size, 1.4) + 0.10 * np.sin(x * 0.85 + 1.5 * _noise(rng, size, 9))
    lip = np.array(person.lip) * (1 + lines[..., None] * 0.5)
    colour = colour * (1 - red[..., None]) + lip * red[..., None]
    seam = np.exp(-(((y - 132.6 - 1.2 * np.cos(x / 9)) / 1.5) ** 2)) * _step(53 - np.abs(x), 1.2)
    colour *= 1 - 0.72 * seam[..., None]
    crease = _blob(x, y, -54, 134, 4, 5) + _blob(x, y, 54, 134, 4, 5)
    colour *= 1 - 0.30 * crease[..., None]
    nostril = _blob(x, y, -13, 87, 7, 4) + _blob(x, y, 13, 87, 7, 4)
    colour *= 1 - 0.72 * np.clip(nostril, 0, 1)[..., None]
    fold = (
        np.exp(-(((np.abs(x) - 40 - (y - 84) * 0.42) / 4) ** 2))
        * _step(y - 84, 6)
        * _step(122 - y, 6)
    )
    colour *= 1 - 0.06 * fold[..., None]
    wing = np.exp(-(((np.hypot((np.abs(x) - 25) / 1.0, (y - 79) / 1.15) - 11) / 2.2) ** 2))
    colour *= 1 - 0.22 * (wing * _step(np.abs(x) - 24, 2))[..., None]

    picture = colour * shade[..., None] + 0.10 * (gloss**40)[..., None]
    picture += 0.20 * (red * gloss**60)[..., None]

    for side in (-1, 1):
        _eye(picture, x, y, side, person, rng)
    brow = _sum(
        np.exp(-(((y + 34 - 0.0022 * (x - s * 52) ** 2 + s * (x - s * 60) * 0.06) / 5.0) ** 2))
        * _step(36 - np.abs(x - s * 62), 3)
        for s in (-1, 1)
    )
    strands = 0.8 + 0.25 * _noise(rng, size, 1.0)
    mix = np.clip(brow * strands, 0, 0.92)[..., None]
    picture = picture * (1 - mix) + np.array(person.hair) * 0.9 * mix

    # Neck, shirt, hair and the wall behind, from back to front.
    head = np.hypot(x / 143, (y - 12) / np.where(y > 12, 216, 205))
    jaw = np.hypot(x / (143 - 46 * np.clip((y - 60) / 160, 0, 1)), (y - 12) / 216)
    head = np.where(y > 12, jaw, head)
    inside = _step((1 - head) * 130, 1.6)
    wall = np.ones((size, size, 3)) * np.array([0.80, 0.79, 0.75])
    wall *= (1 - 0.00035 * (px + 340))[..., None]
    ears = _sum(_step((1 - np.hypot((x - s * 146) / 15, (y - 22) / 34)) * 20, 1.5) for s in (-1, 1))
    wall = wall * (1 - ears[..., None]) + skin * 0.70 * ears[..., None]
    neck = _step(72 - np.abs(x) + 0.0 * y, 1.5) * _step(y - 150, 3)
    neck_shade = (0.50 + 0.16 * np.clip((y - 225) / 100, 0, 1))[..., None]
    wall = wall * (1 - neck[..., None]) + skin * neck_shade * neck[..., None]
    shirt = _step(y - (286 + 0.0004 * px**2) + 34 * np.exp(-((px / 60) ** 2)) * -1, 1.5)
    cloth = np.array(person.shirt) * (0.85 + 0.05 * _noise(rng, size, 1.0))[..., None]
    wall = wall * (1 - shirt[..., None]) + cloth * shirt[..., None]
    picture = wall * (1 - inside[..., None]) + picture * inside[..., None]
    edge = np.hypot(x / 158, (y + 8) / 222)
    line = -118 + 34 * (x / 140) ** 2 + 8 * np.sin(x / 14) + 4 * _noise(rng, size, 5)
    sides = _step(np.abs(x) - 128 + 4 * np.sin(y / 9), 3) * _step(10 - y, 5)
    hair = _step((1 - edge) * 140, 2.0) * np.clip(_step(line - y, 3) + sides, 0, 1)
    lock = (
        0.75 + 0.22 * np.sin(x * 0.35 + 3 * _noise(rng, size, 14)) + 0.12 * _noise(rng, size, 1.0)
    )
    sheen = 0.8 + 0.5 * _blob(x, y, -40, -165, 90, 30)
    picture = (
        picture * (1 - hair[..., None]) + np.array(person.hair) * (lock * sheen * hair)[..., None]
    )
    picture = cv2.GaussianBlur(picture, (0, 0), 0.7)
    return np.asarray(np.clip(picture, 0, 1) ** (1 / 1.12) * 255, dtype=np.uint8)


def _eye(
    picture: Floats, x: Array, y: Array, side: int, person: Person, rng: np.random.Generator
) -> None:
    """One eye, painted into ``picture``."""
    u = (x * side - 60) / 26.0
    top = -2.0 - 12.5 * np.sqrt(np.clip(1 - u**2, 0, 1)) + 2.0
    bottom = 2.0 + 7.0 * np.sqrt(np.clip(1 - u**2, 0, 1)) - 1.0
    tilt = 2.0 * (1 - u) * 0.5
    yy = y - tilt
    opening = _step(yy - top, 0.8) * _step(bottom - yy, 0.8) * _step(1 - np.abs(u), 0.03)
    white = np.array([0.90, 0.88, 0.86]) * (0.80 + 0.2 * np.clip((yy + 8) / 12, 0, 1))[..., None]
    r = np.hypot(x * side - 60, y + 1.5)
    iris = _step(11.7 - r, 0.7)
    rays = 1 + 0.18 * np.sin(np.arctan2(y + 1.5, x * side - 60) * 23)
    tint = np.array(person.eye) * (0.7 + 0.5 * (r / 11.7))[..., None] * rays[..., None]
    ball = white * (1 - iris[..., None]) + tint * iris[..., None]
    pupil = _step(4.6 - r, 0.6)
    ball = ball * (1 - 0.95 * pupil[..., None])
    shine = _step(2.2 - np.hypot(x * side - 56, y + 6), 0.5)
    ball = ball + 0.8 * shine[..., None]
    picture[:] = picture * (1 - opening[..., None]) + ball * opening[..., None]
    lash = np.exp(-(((yy - top) / 2.0) ** 2)) * _step(1.06 - np.abs(u), 0.03)
    picture *= 1 - 0.75 * lash[..., None]
    lid = np.exp(-(((yy - top + 8) / 1.8) ** 2)) * _step(1.0 - np.abs(u), 0.06)
    picture *= 1 - 0.22 * lid[..., None]
    under = np.exp(-(((yy - bottom) / 1.3) ** 2)) * _step(1.0 - np.abs(u), 0.05)
    picture *= 1 - 0.30 * under[..., None]


def mouth_points(pose: Pose) -> dict[str, Floats]:
    """All landmarks on the sheet for one pose, before the head moves.

    Mid-lip stays; the corners go to the asked rise and width; the borders
    follow the width as a soft mouth does.
    """
    points = {name: np.array(place) for name, place in POINTS.items()}
    mid = (points["ls"] + points["li"]) / 2
    half = 51.0 * pose.width
    rest_angle = np.arctan2(mid[1] - POINTS["ch_l"][1], 51.0)
    angle = rest_angle + np.radians(pose.rise)
    for name, sign in (("ch_r", -1), ("ch_l", 1)):
        points[name] = np.array([sign * half, mid[1] - half * np.tan(angle)])
    for name in ("cph_r", "cph_l"):
        points[name][0] *= 1 + 0.5 * (pose.width - 1)
    return points


@lru_cache(maxsize=512)
def _bend(rise: float, width: float) -> tuple[NDArray[np.float32], NDArray[np.float32]]:
    """Where each pixel of the bent sheet comes from."""
    pose = Pose(rise=rise, width=width)
    moved = mouth_points(pose)
    names = [name for name in POINTS if name != "sto_i"]
    target = np.array([POINTS[name] for name in names] + list(PINNED), dtype=float)
    source = np.array([moved[name] for name in names] + list(PINNED), dtype=float)
    spline = RBFInterpolator(source, target - source, kernel="thin_plate_spline")
    step = 8
    axis = np.arange(-HALF, HALF + step, step, dtype=float)
    gx, gy = np.meshgrid(axis, axis)
    offset = spline(np.stack([gx.ravel(), gy.ravel()], 1)).reshape(*gx.shape, 2)
    pixel = (np.arange(2 * HALF, dtype=np.float32) + 0.5) / step
    qx, qy = np.meshgrid(pixel, pixel)
    fine = cv2.remap(offset.astype(np.float32), qx, qy, cv2.INTER_CUBIC)
    px, py = np.meshgrid(np.arange(2 * HALF), np.arange(2 * HALF))
    return (px + fine[..., 0]).astype(np.float32), (py + fine[..., 1]).astype(np.float32)


def _matrix(pose: Pose, size: tuple[int, int], person: Person) -> Floats:
    """Sheet coordinates (origin between the eyes) to pixels of the frame."""
    angle = np.radians(pose.roll)
    zoom = pose.zoom * size[1] / 720
    turn = zoom * np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
    centre = np.array([size[0] / 2, size[1] * 0.43]) + np.array(pose.shift) * size[1] / 720
    return np.hstack([turn, centre[:, None]])


def truth(pose: Pose, size: tuple[int, int], person: Person) -> Floats:
    """(L, 2) exact places of ``FRONT_IDS`` on the frame, pixel centres at integers; NaN of
    what the painted face has no mark for."""
    points = mouth_points(pose)
    matrix = _matrix(pose, size, person)
    sheet_points = np.array([points.get(name, (np.nan, np.nan)) for name in FRONT_IDS]) * (
        person.width,
        1.0,
    )
    return np.asarray(sheet_points @ matrix[:, :2].T + matrix[:, 2] - 0.5)


def frame(pose: Pose, size: tuple[int, int], person: Person, seed: int = 0) -> Image:
    """One picture, (height, width, 3) RGB."""
    if max(size) > GRAIN_SIZE:
        raise ValueError(f"pictures of up to {GRAIN_SIZE} pixels a side, not {size}")
    face = sheet(person)
    map_x, map_y = _bend(round(pose.rise, 2), round(pose.width, 4))
    if person.width != 1.0:
        # The bend is laid down in face widths; the sheet is painted in pixels.
        centre = HALF - 0.5
        rows, columns = np.mgrid[0 : 2 * HALF, 0 : 2 * HALF].astype(np.float32)
        inner = (columns - centre) / person.width + centre
        offset_x = cv2.remap(map_x, inner, rows, cv2.INTER_LINEAR) - inner
        map_y = cv2.remap(map_y, inner, rows, cv2.INTER_LINEAR)
        map_x = columns + offset_x * person.width
    face = cv2.remap(face, map_x, map_y, cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE)
    if pose.rim > 0:
        face = _rim(face, pose)
    matrix = _matrix(pose, size, person)
    pixels = matrix.copy()
    pixels[:, 2] += matrix[:, :2] @ np.full(2, 0.5 - HALF) - 0.5
    picture = cv2.warpAffine(
        face, pixels, size, flags=cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE
    )
    down, along = np.random.default_rng(seed).integers(0, GRAIN_TILE, 2)
    grain = _grain()[down : down + size[1], along : along + size[0]]
    return np.asarray(cv2.add(picture, grain, dtype=cv2.CV_8U), dtype=np.uint8)


#: The sensor's noise is one large field, read at another place each frame.
GRAIN_TILE = 512
GRAIN_SIZE = 1920


@lru_cache(maxsize=1)
def _grain() -> NDArray[np.int16]:
    side = GRAIN_SIZE + GRAIN_TILE
    rng = np.random.default_rng(0)
    both = rng.normal(0, 1.6, (side, side, 1)) + rng.normal(0, 0.8, (side, side, 3))
    return np.asarray(np.round(both), dtype=np.int16)


def _rim(face: Image, pose: Pose) -> Image:
    """A brass mouthpiece pressed on the lips, seen from the front, with its shank and shadow."""
    size = 2 * HALF
    axis = np.arange(size) - HALF + 0.5
    x, y = np.meshgrid(axis - pose.rim_right, axis)
    cy = 133.0 - RIM_RADIUS + pose.rim_rise
    radius = RIM_RADIUS
    out = face.astype(float)
    shadow = _step(radius + 6 - np.hypot(x - 4, y - cy - 9), 4.0)
    out *= 1 - 0.38 * pose.rim * shadow[..., None]
    r = np.hypot(x, y - cy)
    base = np.array([196, 160, 84.0]) if pose.gold else np.array([172, 174, 178.0])
    ring = 0.62 + 0.5 * np.exp(-(((r - radius + 4) / 2.6) ** 2)) - 0.15 * (y - cy) / radius
    ring += 0.25 * np.exp(-(((np.arctan2(y - cy, x) + 2.2) / 0.4) ** 2)) * (r > radius - 8)
    cup = 1 - 0.5 * _blob(x, y, 0, cy, 15, 15)
    body = _step(radius - r, 0.8)
    metal = base * (ring * cup)[..., None]
    out = out * (1 - pose.rim * body[..., None]) + metal * pose.rim * body[..., None]
    shank_x = x - (y - cy) * 0.10
    shank = _step(9 + (y - cy) * 0.030 - np.abs(shank_x), 0.8) * _step(y - cy, 1.0)
    tube = base * (0.5 + 0.55 * np.exp(-(((shank_x + 3) / 4) ** 2)))[..., None]
    out = out * (1 - pose.rim * shank[..., None]) + tube * pose.rim * shank[..., None]
    return np.asarray(np.clip(out, 0, 255), dtype=np.uint8)


def frames(
    poses: list[Pose], size: tuple[int, int], person: Person, seed: int = 0
) -> Iterator[Image]:
    """The pictures of a take, RGB."""
    for index, pose in enumerate(poses):
        yield frame(pose, size, person, seed * 100_003 + index)
