"""Frames of made-up takes with their truth, kept in .cache until what draws them changes."""

from __future__ import annotations

from collections.abc import Sequence

from sulvet.core.simulate import clip
from sulvet.core.simulate.script import Script
from sulvet.core.video.clip import Image
from tests.stored_results import stored

Frame = tuple[Image, clip.Moment]


def frames(script: Script, rows: Sequence[int] | None = None) -> list[Frame]:
    """Picture (RGB) and truth of some frames of a take; of all, if none are named."""
    return _frames(script, list(range(len(script.times())) if rows is None else rows))


def _drawn(script: Script, rows: list[int]) -> list[Frame]:
    return [(clip.picture(script, row), clip.moment_truth(script, row)) for row in rows]


_frames = stored(_drawn, clip.__name__)
moments = stored(clip.moments)
moment_truth = stored(clip.moment_truth)
