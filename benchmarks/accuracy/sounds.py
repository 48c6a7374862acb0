"""Made-up sounds of known pitch, start and length, over a room of known loudness."""

from __future__ import annotations

import time
from dataclasses import dataclass

import numpy as np
from scipy.signal import fftconvolve

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate.person import people
from sulvet.core.simulate.script import Script, embouchures
from sulvet.core.simulate.sound import track as sound_of
from sulvet.core.sound.parameters import range_of
from sulvet.core.sound.pitch import RATE, PitchTrack, Recording, off, track_pitch
from sulvet.core.sound.tones import SoundAnalysis, analyse

FIRST_SEED = 20100
#: How far the tone stands over the room, dB.
OVER = (20.0, 10.0, 5.0)
INSTRUMENTS = (
    "flute", "oboe", "clarinet", "saxophone", "bassoon", "horn", "trumpet", "trombone",
)  # fmt: skip
STARTS = ("tongued", "breathy")
#: Sounds of each instrument and start, and of air alone.
EACH = 3
LEVEL = 0.16
LEAD, BEFORE = 0.25, 1.0


@dataclass(frozen=True)
class Sound:
    """One sound and what was heard of it.

    over    dB over the room; ``pitched`` whether there is a tone
    wide    followed without knowing the target, in the instrument's whole range
    """

    instrument: str
    start: str
    over: float
    pitched: bool
    script: Script
    track: PitchTrack
    wide: PitchTrack
    told: SoundAnalysis

    @property
    def truth(self) -> float:
        """The true pitch, Hz."""
        sound = self.script.sound
        assert sound is not None and sound.hz is not None
        return sound.hz

    @property
    def span(self) -> tuple[float, float]:
        """When the tone's level truly passes half, s."""
        attack = {"tongued": 0.018, "soft": 0.08, "breathy": 0.16}[self.start]
        lead = LEAD if self.start == "breathy" else 0.0
        return BEFORE + lead + attack / 2, BEFORE + 3.0 - 0.03


def script(instrument: str, start: str, over: float, pitched: bool, number: int) -> Script:
    """A sound of three seconds."""
    rng = np.random.default_rng([FIRST_SEED, number, INSTRUMENTS.index(instrument)])
    hz = float(embouchures()[instrument]["hz"]) * 2 ** float(rng.uniform(-0.3, 0.3))
    # The made-up room: white noise at 0.6 and low rumble at 0.8 of its figure, before filtering.
    room = LEVEL / 10 ** (over / 20)
    return Script(
        person=next(iter(people())),
        instrument=instrument,
        seed=FIRST_SEED + number,
        steps=[{"phase": "rest", "seconds": BEFORE}, {"phase": "hold", "seconds": 3.0},
               {"phase": "release", "seconds": 0.6, "base": "rest"}],
        sound={"hz": hz, "cents": float(rng.uniform(-60, 60)), "drift": float(rng.uniform(-8, 8)),
               "wobble": float(rng.uniform(2, 14)), "air": float(rng.uniform(0.02, 0.12)),
               "start": start, "lead": LEAD if start == "breathy" else 0.0,
               "level": LEVEL, "room": room, "pitched": pitched},
    )  # fmt: skip


def heard(take: Script, over: float, pitched: bool) -> Recording:
    """The sound, its room made exactly as loud as it should be."""
    samples = sound_of(take)
    rng = np.random.default_rng(take.seed + 5)
    clean = take.model_copy(
        update={"sound": take.sound.model_copy(update={"room": 1e-6}) if take.sound else None}
    )
    pure = sound_of(clean)
    part = pure[round(1.5 * RATE) : round(3.5 * RATE)]
    strong = float(np.sqrt((part**2).mean()))
    noise = rng.standard_normal(len(samples))
    low = np.convolve(rng.standard_normal(len(samples)), np.ones(60) / 60, "same")
    room = 0.6 * noise / noise.std() + 0.8 * low / low.std()
    wanted = (strong if pitched else LEVEL) / 10 ** (over / 20)
    return Recording((pure + room / room.std() * wanted).astype(np.float32))


