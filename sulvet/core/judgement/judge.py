"""From series to readings and findings: a pure function of marks and standard.

Four answers: ``in band``, ``watch``, ``fault``, ``can't tell``. A fault is only
called when the distance outside the band exceeds the 95 % uncertainty.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.landmarks import CONTOUR_IDS, THINGS
from sulvet.core.anatomy.marks import Bools, Floats, Marks
from sulvet.core.judgement.standards import Band, Condition, Rule, Standard, common
from sulvet.core.measures import side
from sulvet.core.measures.series import MEASURES, Measure, Measured, Series, measure
from sulvet.core.measures.stillness import displacement, stillness
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import Phase, frames_of, runs_of

IN_BAND, WATCH, FAULT, CANT_TELL = "in band", "watch", "fault", "can't tell"
NO_BAND = "no band"
BY_MEASURE: dict[str, Measure | side.SideMeasure] = {m.id: m for m in MEASURES}
BY_MEASURE |= {m.id: m for m in side.MEASURES}
#: What to call what a measure could not see, by the thing it needs.
SEEN_AS = {"rim": "rim", "mouthpiece": "mouthpiece", "plate": "lip plate"}

#: Half width of a 95 % interval in standard deviations.
Z95 = 1.96


@dataclass(frozen=True)
class Reading:
    """A measured value of one phase ± its 95 % uncertainty.

    value and uncertainty are None when the verdict is "can't tell"; ``reason``
    then says why and what to film.
    """

    measure: str
    phase: str
    value: float | None
    uncertainty: float | None
    unit: str
    verdict: str
    reason: str = ""


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
    """A fault, a thing to watch, or why it can't be told."""

    fault: str
    verdict: str
    phase: str
    start: float | None
    end: float | None
    worst_frame: int | None
    evidence: tuple[Evidence, ...]
    reason: str = ""


@dataclass(frozen=True)
class Judged:
    """All that follows from the marks, the phases and the standard.

    view  the marks in the face frame; None without a usable rest face
    """

    readings: tuple[Reading, ...]
    findings: tuple[Finding, ...]
    series: dict[str, Series]
    focus: str | None
    view: FaceView | None


NO_REST = (
    "There is no rest phase to compare with. Set the letter “rest” where the face is relaxed, "
    "or film one or two seconds of a relaxed face before forming."
)
NO_PHASE = "The phase “{phase}” is not set. Put its letter where the tone is held."
SHORT = "The phase “{phase}” is too short to measure. Draw its letter wider."
TURNED = (
    "The head is turned about {yaw:.0f} degrees to the side. Film again straight from the front."
)
HIDDEN = (
    "The {what} can't be seen in “{phase}”. Film again so that they show, or place the "
    "marks yourself."
)
PALE = (
    "The chin does not stand out from what is behind it. Film the side before a plain wall that "
    "is clearly lighter or darker than the skin."
)
NO_FACE_AXIS = (
    "Neither the eyes nor the nose wings are marked at rest, so the head's own lean can't be "
    "taken out. Mark the nose wings on a rest frame."
)


def judge(marks: Marks, phases: list[Phase], standard: Standard, view: str, school: str) -> Judged:
    """Measure and judge one take.

    marks     landmarks over time
    phases    rehearsal marks
    standard  the instrument's standard; ``school`` is one of its schools' ids

    >>> from sulvet.core.judgement.standards import standard as load
    >>> judged = judge(Marks.empty(("ch_r", "ch_l"), [0.0, 0.1]), [], load("horn"), "front",
    ...                "two-thirds")
    >>> judged.readings[0].verdict
    "can't tell"
    """
    at_rest = frames_of(phases, "rest", marks.seconds)
    measured = side.measure(marks, at_rest) if view == "side" else measure(marks, at_rest)
    series = dict(measured.series)
    held = frames_of(phases, "hold", marks.seconds)
    if view == "front":
        series["stillness"] = _stillness_series(measured, held)
    if view == "front":
        why_not = _why_not(marks, measured, at_rest, phases)
    else:
        why_not = _why_not_side(measured, at_rest)
    readings = _readings(marks, measured, phases, standard, view, school, why_not)
    findings = []
    for rule in common().rules:
        if rule.view != view or (rule.families and standard.family not in rule.families):
            continue
        for phase in phases if phases else [None]:
            if phase is not None and phase.name not in rule.phases:
                continue
            found = _apply(rule, phase, marks, series, readings, standard, school, why_not)
            if found is not None:
                findings.append(found)
    if phases and not any(p.name == "hold" for p in phases):
        findings += [
            _cannot(rule, "hold", NO_PHASE.format(phase="hold"))
            for rule in common().rules
            if rule.view == view and (not rule.families or standard.family in rule.families)
        ]
    order = {fault.id: place for place, fault in enumerate(common().faults)}
    rank = {FAULT: 0, WATCH: 1, CANT_TELL: 2}
    findings.sort(key=lambda f: (rank[f.verdict], order[f.fault], f.start or 0.0))
    focus = next((f.fault for f in findings if f.verdict == FAULT), None)
    return Judged(tuple(readings), tuple(findings), series, focus, measured.view)


