"""What is heard, judged: pitch against its target, steadiness, length, and what they mean."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    IN_BAND,
    NO_BAND,
    WATCH,
    Z95,
    Reading,
    judged,
)
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import per_language, said
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.phases import Phase
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.tones import SoundAnalysis, Tone

VIEW = "sound"
NO_SOUND = "The clip has no sound. Film it again with the microphone on."
NO_TONE = (
    "No tone is heard. If one was played, the phone's noise suppression removed it: use "
    "the camera app, not a meeting or voice app."
)
AIR_ONLY = "Only air is heard, no tone."
TALK_ONLY = "Only talk is heard, no tone. Film while somebody plays, and let the others be quiet."
NOISY = "The room is too loud for this tone. Film nearer to the player, or in a quieter room."
NO_TARGET = "No target note is near. Choose the note that should be played."
SLIDES = "A slide has no single pitch."
SHORT = "The tone is too short, or a slide."


class Voicing(Strict):
    """A sentence, and when it is said."""

    when: Literal["in", "high", "low", "near", "drifts-down", "drifts-up"]
    text: str
    families: tuple[str, ...] = ()


class _File(Strict):
    version: int
    voicing: tuple[Voicing, ...]


@per_language
def voicings() -> tuple[Voicing, ...]:
    """All sentences."""
    return read_table(DATA / "shared" / "voicing.toml", _File).voicing


@dataclass(frozen=True)
class SoundJudgement:
    """Readings of the tone that counts, which one that is, and sentences."""

    readings: tuple[Reading, ...]
    tone: Tone | None
    sentences: tuple[str, ...]


#: Tones are of one length when each is so much of the longest.
ALIKE = 0.7
#: So much short of a count still makes it whole.
WHOLE = 0.1


def counts_of(tone: Tone, tempo: float) -> int:
    """How many whole counts a tone lasts; ``tempo`` in beats per minute."""
    return int(tone.seconds * tempo / 60 + WHOLE)


def breath_before(analysis: SoundAnalysis, tone: Tone) -> float | None:
    """How long the last breath before a tone is heard, s; None without one."""
    before = [end - start for start, end in analysis.breaths if end <= tone.start + tone.rise]
    return before[-1] if before else None


def main_tone(analysis: SoundAnalysis, phases: list[Phase]) -> Tone | None:
    """The longest tone, in the hold if there is one; of several alike the first."""
    holds = [p for p in phases if p.name == "hold"]

    def counts(tone: Tone) -> float:
        if not holds:
            return tone.seconds
        return sum(max(0.0, min(tone.end, p.end) - max(tone.start, p.start)) for p in holds)

    longest = max((counts(tone) for tone in analysis.tones), default=0.0)
    # Of tones of one length, as in an exercise, the first is meant.
    return next((t for t in analysis.tones if counts(t) >= ALIKE * longest > 0), None)


def _clearest(analysis: SoundAnalysis, tone: Tone) -> float:
    """Tone over air of the clearest note slurred together with a tone, dB.

    Air goes on from note to note; what blurs one of them is the step, and how a phone packs it.
    """
    tones = analysis.tones
    first = last = tones.index(tone)
    while first > 0 and tones[first].begins == "slurred":
        first -= 1
    while last + 1 < len(tones) and tones[last + 1].begins == "slurred":
        last += 1
    return max(one.clearness for one in tones[first : last + 1])


def judge_sound(
    analysis: SoundAnalysis | None, phases: list[Phase], standard: Standard, targeted: bool
) -> SoundJudgement:
    """Judge what was heard.

    analysis      None where the clip has no sound
    targeted  whether ``cents`` of the tones count from a target
    """
    tone = None if analysis is None else main_tone(analysis, phases)
    if analysis is None or tone is None:
        reason = said(NO_SOUND) if analysis is None else _why_none(analysis)
        missing = tuple(_untold(m.id, reason) for m in heard_measures())
        return SoundJudgement(missing, None, (reason,))
    unsure = parameters().unsure
    many = max(tone.seconds / unsure.apart, 2.0)
    values: dict[str, tuple[float, float] | None] = {
        "pitch": (tone.cents, Z95 * tone.cents_sd) if targeted and tone.slide is None else None,
        "pitch_drift": None if tone.drift is None else (tone.drift, Z95 * unsure.drift),
        "steadiness": None
        if tone.steadiness is None
        else (tone.steadiness, Z95 * max(tone.steadiness, unsure.pitch) / (2 * many) ** 0.5),
        "hold_time": (tone.seconds, unsure.length),
        "onset_rise": (1000 * tone.rise, 1000 * unsure.rise),
        "breath_before": (1000 * tone.lead, 1000 * unsure.lead),
        "airiness": (_clearest(analysis, tone), unsure.clearness),
    }
    why = {"pitch": said(NO_TARGET if tone.slide is None else SLIDES)}
    readings = tuple(
        _reading(name, value, standard, why.get(name, said(SHORT)))
        for name, value in values.items()
    )
    return SoundJudgement(readings, tone, _sentences({r.measure: r for r in readings}, standard))


def sounds_like(analysis: SoundAnalysis | None, judged: SoundJudgement) -> tuple[str, ...]:
    """Observations that the sound speaks for; the teacher ticks them, or does not."""
    if analysis is None:
        return ()
    if judged.tone is None:
        return ("air-only",) if analysis.air_only else ()
    by = {r.measure: r for r in judged.readings}
    found = []
    if by["airiness"].verdict == FAULT:
        found.append("airy")
    pitch = by["pitch"]
    if pitch.verdict == FAULT and pitch.value is not None:
        found.append("thin-sharp" if pitch.value > 0 else "flat-loose")
    return tuple(found)


def _why_none(analysis: SoundAnalysis) -> str:
    if analysis.noisy:
        return said(NOISY)
    if analysis.talk:
        return said(TALK_ONLY)
    return said(AIR_ONLY if analysis.air_only else NO_TONE)


def _reading(
    name: str, value: tuple[float, float] | None, standard: Standard, reason: str
) -> Reading:
    if value is None:
        return _untold(name, reason)
    # No school of any instrument wants another sound: the bands are everybody's.
    band = standard.band(name, VIEW, standard.schools[0].id)
    return judged(Reading(name, "hold", *value, catalogue().measure(name).unit, NO_BAND), band)


def heard_measures() -> tuple[Measure, ...]:
    """The measures of the sound that have readings."""
    return tuple(m for m in catalogue().of_source("sound") if m.reported)


def _untold(name: str, reason: str) -> Reading:
    return Reading(name, "hold", None, None, catalogue().measure(name).unit, CANT_TELL, reason)


def _sentences(by: dict[str, Reading], standard: Standard) -> tuple[str, ...]:
    """What it means, in the order in which a teacher would say it."""
    told, pitch, drift = [], by["pitch"], by["pitch_drift"]
    if pitch.value is not None:
        when = "in" if pitch.verdict == IN_BAND else "near"
        if pitch.verdict == FAULT:
            when = "high" if pitch.value > 0 else "low"
        told.append(when)
    if drift.value is not None and drift.verdict in (WATCH, FAULT):
        told.append("drifts-up" if drift.value > 0 else "drifts-down")
    return tuple(
        v.text
        for when in told
        for v in voicings()
        if v.when == when and (not v.families or standard.family in v.families)
    )
