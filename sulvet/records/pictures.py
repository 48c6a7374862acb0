"""Frames on the common sheet of two takes, cut to the mouth unless more is asked for."""

from __future__ import annotations

from collections.abc import Iterable

from sulvet.core.drawing import stills as core
from sulvet.core.language import said
from sulvet.core.video.aligned import crop
from sulvet.core.video.clip import ClipError
from sulvet.records.compare import Pair, Side
from sulvet.takes.stills import still


def picture(pair: Pair, side: Side, frame: core.Still, width: int) -> bytes:
    """One frame as JPEG.

    Raises ClipError with a sentence when the review copy is gone or damaged.
    """
    move = core.chained(frame.move, side.onto)
    try:
        jpeg = still(side.take, frame.frame)
    except FileNotFoundError:
        raise ClipError(
            said("The review copy of this take is missing. Open the take and analyse it again.")
        ) from None
    return crop(jpeg, move, pair.box, pair.then.drawing.facing, width)


def frame_of(frames: Iterable[core.Still], number: int) -> core.Still | None:
    """The kept frame of a number, if it is among them."""
    return next((frame for frame in frames if frame.frame == number), None)
