"""What the Bench shows of one take: marks, drawing, score, findings, and what may be done.

All of it is read from what stands; nothing is measured for a page.
"""

from __future__ import annotations

from typing import Any, cast

import numpy as np

from sulvet.band.consent import closed
from sulvet.core.analysis import FrameData, numbers
from sulvet.core.anatomy.landmarks import TAKE_IDS, asked
from sulvet.core.anatomy.marks import SOURCES, Marks
from sulvet.core.anatomy.scale import known_length
from sulvet.core.drawing.sheet import Drawing
from sulvet.core.drawing.take import measure_frame, with_lines
from sulvet.core.judgement import lips
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.focus import SET_UP, Focus
from sulvet.core.judgement.results import FAULT
from sulvet.core.judgement.standards import Standard
from sulvet.core.judgement.triage import triage
from sulvet.core.language import listed, retold, said
from sulvet.core.measures.borrowed_rest import with_rest
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.measures.frames import TakeContext
from sulvet.core.video.proxy import PROXY
from sulvet.takes import analysis, history, tracks
from sulvet.takes.borrowing import borrowed_rest
from sulvet.takes.first_said import said_on
from sulvet.takes.focus import TakeFindings, fault_on, findings_on, focus_of, set_up_of, standing
from sulvet.takes.marking import PlacedMark, found_left, with_moved_marks
from sulvet.takes.models import Finding, Take
from sulvet.takes.pages.bench_shapes import (
    Addable,
    Advice,
    BenchPage,
    Depth,
    EvidenceRow,
    FindingRow,
    FocusRow,
    FrameAnchorRows,
    KnownLength,
    MarkRow,
    ObservationRow,
    PhaseRow,
    Preview,
    SaidFirstRow,
    ScaleRow,
    SetUpCheck,
    Track,
    UncheckedRow,
    Waiting,
)
from sulvet.takes.pages.rows import ReadingRow, Series, reading_fields, series_row
from sulvet.takes.pages.summary import kept_drawing, summary
from sulvet.takes.pages.tone import tone_series, tone_spans
from sulvet.takes.storage import StorageAway

#: What is said of a take that was made of photos.
STILL = "From a photo: what only movement shows was not checked."


def bench_page(take: Take) -> BenchPage:
    """All that the Bench shows of one take, as it stands; see ``selectors.bench_take_of``."""
    standard = analysis.standard_for(take)
    school = standard.school(take.student.school or None)
    last, next_undone = history.last(take), history.next_undone(take)
    wanted = asked(take.view, standard.family)
    found = findings_on(take)
    focus = focus_of(take, found)
    faults = {f.fault for f in standing(take, found)}
    frames = analysis.frames_of(take)
    shut = closed(take.student)
    return BenchPage(
        take=summary(take, found, focus),
        revision=take.revision,
        stale=analysis.is_stale(take, standard),
        undo=last.label if last else None,
        redo=next_undone.label if next_undone else None,
        student_name=take.student.name,
        instrument=standard.name,
        school=school.name,
        school_sentence=school.sentence,
        standard=standard.label,
        lips=lips.sentence(standard, take.view, {m.id: m.name for m in catalogue().measures}),
        notes=[*map(retold, take.notes), *([said(STILL)] if take.still else [])],
        equipment=wanted.equipment,
        asked_rest=list(wanted.rest),
        asked_hold=list(wanted.hold),
        asked_pair=list(wanted.pair),
        width=take.width,
        height=take.height,
        times=take.frame_times,
        closed=shut,
        has_frames=not shut and bool(take.frame_times) and _has_frames(take),
        phases=[
            PhaseRow(p.name, p.start, p.end, p.by_teacher, p.guessed)  # type: ignore[arg-type]
            for p in take.phases.all()
        ],
        tracks=_tracks(tracks.load(take)),
        marks=[
            MarkRow(m.landmark, m.frame, m.x, m.y, m.hidden, m.source)  # type: ignore[arg-type]
            for m in take.marks.all()
        ],
        found_left=len(found_left(take)),
        drawing=_drawing(take),
        anchors=FrameAnchorRows(frames.moves, frames.anchors),
        known_length=KnownLength(take.known_mm, *known_length()),
        scale=_scale(take),
        series=_series(take, frames, standard, school.id),
        tone=tone_series(take, standard),
        tones=tone_spans(take),
        readings=_readings(take),
        focus=_focus(focus),
        set_up=_set_up(take, focus, faults),
        depth=_depth(take),
        findings=[_finding(finding, found, focus) for finding in found.findings],
        unchecked=_unchecked(take),
        addable=[
            Addable(fault.id, fault.name)
            for fault in common().faults
            if fault.suits(standard.family)
            and all(fault.id != f.fault for f in found.findings)
        ],
        sayable=[
            Addable(fault.id, fault.name)
            for fault in sorted(common().faults, key=lambda one: one.name)
            if fault.suits(standard.family)
        ],
        said_first=_said_first(take, faults),
        observations=[
            ObservationRow(one.id, one.by, one.label, one.caution, one.id in take.observations)
            for one in observations().of(standard.family)
        ],
        triage=[
            Advice(
                a.cause.heard, a.cause.look, a.cause.help, drill_line(a.cause.drill),
                a.cause.equipment, common().fault(a.seen).name if a.seen else "",
            )
            for a in triage(set(take.observations), standard.family, faults)
        ],
    )  # fmt: skip