@dataclass(frozen=True)
class Place:
    """Where somebody plays.

    echo       reverberation time, s, and ``wet`` how strong all of it is over the direct sound
    neighbour  dB under the tone at which somebody else plays a third higher all the time
    """

    words: str
    echo: float = 0.0
    wet: float = 0.0
    neighbour: float | None = None

    def of(self, sound: Recording, hz: float) -> Recording:
        """A sound as it is there."""
        samples = sound.samples.astype(float)
        if self.echo:
            t = np.arange(round(1.2 * self.echo * RATE)) / RATE
            # Noise that falls by 60 dB in the reverberation time (ISO 3382-2).
            tail = np.random.default_rng(FIRST_SEED).standard_normal(len(t))
            tail *= 10 ** (-3 * t / self.echo)
            tail *= self.wet / np.sqrt((tail**2).sum())
            tail[0] += 1.0
            samples = fftconvolve(samples, tail)[: len(samples)]
        if self.neighbour is not None:
            phase = 2 * np.pi * hz * 2 ** (4 / 12) * np.arange(len(samples)) / RATE
            other = np.sum([np.sin(k * phase) / k for k in range(1, 6)], axis=0)
            part = samples[round(1.5 * RATE) : round(3.5 * RATE)]
            strong = np.sqrt((part**2).mean()) * 10 ** (-self.neighbour / 20)
            samples = samples + other / np.sqrt((other**2).mean()) * strong
        return Recording(samples.astype(np.float32))


PLAIN = Place("")
PLACES = (
    Place("a classroom, echo of 0.4 s", 0.4, 0.5),
    Place("a hall, echo of 0.8 s", 0.8, 0.7),
    Place("somebody plays 20 dB weaker", neighbour=20.0),
    Place("somebody plays 12 dB weaker", neighbour=12.0),
)


def one(
    instrument: str, start: str, over: float, pitched: bool, number: int, place: Place = PLAIN
) -> Sound:
    """Make a sound and listen to it."""
    take = script(instrument, start, over, pitched, number)
    sound = heard(take, over, pitched)
    if take.sound is not None and take.sound.hz is not None:
        sound = place.of(sound, take.sound.hz)
    # A mouthpiece tone where the pitch is one of a mouthpiece.
    stage = "mouthpiece" if instrument in ("clarinet", "saxophone") else "instrument"
    low, high = range_of(instrument, shipped_standard(instrument).family, stage)
    assert take.sound is not None and take.sound.hz is not None
    track = track_pitch(sound, low, high, take.sound.hz)
    wide = track_pitch(sound, low, high)
    return Sound(instrument, start, over, pitched, take, track, wide, analyse(track, sound))


def listen() -> list[Sound]:
    """All of them."""
    found = []
    number = 0
    for over in OVER:
        for instrument in INSTRUMENTS:
            for start in STARTS:
                for _ in range(EACH):
                    number += 1
                    found.append(one(instrument, start, over, True, number))
            for _ in range(EACH):
                number += 1
                found.append(one(instrument, "tongued", over, False, number))
    return found


def elsewhere(place: Place) -> list[Sound]:
    """Tones in a place that is not as kind, 20 dB over its room."""
    return [
        one(instrument, start, OVER[0], True, 100 * PLACES.index(place) + k, place)
        for instrument in INSTRUMENTS
        for k, start in enumerate(STARTS * 2)
    ]


def pitch_errors(sound: Sound, track: PitchTrack) -> tuple[Floats, Bools]:
    """Cents off the truth while the tone sounds, and which of them are octaves off."""
    take = sound.script.sound
    assert take is not None
    start, end = sound.span
    inside = (track.seconds > start + 0.1) & (track.seconds < end - 0.1)
    true = take.cents + take.drift * (track.seconds[inside] - BEFORE)
    away = off(track, sound.truth)[inside] - true
    away = away[np.isfinite(away)]
    return away, np.abs(away) > 600


def minute() -> float:
    """Seconds that a track of 60 s takes, lowest and widest range."""
    sound = heard(script("trombone", "tongued", 20, True, 1), 20, True)
    long = Recording(np.tile(sound.samples, 14)[: 60 * RATE])
    began = time.perf_counter()
    analyse(track_pitch(long, 60.0, 600.0), long)
    return time.perf_counter() - began
