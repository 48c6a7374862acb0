"""Notes in equal temperament: names, Hz, cents. ISO 16:1975 sets A4 at 440 Hz."""

from __future__ import annotations

import re

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.parameters import parameters

NAMES = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "G#", "A", "Bb", "B")
STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
A4 = 440.0
_NOTE = re.compile(r"([A-G])([#b]?)(-?\d)$")
#: MIDI number of A4.
_A4 = 69


def number(name: str) -> int:
    """MIDI number of a note; ValueError for what is none.

    >>> number("A4"), number("Bb4"), number("F#6")
    (69, 70, 90)
    """
    found = _NOTE.match(name)
    if found is None:
        raise ValueError(f"“{name}” is no note; write it as F#6 or Bb4.")
    letter, sign, octave = found.groups()
    return 12 * (int(octave) + 1) + STEPS[letter] + {"#": 1, "b": -1, "": 0}[sign]


def name_of(midi: int) -> str:
    """Name of a MIDI number."""
    return f"{NAMES[midi % 12]}{midi // 12 - 1}"


def hz_of(name: str, a4: float = A4) -> float:
    """Frequency of a note, Hz.

    >>> round(hz_of("F#6"), 2)
    1479.98
    """
    return float(a4 * 2 ** ((number(name) - _A4) / 12))


def cents(hz: float, against: float) -> float:
    """How far one frequency lies above another, cents."""
    return float(all_cents(np.array(hz), against))


def all_cents(hz: Floats, against: Floats | float) -> Floats:
    """The same for many frequencies, Hz; NaN where one is unknown."""
    return np.asarray(1200 * np.log2(hz / against))


def nearest(hz: float, a4: float = A4) -> tuple[str, float]:
    """The nearest note and how many cents above it.

    >>> nearest(445.0)[0]
    'A4'
    """
    midi = round(_A4 + 12 * float(np.log2(hz / a4)))
    name = name_of(midi)
    return name, cents(hz, hz_of(name, a4))


def written(name: str, instrument: str) -> str:
    """What a player of a transposing instrument reads for a concert pitch.

    >>> written("Bb4", "trumpet"), written("F4", "horn"), written("A4", "flute")
    ('C5', 'C5', 'A4')
    """
    return name_of(number(name) - parameters().transposes.get(instrument, 0))
