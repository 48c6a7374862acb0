"""Reading clips: upright frames with their true times, and the level of the sound.

Times come from the container, never from index / rate: phone clips have a
variable frame rate. Rotation and mirroring noted by the phone are applied, so
"upright" is what a viewer sees.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import av
import cv2
import numpy as np
from av.error import FFmpegError
from av.sidedata.sidedata import Type as SideDataType
from numpy.typing import NDArray

from sulvet.core.language import said

Image = NDArray[np.uint8]

#: Containers a phone, a camera or a browser writes. The whitelist also keeps
#: out playlists and pictures, which the library would otherwise open.
FORMATS = "mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi"
#: Pixel formats whose first plane is brightness, one byte a pixel.
EIGHT_BIT = ("yuv420p", "yuvj420p", "yuv422p", "yuvj422p", "yuv444p", "yuvj444p", "nv12", "gray")
MIN_SIDE = 120
MAX_PIXELS = 4096 * 2304
LEVEL_HOP = 0.01
#: A clip whose picture ends this much before its declared length was cut off, s.
CUT_OFF = 1.0
MAX_BYTES = int(os.environ.get("SULVET_MAX_CLIP_MB", "500")) * 1_000_000
MAX_SECONDS = float(os.environ.get("SULVET_MAX_CLIP_SECONDS", "180"))


class ClipError(ValueError):
    """A clip can't be used; the message says what happened and what to do."""


@dataclass(frozen=True)
class ClipFacts:
    """What is known of a clip before it is read.

    seconds  length as declared, None if it is not
    rate     frames a second on average as declared, None if it is not
    suffix   what a file of this container is called by, as ``.mp4``
    """

    width: int
    height: int
    seconds: float | None
    rate: float | None
    codec: str
    has_sound: bool
    suffix: str


