"""The same tone of two takes: which that is, and what has changed in it."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.judgement.sound import main_tone
from sulvet.core.language import said
from sulvet.core.phases import Phase
from sulvet.core.sound.notes import cents
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.tones import SoundAnalysis, Tone

#: Two tones are the same note when they are no further apart, cents.
SAME = 80.0
#: Half width of a 95 % interval in standard deviations.
Z95 = 1.96


@dataclass(frozen=True)
class SameTone:
    """A tone then and now; ``sentences`` what has surely changed, or that nothing has."""

    then: Tone
    now: Tone
    sentences: tuple[str, ...]


def same_tone(
    then: SoundAnalysis, now: SoundAnalysis, phases: tuple[list[Phase], list[Phase]]
) -> SameTone | None:
    """The tone both takes have; None where they have no note in common.

    The main tones if they are one note, else the longest pair of one note.
    """
    a, b = main_tone(then, phases[0]), main_tone(now, phases[1])
    if a is None or b is None or not _one_note(a, b):
        pairs = [(x, y) for x in then.tones for y in now.tones if _one_note(x, y)]
        if not pairs:
            return None
        a, b = max(pairs, key=lambda pair: min(pair[0].seconds, pair[1].seconds))
    return SameTone(a, b, _changes(a, b))


def _one_note(a: Tone, b: Tone) -> bool:
    return a.slide is None and b.slide is None and abs(cents(a.hz, b.hz)) <= SAME


def _changes(then: Tone, now: Tone) -> tuple[str, ...]:
    """Pitch, steadiness and length, each only where it surely differs."""
    unsure = parameters().unsure
    told = []
    by = cents(now.hz, then.hz)
    if abs(by) > Z95 * (then.cents_sd**2 + now.cents_sd**2) ** 0.5:
        words = "{cents} cents higher than then." if by > 0 else "{cents} cents lower than then."
        told.append(said(words, cents=round(abs(by))))
    if then.steadiness is not None and now.steadiness is not None:
        a, b = then.steadiness, now.steadiness
        # The spread of a standard deviation over so many values that are not alike.
        many = min(max(tone.seconds / unsure.apart, 2.0) for tone in (then, now))
        if abs(a - b) > Z95 * max(a, b, unsure.pitch) / many**0.5:
            words = (
                "Steadier: it wavers by {now} cents, then by {then}."
                if b < a
                else "Less steady: it wavers by {now} cents, then by {then}."
            )
            told.append(said(words, now=round(b), then=round(a)))
    longer = now.seconds - then.seconds
    if abs(longer) > 2 * unsure.length:
        words = "{seconds:.1f} s longer." if longer > 0 else "{seconds:.1f} s shorter."
        told.append(said(words, seconds=abs(longer)))
    return tuple(told) or (said("Pitch, steadiness and length are as they were."),)
