"""A clip read once: times, working pictures, sound, and the faces seen on the way."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO

import cv2
import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Floats
from sulvet.core.video.clip import MAX_SECONDS, ClipFacts, Image, Reader, Sound, facts, fit
from sulvet.core.video.finder import Face, Finder
from sulvet.core.video.proxy import ProxyWriter

WORKING_SIDE = 1280
#: Working pictures of one take may fill this much of the disk, bytes; a longer
#: clip is worked on in a smaller size.
WORKING_BYTES = 2.5e9
#: A face is looked for this often, s: densely where rest is filmed, at the start,
#: then only as often as a rest of more than a second needs to be met.
LOOK_EVERY, LOOK_LATER, EARLY = 0.2, 1.0, 4.0
#: Pictures that may wait for the finder before reading waits for it.
MOST_LOOKING = 4

#: Called with the stage and the share of the whole work that is done, 0 to 1.
Progress = Callable[[str, float], None]


@dataclass(frozen=True)
class Footage:
    """A clip as read: times, working pictures, sound, and the faces seen on the way.

    size     (width, height) of the upright clip, pixels
    grays    (T, h, w) working pictures; ``scale`` working pixels per clip pixel
    faces    row → faces found there, in clip pixels; empty when not looked for
    """

    size: tuple[int, int]
    seconds: Floats
    grays: NDArray[np.uint8]
    scale: float
    sound: Sound
    has_sound: bool
    faces: dict[int, list[Face]]
    trouble: str


def read(
    path: Path,
    pictures: IO[bytes],
    finder: Finder | None,
    progress: Progress = lambda stage, share: None,
    proxy: Path | None = None,
    mirrored: bool = False,
) -> Footage:
    """Read a clip once.

    pictures  a temporary file that holds the working pictures
    finder    looks for faces on some frames; None when marks are given
    proxy     where to write the review copy, if wanted
    mirrored  turn a mirror picture back
    """
    known = facts(path)
    reader = Reader(path, selfie=mirrored)
    times: list[float] = []
    faces: dict[int, list[Face]] = {}
    size, shape, scale, looked = (0, 0), (0, 0), 1.0, -1.0
    side = working_side(known)
    writer = ProxyWriter(proxy, known.has_sound) if proxy else None
    if writer is not None:
        reader.on_audio = writer.sound
    # Looking for faces goes on beside decoding; one thread, since a mesh has a state.
    looking: list[tuple[int, Future[list[Face]]]] = []
    beside = ThreadPoolExecutor(1)
    try:
        for frame in reader.frames():
            gray = frame.luma()
            small = fit(gray, side)
            if not times:
                size, shape = (gray.shape[1], gray.shape[0]), (small.shape[0], small.shape[1])
                scale = small.shape[1] / gray.shape[1]
            elif small.shape[:2] != shape:
                small = cv2.resize(small, shape[::-1]).astype(np.uint8)
            times.append(frame.seconds)
            pictures.write(small.tobytes())
            pace = LOOK_EVERY if frame.seconds < EARLY else LOOK_LATER
            look = finder is not None and frame.seconds >= looked + pace - 1e-6
            if writer is not None:
                writer.picture(frame)
            if look and finder is not None:
                looked = frame.seconds
                if len(looking) > MOST_LOOKING:
                    row, found = looking.pop(0)
                    faces[row] = found.result()
                rgb = frame.picture("rgb24")
                looking.append((len(times) - 1, beside.submit(_find, finder, rgb)))
            if known.seconds:
                progress("reading", 0.6 * min(frame.seconds / known.seconds, 1.0))
        faces |= {row: found.result() for row, found in looking}
    finally:
        beside.shutdown(cancel_futures=True)
        if writer is not None:
            writer.close()
    pictures.flush()
    grays = np.memmap(pictures.name, np.uint8, "r", shape=(len(times), *shape))
    return Footage(
        size=size,
        seconds=np.array(times),
        grays=grays,
        scale=scale,
        sound=reader.sound,
        has_sound=reader.has_sound,
        faces=faces,
        trouble=reader.trouble,
    )


def working_side(known: ClipFacts) -> int:
    """Long side of the working pictures, pixels."""
    frames = (known.seconds or MAX_SECONDS) * (known.rate or 30.0)
    shape = min(known.width, known.height) / max(known.width, known.height)
    return int(min(WORKING_SIDE, np.sqrt(WORKING_BYTES / (frames * shape))))


def _find(finder: Finder, rgb: Image) -> list[Face]:
    small = fit(rgb, WORKING_SIDE)
    factor = rgb.shape[1] / small.shape[1]
    found = finder.find(small)
    if factor == 1:
        return found
    return [
        replace(
            face,
            points={name: (p + 0.5) * factor - 0.5 for name, p in face.points.items()},
            width=face.width * factor,
            sigma={name: sigma * factor for name, sigma in face.sigma.items()},
        )
        for face in found
    ]
