"""Sound analyses that tests of judgement share."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from sulvet.core.phases import Phase
from sulvet.core.sound.tones import SoundAnalysis, Tone

HOLD = [Phase("hold", 1.0, 3.0)]


PLAIN = Tone(1.0, 3.0, 880.0, "A5", 0.0, 1.0, 0.0, 4.0, None, "tongued", 0.02, 0.0, 0.0, (), 0,
             20.0, 30.0)  # fmt: skip


def told(**changes: Any) -> SoundAnalysis:
    return SoundAnalysis((replace(PLAIN, **changes),), ())
