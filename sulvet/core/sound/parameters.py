"""The figures of ``data/sound.toml``, checked when they are read."""

from __future__ import annotations

import tomllib
from pathlib import Path

from pydantic import BaseModel, ConfigDict

from sulvet.core.language import per_language

DATA = Path(__file__).parent / "data" / "sound.toml"


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class PitchParameters(_Strict):
    """How pitch is followed."""

    k: float
    same: float
    on: float
    off: float
    hop: float
    periods: float
    window: float
    gate: float
    over_room: float
    quietest: float
    shortest: float
    bridge: float
    about: float


class AirParameters(_Strict):
    """What tells ringing air from a tone."""

    alike: float
    later: float
    trembles: float
    steps: float
    long: float
    uneven: float
    over: float
    moment: float
    edge: float


class SegmentParameters(_Strict):
    """What parts two tones of one breath; see ``sound.toml``."""

    around: float
    dip: float
    dip_shortest: float
    dip_longest: float
    silent: float
    back: float
    attack: float
    deep: float
    deep_longest: float
    deep_attack: float
    slides: float
    step: float
    level: float
    plateau: float
    neighbour: float
    step_longest: float
    least: float


class ToneParameters(_Strict):
    """What is said of a tone."""

    begin: float
    end: float
    least: float
    doubtful: float
    lost: float
    tongued_rise: float
    tongued_lead: float
    breathy_rise: float
    breathy_lead: float
    air_over: float
    breath: float
    breath_gap: float
    longest_lead: float
    neighbour: float
    scoop_cents: float
    scoop: float
    crack_cents: float
    crack_longest: float
    crack_edge: float
    dip: float
    dip_shortest: float
    vibrato_low: float
    vibrato_high: float
    vibrato_share: float
    vibrato_cents: float
    slide_cents: float
    slide_shortest: float
    slide_rough: float
    slide_back: float
    slide_left: float
    slide_hold: float
    sag_seconds: float
    softer: float
    slurred_edge: float
    sag_cents: float


class SpeechParameters(_Strict):
    """When a stretch is talk."""

    change: float
    some_change: float
    slope: float
    steep: float
    longest: float
    long_change: float
    syllable: float
    near: float
    beside: float
    softer: float


class Unsure(_Strict):
    """How sure what is told of a tone is."""

    pitch: float
    wanders: float
    drift: float
    length: float
    rise: float
    lead: float
    clearness: float
    apart: float


class IntendedNoteParameters(_Strict):
    """When a note is taken for meant, and what tunings there are."""

    near: float
    same_note: float
    a4_from: float
    a4_to: float


class SoundParameters(_Strict):
    """All of them."""

    version: int
    ranges: dict[str, dict[str, tuple[float, float]]]
    stages: dict[str, dict[str, str]]
    transposes: dict[str, int]
    pitch: PitchParameters
    air: AirParameters
    segments: SegmentParameters
    tone: ToneParameters
    speech: SpeechParameters
    unsure: Unsure
    intended_note: IntendedNoteParameters


@per_language
def parameters() -> SoundParameters:
    """The figures as shipped."""
    return SoundParameters.model_validate(tomllib.loads(DATA.read_text(encoding="utf-8")))


def range_of(instrument: str, family: str, stage: str) -> tuple[float, float]:
    """Hz between which a tone is looked for; KeyError for a stage that the family has not."""
    table = parameters().ranges[stage]
    return table[instrument] if instrument in table else table[family]
