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
    ``breathe`` on the breath before it; what lies before is cut where the next begins. Of several
    tones each that is long enough has its own.
    Without a tone long enough the suggestion stands.
    """
    meant = _tone(phases, analysis)
    if meant is None:
        return phases
    tones = _played(phases, analysis, meant)
    out: list[Phase] = []
    for n, tone in enumerate(tones):
        after = _started(tones[n + 1]) if n + 1 < len(tones) else last
        breath = _breath_between(analysis, tone.end, after) if n + 1 < len(tones) else None
        own = list(_over(tone, min(after if breath is None else breath.start, last)))
        if any(phase.name == "hold" for phase in own):
            out += own if breath is None else [*own, breath]
    if out and out[-1].name == "breathe":
        out.pop()
    if not out:
        return phases
    first = next(tone for tone in tones if tone.start >= out[0].start)
    return [*_before(phases, analysis, first, out[0].start), *out]


def _played(phases: list[Phase], analysis: SoundAnalysis, meant: Tone) -> list[Tone]:
    """The tones of who is filmed: as loud as the one that is meant, and not while at rest."""
    rested = max((p.end for p in phases if p.name == "rest"), default=0.0)
    least = meant.over - parameters().tone.softer
    return [
        tone
        for tone in analysis.tones
        if tone is meant or (tone.over >= least and tone.start >= rested)
    ]


def _started(tone: Tone) -> float:
    """When a tone starts; air that runs into it belongs to its start."""
    return tone.start - min(tone.lead, parameters().tone.longest_lead)


def _over(tone: Tone, after: float) -> Iterator[Phase]:
    """The letters of one tone; nothing of one too short to be looked at.

    after  when the next one starts, or the clip's end, s
    """
    slurred = parameters().tone.slurred_edge
    begin = tone.start + (slurred if tone.begins == "slurred" else ATTACK)
    end = min(tone.end - (slurred if tone.ends == "slurred" else RELEASE), after)
    turn = end if tone.slide is None else min(_turn(tone, begin), end)
    if turn - begin < SHORTEST_HOLD:
        return
    if tone.begins != "slurred":
        yield Phase("start", _started(tone), begin, SURE)
    yield Phase("hold", begin, turn, SURE)
    if end - turn >= SHORTEST_STEP:
        yield Phase("change", turn, end, SURE)
    if tone.ends not in ("slurred", "tongued") and after - end >= SHORTEST_STEP / 2:
        yield Phase("release", end, min(end + RELEASE_LASTS, after), SURE)


def _breath_between(analysis: SoundAnalysis, ended: float, starts: float) -> Phase | None:
    """The first breath between two tones, if one is heard."""
    for start, end in analysis.breaths:
        if ended <= start and end <= starts and end - start >= SHORTEST_BREATH:
            return Phase("breathe", start, end, LIKELY)
    return None


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
