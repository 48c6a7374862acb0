"""Listening to a take: its tones against the note that was to be played. Writes ``Hearing``."""

from __future__ import annotations

import tempfile
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

import numpy as np
from django.contrib.auth.models import User

from sulvet.accounts.errors import Refused
from sulvet.core import EAR_VERSION, sandbox
from sulvet.core.judgement.ear import HeardJudged, judge_ear
from sulvet.core.judgement.standards import Standard
from sulvet.core.phases import Phase
from sulvet.core.sound import notes
from sulvet.core.sound.figures import figures, range_of
from sulvet.core.sound.letters import heard_in
from sulvet.core.sound.pitch import Heard, Track, follow
from sulvet.core.sound.tone import Slide, Told, Tone, Vibrato, tell
from sulvet.core.video.clip import ClipError
from sulvet.standards.selectors import standard_of
from sulvet.takes.models import Hearing, Take

#: A target is taken for the one that was meant while nobody has chosen, when the tone lies
#: within so many cents of it.
NEAR = 400.0
STAGES = ("lips", "mouthpiece", "instrument")
#: Tunings that bands use, Hz.
A4_FROM, A4_TO = 415.0, 466.0
#: Tempos that drills are counted in.
TEMPO_FROM, TEMPO_TO = 30, 160


@dataclass(frozen=True)
class Aim:
    """What was to be played: on what, which note (empty: not known), and what A4 is, Hz.

    tempo  counts a minute; None leaves it to the drill
    """

    stage: str = ""
    pitch: str = ""
    a4: float = notes.A4
    tempo: float | None = None


def aim(take: Take, given: Aim) -> Hearing:
    """The teacher says what was to be played; it is listened to anew. Refused for no note.

    Another tempo alone changes nothing of what is heard.
    """
    which = _standard(take)
    if given.stage and given.stage not in stages_of(which):
        raise Refused(f"The {which.name.lower()} has no tone on “{given.stage}”.")
    if given.pitch:
        try:
            hz = notes.hz_of(given.pitch, given.a4)
        except ValueError as error:
            raise Refused(str(error)) from error
        low, high = wide_range(which)
        if not low / 2 <= hz <= high * 2:
            raise Refused(f"{given.pitch} is nothing that a {which.name.lower()} plays.")
    if not A4_FROM <= given.a4 <= A4_TO:
        raise Refused(f"A4 lies between {A4_FROM:.0f} and {A4_TO:.0f} Hz.")
    if given.tempo is not None and not TEMPO_FROM <= given.tempo <= TEMPO_TO:
        raise Refused(f"Counts lie between {TEMPO_FROM} and {TEMPO_TO} a minute.")
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


def judged_by(take: Take, phases: list[Phase], which: Standard) -> HeardJudged | None:
    """What is heard of a take, judged; None while nobody has listened."""
    hearing = kept(take)
    if hearing is None:
        return None
    return judge_ear(told_in(hearing), phases, which, bool(hearing.heard.get("pitch")))


def kept(take: Take) -> Hearing | None:
    """What this ear has heard of a take; None while it has not listened."""
    hearing = Hearing.objects.filter(take=take).first()
    return hearing if hearing is not None and _current(hearing) else None


def told_in(hearing: Hearing) -> Told | None:
    """What is told of tones and breaths; None where the clip has no sound."""
    return _told_in(hearing.heard)


def _told_in(heard: dict[str, Any]) -> Told | None:
    return told_of(heard["told"]) if heard["has_sound"] else None


def with_letters(outcome: sandbox.Outcome, heard: dict[str, Any]) -> sandbox.Outcome:
    """What was read of a clip, its suggested letters corrected by what was heard."""
    told = _told_in(heard)
    if told is None or not len(outcome.marks):
        return outcome
    last = float(outcome.marks.seconds[-1])
    return replace(outcome, phases=heard_in(outcome.phases, told, last))


def stages_of(which: Standard) -> list[str]:
    """What a tone of this instrument may be played on."""
    table = figures().ranges
    return [s for s in STAGES if which.instrument in table[s] or which.family in table[s]]


def wide_range(which: Standard) -> tuple[float, float]:
    """Hz between which any tone of the instrument lies, on whatever stage."""
    found = [range_of(which.instrument, which.family, stage) for stage in stages_of(which)]
    return min(low for low, _ in found), max(high for _, high in found)


def _standard(take: Take) -> Standard:
    teacher: User = take.student.section.band.teacher
    return standard_of(teacher, take.student.instrument)


def _listen(take: Take, wanted: Aim) -> Hearing:
    """Listen, and keep what came out."""
    found = listen(take.clip, _standard(take), wanted)
    hearing, _ = Hearing.objects.update_or_create(
        take=take, defaults={"aim": asdict(wanted), "heard": found}
    )
    return hearing


def listen(clip: Path, which: Standard, wanted: Aim) -> dict[str, Any]:
    """Read the sound of a clip and follow it: what ``Hearing.heard`` keeps."""
    found: dict[str, Any] = {"ear": EAR_VERSION, "has_sound": False}
    heard = _heard(clip)
    return found if heard is None else found | _told(heard, which, wanted)


def _heard(clip: Path) -> Heard | None:
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder) / "sound.npz"
        try:
            if not sandbox.hear(clip, out):
                return None
        except ClipError:
            return None
        with np.load(out) as saved:
            return Heard(saved["samples"], float(saved["start"]))


def _told(heard: Heard, which: Standard, wanted: Aim) -> dict[str, Any]:
    stage, pitch = wanted.stage, wanted.pitch
    low, high = range_of(which.instrument, which.family, stage) if stage else wide_range(which)
    if not pitch:
        # Listened to as it is; a target of the standard's that lies near is taken for meant.
        first = tell(follow(heard, low, high), heard, wanted.a4)
        stage, pitch = _meant(first, which, wanted)
    target = notes.hz_of(pitch, wanted.a4) if pitch else None
    track = follow(heard, low, high, target)
    told = tell(track, heard, wanted.a4)
    return {
        "has_sound": True,
        "stage": stage,
        "pitch": pitch,
        "track": plain_track(track),
        "told": asdict(told),
    }


def _meant(told: Told, which: Standard, wanted: Aim) -> tuple[str, str]:
    """The standard's target nearest to the longest tone; nothing where none is near."""
    longest = max(told.tones, key=lambda t: t.seconds, default=None)
    if longest is None or longest.slide is not None:
        return wanted.stage, ""
    near = [
        (abs(notes.cents(longest.hz, notes.hz_of(t.pitch, wanted.a4))), t.stage, t.pitch)
        for t in which.targets
        if not wanted.stage or t.stage == wanted.stage
    ]
    away, stage, pitch = min(near, default=(NEAR + 1, "", ""))
    return (stage, pitch) if away <= NEAR else (wanted.stage, "")


def plain_track(track: Track) -> dict[str, Any]:
    """A track as plain data; None where no tone sounds."""
    return {
        "start": float(track.seconds[0]) if len(track.seconds) else 0.0,
        "hz": [None if np.isnan(v) else round(float(v), 2) for v in track.hz],
        "level": [round(float(v), 1) for v in track.level],
        "room": round(track.room, 1),
    }


def told_of(row: dict[str, Any]) -> Told:
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
    return Told(tones, breaths, row["noisy"], row["air_only"])
