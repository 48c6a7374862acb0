"""From drawn pictures to what the networks are shown: cut, turned, lit, blurred and compressed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.random import Generator
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.dataset.samples import Sample, sample_in
from sulvet.core.video.crops import (
    CLOSE,
    CLOSER_SIDE,
    CORNER_WIDE,
    LIPS_WIDE,
    LOCATE_SIDE,
    MARK_SIDE,
    WIDE,
    crop_matrix,
    cut,
    through,
)
from sulvet.core.video.network_points import LIPS, MIRRORED, POINTS
from training.backgrounds import background

Picture = NDArray[np.uint8]
Array = NDArray[np.float32]


def files(folder: Path) -> list[Path]:
    """All drawn people, in order."""
    return sorted(folder.glob("*.npz"))


class Drawn:
    """All pictures of a folder, kept as they are compressed."""

    def __init__(self, paths: list[Path]) -> None:
        self.parts: list[dict[str, NDArray[Any]]] = []
        self.index: list[tuple[int, int]] = []
        for path in paths:
            with np.load(path) as file:
                part = {name: file[name] for name in file.files}
            self.index += [(len(self.parts), n) for n in range(len(part["unit"]))]
            self.parts.append(part)

    def __len__(self) -> int:
        return len(self.index)

    def __getitem__(self, k: int) -> Sample:
        part, n = self.index[k]
        return sample_in(self.parts[part], n)

    def by_lot(self, rng: Generator) -> Sample:
        """Any of them."""
        return self[int(rng.integers(len(self)))]


@dataclass(frozen=True)
class Shown:
    """What a network is shown, with the truth in the pixels of that."""

    picture: Picture
    xy: Array
    seen: NDArray[np.bool_]
    mouth: Array
    unit: float
    turn: Array


def mirrored(sample: Sample) -> Sample:
    """As a mirror shows it, sides swapped."""
    order = list(MIRRORED)
    width = sample.picture.shape[1]
    xy = sample.xy[order] * (-1, 1) + (width - 1, 0)
    mouth = sample.mouth * (-1, 1) + (width - 1, 0)
    return Sample(
        np.ascontiguousarray(sample.picture[:, ::-1]), np.ascontiguousarray(sample.mask[:, ::-1]),
        xy, sample.seen[order], mouth, sample.unit, sample.turn * (-1, 1, -1), sample.facts,
    )  # fmt: skip


def composed(rng: Generator, sample: Sample, matrix: Floats, side: int) -> Picture:
    """The drawn head through a matrix, before a background; black beyond the drawn frame."""
    front = cut(sample.picture, matrix, side).astype(np.float32)
    mask = cut(sample.mask, matrix, side)
    frame = cut(np.full_like(sample.mask, 255), matrix, side)
    if rng.uniform() < 0.5:
        mask = cv2.GaussianBlur(mask, (0, 0), float(rng.uniform(0.4, 0.9)))
    share = mask[..., None].astype(np.float32) / 255
    behind = background(rng, side, side) * (frame[..., None].astype(np.float32) / 255)
    return np.asarray(front * share + behind * (1 - share), np.uint8)


def degraded(rng: Generator, picture: Picture) -> Picture:
    """Light, colour, blur, noise and compression, as phones and rooms add them."""
    out: NDArray[Any] = picture.astype(np.float32) / 255
    height, width = picture.shape[:2]
    if rng.uniform() < 0.35:
        # A shadow or a lamp from one side.
        corners = rng.uniform(0.35, 1.35, (2, 2, 1)).astype(np.float32)
        out = out * cv2.resize(corners, (width, height))[..., None]
    if rng.uniform() < 0.7:
        out = np.clip(out, 0, 1) ** np.exp(rng.normal(0, 0.28))
    if rng.uniform() < 0.6:
        out = out * np.exp(rng.normal(0, 0.13, 3)).astype(np.float32)
    if rng.uniform() < 0.6:
        out = (out - 0.5) * rng.uniform(0.6, 1.4) + 0.5 + rng.normal(0, 0.06)
    grey = out.mean(-1, keepdims=True)
    if rng.uniform() < 0.12:
        out = np.repeat(grey, 3, axis=-1)
    elif rng.uniform() < 0.4:
        out = grey + (out - grey) * rng.uniform(0.3, 1.7)
    if rng.uniform() < 0.06:
        order = rng.permutation(3)
        out = out[..., order]
    # Nobody can find marks in the dark, and no phone leaves a picture there.
    bright = float(np.percentile(out[::4, ::4], 97))
    if bright < 0.35:
        out = out * (0.35 / max(bright, 0.05))
    out = np.clip(out, 0, 1).astype(np.float32)
    how = rng.uniform()
    if how < 0.3:
        out = cv2.GaussianBlur(out, (0, 0), float(rng.uniform(0.4, 2.4)))
    elif how < 0.45:
        out = _moved(rng, out)
    elif how < 0.6:
        soft = cv2.GaussianBlur(out, (0, 0), 1.2)
        out = np.clip(out + rng.uniform(0.3, 1.6) * (out - soft), 0, 1)
    if rng.uniform() < 0.2:
        small = rng.uniform(0.3, 0.8)
        out = cv2.resize(out, None, fx=small, fy=small, interpolation=cv2.INTER_AREA)
        out = cv2.resize(out, (width, height), interpolation=cv2.INTER_LINEAR)
    if rng.uniform() < 0.6:
        out = out + rng.standard_normal(out.shape, np.float32) * np.float32(
            rng.uniform(0.003, 0.05)
        )
    done = np.asarray(np.clip(out * 255, 0, 255), np.uint8)
    if rng.uniform() < 0.5:
        quality = [cv2.IMWRITE_JPEG_QUALITY, int(rng.uniform(18, 85))]
        coded = cv2.imdecode(cv2.imencode(".jpg", done, quality)[1], cv2.IMREAD_COLOR)
        done = np.asarray(coded, np.uint8)
    return done


def _moved(rng: Generator, out: Array) -> Array:
    """Blur of a moving hand."""
    size = int(rng.integers(3, 10))
    kernel = np.zeros((size, size), np.float32)
    a = rng.uniform(0, np.pi)
    middle, reach = (size - 1) / 2, size / 2
    cv2.line(
        kernel,
        (round(middle - reach * np.cos(a)), round(middle - reach * np.sin(a))),
        (round(middle + reach * np.cos(a)), round(middle + reach * np.sin(a))), 1.0,
    )  # fmt: skip
    return np.asarray(cv2.filter2D(out, -1, kernel / kernel.sum()), np.float32)


def _blocked(rng: Generator, picture: Picture, most: float) -> None:
    """Something stands before a part of the picture: a stand, a sheet, a hand."""
    height, width = picture.shape[:2]
    for _ in range(int(rng.integers(1, 3))):
        w, h = (int(rng.uniform(0.04, most) * width) for _ in "ab")
        x, y = int(rng.uniform(0, width - w)), int(rng.uniform(0, height - h))
        picture[y : y + h, x : x + w] = background(rng, w + 8, h + 8)[:h, :w]


def for_marks(rng: Generator, sample: Sample) -> Shown:
    """A crop round the mouth for the second network."""
    if rng.uniform() < 0.5:
        sample = mirrored(sample)
    wide = WIDE if rng.uniform() < 0.6 else CLOSE
    wide = wide * np.exp(rng.normal(0, 0.13))
    mouth = sample.mouth + rng.normal(0, 0.10 * sample.unit * wide / WIDE * 1.6, 2)
    roll = sample.turn[2] * rng.choice([0.0, 1.0]) + rng.normal(0, 7)
    matrix = crop_matrix(mouth, sample.unit, wide, roll)
    crop = composed(rng, sample, matrix, MARK_SIDE)
    if rng.uniform() < 0.12:
        _blocked(rng, crop, 0.3)
    xy = through(matrix, sample.xy)
    inside = ((xy > -0.5) & (xy < MARK_SIDE - 0.5)).all(1)
    turn = sample.turn - np.array([0.0, 0.0, roll])
    return Shown(
        degraded(rng, crop), xy.astype(np.float32), sample.seen & inside,
        through(matrix, sample.mouth).astype(np.float32), MARK_SIDE / wide, turn.astype(np.float32),
    )  # fmt: skip


def for_corner(rng: Generator, sample: Sample) -> Shown:
    """A crop round a corner of the mouth for the third network: as the subject's right one."""
    name = sample.facts["corner"]
    if name == "ch_l":
        sample, name = mirrored(sample), "ch_r"
    k = POINTS.index(name)
    unit = sample.unit * float(np.exp(rng.normal(0, 0.1)))
    middle = sample.xy[k] + np.clip(rng.normal(0, 0.09, 2), -0.28, 0.28) * unit
    return _closer(rng, sample, [k], middle, unit, CORNER_WIDE)


