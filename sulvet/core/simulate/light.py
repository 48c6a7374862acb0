"""The light of a room and the lens of a phone."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Light:
    """A room's light in the camera's frame.

    key, fill        direction toward the light: right, up, toward the camera
    key_rgb, fill_rgb, sky, floor  linear strengths
    soft             radius of the shadow's edge, mm
    exposure         factor on everything
    """

    key: tuple[float, float, float] = (-0.55, 0.50, 0.67)
    fill: tuple[float, float, float] = (0.75, 0.10, 0.65)
    key_rgb: tuple[float, float, float] = (1.95, 1.86, 1.74)
    fill_rgb: tuple[float, float, float] = (0.30, 0.33, 0.40)
    sky: tuple[float, float, float] = (0.58, 0.60, 0.64)
    floor: tuple[float, float, float] = (0.30, 0.26, 0.22)
    soft: float = 5.0
    exposure: float = 1.0
    wall: tuple[float, float, float] = (0.50, 0.47, 0.41)


LIGHTS: dict[str, Light] = {
    "window": Light(),
    "lamp": Light(
        key=(0.50, 0.62, 0.60), fill=(-0.8, 0.05, 0.6), key_rgb=(2.05, 1.84, 1.52),
        fill_rgb=(0.34, 0.33, 0.34), sky=(0.50, 0.46, 0.42), floor=(0.30, 0.25, 0.20),
        soft=3.0, wall=(0.40, 0.43, 0.45),
    ),
    "hall": Light(
        key=(0.10, 0.85, 0.52), fill=(-0.6, 0.2, 0.75), key_rgb=(1.45, 1.45, 1.42),
        fill_rgb=(0.45, 0.46, 0.48), sky=(0.70, 0.70, 0.70), floor=(0.42, 0.38, 0.32),
        soft=9.0, wall=(0.52, 0.44, 0.34),
    ),
    "dim": Light(
        key=(-0.75, 0.30, 0.58), key_rgb=(1.30, 1.10, 0.86), fill_rgb=(0.14, 0.14, 0.16),
        sky=(0.34, 0.32, 0.30), floor=(0.18, 0.15, 0.12), exposure=1.05, wall=(0.28, 0.24, 0.20),
    ),
}  # fmt: skip


@dataclass(frozen=True)
class Lens:
    """What the phone adds: blur (px, standard deviation) and noise (8-bit steps)."""

    blur: float = 0.55
    noise: float = 1.6
