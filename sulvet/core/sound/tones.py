"""What is told of each tone: how long, how high, how steady, how it starts; and the breaths."""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Literal

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.air import FINE, QUIET, Air, Evenness
from sulvet.core.sound.movement import (
    Slide,
    Vibrato,
    bend_of,
    cracks_of,
    dips_of,
    slide_of,
    swell_of,
    vibrato_of,
)
from sulvet.core.sound.notes import A4, cents, nearest
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.pitch import RATE, SILENCE, PitchTrack, Recording, levels, runs
from sulvet.core.sound.segments import Part, parts, without_neighbours
from sulvet.core.sound.speech import Sounding, spoken

Start = Literal["tongued", "soft", "breathy", "slurred"]
#: Goes down before it is over; stopped by the tongue for the next one; goes over into the next one.
End = Literal["clean", "sagging", "tongued", "slurred"]
#: So much about a tone is listened to for its edges, s.
AROUND = 1.0


@dataclass(frozen=True)
class Tone:
    """One tone in one breath.

    start, end   where its level passes half, s
    hz           its median; ``note`` the nearest, ``cents`` over the target if there is one,
                 else over that note; ``cents_sd`` its standard deviation
    drift        cents a second;  steadiness  standard deviation of what is left, cents, without
                 regular waves; None when it is too short
    begins       how it starts, or that it is slurred out of the one before it; ``rise`` from 10
                 to 90 % and ``lead`` of air before it, s
    scoop        cents from which it slides into its pitch; 0 when it does not
    cracks       where it breaks, s;  dips  how often its level dips
    clearness    harmonic to noise, dB;  over  how far over the room, dB
    slide        when it is a slide or siren; then nothing is said of its steadiness
    ends         how it ends; ``bend``, ``bend_left``, ``swell``: see ``movement``
    """

    start: float
    end: float
    hz: float
    note: str
    cents: float
    cents_sd: float
    drift: float | None
    steadiness: float | None
    vibrato: Vibrato | None
    begins: Start
    rise: float
    lead: float
    scoop: float
    cracks: tuple[float, ...]
    dips: int
    clearness: float
    over: float
    slide: Slide | None = None
    ends: End = "clean"
    bend: float = 0.0
    bend_left: float = 0.0
    swell: float = 0.0

    @property
    def seconds(self) -> float:
        """How long it lasts."""
        return self.end - self.start


@dataclass(frozen=True)
class SoundAnalysis:
    """Everything a track tells.

    tones   in order
    breaths  (start, end) of air without a tone, s
    talk     (start, end) of what is said, s
    even     of each breath how even it is; None for one too short to say
    noisy   whether a tone is so little over the room that nothing is judged
    air_only  air but no tone at all
    """

    tones: tuple[Tone, ...]
    breaths: tuple[tuple[float, float], ...]
    noisy: bool = False
    air_only: bool = False
    talk: tuple[tuple[float, float], ...] = ()
    even: tuple[Evenness | None, ...] = ()


def analyse(track: PitchTrack, heard: Recording, a4: float = A4) -> SoundAnalysis:
    """Tones and breaths of a track."""
    by, hop = parameters().tone, parameters().pitch.hop
    ear = _Ear(heard)
    spans = runs(track.voiced, round(parameters().pitch.bridge / hop) + 1)
    loud = [float(np.median(track.level[a : b + 1])) for a, b in spans]
    over = max(loud, default=SILENCE) - track.room
    noisy = bool(spans) and over < by.least
    tones = []
    if not noisy:
        tones = [
            _tone(track, ear, part, a4) for a, b in spans for part in _parts(track, heard, a, b)
        ]
    if _doubtful(track, tones):
        return SoundAnalysis((), _breaths(track, ear.air, []), True)
    said = spoken(
        heard,
        track,
        [
            Sounding(t.start, t.end, t.hz, t.over, t.slide is not None and t.slide.smooth)
            for t in tones
        ],
    )
    talk = tuple((t.start, t.end) for t, is_said in zip(tones, said, strict=True) if is_said)
    breaths = _breaths(track, ear.air, tones)
    tones = [tone for tone, is_said in zip(tones, said, strict=True) if not is_said]
    even = tuple(ear.air.evenness(a, b) for a, b in breaths)
    return SoundAnalysis(tuple(tones), breaths, noisy, not spans and bool(breaths), talk, even)


