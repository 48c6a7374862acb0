"""A still picture of a thing: a photo, or the sharpest frame of a short clip."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pi_heif
from PIL import Image as Pillow
from PIL import ImageOps, UnidentifiedImageError

from sulvet.core.language import said
from sulvet.core.video.clip import ClipError, Image, Reader, fit

#: What Pillow may try, so that no rare decoder meets a stranger's file.
FORMATS = ("JPEG", "PNG", "WEBP", "AVIF", "HEIF")
#: More than any phone takes; a picture may declare more than memory holds.
MAX_PIXELS = 120_000_000
#: A reed's tip can't be told in less, pixels.
MIN_SIDE = 400
#: What is kept: some 25 pixels a millimetre when the mouthpiece fills the picture.
LONG_SIDE = 2400
MAX_BYTES = 80_000_000
QUALITY = 92
#: Of a clip so many seconds are looked at, every so many frames.
CLIP_SECONDS, EVERY = 12.0, 4
#: Sharpness is told at this size.
LOOK = 640

NOT_A_PICTURE = (
    "This file is neither a photo nor a clip Sulvet can read, or it was cut off while it was "
    "copied. Use a JPEG, PNG or HEIC photo or a short clip straight from the phone."
)

Pillow.init()
pi_heif.register_heif_opener()


def read_photo(path: Path) -> Image:
    """(H, W, 3) RGB, upright, its long side at most ``LONG_SIDE``.

    ClipError with a sentence for what can't be used.
    """
    size = path.stat().st_size
    if size == 0:
        raise ClipError(said("The file is empty. Choose the photo again."))
    if size > MAX_BYTES:
        raise ClipError(
            said(
                "The file has {size:.0f} MB; the limit is {max_bytes:.0f} MB. Take a photo "
                "instead of a clip, or a shorter clip.",
                size=size / 1000000.0,
                max_bytes=MAX_BYTES / 1000000.0,
            )
        )
    try:
        picture = upright(path)
    except UnidentifiedImageError:
        picture = _sharpest(path)
    if min(picture.shape[:2]) < MIN_SIDE:
        raise ClipError(
            said(
                "The picture is only {width} by {height} pixels; a reed can't be measured in "
                "it. Upload the original photo, not a preview.",
                width=picture.shape[1],
                height=picture.shape[0],
            )
        )
    return fit(picture, LONG_SIDE)


def write_jpeg(picture: Image, path: Path) -> None:
    """Keep a picture; nothing of where or when it was taken goes with it."""
    Pillow.fromarray(picture).save(path, "JPEG", quality=QUALITY, subsampling=0)


def upright(path: Path) -> Image:
    """(H, W, 3) RGB of a photo of any size, turned as the phone noted it.

    ClipError for a damaged one, Pillow's UnidentifiedImageError for what is no photo.
    """
    try:
        with Pillow.open(path, formats=FORMATS) as image:
            if image.width * image.height > MAX_PIXELS:
                raise ClipError(
                    said(
                        "The photo is declared as {width} by {height}, which is more than Sulvet "
                        "reads. Save it smaller.",
                        width=image.width,
                        height=image.height,
                    )
                )
            upright = ImageOps.exif_transpose(image)
            return np.asarray(upright.convert("RGB"))
    except UnidentifiedImageError:
        raise
    except (OSError, ValueError, SyntaxError, Pillow.DecompressionBombError) as error:
        raise ClipError(said("The photo is damaged or incomplete. Upload it again.")) from error


def _sharpest(path: Path) -> Image:
    """The frame of a clip with the most detail."""
    best, most = None, -1.0
    reader = Reader(path)
    try:
        for frame in reader.frames():
            if frame.seconds > CLIP_SECONDS:
                break
            if frame.index % EVERY:
                continue
            detail = float(cv2.Laplacian(fit(frame.luma(), LOOK), cv2.CV_64F).var())
            if detail > most:
                best, most = frame.picture("rgb24"), detail
    except ClipError as error:
        raise ClipError(said(NOT_A_PICTURE)) from error
    if best is None:
        raise ClipError(said(NOT_A_PICTURE))
    return best


def check_jpeg(path: Path) -> None:
    """ClipError when a file is no JPEG of at most ``LONG_SIDE`` pixels a side that decodes."""
    try:
        with Pillow.open(path, formats=("JPEG",)) as picture:
            if max(picture.size) > LONG_SIDE:
                raise ClipError(said(NOT_A_PICTURE))
            picture.load()
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise ClipError(said(NOT_A_PICTURE)) from error
