"""Keeping a stabilised take, so that a moved mark is followed again in a moment.

The pictures go into a small grey H.264 file, the matrices beside it. Following
always works on pictures that went through that file, so that a mark followed
today and one followed again next month come out the same.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import av
import numpy as np
from numpy.typing import NDArray

from sulvet.core.video.stabilised_clip import SIZE, StabilisedClip

PICTURES, MATRICES = "steady.mp4", "steady.npz"
#: Quality of the kept pictures; at 10 the noise of coding is half a grey level.
QUALITY = "10"


def keep(stabilised: StabilisedClip, folder: Path) -> StabilisedClip:
    """Write a stabilised take into ``folder`` and return it as it will be read back."""
    with av.open(str(folder / PICTURES), "w") as container:
        stream = container.add_stream("libx264", rate=30)
        stream.width, stream.height, stream.pix_fmt = SIZE[0], SIZE[1], "gray"
        stream.options = {"preset": "ultrafast", "crf": QUALITY, "g": "30", "bf": "0"}
        for picture in stabilised.pictures:
            frame = av.VideoFrame.from_ndarray(np.ascontiguousarray(picture), format="gray")
            container.mux(stream.encode(frame))
        container.mux(stream.encode(None))
    np.savez(
        folder / MATRICES,
        to_steady=stabilised.to_stabilised,
        held=stabilised.head_found,
        noise=stabilised.noise,
        anchor=stabilised.anchor,
        turn=stabilised.turn,
        inward=stabilised.inward,
    )
    return load(folder)


def load(folder: Path) -> StabilisedClip:
    """Read a stabilised take back; FileNotFoundError when there is none.

    The pictures lie in a nameless temporary file, not in memory: a teacher may
    have several long takes open.
    """
    with np.load(folder / MATRICES) as saved:
        to_stabilised, held, noise = saved["to_steady"], saved["held"], saved["noise"]
        anchor = int(saved["anchor"])
        # Takes kept before side views were followed have none.
        inward = saved["inward"] if "inward" in saved.files else np.zeros(2)
        # Those kept while a head was taken for flat have no turn.
        turn = saved["turn"] if "turn" in saved.files else np.zeros((len(held), 2))
    shape = (len(held), SIZE[1], SIZE[0])
    with tempfile.TemporaryFile(prefix="sulvet-") as file:
        file.truncate(int(np.prod(shape)))
        pictures: NDArray[np.uint8] = np.memmap(file, np.uint8, "r+", shape=shape)
    with av.open(str(folder / PICTURES)) as container:
        for row, frame in enumerate(container.decode(video=0)):
            pictures[row] = frame.to_ndarray(format="gray")
    return StabilisedClip(pictures, to_stabilised, held, noise, anchor, turn, inward)