def _said_first(take: Take, stands: set[str]) -> SaidFirstRow | None:
    first = said_on(take)
    if first is None:
        return None

    def named(faults: set[str]) -> list[str]:
        return sorted(common().fault(one).name for one in faults)

    own = set(first.faults)
    words = listed(named(own)) if own else said("nothing")
    if first.untold:
        words = said("can't be told from here")
    return SaidFirstRow(words, named(stands - own), named(own - stands))


def _has_frames(take: Take) -> bool:
    """Whether the review copy can be shown; what was measured is shown without a storage too."""
    try:
        return take.has(PROXY)
    except StorageAway:
        return False


def _unchecked(take: Take) -> list[UncheckedRow]:
    covered = analysis.coverage_of(take)
    left = covered.unchecked if covered else ()
    return [UncheckedRow(said(one.area), retold(one.why)) for one in left]


def _drawing(take: Take) -> Drawing | None:
    kept: Any = kept_drawing(take)
    return None if kept is None else cast(Drawing, with_lines(kept))


def _tracks(marks: Marks) -> list[Track]:
    rows = []
    for name in TAKE_IDS:
        column = marks.column(name)
        if not np.isfinite(marks.xy[:, column, 0]).any():
            continue
        rows.append(Track(
            name,
            numbers(marks.xy[:, column, 0], 2),
            numbers(marks.xy[:, column, 1], 2),
            numbers(marks.sigma[:, column], 2),
            [SOURCES[s] for s in marks.source[:, column]],
            marks.hidden[:, column].tolist(),
        ))  # fmt: skip
    return rows


#: In the order in which things are put right: placement, what is to blame, the face, the head.
STAVES = ("placement", "", "face", "head")


def _series(take: Take, frames: FrameData, standard: Standard, school: str) -> list[Series]:
    """One line of the score a measure, in the order of its table; ``shown`` at first sight."""
    known = {row.measure: row for row in frames.series}
    there = [
        measure
        for measure in sorted(catalogue().measures, key=lambda m: STAVES.index(m.shown))
        if measure.view == take.view
        and (row := known.get(measure.id)) is not None
        # What has a value somewhere has a stave; so has what every teacher looks for.
        and (measure.always or any(value is not None for value in row.value))
    ]
    shown = _shown(take, there)
    return [
        series_row(
            measure, measure.id in shown, known[measure.id].value, known[measure.id].half_width,
            standard.band(measure.id, take.view, school),
        )
        for measure in there
    ]  # fmt: skip