def _why_not(marks: Marks, measured: Measured, at_rest: Bools, phases: list[Phase]) -> str:
    """Why nothing can be told from this take at all, or an empty string."""
    if not at_rest.any():
        return NO_REST
    if measured.rest is None:
        axis_seen = any(
            name in marks.ids and not marks.hidden[at_rest, marks.column(name)].all()
            for name in ("ex_r", "en_r", "al_r")
        )
        if axis_seen:
            return HIDDEN.format(what="mouth corners", phase="rest")
        return NO_FACE_AXIS
    held = frames_of(phases, "hold", marks.seconds)
    for mask in (at_rest, held):
        turned = measured.yaw[mask]
        turned = np.abs(turned[np.isfinite(turned)])
        if len(turned) and np.median(turned) > common().limits.max_yaw:
            return TURNED.format(yaw=np.median(turned))
    return ""


def _why_not_side(measured: Measured, at_rest: Bools) -> str:
    """Why nothing can be told from this side take, or an empty string."""
    if not at_rest.any():
        return NO_REST
    if not np.isfinite(measured.series["head_nod"].value).any():
        return HIDDEN.format(what="profile", phase="rest")
    return ""


def _readings(
    marks: Marks,
    measured: Measured,
    phases: list[Phase],
    standard: Standard,
    view: str,
    school: str,
    why_not: str,
) -> list[Reading]:
    limits = common().limits
    readings: list[Reading] = []
    named = [phase for phase in phases if phase.name != "rest"]
    if not any(phase.name == "hold" for phase in named):
        readings += [
            Reading(
                m, "hold", None, None, _unit(m), CANT_TELL, why_not or NO_PHASE.format(phase="hold")
            )
            for m in [
                *(m for m in measured.series if not BY_MEASURE[m].thing),
                *(("stillness",) if view == "front" else ()),
            ]
        ]
    for phase in named:
        inside = phase.holds(marks.seconds)
        for name, series in measured.series.items():
            thing = BY_MEASURE[name].thing
            if thing and not has_thing(marks, thing):
                continue
            reason = "" if name == "head_roll" and measured.rest is not None else why_not
            values = series.value[inside]
            told = np.isfinite(values)
            if not reason and phase.end - phase.start < limits.min_phase_seconds:
                reason = SHORT.format(phase=phase.name)
            if not reason and told.mean() < limits.min_visible_share:
                what = SEEN_AS.get(thing, "lips" if view == "side" else "mouth corners")
                reason = HIDDEN.format(what=what, phase=phase.name)
                if set(BY_MEASURE[name].needs) <= set(CONTOUR_IDS) and BY_MEASURE[name].needs:
                    reason = PALE
            if reason:
                readings.append(
                    Reading(name, phase.name, None, None, series.unit, CANT_TELL, reason)
                )
                continue
            value = float(np.median(values[told]))
            spread = Z95 * float(np.median(series.sigma[inside][told]))
            band = standard.band(name, view, school, phase.name)
            readings.append(
                Reading(name, phase.name, value, spread, series.unit, verdict(value, spread, band))
            )
        if phase.name == "hold" and view == "front":
            readings.append(_stillness(marks, measured, phase, standard, view, school, why_not))
    return readings


