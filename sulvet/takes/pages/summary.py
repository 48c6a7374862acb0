"""A take in one line: in lists, on chairs, in a history."""

from __future__ import annotations

import datetime
from dataclasses import dataclass
from typing import Any, Literal, cast

from sulvet.core.drawing.sheet import Drawing, Shape
from sulvet.core.judgement.coverage import Coverage
from sulvet.core.judgement.focus import CAUTION, SET_UP, Focus
from sulvet.core.judgement.results import CANT_TELL, WATCH, Evidence, severity
from sulvet.core.language import retold
from sulvet.takes.analysis import coverage_of, to_draw
from sulvet.takes.focus import TakeFindings, fault_on, findings_on, focus_of
from sulvet.takes.models import Take
from sulvet.takes.pages.shapes import Answer, Purpose, Result, TakeState, View


@dataclass(frozen=True)
class MouthDrawing:
    """A mouth to be drawn small, by the lines of its page; fields as in ``Drawing``."""

    view: View
    rest: Shape
    hold: Shape
    box: tuple[float, float, float, float]
    facing: Literal[-1, 1]


@dataclass(frozen=True)
class TakeSummary:
    """A take in one line.

    headline  of a take without findings: what was checked and what not; ``left`` the latter alone
    severity  how far out the focus stands, in widths of its margin; 0 without one
    """

    id: int
    student: int
    view: View
    purpose: Purpose
    filmed_on: datetime.date
    mirrored: bool
    original_name: str
    seconds: float | None
    state: TakeState
    stage: str
    share: float
    message: str
    read: bool
    result: Result
    headline: str
    left: str
    focus: str | None
    focus_name: str | None
    answer: Answer | None
    severity: float
    drawing: MouthDrawing | None


#: Results that leave nothing to answer.
NOTHING_FOUND = ("clear", "unchecked")
MOUTH = tuple(MouthDrawing.__dataclass_fields__)


def summary(
    take: Take, found: TakeFindings | None = None, focus: Focus | None = None
) -> TakeSummary:
    """A take in one line; ``found`` and ``focus`` where they are at hand."""
    found = found or findings_on(take)
    focus = focus or focus_of(take, found)
    decision = found.decisions.get((focus.fault or "", focus.phase))
    blamed = [f for f in found.findings if f.fault == focus.fault]
    covered = coverage_of(take)
    pressing = max((severity(Evidence(**e) for e in f.evidence) for f in blamed), default=0.0)
    return TakeSummary(
        id=take.pk,
        student=take.student_id,
        view=take.view,  # type: ignore[arg-type]
        purpose=take.purpose,  # type: ignore[arg-type]
        filmed_on=take.filmed_on,
        mirrored=take.mirrored,
        original_name=take.original_name,
        seconds=take.clip_seconds,
        state=take.state,  # type: ignore[arg-type]
        stage=take.stage,
        share=take.share,
        message=retold(take.message),
        read=take.read_at is not None,
        result=_result(take, found, focus, covered),
        headline=covered.headline if covered else "",
        left=covered.left if covered else "",
        focus=focus.fault,
        focus_name=fault_on(blamed[0]).name if blamed else None,
        answer=decision.answer if decision else None,  # type: ignore[arg-type]
        severity=round(pressing, 2),
        drawing=_mouth(take),
    )


def kept_drawing(take: Take) -> Drawing | None:
    """The drawing as it is kept, row by row of the very shape but without its lines; None if of an
    older edition."""
    kept = to_draw(take)
    return None if kept is None else cast(Drawing, kept.drawing)


def _mouth(take: Take) -> MouthDrawing | None:
    kept: Any = kept_drawing(take)
    return None if kept is None else MouthDrawing(**{name: kept[name] for name in MOUTH})


def _result(take: Take, found: TakeFindings, focus: Focus, covered: Coverage | None) -> Result:
    verdicts = {finding.verdict for finding in found.findings}
    if take.state != Take.State.READY:
        return ""
    if focus.fault is not None or focus.reason in (CAUTION, SET_UP):
        return "fault"
    if CANT_TELL in verdicts:
        return "cant-tell"
    if WATCH in verdicts:
        return "watch"
    return "unchecked" if covered is not None and covered.unchecked else "clear"
