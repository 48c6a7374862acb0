"""A real face bent by a known amount: the public-domain portrait that comes with scikit-image."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path

import av
import cv2
import numpy as np
from scipy.interpolate import RBFInterpolator
from skimage import data

from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import Image
from sulvet.core.video.face_mesh import MeshFinder

SIDE, FPS = 750, 20
#: Seconds of rest, of coming into shape, and of the shape held.
REST, FORM, HOLD = 1.3, 0.4, 2.1
#: How long the lens is, pixels: about a phone's, one metre away.
FOCAL = 900.0


@dataclass(frozen=True)
class Bend:
    """What is done to the portrait.

    up, out  how far both corners go, pixels
    rim      upper share of a drawn rim at the mouth, or None; aside where it lies, of the
             mouth's width
    turn     how far the flat picture is turned to each side about the vertical, degrees
    close    the mouth alone, without eyes
    coarse   quality of the coding: H.264's rate factor
    """

    up: float = 0.0
    out: float = 0.0
    rim: float | None = None
    aside: float = 0.0
    turn: float = 0.0
    close: bool = False
    coarse: int = 27
    blur: float = 0.0


@cache
def image() -> Image:
    """The face, (SIDE, SIDE, 3) RGB."""
    head = data.astronaut()[:300, 90:390]
    return np.asarray(cv2.resize(head, (SIDE, SIDE), interpolation=cv2.INTER_CUBIC), np.uint8)


@cache
def at_rest() -> dict[str, Floats]:
    """Landmarks of the face as it is."""
    found = MeshFinder().find(image())[0].points
    return {name: place for name, place in found.items() if name in FRONT_IDS}


def bent(bend: Bend, share: float) -> dict[str, Floats]:
    """All landmarks with both corners on their way, 0 to 1."""
    points = {name: place.copy() for name, place in at_rest().items()}
    points["ch_r"] += share * np.array([-bend.out, -bend.up])
    points["ch_l"] += share * np.array([bend.out, -bend.up])
    return points


def rise(points: dict[str, Floats]) -> float:
    """Corner rise by hand: against the eye corners, from the middle of the lips, degrees."""
    eyes = points["ex_l"] - points["ex_r"]
    along = eyes / np.linalg.norm(eyes)
    up = np.array([along[1], -along[0]])
    middle = (points["ls"] + points["li"]) / 2
    arms = [points[name] - middle for name in ("ch_r", "ch_l")]
    return float(np.mean([np.degrees(np.arctan2(a @ up, abs(a @ along))) for a in arms]))


def width(points: dict[str, Floats]) -> float:
    """Of the mouth, pixels."""
    return float(np.linalg.norm(points["ch_l"] - points["ch_r"]))


def picture(bend: Bend, share: float) -> Image:
    """The face bent, before it moves."""
    still = [p for name, p in at_rest().items() if name[:2] in ("ex", "en", "al", "sn")]
    border = [(x, y) for x in (0, SIDE // 2, SIDE) for y in (0, SIDE // 2, SIDE)]
    lips = [name for name in at_rest() if name[:2] in ("ch", "cp", "ls", "st", "li")]
    here = np.array([*(at_rest()[name] for name in lips), *still, *border], dtype=float)
    moved = bent(bend, share)
    there = np.array([*(moved[name] for name in lips), *still, *border], dtype=float)
    spline = RBFInterpolator(there, here - there, kernel="thin_plate_spline")
    grid = np.linspace(0, SIDE, 31)
    places = np.stack(np.meshgrid(grid, grid), axis=-1)
    moves = spline(places.reshape(-1, 2)).reshape(31, 31, 2).astype(np.float32)
    pixel = np.arange(SIDE, dtype=np.float32)
    fine = np.stack(np.meshgrid(pixel, pixel), axis=-1) * np.float32(30 / SIDE)
    offset = cv2.remap(moves, fine, None, cv2.INTER_CUBIC)
    source = np.stack(np.meshgrid(pixel, pixel), axis=-1) + offset
    out = np.asarray(cv2.remap(image(), source, None, cv2.INTER_CUBIC), dtype=np.uint8)
    if bend.rim is not None and share > 0.5:
        _rim(out, bend, moved)
    return out


def _rim(out: Image, bend: Bend, points: dict[str, Floats]) -> None:
    """A silver mouthpiece before the lips, with shadow, cup and shank, drawn in place."""
    wide = width(at_rest())
    radius = 0.235 * wide
    lips = (points["sto_s"] + points["sto_i"]) / 2
    middle = lips + np.array([bend.aside * wide, radius - 2 * radius * (bend.rim or 0.0)])
    x, y = (round(float(v)) for v in middle)
    shade = np.zeros(out.shape[:2], np.uint8)
    cv2.circle(shade, (x + 6, y + 12), round(radius * 1.08), 110, -1)
    soft = cv2.GaussianBlur(shade, (0, 0), 7)[..., None] / 255
    out[:] = out * (1 - soft)
    line = cv2.LINE_AA
    cv2.line(
        out, (x, y), (x + 8, y + round(5 * radius)), (150, 152, 158), round(0.5 * radius), line
    )
    cv2.circle(out, (x, y), round(radius), (186, 188, 194), -1, line)
    cv2.circle(out, (x, y), round(0.84 * radius), (226, 228, 232), 3, line)
    cv2.circle(out, (x, y), round(0.66 * radius), (128, 130, 136), -1, line)


def _move(bend: Bend, n: int) -> Floats:
    """(3, 3) how the flat picture lies before the lens at one frame."""
    lean = np.radians(3 * np.sin(n / 17))
    turn = np.radians(bend.turn * np.sin(n / 9))
    nod = np.radians(0.5 * bend.turn * np.sin(n / 13 + 1))
    middle = SIDE / 2
    about_y = np.array(
        [[np.cos(turn), 0, np.sin(turn)], [0, 1, 0], [-np.sin(turn), 0, np.cos(turn)]]
    )
    about_x = np.array([[1, 0, 0], [0, np.cos(nod), -np.sin(nod)], [0, np.sin(nod), np.cos(nod)]])
    about_z = np.array(
        [[np.cos(lean), np.sin(lean), 0], [-np.sin(lean), np.cos(lean), 0], [0, 0, 1]]
    )
    turned = about_z @ about_x @ about_y
    flat = np.array([[1, 0, -middle], [0, 1, -middle], [0, 0, 1.0]])
    # A plane through the origin, FOCAL before the lens.
    seen = np.column_stack([turned[:, 0], turned[:, 1], (0, 0, FOCAL)])
    lens = np.array([[FOCAL, 0, middle], [0, FOCAL, middle], [0, 0, 1.0]])
    shift = np.array([[1, 0, 7 * np.sin(n / 10)], [0, 1, 4 * np.cos(n / 13)], [0, 0, 1]])
    out = shift @ lens @ seen @ flat
    if bend.close:
        lips = (at_rest()["ls"] + at_rest()["li"]) / 2
        zoom = 4.4
        out = np.array([
            [zoom, 0, middle - zoom * lips[0]], [0, zoom, middle - zoom * lips[1]], [0, 0, 1],
        ]) @ out  # fmt: skip
    return np.asarray(out / out[2, 2])


def frames(bend: Bend) -> Iterator[tuple[Image, dict[str, Floats]]]:
    """Rest, then the bend held: each picture with the truth in its pixels."""
    rng = np.random.default_rng(1)
    drawn = cache(picture)
    still = replace(bend, turn=0.0, close=False, coarse=0, blur=0.0)
    for n in range(round((REST + FORM + HOLD) * FPS)):
        share = round(float(np.clip((n / FPS - REST) / FORM, 0, 1)), 3)
        move = _move(bend, n)
        out = cv2.warpPerspective(
            drawn(still, share), move, (SIDE, SIDE), flags=cv2.INTER_CUBIC,
            borderMode=cv2.BORDER_REPLICATE,
        )  # fmt: skip
        if bend.blur:
            out = cv2.GaussianBlur(out, (0, 0), bend.blur)
        noisy = np.clip(out + rng.normal(0, 3, out.shape), 0, 255).astype(np.uint8)
        names = list(at_rest())
        places = np.array([bent(bend, share)[name] for name in names])
        seen = cv2.perspectiveTransform(places[None].astype(float), move)[0]
        yield noisy, dict(zip(names, seen, strict=True))


def write(path: Path, bend: Bend) -> list[dict[str, Floats]]:
    """Write the clip; returns the truth of each frame."""
    truth = []
    with av.open(str(path), "w") as container:
        video = container.add_stream("libx264", rate=FPS)
        video.width = video.height = SIDE
        video.pix_fmt = "yuv420p"
        video.options = {"crf": str(bend.coarse), "preset": "veryfast"}
        for shown, places in frames(bend):
            container.mux(video.encode(av.VideoFrame.from_ndarray(shown, format="rgb24")))
            truth.append(places)
        container.mux(video.encode(None))
    return truth
