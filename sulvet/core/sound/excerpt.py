"""One tone alone, to be listened to beside another: cut out, and as loud as any other."""

from __future__ import annotations

import io
import wave

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.sound.pitch import RATE, Recording

#: How strong the loud part of an excerpt is made, dB under full scale; peaks are never cut.
LOUD, PEAK = -20.0, 0.97
#: What is left around a tone, and over how much of that it fades in and out, s.
BEFORE, BEHIND, FADE = 0.15, 0.15, 0.02
#: Louder pieces than this under the loudest count as the tone, dB.
QUIETER = 10.0


def excerpt(heard: Recording, start: float, end: float) -> Floats:
    """(N,) samples of one tone, with a little before and after it; empty outside the recording.

    start, end  seconds of the clip

    All are brought to one loudness (RMS of their loud part), so that a tone isn't taken for better
    because it was filmed nearer.
    """
    first = max(round((start - BEFORE - heard.start) * RATE), 0)
    last = max(round((end + BEHIND - heard.start) * RATE), 0)
    piece = np.asarray(heard.samples[first:last], np.float64)
    if not len(piece):
        return piece
    edge = np.minimum(np.arange(len(piece)), np.arange(len(piece))[::-1]) / (FADE * RATE)
    piece = piece * np.clip(edge, 0.0, 1.0)
    gain = 10 ** (LOUD / 20) / max(loudness(piece), 1e-9)
    return np.asarray(piece * min(gain, PEAK / max(float(np.abs(piece).max()), 1e-9)))


def loudness(piece: Floats) -> float:
    """RMS of the loud part of some samples."""
    step = RATE // 50
    parts = piece[: max(len(piece) // step, 1) * step]
    parts = parts.reshape(-1, step) if len(parts) >= step else parts[None, :]
    strong = (parts**2).mean(axis=1)
    return float(np.sqrt(strong[strong >= strong.max() * 10 ** (-QUIETER / 10)].mean()))


def wav(samples: Floats) -> bytes:
    """Samples at ``RATE`` as a WAV file, 16 bit, mono."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes((np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes())
    return out.getvalue()
