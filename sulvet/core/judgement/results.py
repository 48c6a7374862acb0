"""What judging gives: readings, findings, and how sure of them it is.

Four answers: ``in band``, ``watch``, ``fault``, ``can't tell``. A fault is only
called when the distance outside the band exceeds the 95 % uncertainty, and nothing
is said to be in band of which that uncertainty leaves too much open.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
from sulvet.core.judgement.common import common
from sulvet.core.judgement.focus import Candidate, choose
from sulvet.core.judgement.schema import Band, Condition
from sulvet.core.language import said
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.series import Series
from sulvet.core.measures.view import FaceView

IN_BAND, WATCH, FAULT, CANT_TELL = "in band", "watch", "fault", "can't tell"
NO_BAND = "no band"
#: Findings in the order in which they are told: the surest first.
SURENESS = {FAULT: 0, WATCH: 1, CANT_TELL: 2}
#: Half width of a 95 % interval in standard deviations.
Z95 = 1.96
#: Why a reading has a value and can't be told: of marks, of a tone, of a photo from close by.
UNSURE = (
    "The reading is too uncertain. Place the marks yourself, or film closer, with a "
    "relaxed face first."
)
UNSTEADY = "The tone is too uneven to tell. Record it again, nearer to the phone."
UNSHARP = "The reading is too uncertain. Take the photo again, straight on and from closer."


@dataclass(frozen=True)
class Worst:
    """Of several phases of one name the one in which a measure is farthest out.

    nth  which, from 1;  of  how many there are
    """

    nth: int
    of: int
    value: float
    uncertainty: float


@dataclass(frozen=True)
class Reading:
    """A measured value of one phase ± its 95 % uncertainty.

    Where the verdict is "can't tell" ``reason`` says why and what to film. value and
    uncertainty are then None, or so unsure a value that a fault may be behind it.
    worst  where the reading is over several holds, the worst of them
    """

    measure: str
    phase: str
    value: float | None
    uncertainty: float | None
    unit: str
    verdict: str
    reason: str = ""
    worst: Worst | None = None


@dataclass(frozen=True)
class Evidence:
    """One measured thing a finding rests on."""

    measure: str
    value: float
    uncertainty: float
    limit: float
    edge: float
    unit: str


@dataclass(frozen=True)
class Finding:
    """A fault, a thing to watch, or why it can't be told.

    holds  in which of several holds it is found, from 1; empty where there is only one
    """

    fault: str
    verdict: str
    phase: str
    start: float | None
    end: float | None
    worst_frame: int | None
    evidence: tuple[Evidence, ...]
    reason: str = ""
    holds: tuple[int, ...] = ()


@dataclass(frozen=True)
class Judgement:
    """All that follows from the marks, the phases and the standard.

    series  by measure, in the order of the table; motion along its own phase
    view    the marks of a front take in the face frame, ``side`` those of a side take; None
            without a usable rest face
    scales  what millimetres rest on
    """

    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]
    series: dict[str, Series]
    focus: str | None
    view: FaceView | None
    scales: Scales
    side: SideView | None = None


def candidate(found: Finding) -> Candidate:
    """A finding as the choice of the focus sees it."""
    return Candidate(found.fault, found.phase, severity(found.evidence))


def severity(evidence: Iterable[Evidence]) -> float:
    """How far beyond the band's edge, in widths of the margin to the limit or of the
    uncertainty, whichever is wider; the farthest of several, 0 without evidence."""
    return max(
        (abs(e.value - e.edge) / max(abs(e.limit - e.edge), e.uncertainty, 1e-9) for e in evidence),
        default=0.0,
    )


def in_order(findings: Iterable[Finding]) -> tuple[Finding, ...]:
    """Findings in the order in which to fix them: faults first, what can't be told last."""
    place = common().place
    return tuple(
        sorted(findings, key=lambda f: (SURENESS[f.verdict], place(f.fault), f.start or 0.0))
    )


def focus_among(findings: Iterable[Finding]) -> str | None:
    """The one to fix first, while the teacher has said nothing."""
    return choose([candidate(f) for f in findings if f.verdict == FAULT]).fault


