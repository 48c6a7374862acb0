"""Tones of recorded instruments, and people who talk: a second opinion beside made-up tones.

The instruments are samples of a General MIDI sound font, played by fluidsynth; the talk is made by
espeak-ng. Both come from Debian's packages and serve here alone.
"""

from __future__ import annotations

import shutil
import subprocess
import tempfile
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path

import mido
import numpy as np
import soundfile

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.sound.parameters import range_of
from sulvet.core.sound.pitch import RATE, Recording, track_pitch
from sulvet.core.sound.tones import SoundAnalysis, analyse

FONT = Path("/usr/share/sounds/sf2/TimGM6mb.sf2")
SEED = 41900
#: General MIDI programs from 0, and notes in a beginner's middle range (MIDI numbers). Limits were
#: tried out on the notes between these.
PROGRAMS = {
    "flute": (73, (73, 75, 78)), "oboe": (68, (68, 70, 73)), "clarinet": (71, (59, 61, 63)),
    "saxophone": (65, (59, 61, 63)), "bassoon": (70, (47, 49, 51)), "horn": (60, (54, 56, 58)),
    "trumpet": (56, (59, 61, 63)), "trombone": (57, (47, 49, 51)), "tuba": (58, (35, 37, 39)),
}  # fmt: skip
BEFORE, AFTER = 1.0, 1.0
TICKS = 480
#: What people say, and with which voices of espeak-ng. The limits of talk were set on others.
TALK = (
    "my brother has lost the key again so we have to wait until the teacher comes back",
    "is it the third page or the fourth, I can never find that song in here",
    "stop it, that is my chair, you were sitting over there by the window yesterday",
    "what time does the bus leave today, because I still have to get my jacket",
)
VOICES = ("en+m1", "en+f1", "en+f3", "en+m5")


@dataclass(frozen=True)
class Note:
    """One note: from when, how long, s, and which MIDI number."""

    start: float
    seconds: float
    key: int


def there() -> bool:
    """Whether this machine has what it takes."""
    return FONT.exists() and all(shutil.which(name) for name in ("fluidsynth", "espeak-ng"))


def played(
    instrument: str, notes: Sequence[Note], bend: Sequence[tuple[float, float]] = ()
) -> Floats:
    """(N,) samples at ``RATE`` of notes played by a recorded instrument, dry.

    bend  (s, half steps) between which the pitch goes in straight lines
    """
    song, track = mido.MidiFile(ticks_per_beat=TICKS), mido.MidiTrack()
    song.tracks.append(track)
    program, _ = PROGRAMS[instrument]
    events: list[tuple[float, int, mido.Message]] = [
        (0.0, 0, mido.Message("program_change", program=program)),
        # Bends of up to an octave (registered parameter 0).
        *((0.0, 1 + n, mido.Message("control_change", control=c, value=v))
          for n, (c, v) in enumerate(((101, 0), (100, 0), (6, 12), (38, 0)))),
    ]  # fmt: skip
    for note in notes:
        on = mido.Message("note_on", note=note.key, velocity=96)
        off = mido.Message("note_off", note=note.key)
        events += [(BEFORE + note.start, 6, on), (BEFORE + note.start + note.seconds, 5, off)]
    if bend:
        at, steps = np.array(bend, float).T
        for t in np.arange(at[0], at[-1] + 0.01, 0.01):
            value = round(float(np.interp(t, at, steps)) / 12 * 8191)
            events.append((BEFORE + float(t), 4, mido.Message("pitchwheel", pitch=value)))
    last = 0
    for when, _, message in sorted(events, key=lambda one: one[:2]):
        tick = round(when * TICKS * 2)
        track.append(message.copy(time=tick - last))
        last = tick
    with tempfile.TemporaryDirectory() as folder:
        midi, wav = Path(folder) / "song.mid", Path(folder) / "song.wav"
        song.save(midi)
        subprocess.run(
            ["fluidsynth", "-ni", "-q", "-R", "0", "-C", "0", "-g", "0.6", "-r", str(RATE), "-F",
             str(wav), str(FONT), str(midi)],
            check=True, capture_output=True,
        )  # fmt: skip
        samples, _ = soundfile.read(wav, always_2d=True)
    whole = np.zeros(round((BEFORE + max(n.start + n.seconds for n in notes) + AFTER) * RATE))
    mono = samples.mean(axis=1)[: len(whole)]
    whole[: len(mono)] = mono
    return np.asarray(whole)


