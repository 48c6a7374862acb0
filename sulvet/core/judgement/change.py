"""What has changed between two takes, in a sentence that claims no more than was measured."""

from __future__ import annotations

import math
from dataclasses import dataclass

from sulvet.core.judgement.standards import Band, MeasureWords

BETTER, WORSE, OTHER, SAME, CANT_TELL = (
    "clearly better", "clearly worse", "clearly different", "no clear change", "can't tell",
)  # fmt: skip
UNITS = {
    "deg": " degrees", "ratio": " of rest", "share": " of the rim", "MW": " mouth widths",
    "% MW": " % of the mouth's width", "%": " hundredths of lip to chin", "count": "",
    "cents/s": " cents a second",
}  # fmt: skip


@dataclass(frozen=True)
class Told:
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


def change(then: Told, now: Told, words: MeasureWords, band: Band | None) -> Change:
    """Compare two readings of one measure.

    The two are independent, so their uncertainties add as squares (JCGM 100:2008, 5.1.2). A
    change counts as clear when it exceeds that, as better or worse when the distance from
    the band has changed by more than that as well.

    >>> words = MeasureWords(id="corner_rise", name="Corner rise", stave="Corners", decimals=1,
    ...                      explains="", subject="Corners", less="lower", more="higher")
    >>> band = Band(measure="corner_rise", low=-6.0, high=3.0, note="")
    >>> change(Told(9.0, 0.9, "deg"), Told(2.8, 0.7, "deg"), words, band).sentence
    'Corners 6.2 ± 1.1 degrees lower: clearly better.'
    """
    if then.value is None or now.value is None or then.unit != now.unit:
        which = "either take" if then.value is None and now.value is None else (
            "the older take" if then.value is None else "the newer take"
        )  # fmt: skip
        return Change(None, None, CANT_TELL, f"{words.name}: can't tell, {which} does not show it.")
    delta = now.value - then.value
    spread = math.hypot(then.uncertainty or 0.0, now.uncertainty or 0.0)
    nearer = outside(then.value, band) - outside(now.value, band)
    if abs(delta) <= spread:
        answer = SAME
    elif abs(nearer) > spread:
        answer = BETTER if nearer > 0 else WORSE
    else:
        answer = OTHER
    return Change(delta, spread, answer, _sentence(delta, spread, answer, words, now.unit))


def _sentence(delta: float, spread: float, answer: str, words: MeasureWords, unit: str) -> str:
    told = UNITS.get(unit, f" {unit}")
    figures = f"{abs(delta):.{words.decimals}f} ± {spread:.{words.decimals}f}{told}"
    way, subject = words.more if delta > 0 else words.less, words.subject or words.name
    if answer == SAME:
        signed = f"{delta:+.{words.decimals}f}".replace("-", "−")
        return f"{subject}: {SAME} ({signed} ± {spread:.{words.decimals}f}{told})."
    return f"{subject} {figures} {way}: {answer}."
