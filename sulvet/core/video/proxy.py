"""The review copy of a clip: what a browser can play and step through.

H.264 without B frames, a keyframe each 15 frames, AAC, index in front. It has
exactly the frames of the clip, at the clip's own times.
"""

from __future__ import annotations

from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.error import FFmpegError

from sulvet.core.language import said
from sulvet.core.video.clip import ClipError, Frame, Image

PROXY = "proxy.mp4"
LONG_SIDE = 1280
GOP = 15
TIME_BASE = Fraction(1, 90000)


class ProxyWriter:
    """Writes a review copy while the clip is read. Close it to finish the file."""

    def __init__(self, path: Path, has_sound: bool) -> None:
        self._container = av.open(str(path), "w", format="mp4", options={"movflags": "+faststart"})
        self._video: Any = None
        self._audio: Any = None
        if has_sound:
            self._audio = self._container.add_stream("aac", rate=48000, layout="mono")
            self._audio.bit_rate = 96000
        self._resampler = av.AudioResampler(format="fltp", layout="mono", rate=48000)
        self._waiting: list[av.AudioFrame] = []
        self._samples = 0

    def picture(self, source: Frame) -> None:
        """Add one upright picture at its time."""
        planes = source.planes() or _planes(source.picture("rgb24"))
        if self._video is None:
            self._start(source, *_even(planes[0]))
        width, height = self._video.width, self._video.height
        pixels = [
            _resized(plane, (width // part, height // part)).ravel()
            for plane, part in zip(planes, (1, 2, 2), strict=True)
        ]
        frame = av.VideoFrame.from_ndarray(
            np.concatenate(pixels).reshape(height * 3 // 2, width), format="yuv420p"
        )
        frame.pts = round(source.seconds / TIME_BASE)
        frame.time_base = TIME_BASE
        self._container.mux(self._video.encode(frame))
        self._flush_sound()

    def sound(self, frame: av.AudioFrame) -> None:
        """Add sound; held back until the first picture has set up the file."""
        self._waiting.append(frame)
        if self._video is not None:
            self._flush_sound()

    def close(self) -> None:
        """Finish the file."""
        if self._video is not None:
            self._flush_sound()
            self._container.mux(self._video.encode(None))
            if self._audio is not None:
                for piece in self._resampler.resample(None):
                    self._encode(piece)
                self._container.mux(self._audio.encode(None))
        self._container.close()

    def _start(self, source: Frame, width: int, height: int) -> None:
        self._video = self._container.add_stream("libx264", rate=30)
        if source.planes() is not None:
            # The colours are copied as they are coded, so what they mean is too.
            for name in ("colorspace", "color_range", "color_primaries", "color_trc"):
                setattr(self._video.codec_context, name, getattr(source.video, name))
        self._video.width, self._video.height = width, height
        self._video.pix_fmt = "yuv420p"
        self._video.time_base = TIME_BASE
        self._video.codec_context.time_base = TIME_BASE
        self._video.options = {
            "preset": "veryfast",
            "crf": "21",
            "bf": "0",
            "g": str(GOP),
            "sc_threshold": "0",
        }

    def _flush_sound(self) -> None:
        if self._audio is None:
            self._waiting.clear()
            return
        for frame in self._waiting:
            try:
                pieces = self._resampler.resample(frame)
            except FFmpegError:
                continue
            for piece in pieces:
                self._encode(piece)
        self._waiting.clear()

    def _encode(self, piece: av.AudioFrame) -> None:
        piece.pts = self._samples
        piece.time_base = Fraction(1, 48000)
        self._samples += piece.samples
        self._container.mux(self._audio.encode(piece))


def _planes(rgb: Image) -> list[Image]:
    """Brightness and both colours of a picture, as players take them where a file says nothing:
    BT.601, limited range. The encoder's own conversion is ten times slower."""
    height, width = (side // 2 * 2 for side in rgb.shape[:2])
    whole = cv2.cvtColor(np.ascontiguousarray(rgb[:height, :width]), cv2.COLOR_RGB2YUV_I420).ravel()
    cuts = np.array([1.0, 1.25]) * height * width
    luma, *colours = np.split(whole, cuts.astype(int))
    half = (height // 2, width // 2)
    return [luma.reshape(height, width), *(colour.reshape(half) for colour in colours)]


def _even(luma: Image) -> tuple[int, int]:
    """(width, height) of the review copy of such pictures."""
    height, width = luma.shape
    factor = min(1.0, LONG_SIDE / max(height, width))
    return round(width * factor) // 2 * 2, round(height * factor) // 2 * 2


def _resized(plane: Image, size: tuple[int, int]) -> Image:
    """A plane at the size (width, height) of the review copy."""
    if plane.shape == size[::-1]:
        return plane
    return np.asarray(cv2.resize(plane, size, interpolation=cv2.INTER_AREA), np.uint8)


def group(path: Path, number: int, times: list[float]) -> dict[int, bytes]:
    """JPEG stills of the run of frames that hangs on one keyframe.

    number  any frame of the wanted run
    times   the review copy's frame times, seconds

    Exact: frames are told apart by their times, never counted.
    """
    first = number // GOP * GOP
    wanted = {round(times[n] / TIME_BASE): n for n in range(first, min(first + GOP, len(times)))}
    stills: dict[int, bytes] = {}
    with av.open(str(path)) as container:
        stream = container.streams.video[0]
        container.seek(round(times[first] / stream.time_base), stream=stream, backward=True)
        for frame in container.decode(stream):
            if frame.time is None:
                continue
            n = wanted.get(round(frame.time / float(TIME_BASE)))
            if n is not None:
                ok, data = cv2.imencode(
                    ".jpg", frame.to_ndarray(format="bgr24"), [cv2.IMWRITE_JPEG_QUALITY, 85]
                )
                if ok:
                    stills[n] = data.tobytes()
            if frame.time > times[min(first + GOP, len(times)) - 1] + 1e-4:
                break
            if len(stills) == len(wanted):
                break
    if number not in stills:
        raise ClipError(
            said("Frame {number} could not be read from the review copy.", number=number)
        )
    return stills