def _shown(take: Take, there: list[Measure]) -> set[str]:
    """The staves there is room for: the usual ones, and whatever a fault rests on.

    The head's own only where nothing is placed.
    """
    blamed = {e["measure"] for f in take.findings.all() if f.verdict == FAULT for e in f.evidence}
    placed = any(m.shown == "placement" for m in there)
    return {
        m.id
        for m in there
        if m.shown in ("placement", "face") or m.id in blamed or (m.shown == "head" and not placed)
    }


def _readings(take: Take) -> list[ReadingRow]:
    return [
        ReadingRow(**reading_fields(r, catalogue().measure(r.measure)))
        for r in sorted(take.readings.all(), key=lambda r: r.phase != "hold")
    ]


def _finding(finding: Finding, found: TakeFindings, focus: Focus) -> FindingRow:
    fault, decision = fault_on(finding), found.decision(finding)
    return FindingRow(
        fault=finding.fault,
        name=fault.name,
        shows=fault.shows,
        why=fault.why,
        first_help=fault.first_help,
        child=fault.child,
        drill=drill_line(fault.drills[0]),
        confused_with=fault.confused_with,
        verdict=finding.verdict,  # type: ignore[arg-type]
        phase=finding.phase,
        start=finding.start,
        end=finding.end,
        holds=finding.holds,
        worst_frame=finding.worst_frame,
        evidence=[
            EvidenceRow(**e, name=measure.name, decimals=measure.decimals)
            for e in finding.evidence
            for measure in [catalogue().measure(e["measure"])]
        ],
        reason=retold(finding.reason),
        focus=(finding.fault, finding.phase) == (focus.fault, focus.phase),
        answer=decision.answer if decision else None,  # type: ignore[arg-type]
        answer_reason=decision.said if decision else "",
        stage=common().drill(fault.drills[0]).stages[-1],
    )


def _focus(focus: Focus) -> FocusRow:
    """Why this one, and what waits."""
    waits = [Waiting(w.fault, common().fault(w.fault).name, w.why) for w in focus.waits]
    return FocusRow(focus.fault, focus.why, waits)


def _set_up(take: Take, focus: Focus, faults: set[str]) -> SetUpCheck | None:
    """What to look at before the mouth, and what to tick when that is done."""
    if focus.reason != SET_UP:
        return None
    first = set_up_of(take, faults)
    if first is None:
        return None
    done = next(o for o in observations().observations if o.id == first.done)
    return SetUpCheck(first.why, first.done, done.label)


def _depth(take: Take) -> Depth | None:
    """How deep the mouthpiece is in the hold, and where the student's tape is."""
    for r in take.readings.all():
        if r.measure == "depth" and r.phase == "hold" and r.value is not None:
            tape = take.student.tape_mm
            return Depth(r.value, r.uncertainty or 0.0, tape, tape == r.value)
    return None


def drill_line(drill_id: str) -> str:
    """A drill in one line."""
    drill = common().drill(drill_id)
    return f"{drill.name}: {' '.join(drill.steps)}"


def _scale(take: Take) -> ScaleRow | None:
    """What millimetres rest on, and how sure they are, in hundredths."""
    kept = analysis.stored(take)
    if kept is None or kept.scale is None:
        return None
    source, relative = kept.scale
    return ScaleRow(source, round(100 * relative, 1))


def preview(take: Take, frame: int, moved: list[PlacedMark]) -> Preview:
    """What one frame would measure with some marks elsewhere: for the eye, while they are dragged.

    Nothing is stored. Values by measure, None where it can't be told.
    """
    own = with_moved_marks(take, frame, moved)
    marks, phases = with_rest(own, tracks.phases_of(take), borrowed_rest(take))
    context = TakeContext(take.view, take.student.instrument, take.known_mm)
    now = measure_frame(marks, phases, frame, context)
    return Preview(
        {name: None if np.isnan(value) else round(value, 3) for name, value in now.values.items()},
        {name: [round(x, 4), round(y, 4)] for name, (x, y) in now.anchors.items()},
    )