def _doubtful(track: PitchTrack, tones: list[Tone]) -> bool:
    """Whether so loud a room hides how high the tones are and where they begin."""
    by = parameters().tone
    if max((tone.over for tone in tones), default=SILENCE) >= by.doubtful:
        return False
    for before, after in pairwise(tones):
        octave = abs(abs(cents(after.hz, before.hz)) - 1200) < by.crack_cents / 2
        if after.start < before.end - by.begin or (octave and after.begins == "slurred"):
            return True
    return any(_lost(track, tone) >= by.lost for tone in tones if tone.slide is None)


def _lost(track: PitchTrack, tone: Tone) -> float:
    """In how much of a tone its pitch is lost or another one."""
    by = parameters().tone
    inside = (track.seconds > tone.start + by.begin) & (track.seconds < tone.end - by.end)
    hz = track.hz[inside]
    if len(hz) < round(by.begin / parameters().pitch.hop):
        return 0.0
    with np.errstate(invalid="ignore"):
        held = np.abs(1200 * np.log2(hz / tone.hz)) <= by.crack_cents
    return float(1 - held.mean())


def with_clearness(told: SoundAnalysis, wide: PitchTrack) -> SoundAnalysis:
    """The same with each tone's clearness as it is in all of the instrument's range.

    wide  followed without a target
    """
    return replace(told, tones=tuple(replace(t, clearness=_clearness(t, wide)) for t in told.tones))


def _clearness(tone: Tone, wide: PitchTrack) -> float:
    inside = (wide.seconds >= tone.start) & (wide.seconds <= tone.end) & wide.voiced
    return _decibels(wide.clarity[inside]) if inside.any() else tone.clearness


def _decibels(clarity: Floats) -> float:
    """Harmonic to noise, dB, of a clear part."""
    clear = float(np.clip(np.median(clarity), 1e-3, 1 - 1e-4))
    return float(10 * np.log10(clear / (1 - clear)))


def _parts(track: PitchTrack, heard: Recording, first: int, last: int) -> list[Part]:
    """The tones of a stretch that the pitch track holds together."""
    inside = slice(first, last + 1)
    hz = track.hz[inside]
    middle = float(np.nanmedian(hz))
    course = np.array([cents(v, middle) if np.isfinite(v) else np.nan for v in hz])
    found = parts(heard, track.seconds[inside], course, middle, first)
    found = [one for one in found if np.isfinite(track.hz[one.first : one.last + 1]).any()]
    return without_neighbours(track.level, found)


def _tone(track: PitchTrack, ear: _Ear, part: Part, a4: float) -> Tone:
    first, last = part.first, part.last
    by, hop, unsure = parameters().tone, parameters().pitch.hop, parameters().unsure
    inside = slice(first, last + 1)
    hz = track.hz[inside]
    middle = float(np.nanmedian(hz))
    note, own = nearest(middle, a4)
    above = own if track.target is None else cents(middle, track.target)
    course = np.array([cents(v, middle) if np.isfinite(v) else np.nan for v in hz])
    seconds = track.seconds[inside]
    cracks = cracks_of(course, seconds)
    start, end, rise, lead = _edges(track, ear, middle, first, last)
    if part.start is not None:
        start, rise, lead = part.start, part.rise, 0.0
    if part.end is not None:
        end = part.end
    kept = (seconds >= start + by.begin) & (seconds <= end - by.end) & np.isfinite(course)
    kept &= np.abs(course) < by.crack_cents
    drift = steady = None
    vibrato = None
    sigma = float(np.nanstd(course[kept])) if kept.sum() > 3 else unsure.wanders
    slide = slide_of(course, middle, seconds)
    if slide is None and kept.sum() * hop >= 3 * by.begin:
        slope, height = np.polyfit(seconds[kept], course[kept], 1)
        left = course[kept] - (slope * seconds[kept] + height)
        vibrato, wave = vibrato_of(left, hop)
        drift, steady = float(slope), float(np.sqrt(max(left.var() - wave, 0.0)))
    many = max((end - start) / unsure.apart, 1.0)
    level = track.level[inside]
    begun = (seconds >= start + 0.02) & (seconds <= start + 0.05) & np.isfinite(course)
    scoop = 0.0
    if slide is None and begun.any() and end - start > 3 * by.scoop:
        scoop = float(np.median(course[begun]))
    return Tone(
        start, end, middle, note, above, float(np.hypot(sigma / np.sqrt(many), unsure.pitch)),
        drift, steady, vibrato,
        "slurred" if part.slurred else _begins(rise, lead), rise, lead,
        scoop if abs(scoop) > by.scoop_cents else 0.0, cracks, dips_of(level, hop),
        _decibels(track.clarity[inside]), float(np.median(level) - track.room), slide,
        _ends(part, seconds - end, course, slide), *bend_of(course, seconds - start, end - start),
        swell_of(level),
    )  # fmt: skip


