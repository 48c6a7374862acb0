"""Air: where it is heard without a tone, how long before one, and how even it is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from sulvet.core.anatomy.marks import Bools, Floats
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.pitch import RATE, SILENCE, Recording, levels, runs

#: The envelope in which starts and ends are looked for, s.
FINE = 0.005
#: Where breath is heard and voices and rumble are weak, Hz, and how far filters smear a start, s.
AIR_BAND = (1000.0, 8000.0)
SMEAR = 0.02
#: Shorter silences do not end a breath, s; the quietest of a recording, %, is the room.
AIR_BRIDGE, QUIET = 0.05, 15


@dataclass(frozen=True)
class Evenness:
    """How even a long stretch of air is: when it falls away for a moment, and when it surges, s."""

    dips: tuple[float, ...]
    surges: tuple[float, ...]


class Air:
    """How loud the band of air is each ``FINE``, and where it stands out of the room."""

    def __init__(self, heard: Recording) -> None:
        samples = np.asarray(heard.samples, np.float64)
        high = scipy.signal.sosfiltfilt(
            scipy.signal.butter(2, AIR_BAND, btype="band", fs=RATE, output="sos"), samples
        )
        power = 10 ** (levels(high, FINE) / 10)
        smooth = np.convolve(power, np.ones(5) / 5, "same")
        self.loud: Floats = 10 * np.log10(np.maximum(smooth, 1e-12))
        self.at: Floats = heard.start + FINE * np.arange(0.5, len(self.loud))
        room = float(np.percentile(self.loud, QUIET)) if len(self.loud) else SILENCE
        self.there: Bools = self.loud > room + parameters().tone.air_over

    def before(self, start: float) -> float:
        """How long air is heard before a moment, s."""
        # The filters smear the tone's own start by some milliseconds.
        n = int(np.searchsorted(self.at, start - FINE - SMEAR))
        n = last = min(max(n, 0), len(self.at) - 1)
        while n > 0 and self.there[n]:
            n -= 1
        return float(self.at[last] - self.at[n]) + SMEAR if self.there[last] else 0.0

    def stretches(
        self, taken: Sequence[tuple[float, float]], starts: Sequence[float]
    ) -> tuple[tuple[float, float], ...]:
        """Where air is heard and no tone.

        taken   (from, to) of what is a tone;  starts  when tones begin: air that runs into one is
                its start, and told as ``lead``
        """
        by, air = parameters().tone, self.there.copy()
        for begin, end in taken:
            air &= (self.at < begin) | (self.at > end)
        return tuple(
            (float(self.at[a]), float(self.at[b]))
            for a, b in runs(air, round(AIR_BRIDGE / FINE) + 1)
            if (b - a + 1) * FINE >= by.breath
            and not any(0 <= start - self.at[b] < by.breath_gap for start in starts)
        )

    def evenness(self, begin: float, end: float) -> Evenness | None:
        """How even a stretch of air is; None where it is too short to say."""
        by = parameters().air
        inside = (self.at >= begin + by.edge) & (self.at <= end - by.edge)
        if end - begin < by.long or not inside.any():
            return None
        at, wide = self.at[inside], round(by.over / FINE)
        loud = 10 * np.log10(
            np.convolve(10 ** (self.loud[inside] / 10), np.ones(wide) / wide, "same")
        )
        # The convolution's own ends know nothing of what is beyond them.
        at, loud = at[wide:-wide], loud[wide:-wide]
        if not len(loud):
            return None
        off = loud - np.median(loud)
        return Evenness(_moments(at, off < -by.uneven), _moments(at, off > by.uneven))


def _moments(at: Floats, mask: Bools) -> tuple[float, ...]:
    """The middle of each stretch that lasts long enough."""
    least = round(parameters().air.moment / FINE)
    return tuple(float(at[(a + b) // 2]) for a, b in runs(mask) if b - a + 1 >= least)