def band_view(measure: str, view: str) -> str:
    """The view whose band judges a measure of a take that was filmed from ``view``."""
    return "sound" if catalogue().measure(measure).source == "sound" else view


def verdict(value: float, uncertainty: float, band: Band | None) -> str:
    """One value against one band.

    >>> band = Band(measure="corner_rise", high=3.0, watch_high=2.0, note="")
    >>> [verdict(v, 1.0, band) for v in (2.0, 4.0, 6.0)]
    ['in band', 'watch', 'fault']
    >>> verdict(6.0, 4.0, band)
    'watch'
    >>> [verdict(2.0, u, band) for u in (4.9, 5.1)]
    ['in band', "can't tell"]
    >>> band = Band(measure="rim_offset", low=-3, high=3, watch_low=2, watch_high=2, note="")
    >>> [verdict(v, 6.0, band) for v in (0.0, 2.5, 3.5, 8.5, 10.0)]
    ["can't tell", "can't tell", 'watch', 'watch', 'fault']
    >>> verdict(3.5, 7.0, band)
    "can't tell"
    """
    if band is None:
        return NO_BAND
    if band.high is not None and value > band.high:
        outside, watch = value - band.high, band.watch_high
    elif band.low is not None and value < band.low:
        outside, watch = band.low - value, band.watch_low
    else:
        return CANT_TELL if _too_unsure(value, uncertainty, band) else IN_BAND
    if outside > watch and outside > uncertainty:
        return FAULT
    return CANT_TELL if _spans(value, uncertainty, band) else WATCH


def _too_unsure(value: float, uncertainty: float, band: Band) -> bool:
    """Whether a value in band is so unsure that a clear fault may be behind it: of a band with
    two edges even in its middle, of one with a single edge twice as far out as one is called."""
    if band.low is not None and band.high is not None:
        return uncertainty > (band.high - band.low) / 2 + max(band.watch_low, band.watch_high)
    if band.high is not None:
        return value + uncertainty > band.high + 2 * band.watch_high
    return band.low is not None and value - uncertainty < band.low - 2 * band.watch_low


def _spans(value: float, uncertainty: float, band: Band) -> bool:
    """Whether an interval reaches out of a band with two edges on either side: then it tells
    neither that something is wrong nor what."""
    if band.low is None or band.high is None:
        return False
    return value - uncertainty < band.low and value + uncertainty > band.high


def judged(reading: Reading, band: Band | None) -> Reading:
    """A reading that has a value, with its verdict by this band."""
    assert reading.value is not None and reading.uncertainty is not None
    answer = verdict(reading.value, reading.uncertainty, band)
    return replace(reading, verdict=answer, reason=_why(reading) if answer == CANT_TELL else "")


def _why(reading: Reading) -> str:
    measure = catalogue().measure(reading.measure)
    if measure.source == "sound":
        return said(UNSTEADY)
    return said(UNSHARP if measure.view == "close-up" else UNSURE)


def nearer_edge(limit: float, above: bool, band: Band | None) -> float:
    """The edge a value beyond a limit must stand clear of: the band's or the limit itself."""
    if above:
        return limit if band is None or band.high is None else min(band.high, limit)
    return limit if band is None or band.low is None else max(band.low, limit)


def outside_band(
    condition: Condition, reading: Reading, band: Band | None
) -> tuple[bool, Evidence] | None:
    """Whether a reading lies above its band, and the evidence; None where the condition
    does not look, in band, or without a band."""
    value, half_width = reading.value, reading.uncertainty
    if band is None or value is None or half_width is None:
        return None
    if reading.verdict in (IN_BAND, CANT_TELL):
        return None
    high = band.high is not None and value > band.high
    if condition.outside not in ("either", "high" if high else "low"):
        return None
    edge = band.high if high else band.low
    assert edge is not None
    limit = edge + band.watch_high if high else edge - band.watch_low
    return high, Evidence(condition.measure, value, half_width, limit, edge, reading.unit)
