"""Made-up exercises of several tones, as drills ask for them: what of them is heard right."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from benchmarks.accuracy.sounds import INSTRUMENTS, OVER, PLACES, PLAIN, Place, heard
from sulvet.core.exercises.row import row_of
from sulvet.core.exercises.schema import Asked, Element, Wanted
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.simulate.person import people
from sulvet.core.simulate.script import Script, embouchures
from sulvet.core.sound.notes import cents
from sulvet.core.sound.parameters import range_of
from sulvet.core.sound.pitch import track_pitch
from sulvet.core.sound.tones import SoundAnalysis, analyse

FIRST_SEED = 31700
BEFORE, TONGUED, ATTACK, CLOSED = 1.0, 0.04, 0.018, 0.03
EACH = 2


@dataclass(frozen=True)
class Exercise:
    """One exercise: when its tones begin and end, and how high they are over the first, cents."""

    kind: str
    script: Script
    starts: tuple[float, ...]
    ends: tuple[float, ...]
    steps: tuple[float, ...]


def _script(number: int, steps: list[dict[str, object]], **sound: object) -> Script:
    rng = np.random.default_rng([FIRST_SEED, number])
    instrument = INSTRUMENTS[number % len(INSTRUMENTS)]
    hz = float(embouchures()[instrument]["hz"]) * 2 ** float(rng.uniform(-0.2, 0.2))
    return Script(
        person=next(iter(people())), instrument=instrument, seed=FIRST_SEED + number,
        steps=[{"phase": "rest", "seconds": BEFORE}, *steps,
               {"phase": "release", "seconds": 0.6, "base": "rest"}],
        sound={"hz": hz, "wobble": float(rng.uniform(1, 5)), "room": 1e-6,
               "air": float(rng.uniform(0.02, 0.08)), "level": 0.16, **sound},
    )  # fmt: skip


def single_counts(number: int) -> Exercise:
    """Four single counts in one breath, parted by the tongue alone."""
    count = float(np.random.default_rng(number).uniform(0.4, 1.0))
    tongue = [count * n for n in (1, 2, 3)]
    script = _script(number, [{"phase": "hold", "seconds": 4 * count}], tongue=tongue)
    # Gone half way through 30 ms before it closes, back half way through the attack after it opens.
    starts = [BEFORE + ATTACK / 2, *(BEFORE + t + TONGUED / 2 + ATTACK / 2 for t in tongue)]
    ends = [*(BEFORE + t - TONGUED / 2 - CLOSED / 2 for t in tongue), BEFORE + 4 * count - 0.03]
    return Exercise("four single counts in one breath", script, tuple(starts), tuple(ends),
                    (0.0,) * 4)  # fmt: skip


def with_gaps(number: int) -> Exercise:
    """Four tones with short silences between them."""
    rng = np.random.default_rng(number)
    count, gap = float(rng.uniform(0.4, 1.5)), float(rng.choice([0.05, 0.1, 0.3]))
    steps: list[dict[str, object]] = []
    starts, ends, at = [], [], BEFORE
    for n in range(4):
        steps.append({"phase": "hold", "seconds": count})
        starts.append(at + ATTACK / 2)
        ends.append(at + count - 0.03)
        at += count + gap
        if n < 3:
            steps.append({"phase": "breathe", "seconds": gap})
    return Exercise("four tones, gaps of 0.05 to 0.3 s", _script(number, steps),
                    tuple(starts), tuple(ends), (0.0,) * 4)  # fmt: skip


def descent(number: int) -> Exercise:
    """Seven notes down by half steps, slurred."""
    each = float(np.random.default_rng(number).uniform(0.35, 0.9))
    glide: list[tuple[float, float]] = [(0.0, 0.0)]
    for n in range(1, 7):
        glide += [(n * each, -100.0 * (n - 1)), (n * each + 0.03, -100.0 * n)]
    script = _script(number, [{"phase": "hold", "seconds": 7 * each}], glide=glide)
    starts = [BEFORE + ATTACK / 2, *(BEFORE + n * each + 0.015 for n in range(1, 7))]
    ends = [*(BEFORE + n * each + 0.015 for n in range(1, 7)), BEFORE + 7 * each - 0.03]
    return Exercise("seven half steps down, slurred", script, tuple(starts), tuple(ends),
                    tuple(-100.0 * n for n in range(7)))  # fmt: skip


def siren(number: int) -> Exercise:
    """Up a fifth and back in one breath: one tone."""
    half = float(np.random.default_rng(number).uniform(1.0, 2.0))
    glide = [(0.3, 0.0), (0.3 + half, 700.0), (0.3 + 2 * half, 0.0)]
    seconds = 0.6 + 2 * half
    script = _script(number, [{"phase": "hold", "seconds": seconds}], glide=glide)
    return Exercise("siren, a fifth up and back", script, (BEFORE + ATTACK / 2,),
                    (BEFORE + seconds - 0.03,), (0.0,))  # fmt: skip


KINDS: tuple[Callable[[int], Exercise], ...] = (single_counts, with_gaps, descent, siren)


@dataclass(frozen=True)
class Heard:
    """What was heard of an exercise.

    right    as many tones as there are;  doubled  more
    onsets   how far each is off, s;  steps  whether each half step is named
    even     whether the counted drill is judged as its true lengths are
    """

    right: bool
    doubled: bool
    onsets: tuple[float, ...]
    steps: bool
    even: bool


def listen(exercise: Exercise, over: float, place: Place = PLAIN) -> Heard:
    """Make it, listen to it, hold it against the truth."""
    script = exercise.script
    assert script.sound is not None and script.sound.hz is not None
    sound = place.of(heard(script, over, True), script.sound.hz)
    stage = "mouthpiece" if script.instrument in ("clarinet", "saxophone") else "instrument"
    low, high = range_of(script.instrument, shipped_standard(script.instrument).family, stage)
    told = analyse(track_pitch(sound, low, high), sound)
    right = len(told.tones) == len(exercise.starts)
    onsets: tuple[float, ...] = ()
    if right:
        pairs = zip(told.tones, exercise.starts, strict=True)
        onsets = tuple(abs(tone.start - start) for tone, start in pairs)
    return Heard(right, len(told.tones) > len(exercise.starts), onsets,
                 right and _named(exercise, told), right and _counted(exercise, told))  # fmt: skip


def _named(exercise: Exercise, told: SoundAnalysis) -> bool:
    wanted = [b - a for a, b in pairwise(exercise.steps)]
    found = [cents(b.hz, a.hz) for a, b in pairwise(told.tones)]
    return all(abs(f - w) < 50 for f, w in zip(found, wanted, strict=True))


def _counted(exercise: Exercise, told: SoundAnalysis) -> bool:
    """Whether each tone is called even, or not, as its true length says."""
    length = exercise.ends[0] - exercise.starts[0]
    tempo = 60.0 / length
    elements = (Element(do="tone", counts=1),) * len(exercise.starts)
    wanted = tuple(Wanted(one, 0) for one in elements)
    limits, row = common().limits, row_of(told, Asked("counted", (wanted,)), tempo)
    true = [
        abs((end - start) / length - 1) <= limits.even_within_counts
        for start, end in zip(exercise.starts, exercise.ends, strict=True)
    ]
    return [not {"short", "long"} & set(place.wrong) for place in row.places] == true


def rows() -> list[str]:
    """The table's rows: each kind in each room, then in a classroom's echo."""
    found = []
    for kind in KINDS:
        for over, place in [*((over, PLAIN) for over in OVER), (OVER[0], PLACES[0])]:
            some = [kind(n) for n in range(EACH * len(INSTRUMENTS))]
            told = [listen(one, over, place) for one in some]
            onsets = [onset for one in told for onset in one.onsets]
            late = f"{1000 * np.percentile(onsets, 95):.0f} ms" if onsets else "none"
            room = f"{over:.0f} dB" + (", echo" if place is not PLAIN else "")
            parts = (
                some[0].kind, room, _share(one.right for one in told),
                _share(not one.doubled for one in told), late,
                _share(one.steps for one in told), _share(one.even for one in told),
            )  # fmt: skip
            found.append(f"| {' | '.join(parts)} |")
    return found


def _share(told: Iterable[bool]) -> str:
    return f"{np.mean(list(told)):.0%}"
