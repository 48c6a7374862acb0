"""Frames of made-up takes with their truth, kept in .cache until what draws them changes."""

from __future__ import annotations

import hashlib
import os
import pickle
from collections.abc import Sequence

from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from sulvet.core.video.clip import Image
from tests import digests

FOLDER = digests.ROOT / ".cache" / "rendered"

Frame = tuple[Image, clip.Moment]


def frames(script: Script, rows: Sequence[int] | None = None) -> list[Frame]:
    """Picture (RGB) and truth of some frames of a take; of all, if none are named."""
    rows = range(len(script.times())) if rows is None else rows
    asked = (digests.of_module(clip.__name__), script.model_dump_json(), list(rows))
    path = FOLDER / hashlib.sha256(repr(asked).encode()).hexdigest()[:24]
    if path.exists():
        # What lies there this module has written.
        kept: list[Frame] = pickle.loads(path.read_bytes())  # noqa: S301
        return kept
    made = [(clip.picture(script, row), clip.moment_truth(script, row)) for row in rows]
    FOLDER.mkdir(parents=True, exist_ok=True)
    half = path.with_suffix(f".{os.getpid()}")
    half.write_bytes(pickle.dumps(made))
    half.replace(path)
    return made
