"""How a tone moves: slides and sirens, bends to a neutral middle, swells, waves, breaks, dips."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.pitch import runs

#: Over so long a slide is held against its own smooth course, s.
COURSE = 0.5
#: A bend is looked for in the course smoothed over so long, s; of a tone so long at least.
BENDS_OVER, SHORTEST_BEND = 0.3, 0.8
#: How far half, a third and a quarter of a pitch lie under it, cents.
SUBHARMONICS = (1200.0, 1902.0, 2400.0)
#: The first and last part of a tone, and its middle, whose levels tell a swell.
ENDS, MIDDLE = 0.2, 0.34


@dataclass(frozen=True)
class Vibrato:
    """Regular waves: so many a second, so many cents to each side."""

    rate: float
    cents: float


@dataclass(frozen=True)
class Slide:
    """A tone that goes up or down on purpose: from where to where, Hz.

    semitones  between them;  rough  how far it strays from its own smooth course, cents
    back       where it ends over where it begins, cents
    begins, ends  when the pitch leaves where it began, and when it is where it ends, s
    """

    low: float
    high: float
    semitones: float
    rough: float
    back: float
    begins: float
    ends: float

    @property
    def smooth(self) -> bool:
        """Whether it goes without jerks."""
        return self.rough < parameters().tone.slide_rough

    @property
    def returns(self) -> bool:
        """Whether it ends where it began."""
        return abs(self.back) < parameters().tone.slide_back


def slide_of(course: Floats, middle: float, seconds: Floats) -> Slide | None:
    """Whether a tone goes over a range; None for one that stays."""
    by, hop = parameters().tone, parameters().pitch.hop
    pitches, when = course[np.isfinite(course)], seconds[np.isfinite(course)]
    if len(pitches) * hop < by.slide_shortest:
        return None
    low, high = np.percentile(pitches, [10, 90])
    if high - low < by.slide_cents:
        return None
    # What a smooth movement would be: over half a second as good as a parabola.
    soft = scipy.signal.savgol_filter(pitches, round(COURSE / hop) // 2 * 2 + 1, 2)
    bottom, top = (float(v) for v in np.percentile(soft, [1, 99]))
    few = max(round(0.1 / hop), 3)
    first, last = float(np.median(pitches[:few])), float(np.median(pitches[-few:]))
    left = int(np.argmax(np.abs(soft - first) > by.slide_left))
    arrived = len(soft) - 1 - int(np.argmax(np.abs(soft[::-1] - last) > by.slide_left))
    return Slide(
        middle * 2 ** (bottom / 1200), middle * 2 ** (top / 1200), (top - bottom) / 100,
        float(np.sqrt(((pitches - soft) ** 2).mean())), last - first,
        float(when[left]), float(when[arrived]),
    )  # fmt: skip


def bend_of(course: Floats, seconds: Floats, lasts: float) -> tuple[float, float]:
    """How far a tone is bent away from where it begins, and how far from there it ends, cents.

    course   (N,) cents about its middle, NaN where untold
    seconds  (N,) after its start;  lasts  how long it is, s

    (0, 0) for a tone too short to be bent.
    """
    by, hop = parameters().tone, parameters().pitch.hop
    inner = (seconds >= by.begin) & (seconds <= lasts - by.end) & np.isfinite(course)
    wide = round(BENDS_OVER / hop) // 2 * 2 + 1
    if lasts < SHORTEST_BEND or inner.sum() < 2 * wide:
        return 0.0, 0.0
    soft = scipy.signal.savgol_filter(course[inner], wide, 1)
    few = max(wide // 2, 3)
    first, last = float(np.median(soft[:few])), float(np.median(soft[-few:]))
    away = soft - first
    return float(away[int(np.argmax(np.abs(away)))]), last - first


def swell_of(level: Floats) -> float:
    """How much louder a tone's middle is than the louder of its two ends, dB."""
    few = round(ENDS * len(level))
    if few < 2:
        return 0.0
    half = round(MIDDLE * len(level) / 2)
    middle = len(level) // 2
    top = float(np.median(level[middle - half : middle + half + 1]))
    return top - max(float(np.median(level[:few])), float(np.median(level[-few:])))


def vibrato_of(left: Floats, hop: float) -> tuple[Vibrato | None, float]:
    """Regular waves in what is left of the pitch, and their share of its variance, cents²."""
    by = parameters().tone
    if len(left) < 60:
        return None, 0.0
    power = np.abs(np.fft.rfft(left * np.hanning(len(left)))) ** 2
    rates = np.fft.rfftfreq(len(left), hop)
    within = (rates >= by.vibrato_low) & (rates <= by.vibrato_high)
    if not within.any():
        return None, 0.0
    top = int(np.argmax(np.where(within, power, 0)))
    around = np.abs(np.arange(len(power)) - top) <= 2
    share = float(power[around & (rates > 0)].sum() / max(power[rates > 0].sum(), 1e-12))
    wave = share * float(left.var())
    size = float(np.sqrt(2 * wave))
    if share < by.vibrato_share or size < by.vibrato_cents:
        return None, 0.0
    return Vibrato(float(rates[top]), size), wave


def cracks_of(course: Floats, seconds: Floats) -> tuple[float, ...]:
    """Moments where the pitch leaps away and comes back."""
    by, hop = parameters().tone, parameters().pitch.hop
    away = ~np.isfinite(course) | (np.abs(course) > by.crack_cents)
    found = []
    for first, last in runs(away):
        # An attack that is still forming, and what rings after the end, is no crack.
        inside = seconds[first] > seconds[0] + by.crack_edge
        inside &= seconds[last] < seconds[-1] - by.crack_edge
        if not inside or (last - first + 1) * hop > by.crack_longest:
            continue
        leap = course[first : last + 1]
        leap = leap[np.isfinite(leap)]
        # Noise hides a tone's own fundamental: then half or a third of it seems to sound.
        under = np.abs(leap[:, None] + np.array(SUBHARMONICS)).min(axis=1, initial=np.inf)
        if (under > by.crack_cents / 2).sum() >= 2:
            found.append(float(seconds[(first + last) // 2]))
    return tuple(found)


def dips_of(level: Floats, hop: float) -> int:
    """How often a level, dB each ``hop`` s, falls away from its own middle within a tone."""
    by = parameters().tone
    inner = level[round(by.begin / hop) : len(level) - round(by.end / hop)]
    if len(inner) < 5:
        return 0
    low = inner < np.median(inner) - by.dip
    return sum((b - a + 1) * hop >= by.dip_shortest for a, b in runs(low))
