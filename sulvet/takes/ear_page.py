"""What is heard of a take, as it is shown: staves, tones, readings, and what they mean."""

from __future__ import annotations

from typing import Any

from sulvet.core.judgement.corroboration import suspected
from sulvet.core.judgement.intended_note import stage_words, stages_of
from sulvet.core.judgement.judge import Reading
from sulvet.core.judgement.sound import (
    TEMPO,
    VIEW,
    SoundJudgement,
    breath_before,
    counts_of,
    judge_sound,
    sounds_like,
)  # fmt: skip
from sulvet.core.judgement.standards import Standard, common, observations
from sulvet.core.sound import notes
from sulvet.core.sound.tones import Tone
from sulvet.takes import services
from sulvet.takes.aims import Aim
from sulvet.takes.ear import sound_in
from sulvet.takes.focus import findings_of
from sulvet.takes.models import Hearing, Take
from sulvet.takes.rows import reading_row


def ear_page(take: Take, hearing: Hearing) -> dict[str, Any]:
    """What is heard of a take that has been listened to."""
    standard, wanted = services.standard_for(take), Aim(**hearing.aim)
    told, pitch = sound_in(hearing), hearing.heard.get("pitch", "")
    tempo, stage = wanted.tempo or TEMPO, hearing.heard.get("stage", "")
    judged = judge_sound(told, services.phases_of(take), standard, bool(pitch))
    breath = breath_before(told, judged.tone) if told and judged.tone else None
    return {
        "has_sound": told is not None,
        "stage": stage,
        "stages": [{"id": s, "words": stage_words(standard, s)} for s in stages_of(standard)],
        "stage_words": stage_words(standard, stage) if stage else "",
        "pitch": pitch,
        "written": notes.written(pitch, standard.instrument) if pitch else "",
        "chosen": bool(wanted.pitch),
        "a4": hearing.heard["a4"],
        "tempo": tempo,
        "targets": [
            {"stage": t.stage, "pitch": t.pitch, "note": t.note} for t in standard.targets
        ],
        "says": list(judged.says),
        "readings": _readings(judged, standard),
        "tone": None if judged.tone is None else _tone(judged.tone, standard, tempo),
        "tones": [_tone(tone, standard, tempo) for tone in (told.tones if told else ())],
        "breaths": [{"start": a, "end": b} for a, b in (told.breaths if told else ())],
        "breath": breath,
        "ratio": round(judged.tone.seconds / breath, 1) if judged.tone and breath else None,
        "ticks": [
            {"id": one.id, "words": one.words}
            for one in observations().of(standard.family)
            if one.id in sounds_like(told, judged) and one.id not in take.observations
        ],
        "moved": _moved(take, judged, STILL[take.view], "change"),
        "way_back": _moved(take, judged, "return_error", "change"),
        "together": _together(take, standard),
    }  # fmt: skip


#: What tells of an unmoved mouth from each side.
STILL = {"front": "stillness", "side": "stillness_lips_side"}


def _moved(take: Take, judged: SoundJudgement, measure: str, phase: str) -> dict[str, Any] | None:
    """What the picture says of the mouth while the pitch slides; None for a tone that stays."""
    if judged.tone is None or judged.tone.slide is None:
        return None
    r = take.readings.filter(measure=measure, phase=phase, value__isnull=False).first()
    if r is None:
        return None
    return {"value": r.value, "uncertainty": r.uncertainty or 0.0, "unit": r.unit,
            "verdict": r.verdict}  # fmt: skip


def _together(take: Take, standard: Standard) -> list[dict[str, Any]]:
    """What is heard and the picture speaks against: only the teacher can make it a finding."""
    words = {m.id: m for m in common().measures}
    readings = [
        Reading(r.measure, r.phase, r.value, r.uncertainty, r.unit, r.verdict)
        for r in take.readings.all()
    ]
    there = {f.fault for f in findings_of(take)}
    school = standard.school(take.student.school or None).id
    rows = []
    for one in suspected(standard, readings, take.view, school):
        if one.fault in there:
            continue
        fault, heard = common().fault(one.fault), words[one.heard.measure]
        rows.append({
            "fault": fault.id, "name": fault.name, "first_help": fault.first_help,
            "confused_with": fault.confused_with, "words": one.words, "heard": heard.name,
            "value": one.evidence.value, "uncertainty": one.evidence.uncertainty,
            "unit": one.evidence.unit, "decimals": heard.decimals,
        })  # fmt: skip
    return rows


def _tone(tone: Tone, standard: Standard, tempo: float) -> dict[str, Any]:
    return {
        "start": tone.start,
        "end": tone.end,
        "counts": counts_of(tone, tempo),
        "hz": tone.hz,
        "note": tone.note,
        "written": notes.written(tone.note, standard.instrument),
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


def _readings(judged: SoundJudgement, standard: Standard) -> list[dict[str, Any]]:
    words, rows = {m.id: m for m in common().measures}, []
    for r in judged.readings:
        band = standard.band(r.measure, VIEW, standard.schools[0].id)
        edges = {"low": band.low if band else None, "high": band.high if band else None}
        rows.append(reading_row(r, words[r.measure]) | edges)
    return rows
