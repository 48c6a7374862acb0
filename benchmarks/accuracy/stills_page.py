"""The part of docs/accuracy.md about photos."""

from __future__ import annotations

from benchmarks.accuracy import score
from benchmarks.accuracy.reading import Read
from benchmarks.accuracy.stills import LOOPS, SIDE, read
from benchmarks.accuracy.tables import fault_rows, measure_rows, together
from benchmarks.accuracy.unaided_page import AIMS
from sulvet.core.eye.loop import ALIKE

TITLE = "## Photos"
HEAD = (
    "| measure | photos | median error | 95th percentile | aim | held |\n|---|---|---|---|---|---|"
)
#: What has no truth on a photo.
MOVING = ("stillness", "collapse", "release")


def section() -> str:
    """Photograph and read all; the section's text."""
    return text(score.read_all(read, len(LOOPS)))


def text(reads: list[Read]) -> str:
    """The section from the takes read."""
    faults = score.faults(reads)
    alike = [one for one in reads if one.facts["kind"] == ALIKE]
    measures = [m for m in score.measures(reads) if not m.measure.startswith(MOVING)]
    rows = []
    for tone in ("light", "medium", "dark"):
        own = [one for one in reads if one.facts["skin"] == tone]
        rows.append(f"| {tone} | {len(own)} | {together(score.faults(own))} |")
    return f"""{TITLE}

{len(reads)} takes of two photos each, the relaxed face and the playing mouth, {SIDE} pixels wide,
without a mark: half of the library for practising the eye, every instrument, strong faults,
players who do it right, and {len(alike)} that only look like a fault. What only movement shows is
not judged.
No threshold was set on them. {sum(one.judged is not None for one in reads)} could be read.

{HEAD}
{measure_rows(measures, AIMS)}

| fault | takes | called | watch | missed | can't tell | false alarms |
|---|---|---|---|---|---|---|
{fault_rows(faults)}

{together(faults)}

| skin | takes | |
|---|---|---|
{chr(10).join(rows)}
"""
