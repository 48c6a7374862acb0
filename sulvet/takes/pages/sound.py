"""What is heard of a take, as it is shown: tones, readings, and what they mean."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.judgement import by_tone
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.corroboration import suspected
from sulvet.core.judgement.intended_note import stage_label, stages_of
from sulvet.core.judgement.results import Reading
from sulvet.core.judgement.sound import (
    VIEW,
    SoundJudgement,
    breath_before,
    counts_of,
    judge_sound,
    sounds_like,
)  # fmt: skip
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import figures, said
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.units import sign_of
from sulvet.core.sound import notes
from sulvet.core.sound import tones as core
from sulvet.takes import analysis, sound, tracks
from sulvet.takes.focus import findings_on
from sulvet.takes.models import Take
from sulvet.takes.pages.rows import ReadingRow, reading_fields
from sulvet.takes.pages.shapes import ToneEnd, ToneStart, Verdict


@dataclass(frozen=True)
class SoundReading(ReadingRow):
    """A reading of the sound, with its band."""

    low: float | None
    high: float | None


@dataclass(frozen=True)
class Vibrato:
    """Regular waves of a pitch."""

    rate: float
    cents: float


@dataclass(frozen=True)
class Slide:
    """A slide or siren: its lowest and highest note, how far apart, whether smooth
    and back where it began; ``back`` in cents."""

    low: str
    high: str
    semitones: float
    smooth: bool
    returns: bool
    back: float


@dataclass(frozen=True)
class Tone:
    """One tone: seconds, pitch in concert and as its player reads it, how it starts and holds.

    counts  whole ones;  lasts  the same with parts of one
    """

    start: float
    end: float
    counts: int
    lasts: float
    hz: float
    note: str
    written: str
    cents: float
    begins: ToneStart
    ends: ToneEnd
    scoop: float
    cracks: list[float]
    dips: int
    slide: Slide | None
    vibrato: Vibrato | None


@dataclass(frozen=True)
class FaceRow:
    """One measure of the face while a tone sounds."""

    measure: str
    name: str
    value: float
    uncertainty: float
    decimals: int
    unit: str
    verdict: Verdict


@dataclass(frozen=True)
class ToneRow:
    """One of several tones, and what the face did in it, the worst first."""

    tone: Tone
    faces: list[FaceRow]


@dataclass(frozen=True)
class Stage:
    """What a tone may be played on, and what it is called on this instrument."""

    id: str
    label: str


@dataclass(frozen=True)
class TargetRow:
    """A pitch of the standard to aim at."""

    stage: str
    pitch: str
    note: str


@dataclass(frozen=True)
class Breath:
    """Air without a tone, seconds; of a long one when it falls away and when it surges."""

    start: float
    end: float
    dips: list[float]
    surges: list[float]


@dataclass(frozen=True)
class SuspectedFault:
    """A fault that is heard while the picture speaks against it."""

    fault: str
    name: str
    first_help: str
    confused_with: str
    text: str
    heard: str
    value: float
    uncertainty: float
    decimals: int
    unit: str


@dataclass(frozen=True)
class SuggestedTick:
    """An observation that the sound speaks for."""

    id: str
    label: str


@dataclass(frozen=True)
class Movement:
    """How much the mouth moves while the pitch slides."""

    value: float
    uncertainty: float
    unit: str
    verdict: Verdict


@dataclass(frozen=True)
class TempoRange:
    """Beats per minute that may be asked for."""

    slowest: int
    quickest: int


@dataclass(frozen=True)
class SoundPage:
    """What is heard of a take; ``stale`` while this ear has not listened."""

    stale: bool
    has_sound: bool
    stage: str
    stages: list[Stage]
    stage_label: str
    pitch: str
    written: str
    target_hz: float | None
    chosen: bool
    a4: float
    tempo: float
    tempo_range: TempoRange
    targets: list[TargetRow]
    sentences: list[str]
    readings: list[SoundReading]
    tone: Tone | None
    tones: list[ToneRow]
    drifted: list[str]
    breaths: list[Breath]
    breath: float | None
    ratio: float | None
    ticks: list[SuggestedTick]
    moved: Movement | None
    way_back: Movement | None
    suspected: list[SuspectedFault]


#: What tells of an unmoved mouth from each side.
STILL = {"front": "stillness", "side": "stillness_lips_side"}


def sound_page(take: Take) -> SoundPage:
    """What is heard of a take, as it stands."""
    standard, kept = analysis.standard_for(take), sound.current(take)
    intended = sound.intended_of(kept)
    heard = None if kept is None else sound.sound_analysis(kept)
    document = {} if kept is None else kept.heard
    pitch, stage = document.get("pitch", ""), document.get("stage", "")
    usual = common().tempo
    tempo = intended.tempo or usual.usual
    judged = judge_sound(heard, tracks.phases_of(take), standard, bool(pitch))
    breath = breath_before(heard, judged.tone) if heard and judged.tone else None
    tones = heard.tones if heard else ()
    seen = _faces(take, tones, standard)
    return SoundPage(
        stale=kept is None,
        has_sound=heard is not None,
        stage=stage,
        stages=[Stage(s, stage_label(standard, s)) for s in stages_of(standard)],
        stage_label=stage_label(standard, stage) if stage else "",
        pitch=pitch,
        written=notes.written(pitch, standard.instrument) if pitch else "",
        target_hz=round(notes.hz_of(pitch, document["a4"]), 2) if pitch else None,
        chosen=bool(intended.pitch),
        a4=document.get("a4", notes.A4),
        tempo=tempo,
        tempo_range=TempoRange(usual.slowest, usual.quickest),
        targets=[TargetRow(t.stage, t.pitch, t.note) for t in standard.targets],
        sentences=list(judged.sentences),
        readings=_readings(judged, standard),
        tone=None if judged.tone is None else _tone(judged.tone, standard, tempo),
        tones=[
            ToneRow(_tone(tone, standard, tempo), [_face(face) for face in rows])
            for tone, rows in zip(tones, seen, strict=True)
        ],
        drifted=[
            *(_drift(name, by) for name, by in by_tone.drifted(seen).items()),
            *(_step(step) for step in by_tone.greatest_steps(seen) if len(seen) > 2),
        ],
        breaths=_air(heard),
        breath=breath,
        ratio=round(judged.tone.seconds / breath, 1) if judged.tone and breath else None,
        ticks=[
            SuggestedTick(one.id, one.label)
            for one in observations().of(standard.family)
            if one.id in sounds_like(heard, judged) and one.id not in take.observations
        ],
        moved=_movement(take, judged, STILL[take.view]),
        way_back=_movement(take, judged, "return_error"),
        suspected=_suspected(take, standard),
    )


def _air(heard: core.SoundAnalysis | None) -> list[Breath]:
    if heard is None:
        return []
    even = [*heard.even, *[None] * (len(heard.breaths) - len(heard.even))]
    return [
        Breath(a, b, list(one.dips) if one else [], list(one.surges) if one else [])
        for (a, b), one in zip(heard.breaths, even, strict=True)
    ]


def _faces(
    take: Take, tones: tuple[core.Tone, ...], standard: Standard
) -> list[tuple[by_tone.ToneFace, ...]]:
    """What the face did in each tone."""
    along = {
        one.measure: (np.array(one.value, float), np.array(one.half_width, float))
        for one in analysis.frames_of(take).series
    }
    seconds, school = np.array(take.frame_times), analysis.school_for(take, standard)
    return [by_tone.faces(tone, along, seconds, standard, take.view, school) for tone in tones]


def _face(face: by_tone.ToneFace) -> FaceRow:
    measure = catalogue().measure(face.measure)
    return FaceRow(
        measure.id, measure.name, face.value, face.half_width, measure.decimals, measure.unit,
        face.verdict,  # type: ignore[arg-type]
    )  # fmt: skip


def _drift(measure: str, by: float) -> str:
    """A change from the first tone to the last, as a sentence."""
    return said("{change} in the last tone than in the first.", change=_by(measure, by))


def _step(step: by_tone.Step) -> str:
    """The greatest change between two tones, as a sentence."""
    return said(
        "{change} in tone {tone} than in the one before.",
        change=_by(step.measure, step.by), tone=step.tone,
    )  # fmt: skip


def _by(measure: str, by: float) -> str:
    known = catalogue().measure(measure)
    way = known.more if by > 0 else known.less
    amount = figures(f"{abs(by):.{known.decimals}f}") + sign_of(known.unit)
    subject = known.subject or known.name
    return said("{subject} {way} by {amount}", subject=subject, way=way, amount=amount)


def _movement(take: Take, judged: SoundJudgement, measure: str) -> Movement | None:
    """What the picture says of the mouth while the pitch slides; None for a tone that stays."""
    if judged.tone is None or judged.tone.slide is None:
        return None
    r = take.readings.filter(measure=measure, phase="change", value__isnull=False).first()
    if r is None or r.value is None:
        return None
    return Movement(r.value, r.uncertainty or 0.0, r.unit, r.verdict)  # type: ignore[arg-type]


def _suspected(take: Take, standard: Standard) -> list[SuspectedFault]:
    """What is heard and the picture speaks against: only the teacher can make it a finding."""
    readings = [
        Reading(r.measure, r.phase, r.value, r.uncertainty, r.unit, r.verdict)
        for r in take.readings.all()
    ]
    there = {f.fault for f in findings_on(take).findings}
    school = analysis.school_for(take, standard)
    rows = []
    for one in suspected(standard, readings, take.view, school):
        if one.fault in there:
            continue
        fault, heard = common().fault(one.fault), catalogue().measure(one.heard.measure)
        rows.append(SuspectedFault(
            fault=fault.id, name=fault.name, first_help=fault.first_help,
            confused_with=fault.confused_with, text=one.sentence, heard=heard.name,
            value=one.evidence.value, uncertainty=one.evidence.uncertainty,
            decimals=heard.decimals, unit=one.evidence.unit,
        ))  # fmt: skip
    return rows


def _tone(tone: core.Tone, standard: Standard, tempo: float) -> Tone:
    return Tone(
        start=tone.start,
        end=tone.end,
        counts=counts_of(tone, tempo),
        lasts=tone.seconds * tempo / 60,
        hz=tone.hz,
        note=tone.note,
        written=notes.written(tone.note, standard.instrument),
        cents=tone.cents,
        begins=tone.begins,
        ends=tone.ends,
        scoop=tone.scoop,
        cracks=list(tone.cracks),
        dips=tone.dips,
        slide=None
        if tone.slide is None
        else Slide(
            low=notes.nearest(tone.slide.low)[0],
            high=notes.nearest(tone.slide.high)[0],
            semitones=tone.slide.semitones,
            smooth=tone.slide.smooth,
            returns=tone.slide.returns,
            back=tone.slide.back,
        ),
        vibrato=None if tone.vibrato is None else Vibrato(tone.vibrato.rate, tone.vibrato.cents),
    )


def _readings(judged: SoundJudgement, standard: Standard) -> list[SoundReading]:
    rows = []
    for r in judged.readings:
        band = standard.band(r.measure, VIEW, standard.schools[0].id)
        rows.append(SoundReading(
            **reading_fields(r, catalogue().measure(r.measure)),
            low=band.low if band else None,
            high=band.high if band else None,
        ))  # fmt: skip
    return rows
