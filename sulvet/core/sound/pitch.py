"""Following a pitch by the McLeod method: the normalised square difference and its first high peak.

McLeod and Wyvill, "A smarter way to find pitch", International Computer Music Conference 2005.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.phases import runs_of
from sulvet.core.sound.notes import all_cents, cents, nearest
from sulvet.core.sound.parameters import parameters

RATE = 48000
#: Frames that are looked at together: so much memory and no more.
BATCH = 512
#: Below this pitch half the rate tells as much.
HALVED = 1000.0
#: What is silence, dB re full scale.
SILENCE = -100.0


@dataclass(frozen=True)
class PitchTrack:
    """Pitch over time, one value each hop.

    seconds  (N,) middles of the windows
    hz       (N,) where a tone sounds, else NaN
    clarity  (N,) the height of the peak, 0 to 1
    level    (N,) of all sound, dB re full scale
    room     level of the room, dB re full scale
    target   what was looked for, Hz; None if nothing was known
    """

    seconds: Floats
    hz: Floats
    clarity: Floats
    level: Floats
    room: float
    target: float | None = None

    @property
    def voiced(self) -> Bools:
        """(N,) where a tone sounds."""
        return np.isfinite(self.hz)


@dataclass(frozen=True)
class Recording:
    """The sound of a clip: mono at ``RATE``, and when its first sample sounds."""

    samples: NDArray[np.float32]
    start: float = 0.0


def track_pitch(
    heard: Recording, low: float, high: float, target: float | None = None
) -> PitchTrack:
    """Follow the pitch between two frequencies.

    target  a known pitch, Hz: only that and what is near it is looked for
    """
    by = parameters().pitch
    if target is not None:
        reach = 2 ** (by.about / 12)
        low, high = target / reach, target * reach
    samples, rate = np.asarray(heard.samples, np.float64), RATE
    level = levels(samples, by.hop)
    seconds = np.asarray(heard.start + (np.arange(len(level)) + 0.5) * by.hop, np.float64)
    nothing = np.full(len(level), np.nan)
    if len(samples) < rate * 2 * by.window:
        return PitchTrack(seconds, nothing, np.zeros(len(level)), level, SILENCE, target)
    if high < HALVED:
        samples, rate = scipy.signal.resample_poly(samples, 1, 2), RATE // 2
    top = min(3.5 * high, 0.45 * rate)
    sos = scipy.signal.butter(4, [0.7 * low, top], btype="band", fs=rate, output="sos")
    tuned = scipy.signal.sosfiltfilt(sos, samples)
    hz, clarity = _peaks(tuned, rate, low, high, len(level))
    loud = levels(tuned, by.hop, rate)[: len(level)]
    loud = np.pad(loud, (0, len(level) - len(loud)), constant_values=SILENCE)
    room = float(np.percentile(loud, 10))
    gate = max(float(np.percentile(loud, 95)) - by.gate, SILENCE / 1.5)
    voiced = _held(clarity, (loud > gate) & (clarity > 0))
    voiced = _long(voiced, by.shortest / by.hop)
    hz = np.where(voiced, hz, np.nan)
    for first, last in runs(voiced):
        if _is_air(tuned, rate, hz[first : last + 1], clarity[first : last + 1], first):
            hz[first : last + 1] = np.nan
    voiced = np.isfinite(hz)
    quiet = level[~voiced] if (~voiced).sum() > 10 else level
    room = float(np.percentile(quiet, 20)) if len(quiet) else room
    return PitchTrack(seconds, hz, clarity, level, room, target)


def note_now(samples: NDArray[np.floating[Any]], low: float, high: float) -> tuple[str, int] | None:
    """The note that sounds in a moment, and how many cents above it; None where none does.

    samples    a third of a second or so, mono at ``RATE``, -1 to 1
    low, high  between which any tone lies, Hz
    """
    track = track_pitch(Recording(np.asarray(samples, np.float32)), low, high)
    if (
        len(track.hz) == 0
        or track.voiced.mean() < 0.5
        or np.median(track.level) < parameters().pitch.quietest
    ):
        return None
    name, off = nearest(float(np.nanmedian(track.hz)))
    return name, round(off)


def levels(samples: Floats, hop: float, rate: int = RATE) -> Floats:
    """(N,) RMS of each hop, dB re full scale."""
    size = round(hop * rate)
    whole = len(samples) // size
    power = (samples[: whole * size].reshape(whole, size) ** 2).mean(axis=1)
    return np.asarray(10 * np.log10(np.maximum(power, 10 ** (SILENCE / 10))))


def _peaks(x: Floats, rate: int, low: float, high: float, count: int) -> tuple[Floats, Floats]:
    """Pitch and clarity of each hop."""
    by = parameters().pitch
    size = int(rate * max(by.periods / low, by.window))
    hop = by.hop * rate
    near, far = max(int(rate / high) - 1, 2), min(int(np.ceil(rate / low)) + 1, size - 2)
    padded = np.pad(x, (size, size))
    # Windows lie about the middle of each hop.
    starts = np.round((np.arange(count) + 0.5) * hop + size - size / 2).astype(int)
    hz, clarity = np.full(count, np.nan), np.zeros(count)
    for first in range(0, count, BATCH):
        rows = starts[first : first + BATCH]
        frames = padded[rows[:, None] + np.arange(size)]
        curve = _square_difference(frames, far + 2)
        lag, height = _first_high(curve, near, far)
        here = slice(first, first + len(rows))
        hz[here] = rate / np.maximum(lag, 1)
        clarity[here] = height
    return hz, clarity


def _square_difference(frames: Floats, count: int) -> Floats:
    """(N, count) the normalised square difference of each frame for lags from 0."""
    size = frames.shape[1]
    length = scipy.fft.next_fast_len(size + count, real=True)
    spectrum = scipy.fft.rfft(frames, length, axis=1)
    alike = scipy.fft.irfft(spectrum.real**2 + spectrum.imag**2, length, axis=1)[:, :count]
    power = np.cumsum(frames**2, axis=1)
    total = power[:, -1:]
    lags = np.arange(count)
    # What both ends of the frame hold at each lag.
    head = power[:, size - 1 - lags]
    tail = total - np.concatenate([np.zeros((len(frames), 1)), power[:, : count - 1]], axis=1)
    return np.asarray(2 * alike / np.maximum(head + tail, 1e-12))


def _first_high(curve: Floats, near: int, far: int) -> tuple[Floats, Floats]:
    """The first peak that is nearly as high as the highest: lag and height of each row."""
    inner = curve[:, near : far + 1]
    up = (inner > curve[:, near - 1 : far]) & (inner >= curve[:, near + 1 : far + 2])
    # Only after the curve has once been below zero does a peak mean a period.
    below = np.cumsum(curve[:, : far + 1] < 0, axis=1)[:, near : far + 1] > 0
    peaks = np.where(up & below & (inner > 0), inner, 0.0)
    highest = peaks.max(axis=1)
    first = np.argmax(peaks >= np.maximum(parameters().pitch.k * highest, 1e-9)[:, None], axis=1)
    lag = near + first
    rows = np.arange(len(curve))
    a, b, c = curve[rows, lag - 1], curve[rows, lag], curve[rows, lag + 1]
    bend = a - 2 * b + c
    part = np.where(np.abs(bend) > 1e-12, 0.5 * (a - c) / np.where(bend == 0, 1, bend), 0.0)
    height = np.where(highest > 0, b - 0.25 * (a - c) * part, 0.0)
    return _not_below(curve, lag + np.clip(part, -1, 1), height), np.clip(height, 0.0, 1.0)


def _not_below(curve: Floats, lag: Floats, height: Floats) -> Floats:
    """Lags without those that are only two, three or four periods of a higher tone: such a tone
    was overblown, and must not be taken for the one that is looked for under it."""
    places, rows = np.arange(curve.shape[1]), np.arange(len(curve))
    out = lag.copy()
    for times in (2, 3, 4):
        part = lag / times
        low = np.clip(part.astype(int), 0, len(places) - 2)
        share = part - low
        there = curve[rows, low] * (1 - share) + curve[rows, low + 1] * share
        out = np.where((there >= parameters().pitch.same * height) & (part > 2), part, out)
    return out


def _held(clarity: Floats, may: Bools) -> Bools:
    """Begun when clear, ended when no longer: a tone does not flicker."""
    by = parameters().pitch
    out, on = np.zeros(len(clarity), bool), False
    for n, (clear, loud) in enumerate(zip(clarity, may, strict=True)):
        on = bool(loud and clear >= (by.off if on else by.on))
        out[n] = on
    return out


def runs(mask: Bools, bridge: int = 1) -> list[tuple[int, int]]:
    """First and last index of each stretch of True; gaps of fewer than ``bridge`` are closed."""
    return runs_of(mask, np.arange(len(mask), dtype=float), bridge)


def _long(mask: Bools, least: float) -> Bools:
    out = np.zeros_like(mask)
    for first, last in runs(mask):
        if last - first + 1 >= least:
            out[first : last + 1] = True
    return out


def _is_air(x: Floats, rate: int, hz: Floats, clarity: Floats, first: int) -> bool:
    """Whether a stretch that looks pitched is ringing air: two of three signs."""
    by, hop = parameters().air, parameters().pitch.hop
    if len(hz) < 4:
        return False
    steps = float(np.median(np.abs(all_cents(hz[1:], hz[:-1]))))
    begin, end = round(first * hop * rate), round((first + len(hz)) * hop * rate)
    piece = x[begin:end]
    envelope = _envelope(piece, rate)
    trembles = _trembling(envelope, rate)
    alike = _alike_later(x, rate, hz, first) / max(float(np.median(clarity)), 1e-6)
    return (alike < by.alike) + (trembles > by.trembles) + (steps > by.steps) >= 2


def _envelope(piece: Floats, rate: int) -> Floats:
    """Strength of a piece, one value each millisecond."""
    size = max(rate // 1000, 1)
    whole = len(piece) // size
    return np.asarray(np.sqrt((piece[: whole * size].reshape(whole, size) ** 2).mean(axis=1)))


def _trembling(envelope: Floats, rate: int) -> float:
    """Share of the envelope that trembles 15 to 100 times a second."""
    del rate
    if len(envelope) < 60:
        return 0.0
    smooth = np.convolve(envelope, np.ones(10) / 10, "valid")
    sos = scipy.signal.butter(2, [15.0, 100.0], btype="band", fs=1000.0, output="sos")
    inner = scipy.signal.sosfiltfilt(sos, smooth)
    if len(smooth) > 60:
        inner = inner[20:-20]
    return float(inner.std() / max(float(smooth.mean()), 1e-12))


def _alike_later(x: Floats, rate: int, hz: Floats, first: int) -> float:
    """How alike the wave is to itself some periods later, median over a stretch."""
    by, hop = parameters().air, parameters().pitch.hop
    size = round(0.02 * rate)
    found = []
    for k in range(1, len(hz) - 1):
        period = rate / hz[k]
        lag = round(max(round(by.later * rate / period), 1) * period)
        at = round((first + k) * hop * rate)
        if at + lag + 1 + size >= len(x):
            break
        a = x[at : at + size]
        # The pitch may have moved a little meanwhile: the best of neighbouring lags.
        best = -1.0
        for shift in (-2, -1, 0, 1, 2):
            b = x[at + lag + shift : at + lag + shift + size]
            if len(b) == size:
                best = max(best, float(a @ b / np.sqrt((a @ a) * (b @ b) + 1e-20)))
        found.append(best)
    return float(np.median(found)) if found else 0.0


def off(track: PitchTrack, against: float) -> Floats:
    """(N,) cents above a frequency; NaN where no tone sounds."""
    return np.array([cents(hz, against) if np.isfinite(hz) else np.nan for hz in track.hz])
