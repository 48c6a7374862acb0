"""The skin's own map: colour and relief that travel with it, and the painted eyes and brows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.hair import hair_line
from sulvet.core.simulate.person import Person
from sulvet.core.simulate.skull import TEXEL_MM, Skull, gauss, skull, smooth

F32 = NDArray[np.float32]
#: Radius of the visible iris: half of 11.7 mm, as published for adults and older
#: children (from memory).
IRIS_MM = 5.85
EYE_Y = 34.0


@dataclass(frozen=True)
class SkinMap:
    """Maps over (down, along).

    colour  (H, W, 3) linear albedo
    relief  (H, W, 2) height in mm: pores, and the dimples a bunched chin shows
    gloss   (H, W) 0 skin, 1 the wet of the eye
    origin  along-coordinate of column 0, mm
    texel   side of a texel, mm
    lips    (h, w, 2) brightness and height of the lip lines over (ring 0..2, along)
    """

    colour: F32
    relief: F32
    gloss: F32
    origin: float
    texel: float
    lips: F32


LIP_TEXELS = (80, 1100)
LIP_MM = 110.0


def eye_corners(person: Person) -> tuple[float, float]:
    """x of the inner and the outer corner of the subject's left eye, mm."""
    centre = 29.6 * person.eye_gap
    half = 12.6 * person.eye_size
    return centre - half, centre + half


