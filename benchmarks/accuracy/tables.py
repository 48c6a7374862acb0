"""Rows of the accuracy page's tables."""

from __future__ import annotations

from benchmarks.accuracy.score import FaultScore, MeasureScore
from sulvet.core.judgement.common import common
from sulvet.core.measures.catalogue import catalogue


def _number(value: float, unit: str) -> str:
    digits = 3 if unit in ("ratio", "share", "MW") else 2
    return f"{value:.{digits}f} {unit}"


def measure_rows(measures: list[MeasureScore], aims: dict[str, float]) -> str:
    """One row a measure: takes, median, 95th percentile, aim, how often the interval holds."""
    names = {m.id: m.name for m in catalogue().measures}
    rows = []
    for m in measures:
        aim = aims.get(m.measure)
        told = "" if aim is None else f"{aim:g}{' (missed)' if m.high > aim else ''}"
        rows.append(
            f"| {names[m.measure]} | {len(m.errors)} | {_number(m.median, m.unit)} | "
            f"{_number(m.high, m.unit)} | {told} | {m.held:.0%} |"
        )
    return "\n".join(rows)


def fault_rows(faults: list[FaultScore]) -> str:
    """One row a fault: takes, called, watch, missed, can't tell, false alarms."""
    names = {fault.id: fault.name for fault in common().faults}
    return "\n".join(
        f"| {names[f.fault]} | {f.called + f.watched + f.missed + f.untold} | {f.called} | "
        f"{f.watched} | {f.missed} | {f.untold} | {f.false} of {f.clean} |"
        for f in faults
    )


def together(scores: list[FaultScore]) -> str:
    """How many faults were called, and how many false ones, in one sentence."""
    called, untold = sum(f.called for f in scores), sum(f.untold for f in scores)
    total = called + untold + sum(f.watched + f.missed for f in scores)
    false, clean = sum(f.false for f in scores), sum(f.clean for f in scores)
    return (
        f"Together: {called} of {total} called ({called / max(total, 1):.0%}), {untold} can't "
        f"tell; {false} false alarms in {clean} ({false / max(clean, 1):.1%})."
    )
