"""Which note was meant, while nobody has said, and what an instrument's tones are played on."""

from __future__ import annotations

from collections.abc import Iterable

from sulvet.core.judgement.standards import Standard
from sulvet.core.language import said
from sulvet.core.sound import notes
from sulvet.core.sound.parameters import parameters, range_of
from sulvet.core.sound.tones import SoundAnalysis

#: Easiest first, as a sentence calls them where the instrument has no words of its own.
STAGES = {
    "lips": "the lips", "mouthpiece": "the mouthpiece", "neck": "the neck",
    "instrument": "the instrument",
}  # fmt: skip


def stages_of(standard: Standard) -> list[str]:
    """What a tone of this instrument may be played on."""
    table = parameters().ranges
    return [s for s in STAGES if standard.instrument in table[s] or standard.family in table[s]]


def stage_label(standard: Standard, stage: str) -> str:
    """What a stage is called on this instrument."""
    table = parameters().stages.get(stage, {})
    return said(table.get(standard.instrument) or table.get(standard.family) or STAGES[stage])


def playing_range(standard: Standard) -> tuple[float, float]:
    """Hz between which any tone of the instrument lies, on whatever stage."""
    found = [range_of(standard.instrument, standard.family, stage) for stage in stages_of(standard)]
    return min(low for low, _ in found), max(high for _, high in found)


def intended_note(
    analysis: SoundAnalysis,
    standard: Standard,
    stage: str,
    named: Iterable[tuple[str, str]],
    a4: float,
) -> tuple[str, str]:
    """Stage and note that were probably meant by the longest tone; no note where none is near.

    stage  what it was played on; empty: not known
    named   (stage, note) of the student's other takes; the standard's targets are known as well
    a4     Hz

    A tone of a mouthpiece may lie far from its note. Where it could as well be another note of
    the instrument it must lie so near that no fault follows from it by the band of pitch.
    """
    longest = max(analysis.tones, key=lambda t: t.seconds, default=None)
    if longest is None or longest.slide is not None:
        return stage, ""
    low, high = range_of(standard.instrument, standard.family, "instrument")
    could_be_any = low <= longest.hz <= high and stage in ("", "instrument")
    within = _no_fault(standard) if could_be_any else parameters().intended_note.near
    usual = [(t.stage, t.pitch) for t in standard.targets if not t.size]
    known = dict.fromkeys([*named, *usual])
    near = [
        (abs(notes.cents(longest.hz, notes.hz_of(pitch, a4))), on, pitch)
        for on, pitch in known
        if stage in ("", on)
    ]
    away, on, pitch = min(near, default=(within + 1, "", ""))
    return (on, pitch) if away <= within else (stage, "")


def _no_fault(standard: Standard) -> float:
    """How far off a pitch may be, cents, without a fault; half a step without a band."""
    band = standard.band("pitch", "sound", standard.schools[0].id)
    widest = parameters().intended_note.same_note
    if band is None:
        return widest
    above = widest if band.high is None else band.high + band.watch_high
    below = widest if band.low is None else band.watch_low - band.low
    return max(min(above, below, widest), 0.0)