def _stillness(
    marks: Marks,
    measured: Measured,
    phase: Phase,
    standard: Standard,
    view: str,
    school: str,
    why_not: str,
) -> Reading:
    inside = phase.holds(marks.seconds)
    if not why_not and (
        measured.view is None or phase.end - phase.start < common().limits.min_phase_seconds
    ):
        why_not = SHORT.format(phase=phase.name)
    if why_not or measured.view is None:
        return Reading("stillness", phase.name, None, None, _unit("stillness"), CANT_TELL, why_not)
    seen = inside.copy()
    for name in ("ch_r", "ch_l"):
        seen &= ~marks.hidden[:, marks.column(name)]
    if seen.sum() < max(3, common().limits.min_visible_share * inside.sum()):
        reason = HIDDEN.format(what="mouth corners", phase=phase.name)
        return Reading("stillness", phase.name, None, None, _unit("stillness"), CANT_TELL, reason)
    view_of = measured.view
    part = FaceView(view_of.ids, view_of.face[seen], view_of.picture[seen], view_of.rest)
    value, sigma = stillness(part, marks.seconds[seen])
    band = standard.band("stillness", view, school, phase.name)
    spread = Z95 * sigma
    return Reading(
        "stillness", phase.name, value, spread, _unit("stillness"), verdict(value, spread, band)
    )


def _unit(name: str) -> str:
    return "% MW" if name == "stillness" else BY_MEASURE[name].unit


def _stillness_series(measured: Measured, held: Bools) -> Series:
    """Movement of the corners along ``hold``, for the drawing and the worst frame."""
    value = np.full(len(held), np.nan)
    if measured.view is not None and held.any():
        v = measured.view
        value[held] = displacement(FaceView(v.ids, v.face[held], v.picture[held], v.rest))
    return Series("stillness", _unit("stillness"), value, np.zeros(len(held)))


def verdict(value: float, uncertainty: float, band: Band | None) -> str:
    """One value against one band.

    >>> band = Band(measure="corner_rise", high=3.0, watch_high=2.0, note="")
    >>> [verdict(v, 1.0, band) for v in (2.0, 4.0, 6.0)]
    ['in band', 'watch', 'fault']
    >>> verdict(6.0, 4.0, band)
    'watch'
    """
    if band is None:
        return NO_BAND
    if band.high is not None and value > band.high:
        outside, watch = value - band.high, band.watch_high
    elif band.low is not None and value < band.low:
        outside, watch = band.low - value, band.watch_low
    else:
        return IN_BAND
    return FAULT if outside > watch and outside > uncertainty else WATCH


def _edge(condition: Condition, standard: Standard, rule: Rule, school: str, phase: str) -> float:
    """The band edge the condition looks at; its own limit if there is none on that side.

    A fault must stand clear of the band by its uncertainty, so the edge that
    lies nearer to the band's middle counts.
    """
    band = standard.band(condition.measure, rule.view, school, phase)
    if condition.above is not None:
        if band is not None and band.high is not None:
            return min(band.high, condition.above)
        return condition.above
    assert condition.below is not None
    if band is not None and band.low is not None:
        return max(band.low, condition.below)
    return condition.below


def _beyond(condition: Condition, value: Floats | float) -> Floats:
    """How far beyond the limit, positive when it is."""
    if condition.above is not None:
        return np.asarray(value) - condition.above
    assert condition.below is not None
    return condition.below - np.asarray(value)


def _cannot(rule: Rule, phase: str, reason: str) -> Finding:
    return Finding(rule.fault, CANT_TELL, phase, None, None, None, (), reason)


