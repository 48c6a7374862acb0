"""How far teacher and program agree on a fault, and what that suggests for a band.

Cohen's kappa is the agreement beyond chance: J. Cohen, "A coefficient of agreement for
nominal scales", Educational and Psychological Measurement 20 (1960). Its standard error
is the large-sample one of J. Fleiss, J. Cohen and B. Everitt, Psychological Bulletin 72
(1969), both from memory.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA


class _Figures(Strict):
    version: int
    least_takes: int
    least_dismissed: int
    share_dismissed: float


_FIGURES = read_table(DATA / "shared" / "agreement.toml", _Figures)
#: Fewer judged takes than this say nothing.
ENOUGH = _FIGURES.least_takes
#: A band is only questioned when so many of its faults were dismissed, and this share.
LEAST_DISMISSED, SHARE_DISMISSED = _FIGURES.least_dismissed, _FIGURES.share_dismissed


@dataclass(frozen=True)
class Counts:
    """Takes by what program and teacher say of one fault.

    both      both see it
    program   only the program: dismissed
    teacher   only the teacher: added
    neither   neither, on takes that can show it
    """

    both: int = 0
    program: int = 0
    teacher: int = 0
    neither: int = 0

    @property
    def total(self) -> int:
        """All takes."""
        return self.both + self.program + self.teacher + self.neither


@dataclass(frozen=True)
class Kappa:
    """Agreement beyond chance with its 95 % interval; None where it can't be told."""

    value: float
    low: float
    high: float


def kappa(counts: Counts) -> Kappa | None:
    """Cohen's kappa; None with too few takes, or when one side always says the same.

    >>> round(kappa(Counts(20, 5, 10, 15)).value, 2)
    0.4
    """
    n = counts.total
    if n < ENOUGH:
        return None
    table = np.array([[counts.both, counts.program], [counts.teacher, counts.neither]]) / n
    rows, columns = table.sum(axis=1), table.sum(axis=0)
    observed, chance = float(np.trace(table)), float(rows @ columns)
    if chance > 1 - 1e-9 or 0 in rows or 0 in columns:
        return None
    value = (observed - chance) / (1 - chance)
    diagonal = sum(
        table[i, i] * ((1 - chance) - (rows[i] + columns[i]) * (1 - observed)) ** 2
        for i in range(2)
    )
    off = (1 - observed) ** 2 * sum(
        table[i, j] * (columns[i] + rows[j]) ** 2 for i in range(2) for j in range(2) if i != j
    )
    rest = (observed * chance - 2 * chance + observed) ** 2
    sigma = float(np.sqrt(max(diagonal + off - rest, 0.0) / n)) / (1 - chance) ** 2
    return Kappa(value, max(value - 1.96 * sigma, -1.0), min(value + 1.96 * sigma, 1.0))


@dataclass(frozen=True)
class Suggestion:
    """An edge that would fit what the teacher confirmed and dismissed."""

    figure: str
    edge: float


def suggest(
    confirmed: list[float], dismissed: list[float], low: float | None, high: float | None
) -> Suggestion | None:
    """Where an edge of a band would have to lie to leave the dismissed values in band.

    confirmed, dismissed  values of the measure on takes where the fault was so answered

    None unless clearly more were dismissed, all on one side, and the confirmed ones lie
    farther out: a suggestion, never a change.
    """
    judged = len(confirmed) + len(dismissed)
    if len(dismissed) < LEAST_DISMISSED or len(dismissed) < SHARE_DISMISSED * judged:
        return None
    if high is not None and all(v > high for v in dismissed):
        edge = max(dismissed)
        if not confirmed or min(confirmed) > edge:
            return Suggestion("high", edge)
    if low is not None and all(v < low for v in dismissed):
        edge = min(dismissed)
        if not confirmed or max(confirmed) < edge:
            return Suggestion("low", edge)
    return None
