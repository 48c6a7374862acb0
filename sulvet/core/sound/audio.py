"""The sound of a clip as samples."""

from __future__ import annotations

from pathlib import Path

import av
import numpy as np
from av.error import FFmpegError

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.pitch import RATE, Recording

#: The same that clips are read with: local files of video formats only.
OPTIONS = {"protocol_whitelist": "file"}
MOST_SECONDS = 200.0


def read_sound(path: Path) -> Recording | None:
    """The first sound of a clip, mono at ``RATE``; None where there is none to be read.

    Seconds count from the first picture, as those of the frames do.
    """
    pieces: list[Floats] = []
    first: float | None = None
    origin = 0.0
    try:
        with av.open(str(path), options=OPTIONS) as container:
            if not container.streams.audio:
                return None
            if container.streams.video:
                stream = container.streams.video[0]
                begin = stream.start_time
                origin = float(begin * stream.time_base) if begin is not None else 0.0
            resampler = av.AudioResampler(format="flt", layout="mono", rate=RATE)
            for frame in container.decode(container.streams.audio[0]):
                if first is None:
                    first = float(frame.time or 0.0)
                pieces += [piece.to_ndarray()[0] for piece in resampler.resample(frame)]
                if sum(map(len, pieces)) > MOST_SECONDS * RATE:
                    break
            pieces += [piece.to_ndarray()[0] for piece in resampler.resample(None)]
    except (FFmpegError, ValueError, OSError):
        if not pieces:
            return None
    if not pieces:
        return None
    return Recording(np.concatenate(pieces).astype(np.float32), (first or 0.0) - origin)
