"""Rehearsal marks by ear: the picture's suggestions, put where the tone is."""

from __future__ import annotations

from collections.abc import Iterator

from sulvet.core.phases import (
    ATTACK,
    BREATH_WITHIN,
    LIKELY,
    RELEASE,
    RELEASE_LASTS,
    SHORTEST_BREATH,
    SHORTEST_HOLD,
    SHORTEST_STEP,
    SURE,
    Phase,
)
from sulvet.core.sound.parameters import parameters
from sulvet.core.sound.tones import SoundAnalysis, Tone

#: What comes before a tone, in order.
BEFORE = ("rest", "form", "place", "breathe")


def phases_from_sound(phases: list[Phase], analysis: SoundAnalysis, last: float) -> list[Phase]:
    """Suggested letters, corrected by what is heard.

    phases  suggested from the picture and the loudness;  last  the clip's end, s

    ``start``, ``hold`` and ``release`` come to lie on the tone, ``change`` on a slide,
    ``breathe`` on the breath before it; what lies before is cut where the next begins.
    Without a tone long enough the suggestion stands.
    """
    tone = _tone(phases, analysis)
    if tone is None:
        return phases
    begin, end = tone.start + ATTACK, min(tone.end - RELEASE, last)
    turn = end if tone.slide is None else min(_turn(tone, begin), end)
    if turn - begin < SHORTEST_HOLD:
        return phases
    # Air that runs into the tone belongs to its start.
    started = tone.start - min(tone.lead, parameters().tone.longest_lead)
    out = list(_before(phases, analysis, tone, started))
    out += [Phase("start", started, begin, SURE), Phase("hold", begin, turn, SURE)]
    if end - turn >= SHORTEST_STEP:
        out.append(Phase("change", turn, end, SURE))
    if last - end >= SHORTEST_STEP / 2:
        out.append(Phase("release", end, min(end + RELEASE_LASTS, last), SURE))
    return out


def _tone(phases: list[Phase], analysis: SoundAnalysis) -> Tone | None:
    """The tone that is meant: the one the suggested hold lies in most, else the longest."""
    hold = next((p for p in phases if p.name == "hold"), None)
    if hold is None or not analysis.tones:
        return None

    def shared(tone: Tone) -> tuple[float, float]:
        return max(min(tone.end, hold.end) - max(tone.start, hold.start), 0.0), tone.seconds

    return max(analysis.tones, key=shared)


def _turn(tone: Tone, begin: float) -> float:
    """Where the hold ends and the change begins in a tone that slides."""
    assert tone.slide is not None
    if tone.slide.begins - begin >= SHORTEST_HOLD:
        return tone.slide.begins
    return begin + parameters().tone.slide_hold


def _before(
    phases: list[Phase], analysis: SoundAnalysis, tone: Tone, started: float
) -> Iterator[Phase]:
    """What lies before the tone, each cut where the next begins."""
    rested = max((p.end for p in phases if p.name == "rest"), default=0.0)
    breath = _breath(analysis, tone, rested)
    rows = [p for p in phases if p.name in BEFORE and not (breath and p.name == "breathe")]
    if breath is not None:
        rows.append(breath)
    rows.sort(key=lambda p: (p.start, BEFORE.index(p.name)))
    for n, phase in enumerate(rows):
        after = rows[n + 1].start if n + 1 < len(rows) else started
        end = min(phase.end, after, started)
        if end - phase.start >= SHORTEST_STEP / 2:
            yield Phase(phase.name, phase.start, end, phase.confidence)


def _breath(analysis: SoundAnalysis, tone: Tone, rested: float) -> Phase | None:
    """The last breath before the tone, if it is near; what is heard at rest is none."""
    for start, end in reversed(analysis.breaths):
        if end <= tone.start:
            near = tone.start - start <= BREATH_WITHIN and end - start >= SHORTEST_BREATH
            near &= start >= rested
            return Phase("breathe", start, end, LIKELY) if near else None
    return None
