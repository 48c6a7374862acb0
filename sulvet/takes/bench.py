"""What the Bench shows of one take: marks, drawing, score, findings, and what may be done."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from sulvet.core.anatomy.landmarks import TAKE_IDS, asked
from sulvet.core.anatomy.marks import SOURCES, Marks
from sulvet.core.drawing.sheet import Drawing
from sulvet.core.drawing.take import drawing_of, frame_now
from sulvet.core.judgement.focus import SET_UP, Focus
from sulvet.core.judgement.judge import ASKED_ALWAYS, FAULT, Z95, Judgement, view_of
from sulvet.core.judgement.standards import (
    Common,
    MeasureWords,
    School,
    Standard,
    common,
    observations,
)
from sulvet.core.judgement.triage import triage
from sulvet.core.measures.series import TakeContext
from sulvet.takes import edits, services
from sulvet.takes.focus import answers_of, findings_of, focus_of, set_up_of, standing
from sulvet.takes.models import Finding, Take
from sulvet.takes.rows import numbers, reading_row, stave_row
from sulvet.takes.selectors import summary
from sulvet.takes.tone_staves import tone_staves


def bench_page(take: Take, stands: services.Standing) -> dict[str, Any]:
    """All that the Bench shows of one take, as it now stands."""
    marks, judged = stands.marks, stands.judged
    standard = services.standard_for(take)
    school = standard.school(take.student.school or None)
    back, again = edits.last(take), edits.next_again(take)
    wanted = asked(take.view, standard.family)
    findings, focus = findings_of(take), focus_of(take)
    return {
        "take": summary(take),
        "revision": take.revision,
        "undo": back.words if back else None,
        "redo": again.words if again else None,
        "student_name": take.student.name,
        "instrument": standard.name,
        "school": school.name,
        "school_sentence": school.sentence,
        "standard": standard.label,
        "notes": take.notes,
        "thing": wanted.thing,
        "asked_rest": wanted.rest,
        "asked_hold": wanted.hold,
        "asked_pair": wanted.pair,
        "width": take.width,
        "height": take.height,
        "times": take.frame_times,
        "has_frames": bool(take.frame_times) and take.proxy.exists(),
        "phases": list(take.phases.values("name", "start", "end", "by_teacher", "confidence")),
        "tracks": [
            _track(marks, name)
            for name in TAKE_IDS
            if np.isfinite(marks.xy[:, marks.column(name), 0]).any()
        ],
        "marks": list(take.marks.values("landmark", "frame", "x", "y", "hidden", "source")),
        "found_left": len(services.found_left(take)),
        "drawing": _drawing(take, stands, standard, school),
        "known_mm": take.known_mm,
        "scale": _scale(judged),
        "series": [] if judged is None else _staves(take, judged, standard, school),
        "tone": tone_staves(take, standard),
        "readings": _readings(take),
        "focus": _focus(focus),
        "set_up": _set_up(take, focus),
        "depth": _depth(take),
        "findings": [_finding(finding, take, focus) for finding in findings],
        "addable": [
            {"fault": fault.id, "name": fault.name}
            for fault in _possible(common(), standard)
            if all(fault.id != f.fault for f in findings)
        ],
        "triage": [
            {"heard": a.cause.heard, "look": a.cause.look, "help": a.cause.help,
             "drill": drill_line(a.cause.drill), "equipment": a.cause.equipment,
             "seen": common().fault(a.seen).name if a.seen else ""}
            for a in triage(set(take.observations), standard.family,
                            {f.fault for f in standing(take)})
        ],
        "observations": [
            {"id": one.id, "by": one.by, "words": one.words, "caution": one.caution,
             "seen": one.id in take.observations}
            for one in observations().of(standard.family)
        ],
    }  # fmt: skip


def _rows(values: NDArray[np.float64], digits: int) -> list[list[float] | None]:
    """Rows of numbers; None where one of them is unknown."""
    return [
        [round(float(v), digits) for v in row] if np.isfinite(row).all() else None for row in values
    ]


def _track(marks: Marks, name: str) -> dict[str, Any]:
    column = marks.column(name)
    return {
        "landmark": name,
        "x": numbers(marks.xy[:, column, 0], 2),
        "y": numbers(marks.xy[:, column, 1], 2),
        "sigma": numbers(marks.sigma[:, column], 2),
        "source": [SOURCES[s] for s in marks.source[:, column]],
        "hidden": [bool(h) for h in marks.hidden[:, column]],
    }


def _drawing(
    take: Take, stands: services.Standing, standard: Standard, school: School
) -> dict[str, Any] | None:
    if stands.judged is None:
        return None
    drawing = drawing_of(
        stands.judged, stands.marks, services.phases_of(take), standard, take.view, school.id
    )
    return None if drawing is None else drawing_row(drawing)


def drawing_row(drawing: Drawing) -> dict[str, Any]:
    """A drawing as plain lists."""
    return drawing.small() | {"moves": _rows(drawing.moves, 6), "rims": _rows(drawing.rims, 4)}


def _staves(
    take: Take, judged: Judgement, standard: Standard, school: School
) -> list[dict[str, Any]]:
    """One line of the score a measure, in the order of its table; ``shown`` at first sight."""
    shown = _shown(take, judged)
    return [
        stave_row(
            m,
            m.id in shown,
            judged.series[m.id].value,
            Z95 * judged.series[m.id].sigma,
            standard.band(m.id, take.view, school.id),
        )
        for m in sorted(common().measures, key=lambda m: STAVES.index(m.shown))
        if _has_stave(m.id, take, judged)
    ]


#: In the order in which things are put right: placement, what is to blame, the face, the head.
STAVES = ("placement", "", "face", "head")


def _has_stave(measure: str, take: Take, judged: Judgement) -> bool:
    """What has a value somewhere has a stave; so has what every teacher looks for."""
    series = judged.series.get(measure)
    if series is None or view_of(measure) != take.view:
        return False
    return measure in ASKED_ALWAYS or bool(np.isfinite(series.value).any())


def _shown(take: Take, judged: Judgement) -> set[str]:
    """The staves there is room for: the usual ones, and whatever a fault rests on.

    The head's own only where nothing is placed.
    """
    there = [m for m in common().measures if _has_stave(m.id, take, judged)]
    blamed = {e["measure"] for f in take.findings.all() if f.verdict == FAULT for e in f.evidence}
    placed = any(m.shown == "placement" for m in there)
    return {
        m.id
        for m in there
        if m.shown in ("placement", "face") or m.id in blamed or (m.shown == "head" and not placed)
    }


def _words() -> dict[str, MeasureWords]:
    return {m.id: m for m in common().measures}


def _readings(take: Take) -> list[dict[str, Any]]:
    words = _words()
    return [
        reading_row(r, words[r.measure])
        for r in sorted(take.readings.all(), key=lambda r: r.phase != "hold")
    ]


def _finding(finding: Finding, take: Take, focus: Focus) -> dict[str, Any]:
    fault, words = common().fault(finding.fault), _words()
    answer = answers_of(take).get((finding.fault, finding.phase))
    return {
        "fault": finding.fault,
        "name": fault.name,
        "shows": fault.shows,
        "why": fault.why,
        "first_help": fault.first_help,
        "child": fault.child,
        "drill": drill_line(fault.drills[0]),
        "confused_with": fault.confused_with,
        "verdict": finding.verdict,
        "phase": finding.phase,
        "start": finding.start,
        "end": finding.end,
        "worst_frame": finding.worst_frame,
        "evidence": [
            {**e, "name": words[e["measure"]].name, "decimals": words[e["measure"]].decimals}
            for e in finding.evidence
        ],
        "reason": finding.reason,
        "focus": (finding.fault, finding.phase) == (focus.fault, focus.phase),
        "answer": answer.answer if answer else None,
        "answer_reason": answer.reason if answer else "",
    }


def _focus(focus: Focus) -> dict[str, Any]:
    """Why this one, and what waits."""
    return {
        "fault": focus.fault,
        "why": focus.why,
        "waits": [
            {"fault": w.fault, "name": common().fault(w.fault).name, "why": w.why}
            for w in focus.waits
        ],
    }


def _set_up(take: Take, focus: Focus) -> dict[str, Any] | None:
    """What to look at before the mouth, and what to tick when that is done."""
    first = set_up_of(take, {f.fault for f in standing(take)})
    if first is None or focus.reason != SET_UP:
        return None
    done = next(o for o in observations().observations if o.id == first.done)
    return {"why": first.why, "done": first.done, "words": done.words}


def _depth(take: Take) -> dict[str, Any] | None:
    """How deep the mouthpiece is in the hold, and where the student's tape is."""
    reading = take.readings.filter(measure="depth", phase="hold", value__isnull=False).first()
    if reading is None:
        return None
    return {"value": reading.value, "uncertainty": reading.uncertainty or 0.0,
            "kept": take.student.tape_mm,
            "here": take.student.tape_mm == reading.value}  # fmt: skip


