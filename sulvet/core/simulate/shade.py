"""Shading: from the surfaces seen at each pixel to a picture as a phone would take it."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.simulate import mesh as kinds
from sulvet.core.simulate.body import Body, joined
from sulvet.core.simulate.camera import Camera, head_turn, into_room
from sulvet.core.simulate.grain import F32, grain_tile, sample, taps, unit
from sulvet.core.simulate.light import Lens, Light
from sulvet.core.simulate.raster import (
    bumped,
    depth_only,
    facing,
    gather,
    irradiance,
    lit,
    open_sky,
    rasterise,
    skin_colour,
    skin_shine,
)  # fmt: skip
from sulvet.core.simulate.skin import LIP_MM, LIP_TEXELS, SkinMap, skin_map
from sulvet.core.simulate.skull import TEXEL_MM

Bools = NDArray[np.bool_]
Image = NDArray[np.uint8]
#: Pixels drawn for one pixel shown, along one side.
FINER = 1.35
#: Depth of light under skin, mm (standard deviation), red to blue: red travels
#: farthest (E. d'Eon and D. Luebke, GPU Gems 3, chapter 14, from memory).
SCATTER_MM = (1.25, 0.5, 0.28)


#: Strength of light at which a white surface is just white.
DIFFUSE = np.float32(1.55)
TOOTH_MM = 7.6
WET_RED = (0.42, 0.10, 0.09)
EAR_TINT = (1.02, 0.86, 0.84)


def render(
    body: Body,
    camera: Camera,
    light: Light | None = None,
    lens: Lens | None = None,
    seed: int = 0,
    texel: float = TEXEL_MM,
) -> Image:
    """Take the picture: (height, width, 3) 8-bit RGB.

    texel  how finely the skin is painted, mm
    """
    light, lens = light or Light(), lens or Lens()
    picture, _ = radiance(body, camera.scaled(FINER), light, texel)
    picture = cv2.resize(picture, camera.size, interpolation=cv2.INTER_AREA)
    return finish(picture * light.exposure, lens, seed)


def radiance(
    body: Body, camera: Camera, light: Light, texel: float = TEXEL_MM
) -> tuple[F32, Bools]:
    """Linear RGB of the picture, (H, W, 3), and (H, W) where something stands before the wall.

    texel  how finely the skin is painted, mm
    """
    buffers = _Buffers(body, camera, light)
    return buffers.shaded(skin_map(body.person, texel)), buffers.seen


def finish(picture: F32, lens: Lens, seed: int) -> Image:
    """Lens blur, a film-like shoulder, gamma and the sensor's noise."""
    if lens.blur > 0:
        picture = cv2.GaussianBlur(picture, (0, 0), lens.blur)
    # Filmic curve after J. Hable (2010, from memory), then the sRGB gamma.
    x = np.clip(picture, 0, 16) * 1.02
    curve = x * (1 + x / 6.0) / (1 + 0.62 * x)
    out = np.where(
        curve < 0.0031308, 12.92 * curve, 1.055 * np.maximum(curve, 1e-6) ** (1 / 2.4) - 0.055
    )
    rng = np.random.default_rng(seed)
    height, width = out.shape[:2]
    grain = rng.standard_normal((height, width, 1), dtype=np.float32)
    tinted = rng.standard_normal((height // 2 + 1, width // 2 + 1, 3), dtype=np.float32)
    tinted = cv2.resize(tinted, (width, height))
    # Dark parts are noisier.
    weight = lens.noise * (1.25 - 0.6 * np.clip(out.mean(-1, keepdims=True), 0, 1))
    return np.asarray(
        np.clip(out * 255 + weight * (0.8 * grain + 0.55 * tinted) + 0.5, 0, 255), dtype=np.uint8
    )


@lru_cache(maxsize=4)
def _background(width: int, height: int, wall: tuple[float, float, float]) -> F32:
    """A room out of focus behind the head."""
    x = np.linspace(-1, 1, width, dtype=np.float32)[None]
    y = np.linspace(1, -1, height, dtype=np.float32)[:, None]
    picture = (0.85 + 0.10 * y - 0.16 * x)[..., None] * np.array(wall, np.float32)
    # A bright window, a cupboard, a picture on the wall: centre, half size, strength.
    for cx, cy, rx, ry, strength in (
        (-0.95, 0.3, 0.30, 0.8, 0.38),
        (0.85, -0.2, 0.22, 0.55, -0.20),
        (0.55, 0.7, 0.3, 0.16, -0.12),
    ):
        out = np.maximum(np.abs(x - cx) / rx, np.abs(y - cy) / ry) - 1
        picture = picture * (1 + strength / (1 + np.exp(np.clip(18 * out, -30, 30)))[..., None])
    return np.ascontiguousarray(picture, dtype=np.float32)


class _Buffers:
    """What is seen at each pixel, and the light that falls there."""

    def __init__(self, body: Body, camera: Camera, light: Light) -> None:
        self.body, self.camera, self.light = body, camera, light
        xyz, normal, triangles, material, attributes = joined(body)
        room = into_room(xyz, body.pose)
        # Clothes stay with the body when the head moves.
        cloth = np.concatenate(
            [np.full(len(m.xyz), m.material == kinds.CLOTH) for m in body.meshes]
        )
        room[cloth] = xyz[cloth] + np.array([body.pose.x, body.pose.y, body.pose.z]) * 0.6
        turn = camera.turn @ head_turn(body.pose)
        normal = normal @ turn.T
        seen = camera.see(room)
        width, height = camera.size
        screen = camera.project(room).astype(np.float32)
        self.depth, which, share = rasterise(screen, triangles, height, width)
        values = np.concatenate([normal, seen, attributes], axis=1).astype(np.float32)
        pixels = gather(which, share, triangles, values)
        self.seen = which >= 0
        self.normal, self.view = facing(pixels, camera.distance)
        self.place = pixels[..., 3:6]
        self.map, self.lip, self.tint = pixels[..., 6:8], pixels[..., 8:10], pixels[..., 10:13]
        kind = np.full(which.shape, -1, np.int8)
        kind[self.seen] = material[which[self.seen]]
        self.kind = kind
        self.px_per_mm = camera.focal / camera.distance
        self.key = np.array(light.key, np.float32) / np.float32(np.linalg.norm(light.key))
        self.fill = np.array(light.fill, np.float32) / np.float32(np.linalg.norm(light.fill))
        self.shadow = self._shadow(seen, triangles)
        self.sky = self._open()

    def _open(self) -> F32:
        """How much of the sky each pixel sees, wide and in the creases; at half size."""
        depth, normal = (np.ascontiguousarray(a[::2, ::2]) for a in (self.depth, self.normal))
        wide = open_sky(depth, normal, taps(), self.px_per_mm / 2, 11.0)
        close = open_sky(depth, normal, taps(), self.px_per_mm / 2, 3.0)
        sky = cv2.GaussianBlur(wide * close, (0, 0), 0.9)
        height, width = self.depth.shape
        return np.asarray(cv2.resize(sky, (width, height), interpolation=cv2.INTER_LINEAR))

    def _shadow(self, seen: NDArray[np.float64], triangles: NDArray[np.int32]) -> F32:
        key = self.key.astype(float)
        right = np.cross([0.0, 1.0, 0.0], key)
        right /= np.linalg.norm(right)
        frame = np.stack([right, np.cross(key, right), key])
        size, reach = 640, 150.0
        mm = 2 * reach / size
        to = seen @ frame.T
        screen = np.stack(
            [to[:, 0] / mm + size / 2, size / 2 - to[:, 1] / mm, -to[:, 2]], -1
        ).astype(np.float32)
        depth = depth_only(screen, triangles, size, size)
        # Looked up a little above the surface, or it would shadow itself.
        above = self.place + self.normal * np.float32(1.6)
        here = above @ frame.T.astype(np.float32)
        place = np.stack(
            [here[..., 0] / mm + size / 2, size / 2 - here[..., 1] / mm, -here[..., 2]], -1
        ).astype(np.float32)
        edge = lit(place, self.seen, depth, mm, taps(), self.light.soft * 0.55, 0.6)
        return np.asarray(cv2.GaussianBlur(edge, (0, 0), 1.2))

    def _irradiance(self, normal: F32, wrap: float, shadow: F32, sky: F32) -> F32:
        light = self.light
        colours = np.array([light.key_rgb, light.fill_rgb, light.sky, light.floor], np.float32)
        return irradiance(normal, shadow, sky, self.key, self.fill, colours, wrap)

    def shaded(self, skin: SkinMap) -> F32:
        """Linear RGB of the picture."""
        picture = _background(*self.camera.size, self.light.wall).copy()
        mask = np.isin(self.kind, (kinds.SKIN, kinds.EAR, kinds.INSIDE))
        if mask.any():
            window, colours = self._skin(skin, mask)
            picture[window][mask[window]] = colours[mask[window]]
        self.falls = self._irradiance(self.normal, 0.1, self.shadow, self.sky) / DIFFUSE
        for kind, paint in (
            (kinds.HAIR, self._hair), (kinds.CLOTH, self._cloth), (kinds.METAL, self._metal),
            (kinds.EBONITE, self._ebonite), (kinds.CANE, self._cane), (kinds.TEETH, self._teeth),
        ):  # fmt: skip
            mask = self.kind == kind
            if mask.any():
                picture[mask] = paint(mask)
        return picture

    def _skin(self, skin: SkinMap, whole: Bools) -> tuple[tuple[slice, slice], F32]:
        """Skin, lips, eyes and ears: the window they lie in and its colours."""
        rows, columns = np.flatnonzero(whole.any(axis=1)), np.flatnonzero(whole.any(axis=0))
        window = (slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1))

        def cut(values: Any) -> Any:
            return np.ascontiguousarray(values[window])

        mask, kind, view, shadow, sky = map(
            cut, (whole, self.kind, self.view, self.shadow, self.sky)
        )
        place, flat, lip = cut(self.place), cut(self.normal), cut(self.lip)
        face, ear = kind == kinds.SKIN, kind == kinds.EAR
        u = (cut(self.map[..., 0]) - skin.origin) / skin.texel
        v = cut(self.map[..., 1]) / skin.texel
        colour = cv2.remap(skin.colour, u, v, cv2.INTER_LINEAR)
        relief = cv2.remap(skin.relief, u, v, cv2.INTER_LINEAR)
        wet = cv2.remap(skin.gloss, u, v, cv2.INTER_LINEAR)
        bright, grooves = _lip_lines(skin, lip)
        person = self.body.person
        albedo, red = skin_colour(
            colour, np.ascontiguousarray(lip[..., 0]), bright, face,
            np.array(person.lip, np.float32), np.array(WET_RED, np.float32),
        )  # fmt: skip
        albedo[ear] = np.array(person.skin) * np.array(EAR_TINT)
        inside = kind == kinds.INSIDE
        albedo[inside] = cut(self.tint)[inside]
        bunched = np.clip(self.body.pose.chin_raise / 4.0, 0, 1.2)
        height = relief[..., 0] + relief[..., 1] * np.float32(bunched)
        height = height * (1 - red) + grooves * red * 1.3
        height[ear] = 0
        normal = bumped(place, flat, height, mask)
        falls = self._irradiance(normal, 0.06, shadow, sky)
        light = 0.35 * falls + 0.65 * self._scattered(falls, mask)
        out = np.asarray(albedo * light / DIFFUSE, dtype=np.float32)
        gloss, graze, mirrored = skin_shine(normal, view, self.key, shadow, sky, red, wet, mask)
        out += gloss[..., None] * np.array(self.light.key_rgb, np.float32)
        out += graze[..., None] * np.array(self.light.sky, np.float32)
        # Lips and eyes also mirror the window a little.
        shiny = mirrored > 0.004
        if shiny.any():
            n, to = normal[shiny], view[shiny]
            ray = 2 * (n * to).sum(-1, keepdims=True) * n - to
            out[shiny] += _room(ray) * mirrored[shiny][:, None]
        return window, out

    def _scattered(self, falls: F32, mask: Bools) -> F32:
        """Light under the skin: what falls on it, spread as far as each colour travels."""
        weight = mask.astype(np.float32)
        spread = np.empty_like(falls)
        for k, mm in enumerate(SCATTER_MM):
            sigma = max(0.3, mm * self.px_per_mm)
            total = cv2.GaussianBlur(weight, (0, 0), sigma) + np.float32(1e-4)
            spread[..., k] = cv2.GaussianBlur(falls[..., k] * weight, (0, 0), sigma) / total
        return spread

    def _hair(self, mask: Bools) -> F32:
        u, v = self.map[mask].T
        normal, view = self.normal[mask], self.view[mask]
        bend = 2.2 * np.sin(v / 21) + 1.2 * np.sin(v / 9 + u / 13)
        strand = sample(grain_tile(), (u + bend) * 9.0, v * 0.5)
        lock = strand @ np.array([0.5, 0.55, 0.45], np.float32)
        # Strands run down the head.
        down = np.array([0, -1, 0], np.float32)
        tangent = unit(down - (normal @ down)[:, None] * normal)
        tangent = unit(tangent + normal * (0.10 * lock)[:, None])
        # J. Kajiya and T. Kay's strand model (1989, from memory).
        along = (tangent * unit(view + self.key)).sum(-1)
        gleam = np.sqrt(np.clip(1 - along**2, 0, 1))
        across = np.sqrt(np.clip(1 - (tangent @ self.key) ** 2, 0, 1))
        diffuse = across * np.clip(normal @ self.key + 0.35, 0, 1) / 1.35
        own = self.tint[mask]
        tint = own * np.exp(0.42 * lock)[:, None]
        sky = self.sky[mask][:, None] * np.array(self.light.sky, np.float32)
        sky = sky * (0.55 + 0.35 * normal[:, 1:2])
        key = (0.25 + 0.75 * self.shadow[mask])[:, None] * np.array(self.light.key_rgb, np.float32)
        out = tint * (diffuse[:, None] * key * 0.8 + sky)
        shine = (gleam**70 * 0.05 + gleam**18 * 0.035) * np.exp(0.5 * lock)
        gold = 0.40 * own / (own.max(-1, keepdims=True) + 1e-4) + 0.30
        return np.asarray(out + shine[:, None] * key * gold, dtype=np.float32)

    def _cloth(self, mask: Bools) -> F32:
        u, v = self.map[mask].T
        weave = sample(grain_tile(), u * 3.1, v * 3.1)
        tint = self.tint[mask] * (1 + 0.08 * weave[:, :1] + 0.05 * weave[:, 2:])
        rib = (v > -97) & (v < -87)
        tint = tint * np.where(rib, 0.88 + 0.10 * np.sin(u * 2.6), 1.0)[:, None]
        return np.asarray(tint * self.falls[mask], dtype=np.float32)

    def _mirrored(self, mask: Bools, normal: F32) -> tuple[F32, F32, F32]:
        """The room in a polished surface, its grazing share, and cos of the key's half angle."""
        view = self.view[mask]
        facing_it = (normal * view).sum(-1, keepdims=True)
        room = _room(2 * facing_it * normal - view) * (0.30 + 0.70 * self.sky[mask])[:, None]
        graze = (1 - np.clip(facing_it, 0, 1)) ** 5
        half = np.clip((normal * unit(view + self.key)).sum(-1), 0, 1)[:, None]
        return room, graze, half

    def _metal(self, mask: Bools) -> F32:
        u, v = self.map[mask].T
        scratch = sample(grain_tile(), u * 5.0, v * 5.0)
        normal = unit(self.normal[mask] + 0.003 * scratch)
        room, graze, half = self._mirrored(mask, normal)
        tint, key = self.tint[mask], self._key_light(mask)
        out = room * (tint + (1 - tint) * graze) + half**260 * 3.0 * key * tint
        return np.asarray(out * 0.9 + 0.09 * tint * self.falls[mask], dtype=np.float32)

    def _ebonite(self, mask: Bools) -> F32:
        room, graze, half = self._mirrored(mask, self.normal[mask])
        out = self.tint[mask] * self.falls[mask] + room * (0.05 + 0.95 * graze) * 0.75
        return np.asarray(out + half**120 * 0.35 * self._key_light(mask), dtype=np.float32)

    def _cane(self, mask: Bools) -> F32:
        u, v = self.map[mask].T
        fibre = sample(grain_tile(), u * 14.0, v * 0.45)
        stripes = np.exp(0.16 * fibre[:, :1] + 0.10 * fibre[:, 1:2])
        _, _, half = self._mirrored(mask, self.normal[mask])
        out = self.tint[mask] * stripes * self.falls[mask]
        return np.asarray(out + half**30 * 0.05 * self._key_light(mask), dtype=np.float32)

    def _key_light(self, mask: Bools) -> F32:
        return self.shadow[mask][:, None] * np.array(self.light.key_rgb, np.float32)

    def _teeth(self, mask: Bools) -> F32:
        u, v = self.map[mask].T
        cell = np.abs((u / TOOTH_MM) % 1 - 0.5) * 2
        tint = self.tint[mask] * (1 - 0.65 * np.clip((cell - 0.86) / 0.14, 0, 1))[:, None]
        gum = np.clip((v - 7.8) / 0.8, 0, 1)[:, None]
        tint = tint * (1 - gum) + np.array([0.40, 0.12, 0.11], np.float32) * gum
        if self.body.person.braces:
            bracket = (cell < 0.42) & (np.abs(v - 2.8) < 1.5)
            wire = np.abs(v - 2.8) < 0.4
            tint = np.where((bracket | wire)[:, None], np.float32(0.5), tint)
        _, _, half = self._mirrored(mask, self.normal[mask])
        dim = (0.35 + 0.65 * self.sky[mask])[:, None]
        out = (tint * self.falls[mask] + half**60 * 0.25 * self.shadow[mask][:, None]) * dim
        return np.asarray(out, dtype=np.float32)


def _lip_lines(skin: SkinMap, lip: F32) -> tuple[F32, F32]:
    """Brightness and height of the lip lines; 1 and 0 away from the lips."""
    ring, along = lip[..., 0], lip[..., 1]
    bright, height = np.ones_like(ring), np.zeros_like(ring)
    there = ring > -0.3
    rows, columns = np.flatnonzero(there.any(axis=1)), np.flatnonzero(there.any(axis=0))
    if len(rows):
        part = (slice(rows[0], rows[-1] + 1), slice(columns[0], columns[-1] + 1))
        deep, wide = LIP_TEXELS
        u = ((along[part] / LIP_MM + 0.5) * (wide - 1)).astype(np.float32)
        v = (np.clip(ring[part], 0, 2) / 2 * (deep - 1)).astype(np.float32)
        lines = cv2.remap(skin.lips, u, v, cv2.INTER_LINEAR)
        bright[part], height[part] = lines[..., 0], lines[..., 1]
    return bright, height


def _room(direction: F32) -> F32:
    """What a mirror sees of the room in a direction: a window, a lamp, wall and floor."""
    x, y, z = direction[..., 0], direction[..., 1], direction[..., 2]

    def soft(value: F32, low: float, high: float) -> F32:
        t = np.clip((value - low) / (high - low), 0, 1)
        return np.asarray(t * t * (3 - 2 * t))

    base = 0.16 + 0.34 * soft(y, -0.35, 0.75)
    base = base * (1 - 0.45 * soft(-y, 0.05, 0.6))
    window = (
        soft(x, -0.92, -0.80) * soft(-x, 0.28, 0.40) * soft(y, 0.02, 0.12) * soft(-y, -0.84, -0.72)
    )
    bar = 1 - 0.7 * (np.exp(-(((x + 0.58) / 0.03) ** 2)) + np.exp(-(((y - 0.42) / 0.03) ** 2)))
    second = soft(x, 0.62, 0.72) * soft(y, -0.1, 0.1) * soft(-y, -0.6, -0.45)
    dark = np.exp(-((x / 0.30) ** 2 + ((y + 0.05) / 0.42) ** 2)) * (z > 0)
    light = base * (1 - 0.55 * dark) + 1.8 * window * np.clip(bar, 0, 1) * (z > -0.4) + 0.7 * second
    warm = np.stack([light * 1.0, light * 0.985, light * 0.96], -1)
    return np.asarray(warm, dtype=np.float32)