def for_lips(rng: Generator, sample: Sample) -> Shown:
    """A crop round the middle of the lips for the fourth network."""
    if rng.uniform() < 0.5:
        sample = mirrored(sample)
    unit = sample.unit * float(np.exp(rng.normal(0, 0.1)))
    middle = sample.mouth + np.clip(rng.normal(0, 0.05, 2), -0.16, 0.16) * unit
    return _closer(rng, sample, [POINTS.index(name) for name in LIPS], middle, unit, LIPS_WIDE)


def _closer(
    rng: Generator, sample: Sample, points: list[int], middle: Floats, unit: float, wide: float
) -> Shown:
    """A crop so many mouths wide with some of the points, upright or as the head leans."""
    roll = sample.turn[2] * rng.choice([0.0, 1.0]) + rng.normal(0, 6)
    matrix = crop_matrix(middle, unit, wide, roll, CLOSER_SIDE)
    crop = composed(rng, sample, matrix, CLOSER_SIDE)
    if rng.uniform() < 0.06:
        _blocked(rng, crop, 0.25)
    return Shown(
        degraded(rng, crop), through(matrix, sample.xy[points]).astype(np.float32),
        sample.seen[points], np.zeros(2, np.float32), CLOSER_SIDE / wide, np.zeros(3, np.float32),
    )  # fmt: skip


