"""The sound of a take: a source and a filter, in time with its phases.

Three sources: buzzing lips (a rich, falling spectrum), a reed (odd partials
strong at first), a flute (few partials). Air is shaped noise. All of it is
made from the script alone, so pitch, drift, wobble, air and start are known.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Floats
from sulvet.core.simulate.equipment import sizes
from sulvet.core.simulate.script import Script, embouchures

RATE = 48000
#: Phases in which the tone sounds.
SOUNDING = frozenset({"start", "hold", "change"})
#: Strength of partials: exponent of the fall, and how much weaker the even ones are.
SOURCES = {"buzz": (1.05, 1.0), "reed": (1.25, 0.35), "tube": (2.3, 0.8)}


@dataclass(frozen=True)
class Tone:
    """One sounding stretch: seconds, and its pitch as cents off the target over time."""

    start: float
    end: float
    hz: float
    cents: Floats


def tones(script: Script) -> list[Tone]:
    """Where a tone sounds, and how high: neighbouring phases are one breath."""
    sound = script.sound
    if sound is None:
        return []
    spans: list[list[float]] = []
    for phase in script.phases:
        if phase.name not in SOUNDING:
            continue
        if spans and abs(spans[-1][1] - phase.start) < 1e-6:
            spans[-1][1] = phase.end
        else:
            spans.append([phase.start, phase.end])
    hz = sound.hz or float(embouchures()[script.instrument]["hz"])
    found = []
    for k, (start, end) in enumerate(spans):
        t = np.arange(round((end - start) * RATE)) / RATE
        rng = np.random.default_rng([script.seed, 31, k])
        slow = np.interp(
            t,
            np.arange(0, end - start + 0.2, 0.08),
            _unit_noise(rng, len(np.arange(0, end - start + 0.2, 0.08))),
        )
        course = sound.cents + sound.drift * t + sound.wobble * slow
        if sound.glide:
            at, cents = np.array(sound.glide, float).T
            course = course + np.interp(t, at, cents)
        found.append(Tone(start, end, hz, course))
    return found


def _unit_noise(rng: np.random.Generator, count: int) -> Floats:
    raw = rng.standard_normal(count + 8)
    soft = np.convolve(raw, np.ones(3) / 3, mode="same")[4 : count + 4]
    return np.asarray((soft - soft.mean()) / (soft.std() + 1e-9))


def _band(noise: Floats, low: float, high: float) -> Floats:
    sos = scipy.signal.butter(2, [low, min(high, RATE / 2.2)], btype="band", fs=RATE, output="sos")
    return np.asarray(scipy.signal.sosfilt(sos, noise))


def _partials(kind: str, phase: Floats, hz: float, bright: float) -> Floats:
    fall, even = SOURCES[kind]
    fall -= bright
    out = np.zeros_like(phase)
    for k in range(1, 24):
        if k * hz > 15000:
            break
        out += np.sin(k * phase) * (even if k % 2 == 0 else 1.0) / k**fall
    return np.asarray(out / np.sqrt((out**2).mean() + 1e-12))


def track(script: Script) -> Floats:
    """(N,) the sound, -1..1, at ``RATE``; empty when the script has none."""
    sound = script.sound
    if sound is None:
        return np.zeros(0)
    count = round(script.seconds * RATE)
    t = np.arange(count) / RATE
    rng = np.random.default_rng([script.seed, 7])
    noise = rng.standard_normal(count)
    out = sound.room * (0.6 * noise + 0.8 * _band(rng.standard_normal(count), 60, 500))
    airy = _band(rng.standard_normal(count), 900, 7000)
    airy /= airy.std()
    attack = {"tongued": 0.018, "soft": 0.08, "breathy": 0.16}[sound.start]
    lead = sound.lead or (0.12 if sound.start == "breathy" else 0.0)
    kind = sizes()[script.instrument]["source"]
    for tone in tones(script):
        first = round(tone.start * RATE)
        n = min(len(tone.cents), count - first)
        here = np.arange(n) / RATE
        hz = tone.hz * 2 ** (tone.cents[:n] / 1200)
        for moment in sound.cracks:
            hz = hz * (1 + 0.5 * np.exp(-(((here - moment) / 0.03) ** 2)))
        swell = np.clip((here - lead) / attack, 0, 1) * np.clip((n / RATE - here) / 0.06, 0, 1)
        for moment in sound.tongue:
            # Closed for a moment: gone in 30 ms, back as at the start.
            away = np.maximum((moment - 0.02 - here) / 0.03, (here - moment - 0.02) / attack)
            swell = swell * np.clip(away, 0, 1)
        wave = _partials(kind, 2 * np.pi * np.cumsum(hz) / RATE, tone.hz, sound.bright)
        if sound.pitched:
            out[first : first + n] += sound.level * swell * wave
        breath = np.clip(here / 0.04, 0, 1) * np.clip((n / RATE - here) / 0.08, 0, 1)
        air = sound.air * (1 + 2.0 * (here < lead)) + sound.hiss
        out[first : first + n] += sound.level * breath * air * airy[first : first + n]
    del t
    peak = float(np.abs(out).max())
    return np.asarray(out / max(1.0, peak / 0.95))
