"""Listening to a take: its tones against the note that was to be played."""

from __future__ import annotations

import errno
import os
import tempfile
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings

from sulvet.core import EAR_VERSION, sandbox
from sulvet.core.judgement.intended_note import intended_note, playing_range
from sulvet.core.judgement.standards import Standard
from sulvet.core.sound import notes
from sulvet.core.sound.air import Evenness
from sulvet.core.sound.movement import Slide, Vibrato
from sulvet.core.sound.parameters import range_of
from sulvet.core.sound.pitch import PitchTrack, Recording, track_pitch
from sulvet.core.sound.tones import SoundAnalysis, Tone, analyse, with_clearness
from sulvet.core.video.clip import ClipError
from sulvet.standards.selectors import standard_of
from sulvet.takes.intended import NO_DEFAULTS, IntendedNote, NoteDefaults, note_defaults
from sulvet.takes.models import Take, TakeSound


def current(take: Take) -> TakeSound | None:
    """What this ear has heard of a take; None while it has not listened."""
    return by_this_ear(TakeSound.objects.filter(take=take).first())


def by_this_ear(heard: TakeSound | None) -> TakeSound | None:
    """The same; None if another ear heard it, or none."""
    return heard if heard is not None and heard.heard.get("ear") == EAR_VERSION else None


def intended_of(heard: TakeSound | None) -> IntendedNote:
    """What the teacher said was to be played."""
    return IntendedNote(**heard.intended) if heard is not None else IntendedNote()


def sound_analysis(heard: TakeSound) -> SoundAnalysis | None:
    """Tones and breaths of a take; None where the clip has no sound."""
    return analysis_in(heard.heard)


def taken_over(heard: TakeSound) -> dict[str, Any] | None:
    """What another ear heard as if this one had; None where that can't be read any more."""
    document = {**heard.heard, "ear": EAR_VERSION}
    try:
        analysis_in(document)
    except (KeyError, TypeError):
        return None
    return document


def analysis_in(document: dict[str, Any]) -> SoundAnalysis | None:
    """Tones and breaths in what ``listen`` gave; None where the clip has no sound."""
    return sound_from_plain(document["told"]) if document["has_sound"] else None


def listen_to(take: Take, intended: IntendedNote) -> dict[str, Any]:
    """Listen to a take's clip; nothing is written."""
    standard = standard_of(take.student.section.band.teacher, take.student.instrument)
    return listen(take.clip, standard, intended, note_defaults(take))


def listen(
    clip: Path, standard: Standard, intended: IntendedNote, defaults: NoteDefaults = NO_DEFAULTS
) -> dict[str, Any]:
    """Read the sound of a clip and analyse it: what ``TakeSound.heard`` keeps."""
    a4 = defaults.a4 if intended.a4 is None else intended.a4
    document: dict[str, Any] = {"ear": EAR_VERSION, "has_sound": False, "a4": a4}
    heard = recording(clip)
    if heard is None:
        return document
    return document | _analysed(heard, standard, intended, defaults, a4)


def recording(clip: Path) -> Recording | None:
    """The sound of a clip; None where there is none to be read.

    Raises OSError on a full disk: that there is no sound would then be kept, and untrue.
    """
    with tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR) as folder:
        out = Path(folder) / "sound.npz"
        try:
            if not sandbox.hear(clip, out):
                return None
        except ClipError as error:
            if str(error) == sandbox.NO_ROOM:
                raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC)) from error
            return None
        with np.load(out) as saved:
            return Recording(saved["samples"], float(saved["start"]))


def _analysed(
    recording: Recording,
    standard: Standard,
    intended: IntendedNote,
    defaults: NoteDefaults,
    a4: float,
) -> dict[str, Any]:
    stage, pitch = intended.stage, intended.pitch
    instrument, family = standard.instrument, standard.family
    low, high = range_of(instrument, family, stage) if stage else playing_range(standard)
    # Listened to as it is first: a note that lies near is taken for the intended one, and how much
    # air is in a tone is told by all that sounds, not by what is left about a note that is known.
    wide = track_pitch(recording, low, high)
    if not pitch:
        first = analyse(wide, recording, a4)
        stage, pitch = intended_note(first, standard, stage, defaults.notes, a4)
    target = notes.hz_of(pitch, a4) if pitch else None
    track = wide if target is None else track_pitch(recording, low, high, target)
    told = with_clearness(analyse(track, recording, a4), wide)
    return {
        "has_sound": True,
        "stage": stage,
        "pitch": pitch,
        "track": plain_pitch_track(track),
        "told": asdict(told),
    }


def plain_pitch_track(track: PitchTrack) -> dict[str, Any]:
    """A track as plain data; None where no tone sounds."""
    return {
        "start": float(track.seconds[0]) if len(track.seconds) else 0.0,
        "hz": [None if np.isnan(v) else round(float(v), 2) for v in track.hz],
        "level": [round(float(v), 1) for v in track.level],
        "room": round(track.room, 1),
    }


def sound_from_plain(row: dict[str, Any]) -> SoundAnalysis:
    """Back from plain data."""
    tones = tuple(
        Tone(**{
            **tone,
            "cracks": tuple(tone["cracks"]),
            "slide": Slide(**tone["slide"]) if tone["slide"] else None,
            "vibrato": Vibrato(**tone["vibrato"]) if tone["vibrato"] else None,
        })
        for tone in row["tones"]
    )  # fmt: skip
    breaths, talk = (
        tuple((float(a), float(b)) for a, b in row.get(name, ())) for name in ("breaths", "talk")
    )
    even = tuple(
        None if one is None else Evenness(tuple(one["dips"]), tuple(one["surges"]))
        for one in row.get("even", ())
    )
    return SoundAnalysis(tones, breaths, row["noisy"], row["air_only"], talk, even)