def for_place(rng: Generator, sample: Sample) -> Shown | Picture:
    """A whole picture for the first network; without a mouth just the picture."""
    side = LOCATE_SIDE
    if rng.uniform() < 0.06:
        return degraded(rng, background(rng, side, side))
    if rng.uniform() < 0.5:
        sample = mirrored(sample)
    full = sample.mask.shape[0]
    touches = (
        (sample.mask[:, 0] > 0).any(), (sample.mask[:, -1] > 0).any(),
        (sample.mask[0] > 0).any(),
    )  # fmt: skip
    least = side / full if (touches[0] and touches[1]) or touches[2] else 0.28 * side / full
    scale = float(np.exp(rng.uniform(np.log(least), np.log(1.6 * side / full))))
    roll = rng.normal(0, 8) if scale > 0.9 * side / full else 0.0
    shown = scale * full
    free = side - shown

    def start(low: bool, high: bool) -> float:
        if low and free > 0:
            return 0.0
        if high and free > 0:
            return float(free)
        return float(rng.uniform(min(0, free), max(0, free)))

    x = start(bool(touches[0]), bool(touches[1]))
    y = free if free > 0 else rng.uniform(free, 0)
    a = np.radians(roll)
    turn = scale * np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
    middle = np.array([x + shown / 2, y + shown / 2])
    matrix = np.hstack([turn, (middle - turn @ np.full(2, full / 2))[:, None]])
    if abs(roll) > 0 or free <= 0:
        # The drawn frame is larger than what is shown; what lies beyond it is black.
        picture = composed(rng, sample, matrix, side)
    else:
        front = cut(sample.picture, matrix, side).astype(np.float32)
        mask = cut(sample.mask, matrix, side)[..., None].astype(np.float32) / 255
        behind = background(rng, side, side)
        picture = np.asarray(front * mask + behind * (1 - mask), np.uint8)
    if rng.uniform() < 0.35:
        # A phone's picture is not square.
        band = int(side * rng.uniform(0.12, 0.23))
        if rng.uniform() < 0.6:
            picture[:band], picture[-band:] = 0, 0
        else:
            picture[:, :band], picture[:, -band:] = 0, 0
    if rng.uniform() < 0.1:
        _blocked(rng, picture, 0.35)
    mouth = through(matrix, sample.mouth)
    picture = degraded(rng, picture)
    if (
        not ((mouth > 2) & (mouth < side - 3)).all()
        or not picture[
            int(mouth[1]) - 2 : int(mouth[1]) + 3, int(mouth[0]) - 2 : int(mouth[0]) + 3
        ].any()
    ):
        return picture
    turned = sample.turn + np.array([0.0, 0.0, roll])
    return Shown(
        picture, np.zeros((0, 2), np.float32), np.zeros(0, bool), mouth.astype(np.float32),
        sample.unit * scale, turned.astype(np.float32),
    )  # fmt: skip


