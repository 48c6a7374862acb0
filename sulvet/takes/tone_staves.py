"""The tone on the score: its pitch about the target, and how loud it is over the room."""

from __future__ import annotations

from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.judge import SOUND_UNITS
from sulvet.core.judgement.sound import VIEW, main_tone
from sulvet.core.judgement.standards import Standard, common
from sulvet.core.sound import notes
from sulvet.core.sound.parameters import parameters
from sulvet.takes import ear
from sulvet.takes.models import Take
from sulvet.takes.rows import stave_row
from sulvet.takes.services import phases_of


def tone_staves(take: Take, standard: Standard) -> list[dict[str, Any]]:
    """Two lines of the score; none while nobody has listened, or nothing sounds.

    Pitch counts from the note that was to be played, else from the tone's own middle; in a
    slide from its lowest note, and no band is drawn.
    """
    hearing = ear.kept(take)
    told = None if hearing is None else ear.sound_in(hearing)
    if hearing is None or told is None:
        return []
    tone, track = main_tone(told, phases_of(take)), hearing.heard["track"]
    if tone is None or not track["hz"]:
        return []
    pitch, a4 = hearing.heard["pitch"], hearing.heard["a4"]
    against = notes.hz_of(pitch, a4) if pitch else tone.hz
    if tone.slide is not None:
        against = tone.slide.low
    hz = np.array([np.nan if v is None else v for v in track["hz"]], float)
    seconds = track["start"] + np.arange(len(hz)) * parameters().pitch.hop
    at = _nearest(seconds, take.frame_times)
    cents, level = 1200 * np.log2(hz / against)[at], np.array(track["level"])[at] - track["room"]
    sounding, unsure = np.isfinite(cents), np.full(len(at), np.nan)
    words = {m.id: m for m in common().measures}
    # A finding that rests on the tone brings its stave along.
    blamed = any(e["measure"] in SOUND_UNITS for f in take.findings.all() for e in f.evidence[:1])
    band = None if tone.slide else standard.band("pitch", VIEW, standard.schools[0].id)
    return [
        stave_row(words["pitch"], blamed, cents, unsure, band, sounding),
        stave_row(words["level"], False, level, unsure, None, sounding),
    ]


def _nearest(seconds: Floats, times: list[float]) -> np.ndarray[Any, np.dtype[np.intp]]:
    """Of each frame the moment of the track that lies at its time."""
    return np.clip(np.searchsorted(seconds, times), 0, len(seconds) - 1)
