"""What is heard of a take, as it is shown: staves, tones, readings, and what they mean."""

from __future__ import annotations

from typing import Any

import numpy as np

from sulvet.core.anatomy.marks import Floats
from sulvet.core.judgement.ear import (
    TEMPO,
    VIEW,
    HeardJudged,
    breath_before,
    counts_of,
    judge_ear,
    sounds_like,
)  # fmt: skip
from sulvet.core.judgement.judge import Reading, unit_of
from sulvet.core.judgement.standards import Standard, common, observations
from sulvet.core.judgement.together import suspected
from sulvet.core.sound import notes
from sulvet.core.sound.figures import figures
from sulvet.core.sound.tone import Tone
from sulvet.takes import services
from sulvet.takes.bench import reading_row, stave_row
from sulvet.takes.ear import Aim, stages_of, told_of
from sulvet.takes.focus import findings_of
from sulvet.takes.models import Hearing, Take


def ear_page(take: Take, hearing: Hearing) -> dict[str, Any]:
    """What is heard of a take that has been listened to."""
    which, kept, wanted = services.standard_for(take), hearing.heard, Aim(**hearing.aim)
    told = told_of(kept["told"]) if kept.get("has_sound") else None
    pitch = kept.get("pitch", "")
    judged = judge_ear(told, services.phases_of(take), which, bool(pitch))
    breath = breath_before(told, judged.tone) if told and judged.tone else None
    return {
        "has_sound": told is not None,
        "stage": kept.get("stage", ""),
        "stages": stages_of(which),
        "pitch": pitch,
        "written": notes.written(pitch, which.instrument) if pitch else "",
        "chosen": bool(wanted.pitch),
        "a4": wanted.a4,
        "targets": [
            {"stage": t.stage, "pitch": t.pitch, "note": t.note} for t in which.targets
        ],
        "says": list(judged.says),
        "readings": _readings(judged, which),
        "tone": None if judged.tone is None else _tone(judged.tone, which),
        "tones": [_tone(tone, which) for tone in (told.tones if told else ())],
        "breaths": [{"start": a, "end": b} for a, b in (told.breaths if told else ())],
        "breath": breath,
        "ratio": round(judged.tone.seconds / breath, 1) if judged.tone and breath else None,
        "ticks": [
            {"id": one.id, "words": one.words}
            for one in observations().of(which.family)
            if one.id in sounds_like(told, judged) and one.id not in take.observations
        ],
        "moved": _moved(take, judged, STILL[take.view], "hold"),
        "way_back": _moved(take, judged, "return_error", "change"),
        "together": _together(take, judged, which),
        "series": _series(take, kept, wanted.a4, which, judged),
    }  # fmt: skip


#: What tells of an unmoved mouth from each side.
STILL = {"front": "stillness", "side": "stillness_lips_side"}


def _moved(take: Take, judged: HeardJudged, measure: str, phase: str) -> dict[str, Any] | None:
    """What the picture says of the mouth while the pitch slides; None for a tone that stays."""
    if judged.tone is None or judged.tone.slide is None:
        return None
    r = take.readings.filter(measure=measure, phase=phase, value__isnull=False).first()
    if r is None:
        return None
    return {"value": r.value, "uncertainty": r.uncertainty or 0.0, "unit": r.unit,
            "verdict": r.verdict}  # fmt: skip


def _together(take: Take, judged: HeardJudged, which: Standard) -> list[dict[str, Any]]:
    """What is heard and looked for in the picture; not what stands as a finding already."""
    words = {m.id: m for m in common().measures}
    eye = [
        Reading(r.measure, r.phase, r.value, r.uncertainty, r.unit, r.verdict)
        for r in take.readings.all()
    ]
    standing = {f.fault for f in findings_of(take)}
    school = which.school(take.student.school or None).id
    rows = []
    for one in suspected(which, judged.readings, eye, take.view, school):
        fault, looked = common().fault(one.fault), words[one.measure]
        rows.append({
            "fault": fault.id, "name": fault.name, "first_help": fault.first_help,
            "confused_with": fault.confused_with, "saw": one.saw, "looked_at": looked.name,
            "change": one.change, "uncertainty": one.uncertainty, "decimals": looked.decimals,
            "unit": unit_of(one.measure), "heard": words[one.heard.measure].name,
            "heard_value": one.heard.value, "heard_unit": one.heard.unit,
            "stands": one.fault in standing,
        })  # fmt: skip
    return rows


def _tone(tone: Tone, which: Standard) -> dict[str, Any]:
    return {
        "start": tone.start,
        "end": tone.end,
        "counts": counts_of(tone),
        "tempo": TEMPO,
        "hz": tone.hz,
        "note": tone.note,
        "written": notes.written(tone.note, which.instrument),
        "cents": tone.cents,
        "begins": tone.begins,
        "scoop": tone.scoop,
        "cracks": list(tone.cracks),
        "dips": tone.dips,
        "slide": None
        if tone.slide is None
        else {
            "low": notes.nearest(tone.slide.low)[0],
            "high": notes.nearest(tone.slide.high)[0],
            "semitones": tone.slide.semitones,
            "smooth": tone.slide.smooth,
            "returns": tone.slide.returns,
            "back": tone.slide.back,
        },
        "vibrato": None
        if tone.vibrato is None
        else {"rate": tone.vibrato.rate, "cents": tone.vibrato.cents},
    }


def _readings(judged: HeardJudged, which: Standard) -> list[dict[str, Any]]:
    words, rows = {m.id: m for m in common().measures}, []
    for r in judged.readings:
        band = which.band(r.measure, VIEW, which.schools[0].id)
        edges = {"low": band.low if band else None, "high": band.high if band else None}
        rows.append(reading_row(r, words[r.measure]) | edges)
    return rows


def _series(
    take: Take, kept: dict[str, Any], a4: float, which: Standard, judged: HeardJudged
) -> list[dict[str, Any]]:
    """The tone as a stave: cents about its target on every frame."""
    if judged.tone is None:
        return []
    words = next(m for m in common().measures if m.id == "pitch")
    track = kept["track"]
    against = notes.hz_of(kept["pitch"], a4) if kept["pitch"] else None
    against = against or judged.tone.hz
    hz = np.array([np.nan if v is None else v for v in track["hz"]], float)
    seconds = track["start"] + np.arange(len(hz)) * figures().pitch.hop
    cents = 1200 * np.log2(hz / against)
    value = _on_frames(seconds, cents, take.frame_times)
    band = which.band(words.id, VIEW, which.schools[0].id)
    return [stave_row(words, True, value, np.full(len(value), np.nan), band)]


def _on_frames(seconds: Floats, values: Floats, times: list[float]) -> Floats:
    """The value nearest to each frame's time; NaN where no tone sounds."""
    at = np.clip(np.searchsorted(seconds, times), 0, len(seconds) - 1)
    return np.asarray(values[at])