def drill_line(drill_id: str) -> str:
    """A drill in one line."""
    drill = common().drill(drill_id)
    return f"{drill.name}: {' '.join(drill.steps)}"


def _possible(words: Common, standard: Standard) -> list[Any]:
    """Faults that this instrument can have at all."""
    return [f for f in words.faults if not f.families or standard.family in f.families]


def _scale(judged: Judgement | None) -> dict[str, Any] | None:
    """What millimetres rest on, and how sure they are, in hundredths."""
    known = judged.scales.known if judged is not None else ()
    if not known:
        return None
    best = min(known, key=lambda scale: scale.relative)
    return {"taken_from": best.source, "percent": round(100 * Z95 * best.relative, 1)}


def preview(take: Take, frame: int, moved: list[services.PlacedMark]) -> dict[str, Any]:
    """What one frame would measure with some marks elsewhere: for the eye, while they are dragged.

    Nothing is stored. Values by measure, None where it can't be told; and the rim.
    """
    marks = services.moved_on(take, frame, moved)
    standard = services.standard_for(take)
    now = frame_now(
        marks,
        services.phases_of(take),
        frame,
        TakeContext(take.view, standard.instrument, take.known_mm),
    )
    return {
        "values": {
            name: None if np.isnan(value) else round(value, 3) for name, value in now.values.items()
        },
        "rim": None if now.rim is None else list(now.rim),
    }
