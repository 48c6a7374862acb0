"""What has changed between two takes, in a sentence that claims no more than was measured."""

from __future__ import annotations

import math
from dataclasses import dataclass

from sulvet.core.judgement.schema import Band
from sulvet.core.language import said
from sulvet.core.measures.catalogue import Measure
from sulvet.core.measures.units import in_words

BETTER, WORSE, OTHER, SAME, CANT_TELL = (
    "clearly better", "clearly worse", "clearly different", "no clear change", "can't tell",
)  # fmt: skip


@dataclass(frozen=True)
class Value:
    """A reading: value and 95 % uncertainty; None where it can't be told."""

    value: float | None
    uncertainty: float | None
    unit: str


@dataclass(frozen=True)
class Change:
    """Now less then, its 95 % uncertainty, and what that says."""

    delta: float | None
    uncertainty: float | None
    answer: str
    sentence: str


def outside(value: float, band: Band | None) -> float:
    """How far a value lies outside its band; 0 inside it, or without one."""
    if band is None:
        return 0.0
    low = -math.inf if band.low is None else band.low
    high = math.inf if band.high is None else band.high
    return max(low - value, value - high, 0.0)


def change(then: Value, now: Value, measure: Measure, band: Band | None) -> Change:
    """Compare two readings of one measure.

    The two are independent, so their uncertainties add as squares (JCGM 100:2008, 5.1.2). A
    change counts as clear when it exceeds that, as better or worse when the distance from
    the band has changed by more than that as well.

    >>> from sulvet.core.measures.catalogue import catalogue
    >>> measure = catalogue().measure("corner_rise")
    >>> band = Band(measure="corner_rise", low=-6.0, high=3.0, note="")
    >>> change(Value(9.0, 0.9, "deg"), Value(2.8, 0.7, "deg"), measure, band).sentence
    'Corners lower by 6.2 ± 1.1 degrees: clearly better.'
    """
    if then.value is None or now.value is None or then.unit != now.unit:
        if then.value is None and now.value is None:
            words = said("{name}: can't tell, neither take shows it.")
        elif then.value is None:
            words = said("{name}: can't tell, the older take does not show it.")
        else:
            words = said("{name}: can't tell, the newer take does not show it.")
        return Change(None, None, CANT_TELL, words.format(name=measure.name))
    delta = now.value - then.value
    half_width = math.hypot(then.uncertainty or 0.0, now.uncertainty or 0.0)
    nearer = outside(then.value, band) - outside(now.value, band)
    if abs(delta) <= half_width:
        answer = SAME
    elif abs(nearer) > half_width:
        answer = BETTER if nearer > 0 else WORSE
    else:
        answer = OTHER
    return Change(
        delta, half_width, answer, _sentence(delta, half_width, answer, measure, now.unit)
    )


def _sentence(delta: float, half_width: float, answer: str, measure: Measure, unit: str) -> str:
    figures = in_words(unit, measure.decimals, abs(delta), half_width)
    way, subject = measure.more if delta > 0 else measure.less, measure.subject or measure.name
    if answer == SAME:
        sign = "−" if delta < 0 else "+"
        words = said("{subject}: no clear change ({figures}).")
        return words.format(subject=subject, figures=sign + figures)
    words = said("{subject} {way} by {figures}: {answer}.")
    return words.format(subject=subject, way=way, figures=figures, answer=said(answer))
