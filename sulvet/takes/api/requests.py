"""What requests about takes say, as dataclasses: checked by the shapes made from them."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

from sulvet.takes.pages.shapes import PhaseName


def limits(**arguments: Any) -> dict[str, Any]:
    """Further arguments of a field's serializer field."""
    return {"serializer_kwargs": arguments}


@dataclass(frozen=True)
class MarkIn:
    """A landmark as the teacher places it, pixels of the upright picture."""

    landmark: str = field(metadata=limits(max_length=20))
    frame: int = field(metadata=limits(min_value=0))
    x: float
    y: float
    hidden: bool = False


@dataclass(frozen=True)
class MarksIn:
    """Landmarks that are placed in one gesture: all or none."""

    marks: list[MarkIn] = field(metadata=limits(allow_empty=False))


@dataclass(frozen=True)
class PreviewIn:
    """One frame with some marks elsewhere."""

    frame: int = field(metadata=limits(min_value=0))
    marks: list[MarkIn]


@dataclass(frozen=True)
class MarkGone:
    """Which placed mark to take back."""

    landmark: str = field(metadata=limits(max_length=20))
    frame: int = field(metadata=limits(min_value=0))


@dataclass(frozen=True)
class PhaseIn:
    """A rehearsal mark as set; it must end after it starts."""

    name: PhaseName
    start: float
    end: float


@dataclass(frozen=True)
class PhasesIn:
    """All rehearsal marks of a take."""

    phases: list[PhaseIn]


@dataclass(frozen=True)
class KnownLengthIn:
    """How long the marked length is; null takes it back."""

    known_mm: float | None


@dataclass(frozen=True)
class MarksFile:
    """A COCO keypoints document; see docs/formats.md."""

    images: list[dict[str, Any]]
    annotations: list[dict[str, Any]]
    categories: list[dict[str, Any]]


@dataclass(frozen=True)
class DecisionIn:
    """The teacher's answer to a finding; an empty answer takes it back."""

    fault: str = field(metadata=limits(max_length=40))
    phase: str = field(metadata=limits(max_length=10))
    answer: Literal["", "confirmed", "dismissed", "added"]
    reason: str = field(default="", metadata=limits(max_length=300, allow_blank=True))
    why: Literal["", "not-so", "camera", "later"] = ""


@dataclass(frozen=True)
class ReadIn:
    """Whether the teacher has read the take."""

    read: bool


@dataclass(frozen=True)
class FocusIn:
    """Which fault is the focus; empty leaves it to the order of fixing."""

    fault: str = field(metadata=limits(max_length=40, allow_blank=True))


@dataclass(frozen=True)
class ObservationsIn:
    """All observations that are ticked."""

    seen: list[str]


@dataclass(frozen=True)
class SaidFirstIn:
    """What is seen before anything is shown: faults, none of them, or that it can't be told."""

    faults: list[str]
    untold: bool


@dataclass(frozen=True)
class KeepIn:
    """Whether something is kept."""

    keep: bool


@dataclass(frozen=True)
class IntendedNoteIn:
    """What was to be played; an empty pitch leaves it to the ear."""

    stage: str = field(default="", metadata=limits(max_length=12, allow_blank=True))
    pitch: str = field(default="", metadata=limits(max_length=4, allow_blank=True))
    a4: float | None = None
    tempo: float | None = None