def mark_batch(drawn: Drawn, seed: int, size: int) -> tuple[Picture, dict[str, Array]]:
    """A batch for the second network."""
    rng = np.random.default_rng(seed)
    cv2.setNumThreads(1)
    shown = [for_marks(rng, drawn.by_lot(rng)) for _ in range(size)]
    return np.array([s.picture for s in shown]), _points(shown) | {
        "turn": np.array([s.turn for s in shown], np.float32),
        "unit": np.array([s.unit for s in shown], np.float32),
    }


def corner_batch(drawn: Drawn, seed: int, size: int) -> tuple[Picture, dict[str, Array]]:
    """A batch for the third network."""
    return _closer_batch(for_corner, drawn, seed, size)


def lips_batch(drawn: Drawn, seed: int, size: int) -> tuple[Picture, dict[str, Array]]:
    """A batch for the fourth network."""
    return _closer_batch(for_lips, drawn, seed, size)


def _closer_batch(
    crop: Callable[[Generator, Sample], Shown], drawn: Drawn, seed: int, size: int
) -> tuple[Picture, dict[str, Array]]:
    rng = np.random.default_rng(seed)
    cv2.setNumThreads(1)
    shown = [crop(rng, drawn.by_lot(rng)) for _ in range(size)]
    return np.array([s.picture for s in shown]), _points(shown)


def _points(shown: list[Shown]) -> dict[str, Array]:
    """Where the points of crops are, whether they are seen, and how much each counts."""
    present = np.array([np.isfinite(s.xy[:, 0]) for s in shown])
    xy = np.nan_to_num(np.array([s.xy for s in shown]))
    side = shown[0].picture.shape[0]
    inside = ((xy > -0.5) & (xy < side - 0.5)).all(-1)
    seen = np.array([s.seen for s in shown])
    weight = np.where(present & inside, np.where(seen, 1.0, 0.3), 0.0)
    return {
        "xy": xy.astype(np.float32), "weight": weight.astype(np.float32),
        "seen": seen.astype(np.float32),
    }  # fmt: skip


def place_batch(drawn: Drawn, seed: int, size: int) -> tuple[Picture, dict[str, Array]]:
    """A batch for the first network."""
    rng = np.random.default_rng(seed)
    cv2.setNumThreads(1)
    shown = [for_place(rng, drawn.by_lot(rng)) for _ in range(size)]
    pictures = [s.picture if isinstance(s, Shown) else s for s in shown]
    there = [s if isinstance(s, Shown) else None for s in shown]
    return np.array(pictures), {
        "mouth": np.array([s.mouth if s else (-999, -999) for s in there], np.float32),
        "unit": np.array([s.unit if s else 1.0 for s in there], np.float32),
        "turn": np.array([s.turn if s else (0, 0, 0) for s in there], np.float32),
    }