def _ends(part: Part, before: Floats, course: Floats, slide: Slide | None) -> End:
    """How a tone ends.

    before  (N,) s after its end, so below 0 within it;  course  (N,) cents about its middle
    """
    by = parameters().tone
    if part.end is not None:
        return "slurred" if part.into_next else "tongued"
    last = (before >= -by.sag_seconds) & (before <= -0.02) & np.isfinite(course)
    sags = slide is None and last.any() and float(np.median(course[last])) < -by.sag_cents
    return "sagging" if sags else "clean"


def _begins(rise: float, lead: float) -> Start:
    by = parameters().tone
    if rise <= by.tongued_rise and lead < by.tongued_lead:
        return "tongued"
    return "breathy" if lead >= by.breathy_lead or rise >= by.breathy_rise else "soft"


def _edges(
    track: PitchTrack, ear: _Ear, hz: float, first: int, last: int
) -> tuple[float, float, float, float]:
    """Start and end where the tone's level passes half, its rise, and the air before it, s."""
    begin, stop = float(track.seconds[first]), float(track.seconds[last])
    at, strong = ear.tuned(hz, begin - AROUND, stop + AROUND)
    inner = strong[(at >= begin) & (at <= stop)]
    few = round(0.3 / FINE)
    # What is far weaker than the most of it is somebody else's tone, before or after.
    own = inner[inner >= parameters().tone.neighbour * np.median(inner)]
    full, ending = float(np.median(own[:few])), float(np.median(own[-few:]))
    n = int(np.searchsorted(at, begin))
    start = _back(at, strong, n, 0.5 * full)
    end = -_back(
        -at[::-1], strong[::-1], len(at) - 1 - int(np.searchsorted(at, stop)), 0.5 * ending
    )
    # From a quarter to three quarters, where the room disturbs least; the rise of the whole is
    # told as if it went on like that.
    low = _back(at, strong, int(np.searchsorted(at, start)), 0.25 * full)
    later = np.flatnonzero((at >= low) & (strong >= 0.75 * full))
    high = float(at[later[0]]) if len(later) else start
    rise = 1.6 * max(high - low, FINE)
    return start, end, rise, ear.air.before(low)


def _back(at: Floats, strong: Floats, n: int, least: float) -> float:
    """From a place back to where the strength has stayed under a limit for a moment."""
    n = min(n, len(at) - 1)
    # Into the tone first, should the place lie before it.
    while n < len(at) - 1 and strong[n] < least:
        n += 1
    while n > 2 and (strong[n - 3 : n] >= least).any():
        n -= 1
    # Between the last below and the first above, by how far each is from the limit.
    below, above = strong[max(n - 1, 0)], strong[n]
    part = (above - least) / (above - below) if above > below else 0.0
    return float(at[n] - np.clip(part, 0, 1) * (at[n] - at[max(n - 1, 0)]))


def _breaths(track: PitchTrack, air: Air, tones: list[Tone]) -> tuple[tuple[float, float], ...]:
    """Where air is heard and no tone."""
    taken = [(tone.start - tone.rise / 2, tone.end + 0.05) for tone in tones]
    if not tones:
        hop = parameters().pitch.hop
        spans = runs(track.voiced)
        taken = [(float(track.seconds[a]) - hop, float(track.seconds[b]) + hop) for a, b in spans]
    return air.stretches(taken, [tone.start - tone.rise / 2 for tone in tones])


class _Ear:
    """A sound's strength in two bands each ``FINE``: where air lies, and about a tone."""

    def __init__(self, heard: Recording) -> None:
        self.samples = np.asarray(heard.samples, np.float64)
        self.origin, self.air = heard.start, Air(heard)

    def tuned(self, hz: float, begin: float, stop: float) -> tuple[Floats, Floats]:
        """Seconds and amplitude about a pitch's lower partials, the room's own taken off.

        begin, stop  the piece that is listened to, s
        """
        first = max(int((begin - self.origin) / FINE), 0)
        size = round(FINE * RATE)
        last = int((stop - self.origin) / FINE)
        band = [0.7 * hz, min(3.5 * hz, 0.45 * RATE)]
        sos = scipy.signal.butter(4, band, btype="band", fs=RATE, output="sos")
        piece = scipy.signal.sosfiltfilt(sos, self.samples[first * size : last * size])
        power = np.convolve(10 ** (levels(piece, FINE) / 10), np.ones(3) / 3, "same")
        left = np.maximum(power - float(np.percentile(power, QUIET)), 0.0)
        return self.air.at[first : first + len(left)], np.sqrt(left)
