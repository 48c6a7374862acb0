"""The JSON that leaves Sulvet: take, marks, phases, readings, findings."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np

from sulvet.core import ENGINE_VERSION
from sulvet.core.anatomy.marks import SOURCES, Marks
from sulvet.core.judgement.results import Finding, Judgement, Reading
from sulvet.core.phases import Phase


def points(marks: Marks, row: int) -> dict[str, dict[str, Any]]:
    """One frame's known points, pixels of the upright picture."""
    return {
        name: {
            "x": round(float(marks.xy[row, column, 0]), 3),
            "y": round(float(marks.xy[row, column, 1]), 3),
            "sigma": round(float(marks.sigma[row, column]), 3),
            "source": SOURCES[marks.source[row, column]],
            "hidden": bool(marks.hidden[row, column]),
        }
        for column, name in enumerate(marks.ids)
        if np.isfinite(marks.xy[row, column, 0])
    }


def reading(item: Reading) -> dict[str, Any]:
    """A reading with rounded figures."""
    return {
        "measure": item.measure,
        "phase": item.phase,
        "value": _round(item.value),
        "uncertainty": _round(item.uncertainty),
        "unit": item.unit,
        "verdict": item.verdict,
        "reason": item.reason,
        "worst": _rounded(asdict(item.worst)) if item.worst else None,
    }


def finding(item: Finding) -> dict[str, Any]:
    """A finding with its evidence."""
    return {
        "fault": item.fault,
        "verdict": item.verdict,
        "phase": item.phase,
        "start": _round(item.start),
        "end": _round(item.end),
        "worst_frame": item.worst_frame,
        "evidence": [_rounded(asdict(e)) for e in item.evidence],
        "reason": item.reason,
        "holds": list(item.holds),
    }


def _rounded(row: dict[str, Any]) -> dict[str, Any]:
    return {k: _round(v) if isinstance(v, float) else v for k, v in row.items()}


def document(
    take: dict[str, Any], marks: Marks, phases: list[Phase], judged: Judgement
) -> dict[str, Any]:
    """The full report; its keys are described in docs/formats.md."""
    return {
        "take": {**take, "engine": ENGINE_VERSION},
        "marks": [
            {
                "frame": int(marks.frames[row]),
                "seconds": round(float(marks.seconds[row]), 6),
                "points": points(marks, row),
            }
            for row in range(len(marks))
        ],
        "phases": [asdict(phase) for phase in phases],
        "readings": [reading(item) for item in judged.readings],
        "findings": [finding(item) for item in judged.findings],
    }


def _round(value: float | None) -> float | None:
    return None if value is None else round(float(value), 4)
