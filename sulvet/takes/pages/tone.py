"""The tone on the score: its pitch about the target, and how loud it is over the room."""

from __future__ import annotations

import numpy as np

from sulvet.core.analysis import numbers
from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.sound import VIEW, main_tone
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.sound import notes
from sulvet.core.sound.parameters import parameters
from sulvet.takes import sound, tracks
from sulvet.takes.models import Take
from sulvet.takes.pages.rows import Series, ToneSpan, series_row


def tone_spans(take: Take) -> list[ToneSpan]:
    """Every tone that is heard, for the brackets of the score; as ``tone_series``."""
    kept = sound.by_this_ear(getattr(take, "sound", None))
    heard = None if kept is None else sound.sound_analysis(kept)
    return [
        ToneSpan(tone.start, tone.end, "slide" if tone.slide else tone.note)
        for tone in (heard.tones if heard else ())
    ]


def tone_series(take: Take, standard: Standard) -> list[Series]:
    """Two lines of the score; none while nobody has listened, or nothing sounds.

    Pitch counts from the note that was to be played, else from the tone's own middle; in a
    slide from its lowest note, and no band is drawn.
    """
    kept = sound.by_this_ear(getattr(take, "sound", None))
    if kept is None:
        return []
    heard = sound.sound_analysis(kept)
    if heard is None:
        return []
    tone, track = main_tone(heard, tracks.phases_of(take)), kept.heard["track"]
    if tone is None or not track["hz"]:
        return []
    pitch, a4 = kept.heard["pitch"], kept.heard["a4"]
    against = notes.hz_of(pitch, a4) if pitch else tone.hz
    if tone.slide is not None:
        against = tone.slide.low
    hz = np.array([np.nan if v is None else v for v in track["hz"]], float)
    seconds = track["start"] + np.arange(len(hz)) * parameters().pitch.hop
    at = _nearest(seconds, take.frame_times)
    cents, level = notes.all_cents(hz, against)[at], np.array(track["level"])[at] - track["room"]
    sounding = np.isfinite(cents).tolist()
    unsure: list[float | None] = [None] * len(at)
    # A finding that rests on the tone brings its stave along.
    blamed = any(
        catalogue().measure(e["measure"]).source == "sound"
        for f in take.findings.all()
        for e in f.evidence[:1]
    )
    band = None if tone.slide else standard.band("pitch", VIEW, standard.schools[0].id)
    return [
        series_row(
            catalogue().measure("pitch"), blamed, numbers(cents, 3), unsure, band, sounding
        ),
        series_row(
            catalogue().measure("level"), False, numbers(level, 3), unsure, None, sounding
        ),
    ]  # fmt: skip


def _nearest(seconds: Floats, times: list[float]) -> np.ndarray[tuple[int], np.dtype[np.intp]]:
    """Of each frame the moment of the track that lies at its time."""
    return np.clip(np.searchsorted(seconds, times), 0, len(seconds) - 1)
