"""From many takes read to the table: errors, coverage, and what was called."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context

import numpy as np

from benchmarks.accuracy.reading import Read, read
from benchmarks.accuracy.takes import CASES
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import CANT_TELL, FAULT
from sulvet.core.measures.catalogue import catalogue

#: What is aimed at, 95th percentile of the error, in the readings' units.
AIMS: dict[str, float] = {
    "corner_rise": 1.5,
    "mouth_width": 0.02,
    "rim_upper_share": 0.03,
    "rim_offset": 0.02,
    "cheek_out_r": 1.0,
    "cheek_out_l": 1.0,
    "chin_hollow_mm": 0.5,
    "lower_red": 0.08,
    "upper_red": 0.08,
    "lower_red_side": 0.08,
    "upper_red_side": 0.08,
    "aperture_height": 0.4,
    "depth": 1.0,
    "instrument_angle": 2.0,
    "shank_angle": 2.0,
    "stillness": 0.4,
}


@dataclass(frozen=True)
class MeasureScore:
    """How one measure fared: errors, and how often the interval held the truth."""

    measure: str
    unit: str
    errors: tuple[float, ...]
    widths: tuple[float, ...]

    @property
    def median(self) -> float:
        """Median of the error."""
        return float(np.median(np.abs(self.errors)))

    @property
    def high(self) -> float:
        """95th percentile of the error."""
        return float(np.percentile(np.abs(self.errors), 95))

    @property
    def held(self) -> float:
        """Share of takes whose 95 % interval holds the truth."""
        inside = np.abs(self.errors) <= np.array(self.widths)
        return float(inside.mean())


@dataclass(frozen=True)
class FaultScore:
    """How one fault fared: counts of takes in which it was drawn, and in which it was not."""

    fault: str
    called: int
    watched: int
    untold: int
    missed: int
    false: int
    clean: int


def read_all(
    read_one: Callable[[int], Read] = read, count: int = len(CASES), workers: int = 2
) -> list[Read]:
    """Every take, read."""
    with ProcessPoolExecutor(workers, get_context("spawn")) as pool:
        return list(pool.map(read_one, range(count), chunksize=2))


def measures(reads: list[Read]) -> list[MeasureScore]:
    """Scores of all measures that have a truth, in the order of the staves."""
    rows: dict[str, list[tuple[float, float]]] = defaultdict(list)
    units = {}
    for one in reads:
        if one.case.turned or one.judged is None:
            continue
        for reading in one.judged.readings:
            true = one.truth.get((reading.phase, reading.measure))
            wanted = "breathe" if reading.measure == "rim_gap" else "hold"
            if reading.phase != wanted or reading.value is None or true is None:
                continue
            assert reading.uncertainty is not None
            rows[reading.measure].append((reading.value - true, reading.uncertainty))
            units[reading.measure] = reading.unit
    return [
        MeasureScore(m.id, units[m.id], *(tuple(v) for v in zip(*rows[m.id], strict=True)))
        for m in catalogue().measures
        if m.id in rows
    ]


def _could_tell(one: Read, fault: str) -> bool:
    """Whether all that some rule for a fault rests on has a value in this take."""
    if one.judged is None:
        return False
    case = one.case
    told = {(r.phase, r.measure) for r in one.judged.readings if r.value is not None}
    return any(
        rule.fault == fault
        and rule.view == case.view
        and any(all((p, c.measure) in told for c in rule.all) for p in rule.phases)
        for rule in common().rules
    )


def faults(reads: list[Read]) -> list[FaultScore]:
    """Scores of all faults that some take draws."""
    out = []
    drawn = {one.case.fault for one in reads if one.case.fault}
    for fault in common().faults:
        counts: dict[str, int] = defaultdict(int)
        for one in reads:
            case = one.case
            findings = one.judged.findings if one.judged else ()
            verdicts = [f.verdict for f in findings if f.fault == fault.id]
            called = FAULT in verdicts
            if case.fault == fault.id:
                if called:
                    counts["called"] += 1
                elif "watch" in verdicts:
                    counts["watched"] += 1
                elif CANT_TELL in verdicts or not _could_tell(one, fault.id):
                    counts["untold"] += 1
                else:
                    counts["missed"] += 1
            elif fault.id not in case.also and _could_tell(one, fault.id):
                counts["clean"] += 1
                counts["false"] += called
        if fault.id in drawn or counts["false"]:
            out.append(
                FaultScore(
                    fault=fault.id,
                    called=counts["called"],
                    watched=counts["watched"],
                    untold=counts["untold"],
                    missed=counts["missed"],
                    false=counts["false"],
                    clean=counts["clean"],
                )
            )
    return out
