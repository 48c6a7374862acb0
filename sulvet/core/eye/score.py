"""What a round of judging says of a judge: hits and false alarms, sensitivity and bias, the degree
that is seen half of the time, and agreement.

Sensitivity d' and bias c of signal detection with equal variances: D. Green and J. Swets, "Signal
Detection Theory and Psychophysics", 1966; the variance of d' after G. Gourevitch and E. Galanter,
Psychometrika 32 (1967); a rate of 0 or 1 counts as half a trial less extreme (N. Macmillan and
H. Kaplan, Psychological Bulletin 98, 1985). All from memory.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import scipy

from sulvet.core.eye.catalogue import fault_name, faults_on
from sulvet.core.eye.loop import UNTOLD, Loop
from sulvet.core.eye.schema import cases, figures
from sulvet.core.judgement.agreement import Counts, Kappa, kappa

#: A slope steeper than any eye's: keeps a fit finite where every answer is right.
RIDGE = 0.02


@dataclass(frozen=True)
class Answer:
    """What somebody said of a loop.

    faults  what was seen; none for "nothing";  untold  "can't be told from here"
    """

    loop: Loop
    faults: frozenset[str] = frozenset()
    untold: bool = False

    @property
    def right(self) -> bool:
        """Whether it is all that is true of the loop and nothing else."""
        if self.loop.kind == UNTOLD or self.untold:
            return self.loop.kind == UNTOLD and self.untold
        return self.faults == set(self.loop.faults)


@dataclass(frozen=True)
class Trials:
    """Takes with and without something, and how often it was said of each."""

    hits: int
    present: int
    alarms: int
    absent: int


@dataclass(frozen=True)
class Sensitivity:
    """How well something is seen: d' with its 95 % interval, and the bias c, positive where it is
    rather not said."""

    value: float
    low: float
    high: float
    bias: float


def sensitivity(trials: Trials) -> Sensitivity | None:
    """Of enough trials of both kinds; None otherwise.

    >>> round(sensitivity(Trials(80, 100, 20, 100)).value, 3)
    1.683
    """
    enough = figures().score.enough
    if trials.present < enough or trials.absent < enough:
        return None
    hit, alarm = _rate(trials.hits, trials.present), _rate(trials.alarms, trials.absent)
    z_hit, z_alarm = float(scipy.stats.norm.ppf(hit)), float(scipy.stats.norm.ppf(alarm))
    density_hit, density_alarm = scipy.stats.norm.pdf([z_hit, z_alarm])
    variance = hit * (1 - hit) / (trials.present * density_hit**2)
    variance += alarm * (1 - alarm) / (trials.absent * density_alarm**2)
    value, spread = z_hit - z_alarm, 1.96 * float(np.sqrt(variance))
    return Sensitivity(value, value - spread, value + spread, -(z_hit + z_alarm) / 2)


def _rate(said: int, count: int) -> float:
    return min(max(said / count, 0.5 / count), 1 - 0.5 / count)


@dataclass(frozen=True)
class FaultScore:
    """How one fault is seen or heard.

    name     its words
    seen_at  of a strong one so much is seen half of the time, 0 to 1; None while it can't be told
    kappa    agreement with the truth; None with too few takes
    """

    fault: str
    name: str
    trials: Trials
    sensitivity: Sensitivity | None
    seen_at: float | None
    kappa: Kappa | None


def by_fault(answers: Sequence[Answer]) -> list[FaultScore]:
    """Each fault that some loop could have shown, those with most to learn first."""
    named = {fault for one in answers for fault in _possible(one.loop)}
    scores = [_score(fault, answers) for fault in sorted(named)]
    return sorted(scores, key=lambda one: (-mistakes(one.trials), one.fault))


def mistakes(trials: Trials) -> float:
    """Share of wrong answers, missed and invented ones counted alike; 0 of no trials."""
    missed = 1 - trials.hits / trials.present if trials.present else 0.0
    invented = trials.alarms / trials.absent if trials.absent else 0.0
    return (missed + invented) / 2


def _possible(loop: Loop) -> tuple[str, ...]:
    """Faults that a loop could show."""
    return () if loop.kind == UNTOLD else faults_on(loop.instrument, loop.view)


def _score(fault: str, answers: Sequence[Answer]) -> FaultScore:
    # "Can't be told" of a take that can show it is not seeing it.
    asked = [one for one in answers if fault in _possible(one.loop)]
    present = [one for one in asked if fault in one.loop.faults]
    absent = [one for one in asked if fault not in one.loop.faults]
    hits = sum(fault in one.faults for one in present)
    alarms = sum(fault in one.faults for one in absent)
    trials = Trials(hits, len(present), alarms, len(absent))
    counts = Counts(hits, len(present) - hits, alarms, len(absent) - alarms)
    name = fault_name(fault, asked[0].loop.instrument)
    return FaultScore(
        fault, name, trials, sensitivity(trials), seen_at(fault, present), kappa(counts)
    )


def seen_at(fault: str, present: Sequence[Answer]) -> float | None:
    """How much of a strong fault is seen half of the time: a logistic curve through what was seen
    at which degree; None where every or no degree is seen, or with too few answers."""
    amounts = np.array([cases().degrees[one.loop.degree or 0] for one in present])
    said = np.array([fault in one.faults for one in present], float)
    if len(said) < 2 * figures().score.enough or said.all() or not said.any():
        return None

    def cost(line: np.ndarray[tuple[int], np.dtype[np.float64]]) -> float:
        x = line[0] + line[1] * amounts
        return float(np.sum(np.logaddexp(0, x) - said * x) + RIDGE * line[1] ** 2)

    start, slope = scipy.optimize.minimize(cost, np.array([-1.0, 2.0])).x
    if slope <= 0:
        return None
    half = float(-start / slope)
    return half if 0 < half < 1.5 else None


def with_oneself(pairs: Sequence[tuple[Answer, Answer]]) -> Kappa | None:
    """Agreement of two answers to the same loops, fault by fault."""
    both = first = second = neither = 0
    for one, other in pairs:
        for fault in _possible(one.loop):
            a, b = fault in one.faults, fault in other.faults
            both, neither = both + (a and b), neither + (not a and not b)
            first, second = first + (a and not b), second + (b and not a)
    return kappa(Counts(both, first, second, neither))
