"""Listening to a take: its tones against the note that was to be played. Writes ``Hearing``."""

from __future__ import annotations

import tempfile
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from sulvet.core import EAR_VERSION, sandbox
from sulvet.core.judgement.intended_note import intended_note, playing_range
from sulvet.core.judgement.sound import SoundJudgement, judge_sound
from sulvet.core.judgement.standards import Standard
from sulvet.core.phases import Phase
from sulvet.core.sound import notes
from sulvet.core.sound.letters import phases_from_sound
from sulvet.core.sound.parameters import range_of
from sulvet.core.sound.pitch import PitchTrack, Recording, track_pitch
from sulvet.core.sound.tones import Slide, SoundAnalysis, Tone, Vibrato, analyse
from sulvet.core.video.clip import ClipError
from sulvet.standards.selectors import standard_of
from sulvet.takes.aims import NOTHING_SAID, Aim, Usual, usual_of
from sulvet.takes.models import Hearing, Take


def aim(take: Take, given: Aim) -> Hearing:
    """The teacher says what was to be played; it is listened to anew. Refused for no note.

    Another tempo alone changes nothing of what is heard.
    """
    given.check(_standard(take))
    before = kept(take)
    if before is None or replace(Aim(**before.aim), tempo=given.tempo) != given:
        return _listen(take, given)
    before.aim = asdict(given)
    before.save(update_fields=["aim"])
    return before


def listened(take: Take) -> Hearing:
    """What is heard of a take by the engine as it is now."""
    before = Hearing.objects.filter(take=take).first()
    if before is not None and _current(before):
        return before
    return _listen(take, Aim(**before.aim) if before is not None else Aim())


def renew(take: Take) -> None:
    """A take that was listened to by another ear is listened to again."""
    if Hearing.objects.filter(take=take).exists():
        listened(take)


def _current(hearing: Hearing) -> bool:
    return bool(hearing.heard.get("ear") == EAR_VERSION)


def judged_by(take: Take, phases: list[Phase], standard: Standard) -> SoundJudgement | None:
    """What is heard of a take, judged; None while nobody has listened."""
    hearing = kept(take)
    if hearing is None:
        return None
    return judge_sound(sound_in(hearing), phases, standard, bool(hearing.heard.get("pitch")))


def kept(take: Take) -> Hearing | None:
    """What this ear has heard of a take; None while it has not listened."""
    hearing = Hearing.objects.filter(take=take).first()
    return hearing if hearing is not None and _current(hearing) else None


def sound_in(hearing: Hearing) -> SoundAnalysis | None:
    """What is told of tones and breaths; None where the clip has no sound."""
    return _told_in(hearing.heard)


def _told_in(heard: dict[str, Any]) -> SoundAnalysis | None:
    return sound_from_plain(heard["told"]) if heard["has_sound"] else None


def with_letters(outcome: sandbox.Outcome, heard: dict[str, Any]) -> sandbox.Outcome:
    """What was read of a clip, its suggested letters corrected by what was heard."""
    told = _told_in(heard)
    if told is None or not len(outcome.marks):
        return outcome
    last = float(outcome.marks.seconds[-1])
    return replace(outcome, phases=phases_from_sound(outcome.phases, told, last))


def _standard(take: Take) -> Standard:
    teacher: User = take.student.section.band.teacher
    return standard_of(teacher, take.student.instrument)


def _listen(take: Take, wanted: Aim) -> Hearing:
    """Listen, and keep what came out."""
    found = listen(take.clip, _standard(take), wanted, usual_of(take))
    hearing, _ = Hearing.objects.update_or_create(
        take=take, defaults={"aim": asdict(wanted), "heard": found}
    )
    return hearing


def listen(
    clip: Path, standard: Standard, wanted: Aim, usual: Usual = NOTHING_SAID
) -> dict[str, Any]:
    """Read the sound of a clip and follow it: what ``Hearing.heard`` keeps."""
    a4 = usual.a4 if wanted.a4 is None else wanted.a4
    found: dict[str, Any] = {"ear": EAR_VERSION, "has_sound": False, "a4": a4}
    heard = _heard(clip)
    return found if heard is None else found | _told(heard, standard, wanted, usual, a4)


def _heard(clip: Path) -> Recording | None:
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "sound.npz"
        try:
            if not sandbox.hear(clip, out):
                return None
        except ClipError:
            return None
        with np.load(out) as saved:
            return Recording(saved["samples"], float(saved["start"]))


def _told(
    heard: Recording, standard: Standard, wanted: Aim, usual: Usual, a4: float
) -> dict[str, Any]:
    stage, pitch = wanted.stage, wanted.pitch
    low, high = (
        range_of(standard.instrument, standard.family, stage) if stage else playing_range(standard)
    )
    if not pitch:
        # Listened to as it is first: a note that lies near is taken for meant.
        first = analyse(track_pitch(heard, low, high), heard, a4)
        stage, pitch = intended_note(first, standard, stage, usual.notes, a4)
    target = notes.hz_of(pitch, a4) if pitch else None
    track = track_pitch(heard, low, high, target)
    told = analyse(track, heard, a4)
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
    breaths = tuple((float(a), float(b)) for a, b in row["breaths"])
    return SoundAnalysis(tones, breaths, row["noisy"], row["air_only"])
