"""What the Bench shows, as frozen values: the API's schema is read off these."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from sulvet.core.drawing.sheet import Drawing
from sulvet.takes.pages.rows import ReadingRow, Series, ToneSpan
from sulvet.takes.pages.shapes import (
    Answer,
    DrillStage,
    MarkSource,
    PhaseName,
    TrackSource,
    Verdict,
)
from sulvet.takes.pages.summary import TakeSummary


@dataclass(frozen=True)
class PhaseRow:
    """A rehearsal mark."""

    name: PhaseName
    start: float
    end: float
    by_teacher: bool
    #: A suggestion that is not sure enough to be taken for what it is called.
    guessed: bool


@dataclass(frozen=True)
class Track:
    """One landmark through the take, a value a frame."""

    landmark: str
    x: list[float | None]
    y: list[float | None]
    sigma: list[float | None]
    source: list[TrackSource]
    hidden: list[bool]


@dataclass(frozen=True)
class MarkRow:
    """A keyframe of a landmark."""

    landmark: str
    frame: int
    x: float
    y: float
    hidden: bool
    source: MarkSource


@dataclass(frozen=True)
class FrameAnchorRows:
    """Where every frame lies on the drawing's sheet; see ``core.analysis.FrameData``."""

    moves: list[list[float] | None]
    derived: dict[str, list[list[float] | None]]


@dataclass(frozen=True)
class ScaleRow:
    """What millimetres rest on, and its 95 % uncertainty in hundredths."""

    taken_from: str
    percent: float


@dataclass(frozen=True)
class KnownLength:
    """The length between two marks, if the teacher has said one, and what it may be, mm."""

    mm: float | None
    shortest: float
    longest: float


@dataclass(frozen=True)
class EvidenceRow:
    """One measured thing a finding rests on."""

    measure: str
    name: str
    decimals: int
    value: float
    uncertainty: float
    limit: float
    edge: float
    unit: str


@dataclass(frozen=True)
class FindingRow:
    """A finding with its words, evidence and the teacher's answer.

    holds  in which of several holds it is found; empty where there is only one
    """

    fault: str
    name: str
    shows: str
    why: str
    first_help: str
    child: str
    drill: str
    confused_with: str
    verdict: Verdict
    phase: str
    start: float | None
    end: float | None
    holds: list[int]
    worst_frame: int | None
    evidence: list[EvidenceRow]
    reason: str
    focus: bool
    answer: Answer | None
    answer_reason: str
    stage: DrillStage


@dataclass(frozen=True)
class Waiting:
    """A finding that waits, and why."""

    fault: str
    name: str
    why: str


@dataclass(frozen=True)
class FocusRow:
    """The one thing to fix, why this one, and what waits."""

    fault: str | None
    why: str
    waits: list[Waiting]


@dataclass(frozen=True)
class SetUpCheck:
    """What to look at before the mouth; ``done`` is the observation that says it was."""

    why: str
    done: str
    label: str


@dataclass(frozen=True)
class Depth:
    """How deep the mouthpiece is on this take, mm; ``kept`` is where the student's tape is,
    ``here`` whether it was kept from this take."""

    value: float
    uncertainty: float
    kept: float | None
    here: bool


@dataclass(frozen=True)
class Addable:
    """A fault the teacher may add."""

    fault: str
    name: str


@dataclass(frozen=True)
class ObservationRow:
    """What no camera shows, for the teacher to tick."""

    id: str
    by: Literal["ear", "eye", "hand", "asked"]
    label: str
    caution: str
    seen: bool


@dataclass(frozen=True)
class Advice:
    """One thing to look for when the sound is not right."""

    heard: str
    look: str
    help: str
    drill: str
    equipment: bool
    seen: str


@dataclass(frozen=True)
class UncheckedRow:
    """Something the standard asks for that could not be told, and what to do about it."""

    area: str
    why: str


@dataclass(frozen=True)
class SaidFirstRow:
    """What the teacher saw before anything was shown, in words; and the program's findings that
    were not among it, and what of it the program has not."""

    said: str
    only_found: list[str]
    only_said: list[str]


@dataclass(frozen=True)
class BenchPage:
    """All that the Bench shows of one take.

    said_first  None while the teacher has said nothing first
    sayable     all that may be wrong on this instrument
    closed  why the clip may not be looked at, as a sentence; empty while it may
    stale  what is shown was made by an older engine, ear, standard or school: ask for it anew
    """

    take: TakeSummary
    revision: int
    stale: bool
    undo: str | None
    redo: str | None
    student_name: str
    instrument: str
    school: str
    school_sentence: str
    standard: str
    lips: str
    notes: list[str]
    equipment: str
    asked_rest: list[str]
    asked_hold: list[str]
    asked_pair: list[str]
    width: int
    height: int
    times: list[float]
    closed: str
    has_frames: bool
    phases: list[PhaseRow]
    tracks: list[Track]
    marks: list[MarkRow]
    found_left: int
    drawing: Drawing | None
    anchors: FrameAnchorRows
    known_length: KnownLength
    scale: ScaleRow | None
    series: list[Series]
    tone: list[Series]
    tones: list[ToneSpan]
    readings: list[ReadingRow]
    focus: FocusRow
    set_up: SetUpCheck | None
    depth: Depth | None
    findings: list[FindingRow]
    unchecked: list[UncheckedRow]
    addable: list[Addable]
    sayable: list[Addable]
    said_first: SaidFirstRow | None
    observations: list[ObservationRow]
    triage: list[Advice]


@dataclass(frozen=True)
class Preview:
    """What a frame would measure, by measure; and its derived anchors on the sheet."""

    values: dict[str, float | None]
    anchors: dict[str, list[float]]
