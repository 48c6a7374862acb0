"""A drawn picture with its truth, and many of them in one file.

Nothing of the made-up head is needed to read them: training runs without it.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Bools, Floats

QUALITY = 95


@dataclass(frozen=True)
class Sample:
    """A drawn picture.

    picture  (H, W, 3) RGB, neither blurred nor noisy; mask (H, W) 255 where somebody stands
    xy       (P, 2) pixels, NaN where the scene has no such point
    seen     (P,) whether nothing covers it and it lies in the picture
    mouth    (2,) pixels: the middle between the borders of the lips
    unit     pixels that the width of this mouth at rest would take, seen from the front
    turn     yaw, pitch and roll of the head against the camera, degrees
    facts    instrument, skin tone, lip fullness, age
    """

    picture: NDArray[np.uint8]
    mask: NDArray[np.uint8]
    xy: Floats
    seen: Bools
    mouth: Floats
    unit: float
    turn: Floats
    facts: dict[str, str]


def arrays(samples: list[Sample]) -> dict[str, NDArray[Any]]:
    """Samples as arrays for one file, pictures compressed."""
    pictures = [
        cv2.imencode(".jpg", s.picture[..., ::-1], [cv2.IMWRITE_JPEG_QUALITY, QUALITY])[1].ravel()
        for s in samples
    ]
    masks = [cv2.imencode(".png", s.mask)[1].ravel() for s in samples]
    return {
        "pictures": np.concatenate(pictures),
        "picture_ends": np.cumsum([len(p) for p in pictures]),
        "masks": np.concatenate(masks),
        "mask_ends": np.cumsum([len(m) for m in masks]),
        "xy": np.array([s.xy for s in samples], np.float32),
        "seen": np.array([s.seen for s in samples]),
        "mouth": np.array([s.mouth for s in samples], np.float32),
        "unit": np.array([s.unit for s in samples], np.float32),
        "turn": np.array([s.turn for s in samples], np.float32),
        "facts": np.array([json.dumps(s.facts) for s in samples]),
    }


def sample_in(kept: dict[str, NDArray[Any]], n: int) -> Sample:
    """The ``n``th of the samples that ``arrays`` made one of."""

    def piece(name: str) -> NDArray[Any]:
        ends = kept[f"{name}_ends"]
        return np.asarray(kept[f"{name}s"][ends[n - 1] if n else 0 : ends[n]])

    picture = cv2.cvtColor(cv2.imdecode(piece("picture"), cv2.IMREAD_COLOR), cv2.COLOR_BGR2RGB)
    mask = cv2.imdecode(piece("mask"), cv2.IMREAD_GRAYSCALE)
    return Sample(
        np.asarray(picture, np.uint8), np.asarray(mask, np.uint8),
        kept["xy"][n].astype(float), kept["seen"][n], kept["mouth"][n].astype(float),
        float(kept["unit"][n]), kept["turn"][n].astype(float), json.loads(str(kept["facts"][n])),
    )  # fmt: skip


def read(path: Path) -> list[Sample]:
    """The pictures of one file."""
    with np.load(path) as file:
        kept = {name: file[name] for name in file.files}
    return [sample_in(kept, n) for n in range(len(kept["unit"]))]
