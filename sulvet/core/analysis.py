"""The analysis of a take: all that follows from marks, sound and standard, as one value.

A pure function of what it is made from: thrown away and made again it comes out the same, to
the byte. Whoever keeps it keeps ``Provenance`` beside it, which says when it is out of date.
"""

from __future__ import annotations

import json
import zlib
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from sulvet.core import EAR_VERSION, ENGINE_VERSION
from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.drawing.sheet import EDITION, Drawing
from sulvet.core.drawing.stills import Stills, stills_of
from sulvet.core.drawing.take import drawing_of
from sulvet.core.judgement.corroboration import with_sound
from sulvet.core.judgement.coverage import Coverage, coverage
from sulvet.core.judgement.judge import judge
from sulvet.core.judgement.results import Z95, Finding, Judgement, Reading
from sulvet.core.judgement.sound import judge_sound
from sulvet.core.judgement.standards import Standard
from sulvet.core.measures.borrowed_rest import with_rest
from sulvet.core.phases import Phase
from sulvet.core.sound.tones import SoundAnalysis


@dataclass(frozen=True)
class Provenance:
    """What an analysis was made by: versions of engine, ear and drawing, standard and school."""

    engine: str
    ear: str
    standard: str
    school: str
    edition: int

    @staticmethod
    def now(standard: Standard, school: str) -> Provenance:
        """What an analysis would be made by today."""
        return Provenance(ENGINE_VERSION, EAR_VERSION, standard.label, school, EDITION)


@dataclass(frozen=True)
class Heard:
    """The sound of a take that has been listened to.

    analysis  None where the clip has no sound
    targeted  whether the tones' cents count from a note that was to be played
    """

    analysis: SoundAnalysis | None
    targeted: bool


@dataclass(frozen=True)
class Material:
    """What an analysis is made from.

    known_mm  length between the marks ``kl_a`` and ``kl_b``, mm
    heard     None while nobody has listened
    rest      one frame of another take at rest, for one that shows no rest itself
    still     made of photos: nothing that only movement shows is measured
    """

    marks: Marks
    phases: list[Phase]
    view: str
    known_mm: float | None = None
    heard: Heard | None = None
    rest: Marks | None = None
    still: bool = False

    def whole(self) -> Material:
        """The same with the borrowed rest as further frames at the end."""
        marks, phases = with_rest(self.marks, self.phases, self.rest)
        return replace(self, marks=marks, phases=phases, rest=None)


@dataclass(frozen=True)
class MeasureSeries:
    """A measure along time, as it is kept.

    value       (T,) in the measure's own unit, None where it can't be told
    half_width  (T,) of the 95 % interval
    """

    measure: str
    value: list[float | None]
    half_width: list[float | None]


@dataclass(frozen=True)
class FrameData:
    """What an analysis says of every frame.

    moves    (T) six numbers from the picture to the sheet, see ``FrameAnchors``; None where unknown
    anchors  derived anchor → (T) its place on the sheet; None where it can't be told
    """

    series: tuple[MeasureSeries, ...]
    moves: list[list[float] | None]
    anchors: dict[str, list[list[float] | None]]

    def packed(self) -> bytes:
        """Compressed, for keeping; the same data give the same bytes."""
        document = {
            "series": [[s.measure, s.value, s.half_width] for s in self.series],
            "moves": self.moves,
            "anchors": self.anchors,
        }
        return zlib.compress(json.dumps(document, separators=(",", ":")).encode())

    @staticmethod
    def unpacked(data: bytes) -> FrameData:
        """Back from ``packed``."""
        document: dict[str, Any] = json.loads(zlib.decompress(data))
        series = tuple(MeasureSeries(*row) for row in document["series"])
        return FrameData(series, document["moves"], document["anchors"])


#: Of a take without an analysis.
NO_FRAMES = FrameData((), [], {})


@dataclass(frozen=True)
class Analysis:
    """All that follows from a take.

    drawing, stills  None without a face to draw
    scale            what millimetres rest on and its relative 95 % uncertainty; None without one
    coverage         what of all that is asked of this view was checked
    """

    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]
    frames: FrameData
    drawing: Drawing | None
    stills: Stills | None
    scale: tuple[str, float] | None
    coverage: Coverage


def judgement_of(material: Material, standard: Standard, school: str) -> Judgement:
    """What is seen and what is heard of a take, judged together."""
    material = material.whole()
    view, phases = material.view, material.phases
    seen = judge(material.marks, phases, standard, view, school, material.known_mm, material.still)
    if material.heard is None:
        return seen
    heard = judge_sound(material.heard.analysis, phases, standard, material.heard.targeted)
    return with_sound(seen, heard, standard, view, school)


def analyse(material: Material, standard: Standard, school: str) -> Analysis:
    """Measure, judge and draw one take.

    school  id of one of the standard's schools
    """
    own = len(material.marks)
    material = material.whole()
    marks, phases = material.marks, material.phases
    judged = judgement_of(material, standard, school)
    drawn = drawing_of(judged, marks, phases, standard, material.view, school)
    known = judged.scales.known
    best = min(known, key=lambda scale: scale.relative) if known else None
    series = tuple(
        MeasureSeries(s.measure, numbers(s.value[:own], 3), numbers(Z95 * s.sigma[:own], 3))
        for s in judged.series.values()
    )
    scale = None if best is None else (best.source, Z95 * best.relative)
    covered = coverage(judged.readings, standard, material.view, school)
    if drawn is None:
        frames = FrameData(series, [], {})
        return Analysis(judged.readings, judged.findings, frames, None, None, scale, covered)
    drawing, anchors = drawn
    derived = {
        name: rows(places[:own], 4)
        for name, places in anchors.derived.items()
        if np.isfinite(places[:own]).all(axis=1).any()
    }
    return Analysis(
        judged.readings,
        judged.findings,
        FrameData(series, rows(anchors.moves[:own], 6), derived),
        drawing,
        stills_of(judged, marks, phases, drawing, anchors).before(own),
        scale,
        covered,
    )


def numbers(values: Floats, digits: int) -> list[float | None]:
    """Rounded, None where there is no value."""
    # A page holds some ten thousand of them: one call for all.
    out: list[float | None] = np.round(values, digits).tolist()
    for n in np.flatnonzero(np.isnan(values)).tolist():
        out[n] = None
    return out


def rows(values: Floats, digits: int) -> list[list[float] | None]:
    """Rows of rounded numbers; None where one of them is unknown."""
    return [
        [round(float(v), digits) for v in row] if np.isfinite(row).all() else None for row in values
    ]
