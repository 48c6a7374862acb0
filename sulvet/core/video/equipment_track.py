"""Following what is held to the mouth: its points move together, and are there or are not."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import PLACED, Floats
from sulvet.core.video.keyframes import (
    CLOSE_BY,
    FARTHEST,
    FLOOR,
    ROUND_TRIP,
    Keyframe,
    Track,
    apart,
)
from sulvet.core.video.patches import patches, shift
from sulvet.core.video.stabilised_clip import StabilisedClip, back

#: Least correlation of a point of the equipment with its keyframe.
MATCH_EQUIPMENT = 0.55


def equipment_tracks(stabilised: StabilisedClip, keys: list[Keyframe]) -> dict[str, Track]:
    """Tracks of all points of one piece of equipment, by landmark.

    From the nearest frame with marks the points' own shifts are looked for; their
    median moves all of them. Where too few of them are seen again, it is not there.
    On a frame on which only some were placed, the others are where they were; it then
    stands, as a whole, for what was found close by.
    """
    visible = [key for key in keys if not key.hidden]
    if not visible:
        return {}
    placed = {(key.landmark, key.frame) for key in visible if key.source == PLACED}
    visible = [k for k in visible if k.source == PLACED or (k.landmark, k.frame) not in placed]
    count = Counter(key.frame for key in visible)
    whole = max(count.values())
    complete = [key for key in visible if count[key.frame] == whole]
    chosen = visible
    if len(complete) < len(visible):
        chosen = visible + _carried(stabilised, visible, complete)
    by_hand = {frame for _, frame in placed}
    stands = [
        key
        for key in chosen
        if key.frame in by_hand or all(abs(key.frame - frame) > CLOSE_BY for frame in by_hand)
    ]
    return _tracks(stabilised, stands)


def _carried(
    stabilised: StabilisedClip, visible: list[Keyframe], complete: list[Keyframe]
) -> list[Keyframe]:
    """What is missing on frames with some keys only, from the frames with all."""
    tracks = _tracks(stabilised, complete)
    there = {(key.landmark, key.frame) for key in visible}
    return [
        replace(key, frame=frame, x=float(at[0]), y=float(at[1]))
        for key in {k.landmark: k for k in complete}.values()
        for frame in {key.frame for key in visible}
        if (key.landmark, frame) not in there
        for at in [_clip_pixels(stabilised, frame, tracks[key.landmark].xy[frame])]
        if np.isfinite(at).all()
    ]


def _clip_pixels(stabilised: StabilisedClip, row: int, xy: Floats) -> Floats:
    """(2,) stabilised pixels of one frame in clip pixels."""
    return np.asarray(back(stabilised.to_stabilised[row][None], xy[None, None])[0, 0])


def _tracks(stabilised: StabilisedClip, keys: list[Keyframe]) -> dict[str, Track]:
    """Tracks of all points, each row from the nearest frame with keys."""
    count = len(stabilised.pictures)
    tracks = {
        key.landmark: Track(np.full((count, 2), np.nan), np.zeros(count), np.ones(count, bool))
        for key in keys
    }
    frames = np.array(sorted({key.frame for key in keys}))
    nearest = np.abs(np.arange(count)[:, None] - frames).argmin(axis=1)
    for place, frame in enumerate(frames):
        own = [key for key in keys if key.frame == frame]
        origin = np.array(
            [stabilised.to_stabilised_pixels(k.frame, np.array([k.x, k.y])) for k in own]
        )
        rows = np.flatnonzero(nearest == place)
        for row, move, error, seen in _rows(stabilised, int(frame), origin, rows):
            for key, at in zip(own, origin + move, strict=True):
                track = tracks[key.landmark]
                track.xy[row], track.drift[row] = at, np.hypot(FLOOR, error)
                track.hidden[row] = not seen
    return tracks


def _rows(
    stabilised: StabilisedClip, frame: int, origin: Floats, rows: NDArray[np.int64]
) -> list[tuple[int, Floats, float, bool]]:
    """For each row the common shift, the spread of the points' own shifts, and if it is there."""
    source = stabilised.pictures[frame]
    templates = patches(source, origin)
    out = []
    for way in (rows[rows >= frame], rows[rows < frame][::-1]):
        move = np.zeros(2)
        for row in way:
            if row == frame:
                out.append((int(row), np.zeros(2), 0.0, True))
                continue
            picture = stabilised.pictures[row]
            places, error = shift(source, picture, origin, origin + move)
            match = (templates * patches(picture, places)).sum(1)
            good = (error < 2 * ROUND_TRIP) & (match > MATCH_EQUIPMENT)
            good &= apart(places, origin) < FARTHEST / 2
            seen = bool(stabilised.head_found[row] and good.any() and good.sum() * 2 >= len(origin))
            sigma = 0.0
            if seen:
                moves = (places - origin)[good]
                move = np.median(moves, axis=0)
                sigma = float(np.median(np.abs(moves - move)))
            out.append((int(row), move.copy(), sigma, seen))
    return out