@dataclass
class Sound:
    """Level of the sound: RMS in dB re full scale, one value each 10 ms."""

    start: float = 0.0
    level: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Frame:
    """One upright frame. ``seconds`` counts from the first frame."""

    index: int
    seconds: float
    video: av.VideoFrame
    turn: int
    mirrored: bool
    selfie: bool = False

    def picture(self, format: str = "bgr24") -> Image:
        """(H, W[, 3]) pixels, upright."""
        return self._upright(self.video.to_ndarray(format=format))

    def luma(self) -> Image:
        """(H, W) brightness, upright, in the range the clip is coded in.

        Following compares pictures of one clip with each other, so the coded
        range will do, and reading the plane costs a tenth of a conversion.
        """
        if self.video.format.name not in EIGHT_BIT:
            return self.picture("gray")
        return self._plane(0, 1)

    def planes(self) -> list[Image] | None:
        """Brightness (H, W) and both colours (H / 2, W / 2) as coded, upright; None where the clip
        is coded in another way."""
        video = self.video
        if video.format.name != "yuv420p" or video.height % 2 or video.width % 2:
            return None
        return [self._plane(0, 1), self._plane(1, 2), self._plane(2, 2)]

    def _plane(self, number: int, part: int) -> Image:
        """One of the picture's planes, upright; ``part`` as coarse as the picture."""
        plane = self.video.planes[number]
        whole = np.frombuffer(plane, np.uint8).reshape(-1, plane.line_size)
        return self._upright(whole[: self.video.height // part, : self.video.width // part])

    def _upright(self, image: Image) -> Image:
        if self.mirrored:
            image = image[:, ::-1]
        if self.turn:
            image = np.rot90(image, self.turn // 90)
        if self.selfie:
            image = image[:, ::-1]
        return np.ascontiguousarray(image)


def check_file(path: Path, max_bytes: int = MAX_BYTES) -> None:
    """Size alone; ClipError when empty or too large."""
    size = path.stat().st_size
    if size == 0:
        raise ClipError(
            said("The file is empty. Choose the clip again, or copy it to this computer again.")
        )
    if size > max_bytes:
        raise ClipError(
            said(
                "The clip has {size:.0f} MB; the limit is {max_bytes:.0f} MB. Trim it to the "
                "few seconds that matter, or film at a lower resolution.",
                size=size / 1000000.0,
                max_bytes=max_bytes / 1000000.0,
            )
        )


def _suffix(container: Any, path: Path) -> str:
    """The file's own suffix where its container goes by it, else the container's first."""
    names = [f".{name}" for name in container.format.name.split(",")]
    names = [".mkv" if name == ".matroska" else name for name in names]
    own = path.suffix.lower()
    return own if own in names else ".mp4" if ".mp4" in names else names[0]


def _open(path: Path) -> Any:
    try:
        return av.open(
            str(path), options={"protocol_whitelist": "file", "format_whitelist": FORMATS}
        )
    except (FFmpegError, ValueError, OSError) as error:
        raise ClipError(
            said(
                "This file is not a video Sulvet can read, or the copy is incomplete. Use an "
                "mp4, mov or webm clip straight from the phone and upload it again."
            )
        ) from error


def facts(path: Path, max_seconds: float = MAX_SECONDS) -> ClipFacts:
    """Look at a clip without decoding it all; ClipError when it can't be used."""
    check_file(path)
    with _open(path) as container:
        if not container.streams.video:
            raise ClipError(
                said(
                    "There is no picture in this file, only sound or nothing. Film the take as a "
                    "video."
                )
            )
        stream = container.streams.video[0]
        width, height = stream.codec_context.width, stream.codec_context.height
        if width <= 0 or height <= 0:
            raise ClipError(
                said(
                    "The clip does not say how large its picture is, so it is damaged or "
                    "incomplete. Upload it again from the phone."
                )
            )
        if width * height > MAX_PIXELS:
            raise ClipError(
                said(
                    "The picture is declared as {width} by {height}, which is more than Sulvet "
                    "reads. Film at 1080p or 720p.",
                    width=width,
                    height=height,
                )
            )
        if min(width, height) < MIN_SIDE:
            raise ClipError(
                said(
                    "The picture is only {width} by {height} pixels; a mouth can't be measured in "
                    "it. Film at 720p or 1080p.",
                    width=width,
                    height=height,
                )
            )
        seconds = container.duration / av.time_base if container.duration else None
        if seconds is not None and seconds > max_seconds:
            raise ClipError(
                said(
                    "The clip is {seconds:.0f} s long; the limit is {max_seconds:.0f} s. Trim it "
                    "to rest, form, start and hold.",
                    seconds=seconds,
                    max_seconds=max_seconds,
                )
            )
        codec = stream.codec_context.name
        rate = float(stream.average_rate) if stream.average_rate else None
        has_sound = bool(container.streams.audio)
        turned = False
        try:
            first = next(container.decode(stream))
            turned = abs(first.rotation) == 90
        except (FFmpegError, StopIteration, MemoryError) as error:
            raise ClipError(
                said(
                    "No picture could be read from this clip; it is damaged or incomplete. Upload "
                    "it again from the phone."
                )
            ) from error
        if turned:
            width, height = height, width
        return ClipFacts(width, height, seconds, rate, codec, has_sound, _suffix(container, path))


def _orientation(frame: av.VideoFrame) -> tuple[int, bool]:
    """Quarter turns (degrees anticlockwise) and mirroring of the display matrix."""
    data = frame.side_data.get(SideDataType.DISPLAYMATRIX)
    if data is None:
        return 0, False
    matrix = np.frombuffer(bytes(data), dtype=np.int32).reshape(3, 3)[:2, :2].astype(float)
    mirrored = bool(np.linalg.det(matrix) < 0)
    if mirrored:
        # What remains of the matrix once the picture has been flipped left to right.
        matrix = np.diag([-1.0, 1.0]) @ matrix
    angle = np.degrees(np.arctan2(matrix[1, 0], matrix[0, 0]))
    return round(float(angle) / 90) * 90 % 360, mirrored


@dataclass
class Reader:
    """Reads a clip once, front to back.

    selfie   the camera stored a mirror picture without saying so: turn it back
    sound    filled while frames are read
    trouble  sentence when the clip broke off or was damaged, else empty
    """

    path: Path
    selfie: bool = False
    max_seconds: float = MAX_SECONDS
    sound: Sound = field(default_factory=Sound)
    has_sound: bool = False
    trouble: str = ""
    on_audio: Callable[[av.AudioFrame], None] | None = None

    def frames(self) -> Iterator[Frame]:
        """Upright frames in order. Damaged packets are skipped and noted."""
        with _open(self.path) as container:
            if not container.streams.video:
                raise ClipError(said("There is no picture in this file. Film the take as a video."))
            video = container.streams.video[0]
            video.thread_type = "AUTO"
            streams = [video]
            resampler = None
            if container.streams.audio:
                streams.append(container.streams.audio[0])
                resampler = av.AudioResampler(format="flt", layout="mono", rate=48000)
                self.has_sound = True
            levels = _Levels(self.sound)
            index, origin, last, bad = 0, None, -1.0, 0
            packets = container.demux(streams)
            while True:
                try:
                    packet = next(packets)
                except StopIteration:
                    break
                except FFmpegError:
                    self.trouble = said(
                        "The clip breaks off after {last:.1f} s.", last=max(last, 0)
                    )
                    break
                try:
                    decoded = packet.decode()
                except FFmpegError:
                    bad += 1
                    continue
                for item in decoded:
                    if isinstance(item, av.AudioFrame):
                        if resampler is not None:
                            self._hear(resampler, item, levels)
                        continue
                    if not isinstance(item, av.VideoFrame) or item.time is None:
                        continue
                    if origin is None:
                        origin = item.time
                    seconds = float(item.time - origin)
                    if seconds <= last:
                        continue
                    if seconds > self.max_seconds:
                        raise ClipError(
                            said(
                                "The clip is longer than {max_seconds:.0f} s. Trim it to rest, "
                                "form, start and hold.",
                                max_seconds=self.max_seconds,
                            )
                        )
                    last = seconds
                    turn, mirrored = _orientation(item)
                    yield Frame(index, seconds, item, turn, mirrored, self.selfie)
                    index += 1
            self.sound.start -= float(origin or 0.0)
            declared = container.duration / av.time_base if container.duration else 0.0
            if index and not self.trouble and declared - last > CUT_OFF:
                # Some containers just end where they were cut.
                self.trouble = said(
                    "The clip ends after {last:.1f} s but was {declared:.1f} s long: the copy is "
                    "incomplete. Upload it again if something important is missing.",
                    last=last,
                    declared=declared,
                )
        if index == 0:
            raise ClipError(
                said(
                    "No picture could be read from this clip; it is damaged or incomplete. Upload "
                    "it again from the phone."
                )
            )
        if bad and not self.trouble:
            self.trouble = said("{bad} damaged pieces of the clip were left out.", bad=bad)

    def _hear(self, resampler: Any, frame: av.AudioFrame, levels: _Levels) -> None:
        try:
            for piece in resampler.resample(frame):
                levels.add(piece.to_ndarray()[0], frame.time)
        except FFmpegError:
            return
        if self.on_audio is not None:
            self.on_audio(frame)


class _Levels:
    """Collects samples into RMS levels of 10 ms."""

    def __init__(self, sound: Sound) -> None:
        self.sound = sound
        self.rest = np.zeros(0, dtype=np.float32)

    def add(self, samples: NDArray[np.float32], time: float | None) -> None:
        if not self.sound.level and not len(self.rest):
            self.sound.start = float(time or 0.0)
        samples = np.concatenate([self.rest, samples])
        hop = int(48000 * LEVEL_HOP)
        whole = len(samples) // hop
        blocks = samples[: whole * hop].reshape(whole, hop).astype(float)
        self.sound.level += [
            float(v) for v in 10 * np.log10(np.maximum((blocks**2).mean(1), 1e-10))
        ]
        self.rest = samples[whole * hop :]


def fit(image: Image, long_side: int) -> Image:
    """The picture, made smaller if its long side is larger than asked."""
    factor = long_side / max(image.shape[:2])
    if factor >= 1:
        return image
    return np.asarray(
        cv2.resize(image, None, fx=factor, fy=factor, interpolation=cv2.INTER_AREA), dtype=np.uint8
    )
