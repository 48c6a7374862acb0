"""Practising the ear: tones made by the simulator, after the target that was asked for."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from pathlib import Path
from typing import Literal

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.data_files import Strict, read_table
from sulvet.core.eye.loop import ALIKE, FAULT, RIGHT, UNTOLD, Loop, filmed_on
from sulvet.core.eye.schema import EAR, cases
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import per_language
from sulvet.core.simulate.person import people
from sulvet.core.simulate.script import Script, SoundScript, Step
from sulvet.core.simulate.sound import RATE, track
from sulvet.core.sound.notes import hz_of

#: Good tones of an instrument; pairs of faults at once.
GOOD = 6
TOGETHER = (("pitch-high", "tone-pinched"), ("pitch-low", "tone-airy"))


class ToneCase(Strict):
    """A fault that is heard; see ``tones.toml``."""

    fault: str
    name: str
    look: str
    sound: dict[str, float]


class ToneAlike(Strict):
    """What sounds like a fault and is none."""

    like: str
    because: str
    vibrato: float = 0.0
    start: Literal["tongued", "soft"] = "tongued"


class ToneUntold(Strict):
    """What can't be told by ear."""

    because: str
    sound: dict[str, float]


class ToneTable(Strict):
    """All of it."""

    version: int
    target: float
    silence: float
    student: float
    semitones: int
    swings: float
    still: float
    good: dict[str, float]
    tones: tuple[ToneCase, ...]
    alikes: tuple[ToneAlike, ...]
    untold: tuple[ToneUntold, ...]

    def tone(self, fault: str) -> ToneCase:
        """A fault as it is heard; KeyError where it is not."""
        for one in self.tones:
            if one.fault == fault:
                return one
        raise KeyError(fault)


@per_language
def table() -> ToneTable:
    """The shipped one."""
    return read_table(Path(__file__).parent / "data" / "tones.toml", ToneTable)


@per_language
def tones_of(instrument: str) -> tuple[Loop, ...]:
    """All tones of an instrument, in a fixed order."""
    base, by = f"{instrument}-{EAR}", table()
    degrees = range(len(cases().degrees))
    return (
        *(Loop(f"{base}-right-{n + 1}", instrument, EAR, RIGHT) for n in range(GOOD)),
        *(
            Loop(f"{base}-{one.fault}-{degree + 1}", instrument, EAR, FAULT, (one.fault,), degree)
            for one in by.tones
            for degree in degrees
        ),
        *(
            Loop(f"{base}-two-{n + 1}", instrument, EAR, FAULT, pair, 1)
            for n, pair in enumerate(TOGETHER)
        ),
        *(
            Loop(f"{base}-like-{one.like}", instrument, EAR, ALIKE, like=one.like,
                 because=one.because)
            for one in by.alikes
        ),
        *(
            Loop(f"{base}-untold-{n + 1}", instrument, EAR, UNTOLD, because=one.because)
            for n, one in enumerate(by.untold)
        ),
    )  # fmt: skip


def heard(one: Loop) -> Floats:
    """(N,) samples at ``RATE`` of the simulator: the target, a silence, and the student's tone."""
    by = table()
    seed = int.from_bytes(hashlib.sha256(one.id.encode()).digest()[:4], "big") % 100_000
    steps = np.random.default_rng(seed).integers(-by.semitones, by.semitones + 1)
    hz = first_hz(one.instrument) * 2 ** (float(steps) / 12)
    target = _played(one.instrument, seed, SoundScript(hz=hz, **_good(wobble=0.0)), by.target)
    student = _played(one.instrument, seed, sound_of(one, hz), by.student)
    return np.concatenate([target, np.zeros(round(by.silence * RATE)), student])


def first_hz(instrument: str) -> float:
    """The first note a beginner is given, concert pitch, Hz: the first one of the standard."""
    targets = shipped_standard(instrument).targets
    return hz_of(next(t.pitch for t in targets if t.stage == "instrument" and not t.size))


def sound_of(one: Loop, hz: float) -> SoundScript:
    """What is to be heard of the student."""
    by = table()
    if one.kind == UNTOLD:
        noise = next(u for u in by.untold if u.because == one.because)
        return SoundScript(hz=hz, **_good(**noise.sound))
    if one.kind == ALIKE:
        like = next(a for a in by.alikes if a.like == one.like)
        return SoundScript(hz=hz, start=like.start, glide=_swing(like.vibrato), **_good())
    much = cases().degrees[one.degree or 0]
    wrong = {
        name: by.good[name] + much * (value - by.good[name])
        for fault in one.faults
        for name, value in by.tone(fault).sound.items()
    }
    return SoundScript(hz=hz, **_good(**wrong))


def _good(**other: float) -> dict[str, float]:
    return {**table().good, **other}


def _swing(cents: float) -> list[tuple[float, float]]:
    """A vibrato that begins after a still moment; none of no cents."""
    if not cents:
        return []
    by = table()
    times = np.arange(0.0, by.student - by.still, 1 / by.swings / 16)
    course = cents * np.minimum(times / by.still, 1.0) * np.sin(2 * np.pi * by.swings * times)
    swung = zip(times, course, strict=True)
    return [(0.0, 0.0), *((float(t) + by.still, float(c)) for t, c in swung)]


def _played(instrument: str, seed: int, sound: SoundScript, seconds: float) -> Floats:
    return track(
        Script(
            person=next(iter(people())), instrument=filmed_on(instrument), seed=seed, sound=sound,
            steps=[Step(phase="hold", seconds=seconds)],
        )
    )  # fmt: skip


def heard_faults() -> Mapping[str, ToneCase]:
    """Faults by ear, in the order of the table."""
    return {one.fault: one for one in table().tones}
