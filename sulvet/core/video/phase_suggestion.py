"""Suggesting the rehearsal marks: rest from stillness, hold from sound or movement."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.phases import (
    ATTACK,
    BREATH_WITHIN,
    GUESSED,
    LIKELY,
    RELEASE,
    RELEASE_LASTS,
    SHORTEST_BREATH,
    SHORTEST_HOLD,
    SHORTEST_STEP,
    SURE,
    Phase,
    runs_of,
)
from sulvet.core.video.clip import LEVEL_HOP, Sound
from sulvet.core.video.stabilised_clip import MOUTH, MOUTH_AT, StabilisedClip

#: A tone stands this far over the room and no further below the loudest, dB.
OVER_ROOM = 14.0
BELOW_TOP = 24.0
SHORTEST_TONE = 0.25
#: Stabilised mouth pictures that differ by less than this (grey levels, median
#: absolute difference after blurring) show the same shape.
LIKE_ANCHOR = 2.0
STILL_STEP = 1.2


def sounding(sound: Sound, seconds: Floats) -> Bools | None:
    """(T,) where a tone sounds; None when the clip has no usable sound."""
    if len(sound.level) < 20:
        return None
    level = np.array(sound.level)
    room, top = np.percentile(level, 10), np.percentile(level, 98)
    if top < -55 or top - room < OVER_ROOM:
        # Either silence all through or one even loudness: the level tells nothing.
        return None
    loud = level > max(room + OVER_ROOM, top - BELOW_TOP)
    place = np.round((seconds - sound.start) / LEVEL_HOP).astype(int)
    inside = (place >= 0) & (place < len(loud))
    out = np.zeros(len(seconds), bool)
    out[inside] = loud[place[inside]]
    return _runs_only(out, seconds, SHORTEST_TONE)


def _runs_only(mask: Bools, seconds: Floats, shortest: float) -> Bools:
    out = np.zeros_like(mask)
    for first, last in runs_of(mask, seconds):
        if seconds[last] - seconds[first] >= shortest:
            out[first : last + 1] = True
    return out


def mouth_changes(stabilised: StabilisedClip) -> tuple[Floats, Floats]:
    """How much the mouth differs from the anchor frame, and from a moment ago.

    Returns two (T,) arrays: mean absolute grey difference of the blurred mouth
    region against the anchor, and against the picture three frames before.
    """
    x, y = (int(v) for v in MOUTH_AT)
    half = int(MOUTH * 0.75)
    region = stabilised.pictures[:, y - half // 2 : y + half // 2, x - half : x + half]
    small = _shrink(region)
    anchor = small[stabilised.anchor]
    against = np.abs(small - anchor).mean((1, 2))
    lag = np.concatenate([small[:1]] * 3 + [small])[: len(small)]
    step = np.abs(small - lag).mean((1, 2))
    return against, step


def like_anchor(stabilised: StabilisedClip) -> Bools:
    """(T,) frames whose mouth looks as it does on the anchor frame."""
    against, _ = mouth_changes(stabilised)
    out = (against < LIKE_ANCHOR) & stabilised.head_found
    out[stabilised.anchor] = True
    return np.asarray(out)


def _shrink(pictures: NDArray[np.uint8]) -> Floats:
    """Block means of 4 x 4, brightness evened out."""
    count, height, width = pictures.shape
    cut = pictures[:, : height // 4 * 4, : width // 4 * 4].astype(np.float32)
    small = cut.reshape(count, height // 4, 4, width // 4, 4).mean((2, 4))
    return np.asarray(small - small.mean((1, 2), keepdims=True))


def heard(seconds: Floats, tone: Bools | None) -> list[Phase]:
    """``hold`` in the longest tone, if there is one that is long enough."""
    if tone is None or not tone.any():
        return []
    first, last = max(runs_of(tone, seconds), key=lambda r: seconds[r[1]] - seconds[r[0]])
    start, end = seconds[first] + ATTACK, seconds[last] - RELEASE
    return [Phase("hold", float(start), float(end), SURE)] if end - start >= SHORTEST_HOLD else []


#: A breath is heard this far over the room, dB.
BREATH_OVER = 5.0
#: The mouth looks covered from where it differs from rest by this share of how it does in
#: the hold; below this much in grey levels nothing was put to it.
COVERED, NOTHING_PLACED = 0.6, 5.0


def suggest(
    stabilised: StabilisedClip, seconds: Floats, tone: Bools | None, sound: Sound | None = None
) -> list[Phase]:
    """All rehearsal marks that sound and picture tell, in order, each with its confidence.

    ``rest`` round the anchor frame and ``hold`` where the tone or the shape stays; between
    them ``form`` while only the mouth moves, ``place`` from where something comes before
    it, ``breathe`` where a breath is heard, ``start`` at the tone's attack; after it
    ``release``.

    tone  (T,) where sound is heard, or None
    """
    against, step = mouth_changes(stabilised)
    anchor = stabilised.anchor
    resting = like_anchor(stabilised)
    if tone is not None:
        resting &= ~tone
    resting[anchor] = True
    out: list[Phase] = []
    rest = next(r for r in runs_of(resting, seconds) if r[0] <= anchor <= r[1])
    # A few frames short of the edge, where forming has already begun.
    last = max(rest[0] + 1, rest[1] - 2) if rest[1] - rest[0] > 4 else rest[1]
    if last > rest[0]:
        out.append(Phase("rest", float(seconds[rest[0]]), float(seconds[last]), SURE))
    hold = _hold(against, step, resting, seconds, tone, rest[1])
    if hold is None:
        return out
    out += _before(against, seconds, float(seconds[rest[1]]), hold, sound)
    out.append(hold)
    if hold.confidence == SURE:
        end = min(hold.end + RELEASE_LASTS, float(seconds[-1]))
        if end - hold.end > SHORTEST_STEP / 2:
            out.append(Phase("release", hold.end, end, SURE))
    return sorted(out, key=lambda phase: phase.start)


def _before(
    against: Floats, seconds: Floats, rested: float, hold: Phase, sound: Sound | None
) -> list[Phase]:
    """What lies between rest and hold."""
    begun = hold.start - ATTACK if hold.confidence == SURE else hold.start
    out: list[Phase] = []
    if hold.confidence == SURE:
        out.append(Phase("start", begun, hold.start, SURE))
    if begun - rested < SHORTEST_STEP:
        return out
    held = float(np.median(against[hold.holds(seconds)]))
    between = (seconds > rested) & (seconds < begun)
    covered = between & (against > COVERED * held)
    placed = begun
    if held > NOTHING_PLACED and covered.any():
        placed = float(seconds[int(np.argmax(covered))])
    breath = _breath(sound, max(rested, begun - BREATH_WITHIN), begun)
    until = breath.start if breath is not None else begun
    if placed - rested >= SHORTEST_STEP:
        out.append(Phase("form", rested, placed, LIKELY))
    if until - placed >= SHORTEST_STEP:
        out.append(Phase("place", placed, until, LIKELY))
    if breath is not None:
        out.append(breath)
    return out


def _breath(sound: Sound | None, start: float, end: float) -> Phase | None:
    """The last stretch before the tone in which something soft but steady is heard."""
    if sound is None or len(sound.level) < 20:
        return None
    level = np.array(sound.level)
    times = np.asarray(sound.start + np.arange(len(level)) * LEVEL_HOP, np.float64)
    soft = (level > np.percentile(level, 10) + BREATH_OVER) & (times >= start) & (times < end)
    runs = [
        (float(times[a]), float(times[b]))
        for a, b in runs_of(soft, times, 0.05)
        if times[b] - times[a] >= SHORTEST_BREATH
    ]
    if not runs:
        return None
    first, last = runs[-1]
    return Phase("breathe", first, last, GUESSED)


def _hold(
    against: Floats,
    step: Floats,
    resting: Bools,
    seconds: Floats,
    tone: Bools | None,
    after: int,
) -> Phase | None:
    """The longest tone; without sound the longest still stretch that is not rest."""
    for phase in heard(seconds, tone):
        return phase
    still = (step < STILL_STEP) & (np.arange(len(seconds)) > after)
    formed = still & ~resting
    for mask in (formed, still):
        found = [
            r for r in runs_of(mask, seconds) if seconds[r[1]] - seconds[r[0]] >= SHORTEST_HOLD
        ]
        if found:
            first, last = max(found, key=lambda r: seconds[r[1]] - seconds[r[0]])
            return Phase("hold", float(seconds[first]), float(seconds[last]), GUESSED)
    return None
