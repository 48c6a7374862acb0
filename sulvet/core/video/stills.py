"""Photos as a clip: the relaxed face, then the mouth as it plays, each standing still.

A take then is read, drawn, compared and printed as any other; what only movement shows is not
judged on it.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import av
import cv2
import numpy as np
from PIL import Image as Pillow
from PIL import UnidentifiedImageError

from sulvet.core.language import said
from sulvet.core.video.clip import ClipError, Image, fit
from sulvet.core.video.photo import FORMATS, MAX_BYTES, upright

#: A picture stands for so many frames, at so many a second: what smooths a clip over neighbouring
#: frames must not mix two pictures.
FRAMES, RATE = 15, 15
#: Longest side of a picture, px; a mouth can't be measured in less than the least.
LONG_SIDE, LEAST_SIDE = 1600, 320
#: Nearly what was photographed: the take is measured on it.
CRF = "12"
NO_PHOTO = (
    "“{name}” is no photo Sulvet can read. Use JPEG, PNG, HEIC, WebP or AVIF, as the phone wrote "
    "it."
)
#: Where a photo says when it was taken (Exif 2.3): the block of the camera, and its own day there.
CAMERA, TAKEN = 0x8769, 0x9003
GREY = 128


@dataclass(frozen=True)
class Stills:
    """What photos became.

    filmed_on  the day the photo says, as ISO text; empty where it says none
    rest, hold when the relaxed face and the playing mouth are shown, s; rest None without a photo.
               They have no frame in common: a phase holds the frames at both of its ends
    """

    filmed_on: str
    rest: tuple[float, float] | None
    hold: tuple[float, float]


def write_stills(rest: Path | None, playing: Path, out: Path) -> Stills:
    """Write one clip of two photos, or of one, upright as the phone noted it and without what it
    wrote beside (place, time, camera).

    Raises ClipError with a sentence for what can't be used.
    """
    pictures = [_read(path) for path in (rest, playing) if path is not None]
    height, width = (2 * (side // 2) for side in pictures[-1].shape[:2])
    seconds = FRAMES / RATE
    with av.open(str(out), "w", format="mp4", options={"movflags": "+faststart"}) as container:
        video = container.add_stream("libx264", rate=Fraction(RATE))
        video.width, video.height, video.pix_fmt = width, height, "yuv420p"
        video.options = {"crf": CRF, "preset": "veryfast", "bf": "0", "g": str(RATE)}
        for picture in pictures:
            shown = av.VideoFrame.from_ndarray(_onto(picture, width, height), format="rgb24")
            for _ in range(FRAMES):
                container.mux(video.encode(shown.reformat(format="yuv420p")))
        container.mux(video.encode(None))
    if rest is None:
        return Stills(_day(playing), None, (0.0, seconds))
    return Stills(_day(playing), (0.0, (FRAMES - 1) / RATE), (seconds, 2 * seconds))


def _read(path: Path) -> Image:
    size = path.stat().st_size
    if not 0 < size <= MAX_BYTES:
        raise ClipError(said(NO_PHOTO, name=path.name))
    try:
        picture = fit(upright(path), LONG_SIDE)
    except UnidentifiedImageError as error:
        raise ClipError(said(NO_PHOTO, name=path.name)) from error
    if min(picture.shape[:2]) < LEAST_SIDE:
        raise ClipError(
            said(
                "The photo is only {width} by {height} pixels; a mouth can't be measured in "
                "it. Upload the original, not a preview.",
                width=picture.shape[1],
                height=picture.shape[0],
            )
        )
    return picture


def _onto(picture: Image, width: int, height: int) -> Image:
    """A picture in the middle of a frame, as large as it goes, grey beside it."""
    scale = min(width / picture.shape[1], height / picture.shape[0])
    size = (
        min(round(picture.shape[1] * scale), width),
        min(round(picture.shape[0] * scale), height),
    )
    fitted = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    out = np.full((height, width, 3), GREY, np.uint8)
    left, top = (width - size[0]) // 2, (height - size[1]) // 2
    out[top : top + size[1], left : left + size[0]] = fitted
    return out


def _day(path: Path) -> str:
    """The day a photo was taken, as it says; empty where it says none, or nonsense."""
    try:
        with Pillow.open(path, formats=FORMATS) as image:
            said = str(image.getexif().get_ifd(CAMERA).get(TAKEN, ""))
        return datetime.datetime.strptime(said[:10], "%Y:%m:%d").date().isoformat()
    except (OSError, ValueError, SyntaxError):
        return ""
