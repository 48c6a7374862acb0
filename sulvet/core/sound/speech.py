"""Talk told from tones: what is said changes its colour and its pitch all the time.

A played tone keeps the shares of its partials; a voice that talks goes from vowel to vowel several
times a second, and its pitch glides. How far the shares of a tone's bands move within 60 ms was
seen on made-up speech (median 7 dB) and on tones of recorded instruments (1 to 2 dB, up to 4 where
the room is only 10 dB under them).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.pitch import RATE, PitchTrack, Recording

#: The shares are taken over so many periods (the power of two nearest to it, from and to), in such
#: steps, and compared so many steps apart.
PERIODS, WINDOWS, STEP, APART = 5.0, (10, 13), 480, 6
#: Middles of the bands, Hz; a band counts that holds so much of the whole, dB.
BANDS, HELD = np.geomspace(180, 5600, 11), -25.0
#: The quietest of a clip, %, is its room; a band counts that is so many times as strong.
QUIET, CLEAR = 15, 10.0
#: So much of a tone's beginning and end is left out, s.
EDGE = 0.03


@dataclass(frozen=True)
class Sounding:
    """One stretch that may be a tone or talk.

    hz      its pitch;  over  dB over the room
    slides  whether its pitch goes smoothly over a range, as on purpose
    """

    start: float
    end: float
    hz: float
    over: float
    slides: bool


def spoken(heard: Recording, track: PitchTrack, stretches: Sequence[Sounding]) -> list[bool]:
    """Which of some stretches, in order, are talk, or a scrap of it too short to be told."""
    by = parameters().speech
    talk = _Talk(heard, track)
    said = [talk.is_spoken(one) for one in stretches]
    loudest = max((one.over for one in stretches), default=0.0)
    for way in (range(len(stretches)), reversed(range(len(stretches)))):
        before: Sounding | None = None
        for n in way:
            one = stretches[n]
            if not said[n]:
                gap = np.inf if before is None else _gap(before, one)
                if one.end - one.start < by.syllable:
                    said[n] = gap <= by.near or one.over <= loudest - by.softer
                elif gap <= by.beside:
                    # Several syllables that run together, in the middle of talk.
                    said[n] = talk.change(one) >= by.some_change
            before = one if said[n] else before
    return said


def _gap(a: Sounding, b: Sounding) -> float:
    """How much lies between two stretches, s."""
    return max(b.start - a.end, a.start - b.end)


def _bands(piece: Floats, window: int) -> Floats:
    """(F, B) power of the bands in each frame; a partial that waves goes smoothly from one to the
    next."""
    frames = np.lib.stride_tricks.sliding_window_view(piece, window)[::STEP]
    power = np.abs(np.fft.rfft(frames * np.hanning(window))) ** 2
    at = np.log(np.maximum(np.fft.rfftfreq(window, 1 / RATE), 1.0))
    centres = np.log(BANDS)
    weights = np.maximum(1 - np.abs(at[:, None] - centres) / (centres[1] - centres[0]), 0.0)
    return np.asarray(power @ weights)


def _window(hz: float) -> int:
    """Samples in which the partials of a pitch don't beat: a power of two over some periods."""
    wanted = np.log2(PERIODS * RATE / hz)
    return int(2 ** np.clip(round(float(wanted)), *WINDOWS))


@dataclass
class _Talk:
    """What tells talk from tones in one recording."""

    heard: Recording
    track: PitchTrack
    rooms: dict[int, Floats] = field(default_factory=dict)

    def is_spoken(self, one: Sounding) -> bool:
        """Whether one stretch is talk by itself."""
        by = parameters().speech
        change, slope = self.change(one), _slope(self.track, one)
        if one.end - one.start >= by.longest and (one.slides or slope < by.slope):
            return change >= by.long_change
        if change >= by.change or (slope >= by.steep and not one.slides):
            return True
        return not one.slides and slope >= by.slope and change >= by.some_change

    def change(self, one: Sounding) -> float:
        """How far the shares of the bands move within some 60 ms, dB; 0 for what is too short."""
        window = _window(one.hz)
        first = max(round((one.start + EDGE - self.heard.start) * RATE), 0)
        last = round((one.end - EDGE - self.heard.start) * RATE)
        piece = np.asarray(self.heard.samples[first:last], np.float64)
        if len(piece) < window + 2 * STEP:
            return 0.0
        bands = _bands(piece, window)
        shares = 10 * np.log10((bands + 1e-12) / (bands.sum(axis=1, keepdims=True) + 1e-12))
        # What does not stand out of the room trembles by itself.
        clear = np.median(bands, axis=0) > CLEAR * self._room(window)
        held = (np.median(shares, axis=0) > HELD) & clear
        if not held.any():
            return 0.0
        apart = min(APART, len(shares) - 1)
        return float(np.abs(shares[apart:] - shares[:-apart])[:, held].mean())

    def _room(self, window: int) -> Floats:
        """(B,) power of the room in the bands."""
        if window not in self.rooms:
            whole = _bands(np.asarray(self.heard.samples, np.float64), window)
            self.rooms[window] = np.percentile(whole, QUIET, axis=0)
        return self.rooms[window]


def _slope(track: PitchTrack, one: Sounding) -> float:
    """How fast the pitch goes one way over all of it, cents a second."""
    inside = (track.seconds >= one.start + EDGE) & (track.seconds <= one.end - EDGE)
    inside &= np.isfinite(track.hz)
    if inside.sum() < 5:
        return 0.0
    course: Floats = 1200 * np.log2(track.hz[inside])
    return abs(float(np.polyfit(track.seconds[inside], course, 1)[0]))