def _apply(
    rule: Rule,
    phase: Phase | None,
    marks: Marks,
    series: dict[str, Series],
    readings: list[Reading],
    standard: Standard,
    school: str,
    why_not: str,
) -> Finding | None:
    name = phase.name if phase else rule.phases[0]
    if any(
        (thing := BY_MEASURE[c.measure].thing) and not has_thing(marks, thing)
        for c in rule.all
        if c.measure in BY_MEASURE
    ):
        return None  # nobody said where it is: nothing is claimed about it
    by_measure = {r.measure: r for r in readings if r.phase == name}
    needed = [by_measure.get(condition.measure) for condition in rule.all]
    reasons = [why_not] + [r.reason for r in needed if r is not None and r.verdict == CANT_TELL]
    reason = next((text for text in reasons if text), "")
    if phase is None or reason or any(r is None for r in needed):
        return _cannot(rule, name, reason or NO_PHASE.format(phase=name))
    if rule.all[0].outside:
        return _band_rule(rule, phase, marks, series, by_measure, standard, school)
    if rule.all[0].measure == "stillness":
        return _phase_rule(rule, phase, marks, series, by_measure, standard, school)
    inside = phase.holds(marks.seconds)
    beyond = inside.copy()
    for condition in rule.all:
        values = series[condition.measure].value
        with np.errstate(invalid="ignore"):
            beyond &= _beyond(condition, values) > 0
    limits = common().limits
    runs = [
        run
        for run in runs_of(beyond, marks.seconds, limits.bridge_seconds)
        if marks.seconds[run[1]] - marks.seconds[run[0]] >= rule.min_seconds
    ]
    if not runs:
        return None
    first, last = max(runs, key=lambda run: marks.seconds[run[1]] - marks.seconds[run[0]])
    part = slice(first, last + 1)
    evidence, sure = [], True
    for condition in rule.all:
        one = series[condition.measure]
        value = float(np.nanmedian(one.value[part]))
        spread = Z95 * float(np.nanmedian(one.sigma[part]))
        edge = _edge(condition, standard, rule, school, phase.name)
        sure &= abs(value - edge) > spread
        evidence.append(_evidence(condition, value, spread, edge, one.unit))
    lead = series[rule.all[0].measure].value[part]
    worst = first + int(np.nanargmax(_beyond(rule.all[0], lead)))
    return Finding(
        rule.fault,
        FAULT if sure else WATCH,
        phase.name,
        float(marks.seconds[first]),
        float(marks.seconds[last]),
        int(marks.frames[worst]),
        tuple(evidence),
    )


def _phase_rule(
    rule: Rule,
    phase: Phase,
    marks: Marks,
    series: dict[str, Series],
    by_measure: dict[str, Reading],
    standard: Standard,
    school: str,
) -> Finding | None:
    """A rule on a measure that has one value for the whole phase."""
    condition = rule.all[0]
    reading = by_measure[condition.measure]
    assert reading.value is not None and reading.uncertainty is not None
    if _beyond(condition, reading.value) <= 0 or phase.end - phase.start < rule.min_seconds:
        return None
    edge = _edge(condition, standard, rule, school, phase.name)
    along = np.where(phase.holds(marks.seconds), series[condition.measure].value, np.nan)
    return Finding(
        rule.fault,
        FAULT if abs(reading.value - edge) > reading.uncertainty else WATCH,
        phase.name,
        phase.start,
        phase.end,
        int(marks.frames[int(np.nanargmax(along))]),
        (_evidence(condition, reading.value, reading.uncertainty, edge, reading.unit),),
    )


def _band_rule(
    rule: Rule,
    phase: Phase,
    marks: Marks,
    series: dict[str, Series],
    by_measure: dict[str, Reading],
    standard: Standard,
    school: str,
) -> Finding | None:
    """A rule that is the standard's own band for a measure."""
    condition = rule.all[0]
    reading = by_measure[condition.measure]
    band = standard.band(condition.measure, rule.view, school, phase.name)
    value, spread = reading.value, reading.uncertainty
    if band is None or value is None or spread is None or reading.verdict == IN_BAND:
        return None
    high = band.high is not None and value > band.high
    if condition.outside not in ("either", "high" if high else "low"):
        return None
    edge = band.high if high else band.low
    assert edge is not None
    limit = edge + band.watch_high if high else edge - band.watch_low
    along = np.where(phase.holds(marks.seconds), series[condition.measure].value, np.nan)
    worst = int(np.nanargmax(along if high else -along))
    return Finding(
        rule.fault,
        reading.verdict,
        phase.name,
        phase.start,
        phase.end,
        int(marks.frames[worst]),
        (Evidence(condition.measure, value, spread, limit, edge, reading.unit),),
    )


def has_thing(marks: Marks, thing: str) -> bool:
    """Whether all marks of something held to the mouth are known somewhere in the take."""
    return all(
        mark.id in marks.ids and np.isfinite(marks.xy[:, marks.column(mark.id), 0]).any()
        for mark in THINGS[thing]
    )


def _evidence(
    condition: Condition, value: float, spread: float, edge: float, unit: str
) -> Evidence:
    limit = condition.above if condition.above is not None else condition.below
    assert limit is not None
    return Evidence(condition.measure, value, spread, limit, edge, unit)
