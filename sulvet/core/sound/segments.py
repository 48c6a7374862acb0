"""Where one tone ends and the next begins within one breath.

Two things part tones that a pitch track holds together: the tongue, which dips the level for a
moment and lets it go again at once, and a slurred step, from one level pitch to another. A slide
has no level pitch, a swell no sudden dip: neither is parted.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.pitch import RATE, Recording, runs

#: The envelope in which the tongue is looked for, s.
FINE = 0.002
#: Over so many periods the envelope is taken: partials beat once in each.
SMEAR = 1.5
#: Pitches between which a tone's envelope is taken, times its own.
PARTIALS = (0.6, 3.5)


@dataclass(frozen=True)
class Part:
    """One tone of a stretch.

    first, last  indices of the pitch track, both within it
    start, end   s, where the tongue or a step cuts; None where the stretch begins or ends itself
    rise         after the tongue from 10 to 90 % of the level, s
    slurred      whether it begins with a step and without the tongue;  into_next  or ends so
    """

    first: int
    last: int
    start: float | None = None
    end: float | None = None
    rise: float = 0.0
    slurred: bool = False
    into_next: bool = False


@dataclass(frozen=True)
class _Cut:
    """Where the tone before ends and the next begins, s."""

    end: float
    start: float
    rise: float
    slurred: bool


def parts(
    heard: Recording, seconds: Floats, course: Floats, middle: float, first: int
) -> list[Part]:
    """The tones of a stretch, in order.

    seconds  (N,) of the stretch;  course  (N,) cents about its ``middle``, Hz, NaN between
    first    index of its first value in the whole track
    """
    tongued = _tongued(heard, seconds, middle)
    # A room answers some pitches and swallows others: what slides past them is not tongued.
    still = [cut for cut in tongued if not _slides_past(cut, seconds, course)]
    cuts = [*still, *_steps(seconds, course)]
    out: list[Part] = []
    begin, start, rise, slurred = 0, None, 0.0, False
    for cut in _apart(cuts, seconds):
        last = int(np.searchsorted(seconds, cut.end, "right")) - 1
        out.append(Part(first + begin, first + last, start, cut.end, rise, slurred, cut.slurred))
        begin = int(np.searchsorted(seconds, cut.start))
        start, rise, slurred = cut.start, cut.rise, cut.slurred
    out.append(Part(first + begin, first + len(seconds) - 1, start, None, rise, slurred))
    return out


def without_neighbours(level: Floats, found: list[Part]) -> list[Part]:
    """Without what somebody else plays before and after: another pitch, and far weaker.

    level  (N,) dB of the whole track;  found  the tones of one stretch, in order
    """
    by = parameters().segments
    loud = [float(np.median(level[one.first : one.last + 1])) for one in found]
    kept: list[Part] = []
    for n, one in enumerate(found):
        stepped_in = one.slurred and n > 0
        stepped_out = n + 1 < len(found) and found[n + 1].slurred
        before = loud[n - 1] - loud[n] if stepped_in else -np.inf
        after = loud[n + 1] - loud[n] if stepped_out else -np.inf
        if max(before, after) >= by.neighbour:
            continue
        # Where the weaker one is left out, the tone begins and ends by itself.
        if stepped_in and -before >= by.neighbour:
            one = replace(one, start=None, rise=0.0, slurred=False)
        if stepped_out and -after >= by.neighbour:
            one = replace(one, end=None, into_next=False)
        kept.append(one)
    return kept


def _apart(cuts: list[_Cut], seconds: Floats) -> list[_Cut]:
    """Cuts in order, none so near another or an end that no tone is left between."""
    least, kept = parameters().segments.least, []
    before = float(seconds[0])
    for cut in sorted(cuts, key=lambda one: (one.end, one.slurred)):
        if cut.end - before >= least and float(seconds[-1]) - cut.start >= least:
            kept.append(cut)
            before = cut.start
    return kept


def _tongued(heard: Recording, seconds: Floats, middle: float) -> list[_Cut]:
    """Where the level dips for a moment and comes back at once."""
    by = parameters().segments
    at, strong = _envelope(heard, float(seconds[0]), float(seconds[-1]), middle)
    if len(strong) < round(2 * by.around / FINE):
        return []
    usual = _usual(strong)
    low = strong < by.dip * usual
    found = []
    for a, b in runs(low):
        if a == 0 or b == len(low) - 1:
            continue
        long, depth = (b - a + 1) * FINE, float(strong[a : b + 1].min() / usual[a])
        deep = depth < by.deep
        longest = by.deep_longest if deep else by.dip_longest
        if long < by.dip_shortest or (long > longest and depth >= by.silent):
            continue
        rise = _rise(strong, usual, b, SMEAR / middle)
        if rise <= (by.deep_attack if deep else by.attack):
            found.append(_Cut(float(at[a]), float(at[b]), rise, False))
    return found


def _usual(strong: Floats) -> Floats:
    """What the tone is before and after: of both the weaker, so that a swell is no dip."""
    reach = round(parameters().segments.around / FINE)
    behind = scipy.ndimage.maximum_filter1d(strong, reach, origin=reach // 2 - 1)
    ahead = scipy.ndimage.maximum_filter1d(strong, reach, origin=-(reach // 2))
    return np.asarray(np.minimum(behind, ahead))


def _slides_past(cut: _Cut, seconds: Floats, course: Floats) -> bool:
    """Whether the pitch slides on through a dip of the level."""
    by = parameters().segments
    pieces = (
        (seconds >= cut.end - by.plateau) & (seconds <= cut.end),
        (seconds >= cut.start) & (seconds <= cut.start + by.plateau),
    )
    speeds = []
    for piece in pieces:
        known = piece & np.isfinite(course)
        if known.sum() < 4:
            return False
        speeds.append(float(np.polyfit(seconds[known], course[known], 1)[0]))
    return min(abs(speed) for speed in speeds) > by.slides


def _rise(strong: Floats, usual: Floats, last: int, smear: float) -> float:
    """How quickly the level is back after a dip, from 10 to 90 % as if it went on like that, s.

    smear  by how much the envelope itself draws it out, s
    """
    by = parameters().segments
    later = strong[last:]
    full = np.flatnonzero(later >= by.back * usual[last])
    if not len(full):
        return float("inf")
    seen = float(full[0] * FINE * 0.8 / (by.back - by.dip))
    return max(float(np.sqrt(max(seen**2 - smear**2, 0.0))), FINE)


def _envelope(heard: Recording, begin: float, stop: float, hz: float) -> tuple[Floats, Floats]:
    """Seconds and amplitude about a pitch's lower partials, each ``FINE``."""
    margin = 0.1
    a = max(round((begin - margin - heard.start) * RATE), 0)
    b = round((stop + margin - heard.start) * RATE)
    samples = np.asarray(heard.samples[a:b], np.float64)
    if len(samples) < RATE // 20:
        return np.zeros(0), np.zeros(0)
    low, high = (times * hz for times in PARTIALS)
    sos = scipy.signal.butter(2, [low, min(high, 0.45 * RATE)], btype="band", fs=RATE, output="sos")
    amplitude = np.abs(scipy.signal.hilbert(scipy.signal.sosfiltfilt(sos, samples)))
    # Partials beat once a period: what lasts less than that is no dip.
    soft = scipy.ndimage.uniform_filter1d(
        amplitude, max(round(RATE * SMEAR / hz), round(0.004 * RATE))
    )
    step = round(FINE * RATE)
    at = heard.start + (a + np.arange(len(soft))[::step]) / RATE
    inside = (at >= begin) & (at <= stop)
    return at[inside], np.asarray(soft[::step][inside])