def _noise(rng: np.random.Generator, shape: tuple[int, int], scale: float) -> F32:
    small = max(1, int(scale / 2.5))
    raw = rng.standard_normal((shape[0] // small + 4, shape[1] // small + 4)).astype(np.float32)
    field = cv2.GaussianBlur(raw, (0, 0), scale / small)
    field = field / field.std()
    if small > 1:
        field = cv2.resize(field, None, fx=small, fy=small, interpolation=cv2.INTER_CUBIC)
    return np.asarray(field[: shape[0], : shape[1]], dtype=np.float32)


def _rest_on_map(base: Skull, shape: tuple[int, int], origin: float, texel: float) -> Floats:
    """(H, W, 3) rest place of each texel, mm."""
    down = np.arange(shape[0]) * texel
    along = np.arange(shape[1]) * texel + origin
    rows = np.interp(down, base.texture[:, 0, 1], np.arange(len(base.rows)))
    coarse = np.empty((len(base.rows), shape[1], 3), np.float32)
    for r in range(len(base.rows)):
        for k in range(3):
            coarse[r, :, k] = np.interp(along, base.texture[r, :, 0], base.xyz[r, :, k])
    below = np.minimum(rows.astype(int), len(base.rows) - 2)
    share = (rows - below).astype(np.float32)[:, None, None]
    return np.asarray(coarse[below] * (1 - share) + coarse[below + 1] * share)


@lru_cache(maxsize=3)
def skin_map(person: Person, texel: float = TEXEL_MM) -> SkinMap:
    """Paint the skin of a person; ``texel`` in mm."""
    base = skull(person)
    rng = np.random.default_rng(person.seed)
    origin = float(base.texture[..., 0].min())
    width = int(2 * -origin / texel) + 1
    shape = (int(base.texture[-1, 0, 1] / texel) + 1, width)
    rest = _rest_on_map(base, shape, origin, texel)
    x, y, z = rest[..., 0], rest[..., 1], rest[..., 2]
    ax = np.abs(x)
    front = smooth(z, -70, -40)

    grain = _Grain(rng, base, texel, shape, y)
    fine, mid, broad = (grain.noise(mm) for mm in (0.25, 0.9, 5.0))
    pores = -np.clip(grain.noise(0.34) - 0.9, 0, 2.2)
    relief = np.empty((*shape, 2), np.float32)
    nose = gauss(x, 0, 16) * gauss(y, 8, 14)
    relief[..., 0] = 0.020 * fine + 0.030 * mid + pores * (0.03 + 0.04 * nose * front)
    lumps = grain.noise(1.5) + 0.5 * grain.noise(0.9)
    chin = gauss(x, 0, 14) * gauss(y, -43, 9) * front
    relief[..., 1] = 0.42 * lumps * chin

    dark = float(np.mean(person.skin))
    colour = np.ones((*shape, 3), np.float32) * np.array(person.skin, np.float32)
    mottle = 0.018 * broad + 0.028 * mid + 0.03 * fine + 0.045 * pores
    colour *= np.exp(mottle)[..., None]
    blush = (
        0.9 * gauss(ax, 36, 15) * gauss(y, 4, 13)
        + 0.8 * gauss(x, 0, 11) * gauss(y, 8, 10)
        + 0.5 * gauss(x, 0, 11) * gauss(y, -46, 9)
        + 0.35 * gauss(ax, 30, 15) * gauss(y, 34, 9)
    ) * front
    blush = blush * (1 + 0.25 * broad)
    colour *= 1 + blush[..., None] * np.array([0.05, -0.13, -0.12], np.float32)
    around = np.exp(-((np.hypot(ax / 30, (y + 20) / 15)) ** 4)) * front
    colour *= 1 + around[..., None] * np.array([0.0, -0.03, -0.02], np.float32)
    colour *= 1 - 0.14 * (gauss(ax, 30, 14) * gauss(y, 26, 4.5) * front)[..., None]
    colour = _freckles(colour, grain, person, ax, y, front)
    # Nostrils and the line where the wing meets the cheek.
    hole = np.zeros(shape, np.float32)
    rows = np.interp(np.arange(shape[0]) * texel, base.texture[:, 0, 1], base.rows)[:, None]
    hole = np.exp(-((np.abs(ax - 6.2 * person.nose_width) / 2.7) ** 3)) * np.exp(
        -((np.abs(rows - 9.69) / 0.115) ** 3)
    )
    colour *= 1 - 0.93 * hole[..., None]
    gloss = np.zeros(shape, np.float32)
    colour = _brows(colour, grain, person, ax, y, front)
    if person.beard > 0:
        colour = _beard(colour, grain, person, ax, y, front)
    for sign in (-1, 1):
        _eye(colour, gloss, relief, np.sign(x) == sign, ax, y, front, person)
    scalp = smooth(hair_line(x, y, z, person) + 1.0 * broad + 1.2 * grain.noise(0.5), -1.0, 7.0)
    roots = np.array(person.hair, np.float32) * 0.8 + 0.05 * np.array(person.skin, np.float32)
    colour = np.asarray(colour * (1 - scalp[..., None]) + roots * scalp[..., None], np.float32)
    relief[..., 0] *= 1 + 0.5 * (dark > 0.3)
    return SkinMap(
        np.clip(colour, 0.002, 1).astype(np.float32), relief, gloss, origin, texel,
        _lip_lines(rng),
    )  # fmt: skip


class _Grain:
    """Random patterns that are even all over the skin.

    The skin's map crowds where the rings do (beside the jaw, under the nose),
    so patterns are drawn on a plane of arc length and height and carried over.
    """

    def __init__(
        self,
        rng: np.random.Generator,
        base: Skull,
        texel: float,
        shape: tuple[int, int],
        y: Floats,
    ) -> None:
        self.rng, self.texel = rng, texel
        # Under the chin height stands still: there the depth of the row counts.
        under = np.maximum.accumulate(np.maximum(0.0, -16.0 - base.xyz[:, base.mid, 2]))
        under = np.where(base.rows > 16.4, under, 0.0)
        row = np.interp(np.arange(shape[0]) * texel, base.texture[:, 0, 1], under)
        self.top = float(y.max()) + 1
        self.plane = (int((self.top - float((y - row[:, None]).min()) + 2) / texel), shape[1])
        self.u = np.tile(np.arange(shape[1], dtype=np.float32), (shape[0], 1))
        self.v = ((self.top - y + row[:, None]) / texel).astype(np.float32)

    def carried(self, field: F32) -> F32:
        """A pattern of the plane on the skin's map."""
        return np.asarray(cv2.remap(field, self.u, self.v, cv2.INTER_LINEAR))

    def noise(self, mm: float, stretch: float = 0.0) -> F32:
        """Unit noise of a scale; ``stretch`` draws it out sideways, mm."""
        field = _noise(self.rng, self.plane, mm / self.texel)
        if stretch:
            field = cv2.blur(field, (max(1, int(stretch / self.texel)), 1))
            field = field / field.std()
        return self.carried(field)

    def dots(self, mm: float, count: int, weight: F32 | None = None) -> F32:
        """Soft spots strewn over the plane, as on the skin's map."""
        dots = np.zeros(self.plane, np.float32)
        py = self.rng.integers(0, self.plane[0], count)
        px = self.rng.integers(0, self.plane[1], count)
        dots[py, px] = self.rng.uniform(0.3, 1, count)
        s = mm / self.texel
        spots = self.carried(cv2.GaussianBlur(dots, (0, 0), s) * (2 * np.pi * s * s))
        return np.clip(spots if weight is None else spots * weight, 0, 1)


def _freckles(
    colour: F32, grain: _Grain, person: Person, ax: Floats, y: Floats, front: Floats
) -> F32:
    where = np.clip(gauss(ax, 26, 24) * gauss(y, 10, 17) + 0.10 * gauss(y, 0, 60), 0, 1) * front
    cheeks = smooth(where, 0.05, 0.6).astype(np.float32)
    out = colour
    for size, count, deep in ((0.5, 60000, 0.45), (0.85, 16000, 0.55)):
        cover = grain.dots(size, count, cheeks) * np.float32(deep * person.freckles)
        out = out * (1 - cover[..., None] * np.array([0.45, 0.62, 0.72], np.float32))
    # A few lasting spots on everyone: something to recognise and to follow.
    moles = grain.dots(0.42, 700)
    return np.asarray(out * (1 - 0.45 * moles[..., None]), np.float32)


def _brows(
    colour: F32,
    grain: _Grain,
    person: Person,
    ax: Floats,
    y: Floats,
    front: Floats,
) -> F32:
    centre = 29.0 * person.eye_gap
    t = (ax - centre) / 21
    arch = 51.5 + 3.0 * (1 - (t - 0.2) ** 2) - 1.6 * np.clip(t, 0, 2)
    thick = (3.0 - 1.5 * np.clip(t + 0.2, 0, 1.2)) * person.brow
    band = np.exp(-((np.abs(y - arch) / np.maximum(thick, 0.6)) ** 2.4))
    band = band * smooth(np.abs(t), 1.02, 0.86)
    # Strands lie outward and a little up.
    strand = grain.noise(0.35, stretch=2.2)
    cover = np.clip(band * (1.0 + 0.22 * strand), 0, 0.92) * front * (y > 38)
    hair = np.array(person.hair, np.float32) * 0.9 + 0.01
    return np.asarray(colour * (1 - cover[..., None]) + hair * cover[..., None], np.float32)


def _beard(colour: F32, grain: _Grain, person: Person, ax: Floats, y: Floats, front: Floats) -> F32:
    """Stubble or a short beard: above the lip, round the mouth, along chin and jaw."""
    low = y / np.where(y < 0, person.face, 1.0)
    moustache = smooth(ax, 30, 22) * smooth(low, -1.5, -5) * smooth(low, -19, -14)
    chin = smooth(low, -29, -35) * smooth(ax, 52, 38)
    jaw = smooth(low, -14, -26) * smooth(ax, 24, 34)
    where = np.clip(moustache + chin + jaw, 0, 1) * np.maximum(front, 0.4)
    strand = grain.noise(0.3, stretch=0.5)
    cover = np.clip(where * person.beard * (0.75 + 0.4 * strand), 0, 0.93)
    hair = np.array(person.hair, np.float32) * 0.9 + 0.01
    return np.asarray(colour * (1 - cover[..., None]) + hair * cover[..., None], np.float32)


def _eye(
    colour: F32,
    gloss: F32,
    relief: F32,
    side: NDArray[np.bool_],
    ax: Floats,
    y: Floats,
    front: Floats,
    person: Person,
) -> None:
    """Paint one eye into the maps."""
    inner, outer = eye_corners(person)
    centre, half = (inner + outer) / 2, (outer - inner) / 2
    box = side & (np.abs(ax - centre) < half * 1.7) & (np.abs(y - EYE_Y) < 17) & (front > 0.2)
    rows, columns = np.nonzero(box)
    if not len(rows):
        return
    window = (slice(rows.min(), rows.max() + 1), slice(columns.min(), columns.max() + 1))
    ax, y, box = ax[window], y[window], box[window]
    u = (ax - centre) / half
    curve = np.sqrt(np.clip(1 - u**2, 0, 1))
    tall = person.eye_size
    tilt = EYE_Y + 1.0 * (u + 1) / 2
    top = tilt + (4.7 * curve**0.9 + 0.6 * np.clip(-u, 0, 1) * curve) * tall
    low = tilt - 3.3 * curve * tall
    opening = (
        smooth(y, low - 0.25, low + 0.25) * smooth(y, top + 0.25, top - 0.25) * (np.abs(u) < 1)
    )
    ix, iy = centre - 0.4, EYE_Y + 1.2
    r = np.hypot(ax - ix, y - iy)
    white = np.array([0.56, 0.53, 0.515]) * (0.55 + 0.45 * smooth(top - y, 0.0, 4.0))[..., None]
    white = white * (1 - 0.25 * gauss(u, -1, 0.25) - 0.15 * gauss(u, 1, 0.25))[..., None]
    angle = np.arctan2(y - iy, ax - ix)
    rays = 1 + 0.22 * np.sin(angle * 31 + 2 * np.sin(angle * 7)) + 0.12 * np.sin(angle * 67)
    tint = (
        np.array(person.iris) * (1.7 - 1.0 * smooth(r, 2.5, IRIS_MM))[..., None] * rays[..., None]
    )
    iris = smooth(r, IRIS_MM + 0.3, IRIS_MM - 0.3)
    ball = white * (1 - iris[..., None]) + tint * iris[..., None]
    ball = ball * (1 - 0.97 * smooth(r, 2.3, 1.9))[..., None]
    ball = ball * (1 - 0.45 * smooth(y, top - 2.4, top))[..., None]
    shine = smooth(np.hypot(ax - ix + 1.6, y - iy - 1.9), 0.95, 0.6)
    ball = ball + 0.75 * shine[..., None]
    tear = gauss(ax, inner + 0.6, 1.1) * gauss(y, tilt, 1.1)
    ball = ball * (1 - tear[..., None]) + np.array([0.42, 0.16, 0.14]) * tear[..., None]
    mix = (opening * box)[..., None]
    part = colour[window]
    part[:] = part * (1 - mix) + ball * mix
    gloss[window] = np.maximum(gloss[window], (opening * box).astype(np.float32))
    lash = np.exp(-(((y - top - 0.15) / 0.55) ** 2)) * smooth(np.abs(u), 1.08, 0.95)
    lash = lash + 0.35 * np.exp(-(((y - low + 0.1) / 0.4) ** 2)) * smooth(np.abs(u), 1.0, 0.8)
    lash_colour = np.array(person.hair) * 0.35
    mix = np.clip(lash * 0.9 * box, 0, 1)[..., None]
    part[:] = part * (1 - mix) + lash_colour * mix
    lid = np.exp(-(((y - top - 3.4 - 0.6 * curve) / 0.75) ** 2)) * smooth(np.abs(u), 1.1, 0.7)
    part *= 1 - 0.34 * (lid * box)[..., None]
    bag = np.exp(-(((y - low + 3.0) / 1.0) ** 2)) * smooth(np.abs(u), 1.0, 0.5)
    part *= 1 - 0.10 * (bag * box)[..., None]
    relief[window][..., 0] *= 1 - (opening * box)


def _lip_lines(rng: np.random.Generator) -> F32:
    """Lines across the lips, wandering a little; rows are the ring coordinate 0..2."""
    rows, columns = LIP_TEXELS
    step = LIP_MM / columns
    field = np.zeros((rows, columns), np.float32)
    for width, weight in ((0.30, 0.5), (0.62, 0.9), (1.3, 0.4)):
        raw = rng.standard_normal((rows, columns)).astype(np.float32)
        raw = cv2.GaussianBlur(raw, (0, 0), sigmaX=width / step, sigmaY=rows * 0.12)
        field += weight * raw / raw.std()
    field /= field.std()
    grooves = -np.clip(-field - 0.15, 0, 3)
    fleck = cv2.GaussianBlur(rng.standard_normal((rows, columns)).astype(np.float32), (0, 0), 2.5)
    bright = 1 + 0.10 * grooves + 0.05 * fleck / fleck.std()
    return np.asarray(np.stack([bright, 0.10 * grooves + 0.02 * field], -1), np.float32)
