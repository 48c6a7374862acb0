"""The part of docs/accuracy.md about close-ups of reeds."""

from __future__ import annotations

import numpy as np

from benchmarks.accuracy.closeups import CASES, MEANT, SIZE, Read, read_all
from sulvet.core.equipment.kinds import errors
from sulvet.core.judgement.results import Z95
from sulvet.core.measures.catalogue import catalogue

TITLE = "## Reeds from close by"
#: What was aimed for, 95th percentile.
AIMS = {"reed_tip": 0.15, "reed_skew": 1.0, "ligature_gap": 0.4}


def section() -> str:
    """Photograph, mark and measure them all; the section's text."""
    reads = read_all()
    right, false, wanted = _findings(reads)
    return f"""{TITLE}

{len(CASES)} made-up photos with exact truth, {SIZE[0]}x{SIZE[1]}: clarinet and saxophone
mouthpieces with their reeds, bassoon and oboe reeds from the tip; lights, distances and a camera
up to some degrees off drawn by lot, none of them the demo's. A hand that errs by
{errors().click_px:.0f} pixels places at most 8 marks, and says what it can't see. The program
was set on close-ups of other seeds.

| measure | close-ups | median error | 95th percentile | aim | held |
|---|---|---|---|---|---|
{_rows(reads)}

Findings: {right} of {len(wanted)} close-ups with something wrong gave just that finding, and
{false} of {len(CASES) - len(wanted)} right ones gave one (the aim is 95 % and none). Where the reed
covers the mouthpiece's tip or side, or the ligature the cut, there is nothing to measure: the
finding rests on the teacher's word for it.

The opening's width and the scale of double reeds rest on two corners that no edge helps to
place; the roll on two marks of a crook that comes toward the lens. Real mouthpieces have round
tips, worn edges and reflections that made-up ones have not: expect worse on real photos.
"""


def _rows(reads: list[Read]) -> str:
    names = {m.id: m.name for m in catalogue().measures}
    rows = []
    for measure, unit in ((m.id, m.unit) for m in catalogue().of_source("photo")):
        pairs = np.array([
            (abs(value.value - one.truth[measure]), Z95 * value.sd)
            for one in reads
            if measure in one.truth and (value := one.measured.values.get(measure)) is not None
        ])  # fmt: skip
        aim = AIMS.get(measure)
        high = float(np.percentile(pairs[:, 0], 95))
        told = "" if aim is None else f"{aim:g}{' (missed)' if high > aim else ''}"
        held = float((pairs[:, 0] <= pairs[:, 1]).mean())
        figures = 3 if unit == "ratio" else 2
        rows.append(
            f"| {names[measure]} | {len(pairs)} | {np.median(pairs[:, 0]):.{figures}f} {unit} | "
            f"{high:.{figures}f} {unit} | {told} | {held:.0%} |"
        )
    return "\n".join(rows)


def _findings(reads: list[Read]) -> tuple[int, int, list[Read]]:
    """How many wrong ones gave just what is wrong, how many right ones gave anything, and the
    wrong ones."""
    wanted = [one for one in reads if CASES[one.number][1] in MEANT]
    right = sum(one.found == (MEANT[CASES[one.number][1]],) for one in wanted)
    false = sum(bool(one.found) for one in reads if one not in wanted)
    return right, false, wanted
