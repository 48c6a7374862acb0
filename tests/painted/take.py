"""A painted take: a little script of poses over time, a clip, and its truth."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from fractions import Fraction
from pathlib import Path

import av
import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.phases import Phase
from tests.painted import face as painted
from tests.painted.face import Person, Pose


@dataclass(frozen=True)
class Script:
    """What happens in a take.

    rest, move, hold  lengths in seconds
    held              the pose reached and held
    sway, nod         head movement all through: pixels and degrees
    wobble            corners' movement in hold, share of rest mouth width (RMS)
    """

    held: Pose
    person: Person = field(default_factory=Person)
    rest: float = 1.6
    move: float = 0.7
    hold: float = 3.0
    after: float = 0.7
    sway: float = 5.0
    nod: float = 1.2
    wobble: float = 0.0
    tone_hz: float = 349.23
    seed: int = 1
    fps: float = 30.0

    @property
    def seconds(self) -> float:
        """Length of the take."""
        return self.rest + 2 * self.move + self.hold + self.after

    @property
    def phases(self) -> list[Phase]:
        """Where rest and hold truly are."""
        start = self.rest + self.move
        return [Phase("rest", 0.0, self.rest), Phase("hold", start, start + self.hold)]


def _ease(x: float) -> float:
    x = min(max(x, 0.0), 1.0)
    return x * x * (3 - 2 * x)


def pose_at(script: Script, t: float) -> Pose:
    """The pose at one moment."""
    start, end = script.rest + script.move, script.rest + script.move + script.hold
    form = _ease((t - script.rest) / script.move) * (1 - _ease((t - end) / script.move))
    rng = np.random.default_rng(script.seed)
    phase = rng.uniform(0, 2 * np.pi, 4)
    sway = script.sway * np.array([np.sin(1.1 * t + phase[0]), 0.6 * np.sin(0.7 * t + phase[1])])
    held = script.held
    shake = 0.0
    if start < t < end:
        shake = script.wobble * np.sqrt(2) * np.sin(2 * np.pi * 1.3 * (t - start))
    # The mouthpiece comes up after the shape is half there and leaves with it.
    rim = held.rim * float(form > 0.55)
    return replace(
        held,
        rise=held.rise * form,
        width=1 + (held.width - 1) * form + 2 * shake,
        rim=rim,
        roll=held.roll + script.nod * np.sin(0.9 * t + phase[2]),
        shift=(held.shift[0] + sway[0], held.shift[1] + sway[1]),
        zoom=held.zoom * (1 + 0.006 * np.sin(0.5 * t + phase[3])),
    )


def poses(script: Script) -> list[Pose]:
    """One pose a frame."""
    return [pose_at(script, n / script.fps) for n in range(round(script.seconds * script.fps))]


def true_marks(script: Script, size: tuple[int, int]) -> Floats:
    """(T, L, 2) exact places of ``FRONT_IDS``."""
    return np.array([painted.truth(pose, size, script.person) for pose in poses(script)])


def tone(script: Script, rate: int = 48000) -> Floats:
    """The sound: a room, and a tone with a few partials while the shape is held."""
    t = np.arange(round(script.seconds * rate)) / rate
    rng = np.random.default_rng(script.seed + 7)
    start, end = script.rest + script.move, script.rest + script.move + script.hold
    swell = np.clip((t - start) / 0.04, 0, 1) * np.clip((end - t) / 0.06, 0, 1)
    buzz = sum(np.sin(2 * np.pi * script.tone_hz * k * t) / k for k in range(1, 7))
    return np.asarray(0.16 * swell * buzz + rng.normal(0, 0.0012, len(t)))


def write(
    script: Script,
    path: Path,
    size: tuple[int, int] = (1280, 720),
    codec: str = "libx264",
    sound: bool = True,
    times: Callable[[int], float] | None = None,
    crf: int = 24,
    rotate: int = 0,
) -> None:
    """Write the clip; the container follows from the file's name.

    times   frame number → seconds, for a variable frame rate
    rotate  quarter turns (degrees) by which the stored picture is turned away
            from upright, as phones do; the display matrix says so
    """
    with av.open(str(path), "w") as container:
        video = container.add_stream(codec, rate=Fraction(script.fps).limit_denominator(1000))
        stored = size[::-1] if rotate % 180 else size
        video.width, video.height, video.pix_fmt = stored[0], stored[1], "yuv420p"
        base = Fraction(1, 90000)
        video.codec_context.time_base = base
        options = {"crf": str(crf)}
        if codec == "libx264":
            options["preset"] = "veryfast"
        elif codec == "libvpx-vp9":
            options |= {"cpu-used": "8", "deadline": "realtime", "b": "0"}
            video.bit_rate = 0
        elif codec == "libx265":
            options |= {"preset": "ultrafast", "x265-params": "log-level=none"}
        video.options = options
        if rotate:
            video.set_display_rotation(rotate)
        audio = None
        if sound:
            name = "libopus" if path.suffix == ".webm" else "aac"
            audio = container.add_stream(name, rate=48000, layout="mono")
        for n, picture in enumerate(
            painted.frames(poses(script), size, script.person, script.seed)
        ):
            stored_picture = np.ascontiguousarray(np.rot90(picture, -(rotate // 90)))
            frame = av.VideoFrame.from_ndarray(stored_picture, format="rgb24")
            frame.pts = round((times(n) if times else n / script.fps) / base)
            frame.time_base = base
            container.mux(video.encode(frame))
        container.mux(video.encode(None))
        if audio is not None:
            samples = tone(script).astype(np.float32)
            block = 960
            for first in range(0, len(samples) - block, block):
                piece = av.AudioFrame.from_ndarray(
                    samples[None, first : first + block], format="fltp", layout="mono"
                )
                piece.sample_rate, piece.pts, piece.time_base = 48000, first, Fraction(1, 48000)
                container.mux(audio.encode(piece))
            container.mux(audio.encode(None))
