"""Many drawn pictures in files, one a person, so that drawing can stop and go on."""

from __future__ import annotations

from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from pathlib import Path

import cv2
import numpy as np

from sulvet.core.dataset.draw import corner_sample, lips_sample, sample
from sulvet.core.dataset.people import random_person
from sulvet.core.dataset.samples import arrays

#: Pictures of one person: skin takes seconds to paint, a picture a third of one.
PER_PERSON = 24
#: People of these numbers are all drawn from the side with something at the mouth.
BESIDE = range(2_000_000, 3_000_000)
#: Of these only corners of the mouth are drawn, large: for the third network.
CORNERS = range(3_000_000, 4_000_000)
#: Of these only the middle of the lips: for the fourth.
LIPS = range(4_000_000, 5_000_000)
#: How finely the skin of both is painted, mm: finer than a pixel of those pictures.
CLOSER_TEXEL_MM = 0.3


def draw_person(number: int, folder: Path) -> Path:
    """Draw all pictures of a person, unless they are there already.

    number  says who: the same number gives the same person and the same pictures
    """
    path = folder / f"{number:06d}.npz"
    if path.exists():
        return path
    cv2.setNumThreads(1)
    rng = np.random.default_rng(number)
    person = random_person(rng)
    if number in CORNERS:
        samples = [corner_sample(rng, person, CLOSER_TEXEL_MM) for _ in range(PER_PERSON)]
    elif number in LIPS:
        samples = [lips_sample(rng, person, CLOSER_TEXEL_MM) for _ in range(PER_PERSON)]
    else:
        samples = [sample(rng, person, number in BESIDE) for _ in range(PER_PERSON)]
    half = path.with_suffix(".part")
    with half.open("wb") as file:
        np.savez(file, allow_pickle=False, **arrays(samples))
    half.rename(path)
    return path


def write(folder: Path, first: int, count: int, workers: int) -> Iterator[Path]:
    """Draw people ``first`` to ``first + count``, and yield each file when it is there."""
    folder.mkdir(parents=True, exist_ok=True)
    numbers = range(first, first + count)
    with ProcessPoolExecutor(workers, get_context("spawn")) as pool:
        yield from pool.map(draw_person, numbers, [folder] * count)