def _steps(seconds: Floats, course: Floats) -> list[_Cut]:
    """Where a level pitch gives way to another one."""
    by, hop = parameters().segments, parameters().pitch.hop
    wide = round(by.plateau / hop)
    known = np.isfinite(course)
    if known.sum() < 2 * wide + 2:
        return []
    whole = np.interp(seconds, seconds[known], course[known])
    gap = max(round(by.step_longest / hop / 2), 1)
    places = np.arange(wide + gap, len(whole) - wide - gap)
    if not len(places):
        return []
    before = np.stack([whole[n - gap - wide : n - gap] for n in places])
    after = np.stack([whole[n + gap : n + gap + wide] for n in places])
    # A slide leaps as far as it goes on: only what is beyond that is a step.
    leap = np.median(after, axis=1) - np.median(before, axis=1)
    way = np.sign(leap)
    slides = np.maximum(_slope(before) * way, _slope(after) * way) * (wide + 2 * gap)
    leap = leap - way * np.clip(slides, 0, np.abs(leap))
    level = np.maximum(_spread(before), _spread(after)) <= by.level
    big = (np.abs(leap) >= by.step) & level
    found = []
    for a, b in runs(big):
        n = a + int(np.argmax(np.abs(leap[a : b + 1])))
        left, right = float(np.median(before[n])), float(np.median(after[n]))
        inner = whole[places[n] - gap : places[n] + gap + 1]
        half = np.abs(inner - left) > abs(right - left) / 2
        cross = places[n] - gap + int(np.argmax(half))
        moment = float(seconds[min(cross, len(seconds) - 1)])
        found.append(_Cut(moment, moment, 0.0, True))
    return found


def _slope(windows: Floats) -> Floats:
    """How far each window's pitch goes from one value to the next, cents."""
    at = np.arange(windows.shape[1]) - (windows.shape[1] - 1) / 2
    return np.asarray(windows @ at / (at @ at))


def _spread(windows: Floats) -> Floats:
    """How far each window's pitch strays, cents; a leap of a moment is not counted."""
    low, high = np.percentile(windows, [15, 85], axis=1)
    return np.asarray(high - low)