@cache
def talk(number: int) -> Floats:
    """Somebody who talks for some seconds."""
    with tempfile.TemporaryDirectory() as folder:
        wav = Path(folder) / "talk.wav"
        words, voice = TALK[number % len(TALK)], VOICES[number // len(TALK) % len(VOICES)]
        subprocess.run(
            ["espeak-ng", "-v", voice, "-s", "165", "-w", str(wav), words], check=True,
            capture_output=True,
        )  # fmt: skip
        samples, rate = soundfile.read(wav)
    at = np.arange(0, len(samples) / rate, 1 / RATE)
    return np.asarray(np.interp(at, np.arange(len(samples)) / rate, samples))


def strength(samples: Floats) -> float:
    """RMS of the loud half."""
    parts = samples[: len(samples) // 960 * 960].reshape(-1, 960)
    loud = np.sqrt((parts**2).mean(axis=1))
    return float(np.sqrt((loud[loud >= 0.3 * loud.max()] ** 2).mean()))


def in_room(samples: Floats, over: float, number: int, low: bool = False) -> Recording:
    """With a room so many dB under it: white noise and rumble, or rumble alone."""
    rng = np.random.default_rng([SEED, number])
    noise = rng.standard_normal(len(samples))
    rumble = np.convolve(rng.standard_normal(len(samples)), np.ones(120) / 120, "same")
    room = rumble / rumble.std() + (0.0 if low else 0.75 * noise / noise.std())
    room *= strength(samples) / room.std() / 10 ** (over / 20)
    return Recording((samples + room).astype(np.float32))


def with_talk(samples: Floats, under: float, number: int) -> Recording:
    """With somebody talking so many dB weaker all the time, in a quiet room."""
    said = talk(number)
    said = np.tile(said, len(samples) // len(said) + 1)[: len(samples)]
    mixed = samples + said / strength(said) * strength(samples) / 10 ** (under / 20)
    return in_room(mixed, 30.0, number)


def told(instrument: str, sound: Recording) -> SoundAnalysis:
    """What is heard, the note not known."""
    low, high = range_of(instrument, shipped_standard(instrument).family, "instrument")
    return analyse(track_pitch(sound, low, high), sound)


@dataclass(frozen=True)
class Kind:
    """Something played by every recorded instrument.

    notes  of a key;  count  how many tones that is;  bend  s and half steps
    """

    words: str
    notes: Callable[[int], list[Note]]
    count: int
    bend: tuple[tuple[float, float], ...] = ()


def _repeated(gap: float) -> Callable[[int], list[Note]]:
    return lambda key: [Note(n * (0.5 + gap), 0.5, key) for n in range(4)]


STAIRS = tuple(
    point for n in range(7) for point in ((0.6 * n + 0.03 * (n > 0), -n), (0.6 * (n + 1), -n))
)
KINDS = (
    Kind("one tone of 2.5 s", lambda key: [Note(0.0, 2.5, key)], 1),
    Kind("four tones, gaps of 0.05 s", _repeated(0.05), 4),
    Kind("four tones, gaps of 0.1 s", _repeated(0.1), 4),
    Kind("seven half steps down, slurred", lambda key: [Note(0.0, 4.2, key)], 7, STAIRS),
    Kind("siren, a fifth up and back", lambda key: [Note(0.0, 3.6, key)], 1,
         ((0.0, 0.0), (0.3, 0.0), (1.8, 7.0), (3.3, 0.0), (3.6, 0.0))),
)  # fmt: skip


def rows() -> list[str]:
    """Each kind in each room: all found, none doubled, onsets, and clean tones with cracks."""
    found = []
    for kind in KINDS:
        for over in (20.0, 10.0):
            told_of, onsets = [], []
            for n, (instrument, key) in enumerate(_all()):
                notes = kind.notes(key)
                sound = in_room(played(instrument, notes, kind.bend), over, n)
                tones = told(instrument, sound).tones
                told_of.append((len(tones), sum(bool(tone.cracks) for tone in tones)))
                if len(tones) == kind.count == len(notes):
                    starts = zip(tones, notes, strict=True)
                    onsets += [abs(tone.start - BEFORE - note.start) for tone, note in starts]
            late = f"{1000 * np.percentile(onsets, 95):.0f} ms" if onsets else ""
            found.append(
                f"| {kind.words} | {over:.0f} dB | {_share(n == kind.count for n, _ in told_of)} | "
                f"{_share(n <= kind.count for n, _ in told_of)} | {late} | "
                f"{_share(cracks > 0 for _, cracks in told_of)} |"
            )
    return found


def _all() -> list[tuple[str, int]]:
    return [(name, key) for name, (_, keys) in PROGRAMS.items() for key in keys]


def disturbed() -> list[str]:
    """One tone under rumble and under talk: told right, or that it can't be told."""
    ways: tuple[tuple[str, Callable[[Floats, int], Recording]], ...] = (
        ("rumble 5 dB under it", lambda samples, n: in_room(samples, 5.0, n, True)),
        ("talk 15 dB under it", lambda samples, n: with_talk(samples, 15.0, n)),
        ("talk 10 dB under it", lambda samples, n: with_talk(samples, 10.0, n)),
    )
    out = []
    for words, mixed in ways:
        right = loud = 0
        for n, (instrument, key) in enumerate(_all()):
            sound = told(instrument, mixed(played(instrument, [Note(0.0, 2.5, key)]), n))
            loud += sound.noisy
            right += len(sound.tones) == 1 and all(
                abs(was - true) <= 0.2
                for was, true in zip(
                    (sound.tones[0].start, sound.tones[0].end), (BEFORE, BEFORE + 2.5), strict=True
                )
            )
        count = len(_all())
        out.append(f"| {words} | {right} of {count} | {loud} of {count} |")
    return out


def talk_alone() -> tuple[int, int]:
    """In how many of how many clips in which somebody only talks no tone is heard."""
    names = ("trumpet", "clarinet", "trombone", "flute")
    none = 0
    clips = [(name, n) for n in range(len(TALK) * len(VOICES)) for name in names]
    for name, n in clips:
        pause = np.zeros(RATE // 2)
        none += not told(name, in_room(np.concatenate([pause, talk(n), pause]), 25.0, n)).tones
    return none, len(clips)


def _share(right: Iterable[bool]) -> str:
    return f"{np.mean(list(right)):.0%}"
