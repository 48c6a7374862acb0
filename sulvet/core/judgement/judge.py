"""From series to readings and findings: a pure function of marks and standard.

Four answers: ``in band``, ``watch``, ``fault``, ``can't tell``. A fault is only
called when the distance outside the band exceeds the 95 % uncertainty.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.landmarks import ALL_THINGS, CONTOUR_IDS
from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.anatomy.profile import SideView
from sulvet.core.anatomy.scale import Scales
from sulvet.core.equipment.measure import UNITS
from sulvet.core.judgement.focus import Candidate, choose
from sulvet.core.judgement.standards import Band, Condition, Rule, Standard, common
from sulvet.core.measures import motion
from sulvet.core.measures.motion import motions
from sulvet.core.measures.series import Series, TakeContext, measure
from sulvet.core.measures.table import Measure, every
from sulvet.core.measures.view import FaceView
from sulvet.core.phases import Phase, frames_of, runs_of

IN_BAND, WATCH, FAULT, CANT_TELL = "in band", "watch", "fault", "can't tell"
NO_BAND = "no band"
#: Findings in the order in which they are told: the surest first.
SURENESS = {FAULT: 0, WATCH: 1, CANT_TELL: 2}
#: Everything that may have a reading, by id.
BY_MEASURE: dict[str, Measure | motion.Kind] = {**every(), **motion.BY_ID}
#: What is read off the picture itself has no marks.
SIGNAL_UNITS = {"chin_texture": "ratio"}
#: What is heard has neither marks nor frames; see ``ear``.
SOUND_UNITS = {
    "pitch": "cents",
    "pitch_drift": "cents/s",
    "steadiness": "cents",
    "hold_time": "s",
    "onset_rise": "ms",
    "breath_before": "ms",
    "airiness": "dB",
}
#: What is drawn of the sound and has no reading.
SOUND_STAVES = {"level": "dB"}
#: What to call what a measure could not see, by the first of its landmarks.
SEEN_AS: dict[str, str] = {
    "rim": "rim",
    "mp": "mouthpiece",
    "ax": "mouthpiece",
    "rs": "rim",
    "ps": "lip plate",
    "pl": "lip plate",
    "hole": "blow hole",
    "ch": "mouth corners",
    "ck": "outline of the cheeks",
    "ap": "opening between the lips",
    "me": "chin",
    "pg": "chin",
}

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
NO_SCALE = (
    "Nothing of known size shows. Mark both ends of a length you know, such as a ruler's "
    "centimetre held beside the mouth."
)
NODDED = (
    "The head is raised or lowered by about {pitch:.0f} degrees. Film again at the height of the "
    "mouth."
)
NOT_FORMED = (
    "It takes the shape before the tone and the shape in it: set the letter “form” or “place”, or "
    "film from before the instrument is at the mouth."
)
PALE = (
    "The chin does not stand out from what is behind it. Film the side before a plain wall that "
    "is clearly lighter or darker than the skin."
)
NO_FACE_AXIS = (
    "Neither the eyes nor the nose wings are marked at rest, so the head's own lean can't be "
    "taken out. Mark the nose wings on a rest frame."
)


def judge(
    marks: Marks,
    phases: list[Phase],
    standard: Standard,
    view: str,
    school: str,
    known_mm: float | None = None,
) -> Judgement:
    """Measure and judge one take.

    marks     landmarks over time
    phases    rehearsal marks
    standard  the instrument's standard; ``school`` is one of its schools' ids
    known_mm  the length marked by ``kl_a`` and ``kl_b``, mm

    >>> from sulvet.core.judgement.standards import shipped_standard
    >>> nothing = Marks.empty(("ch_r", "ch_l"), [0.0, 0.1])
    >>> judged = judge(nothing, [], shipped_standard("horn"), "front", "two-thirds")
    >>> judged.readings[0].verdict
    "can't tell"
    """
    return _Judge(marks, phases, standard, view, school, known_mm).result()


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


class _Judge:
    """One take before its standard."""

    def __init__(
        self,
        marks: Marks,
        phases: list[Phase],
        standard: Standard,
        view: str,
        school: str,
        known_mm: float | None,
    ) -> None:
        self.marks, self.phases, self.standard = marks, phases, standard
        self.view, self.school = view, school
        self.at_rest = frames_of(phases, "rest", marks.seconds)
        facts = TakeContext(view, standard.instrument, known_mm)
        self.measured = measure(marks, self.at_rest, facts)
        self.moved = motions(marks, self.measured, phases)
        self.series = self._all_series()
        self.why_not = self._why_not() if view == "front" else self._why_not_side()
        self.rules = [r for r in common().rules if r.applies(standard, view, school)]

    def result(self) -> Judgement:
        readings = self._readings()
        findings = in_order(self._findings(readings))
        return Judgement(
            tuple(readings),
            findings,
            self.series,
            focus_among(findings),
            self.measured.view,
            self.measured.scales,
            self.measured.side,
        )

    def _all_series(self) -> dict[str, Series]:
        """What is measured on every frame, and what moves along its phase, for the drawing."""
        series = dict(self.measured.series)
        nothing = np.full(len(self.marks), np.nan)
        for moved in self.moved:
            if moved.along is None:
                continue
            before = series.get(moved.kind.id)
            value = nothing if before is None else before.value
            along = np.where(np.isfinite(moved.along), moved.along, value)
            series[moved.kind.id] = Series(
                moved.kind.id, moved.kind.unit, along, np.zeros(len(self.marks))
            )
        return series

    # Why nothing at all can be told.

    def _why_not(self) -> str:
        marks, measured = self.marks, self.measured
        if not self.at_rest.any():
            return NO_REST
        if measured.rest is None:
            axis_seen = any(
                name in marks.ids and not marks.hidden[self.at_rest, marks.column(name)].all()
                for name in ("ex_r", "en_r", "al_r")
            )
            return HIDDEN.format(what="mouth corners", phase="rest") if axis_seen else NO_FACE_AXIS
        held = frames_of(self.phases, "hold", marks.seconds)
        for mask in (self.at_rest, held):
            turned = measured.yaw[mask]
            turned = np.abs(turned[np.isfinite(turned)])
            if len(turned) and np.median(turned) > common().limits.max_yaw:
                return TURNED.format(yaw=np.median(turned))
        raised = marks.signals.get("mesh_pitch", np.full(len(marks), np.nan))[self.at_rest]
        if np.isfinite(raised).any():
            pitch = abs(float(np.nanmedian(raised)))
            if pitch > common().limits.max_pitch:
                return NODDED.format(pitch=pitch)
        return ""

    def _why_not_side(self) -> str:
        if not self.at_rest.any():
            return NO_REST
        if not np.isfinite(self.measured.series["head_nod"].value).any():
            return HIDDEN.format(what="profile", phase="rest")
        return ""

    # Readings.

    def _asked(self, name: str) -> bool:
        """Whether standard or rules ask for a measure: then it is worth saying why not."""
        return name in ASKED_ALWAYS or any(
            condition.measure == name for rule in self.rules for condition in rule.all
        ) or self.standard.has_band(name, self.view)  # fmt: skip

    def _readings(self) -> list[Reading]:
        names = [m for m in self.measured.series if m != "rim_forward"]
        kinds = [k for k in motion.KINDS if k.view == self.view]
        readings: list[Reading] = []
        named = [phase for phase in self.phases if phase.name != "rest"]
        if not any(phase.name == "hold" for phase in named):
            reason = self.why_not or NO_PHASE.format(phase="hold")
            readings += [
                Reading(name, "hold", None, None, unit_of(name), CANT_TELL, reason)
                for name in (*names, *(k.id for k in kinds))
                if self._asked(name) and not _thing(name)
            ]
        for place, phase in enumerate(self.phases):
            if phase.name == "rest":
                continue
            for name in names:
                found = self._reading(name, phase)
                if found is not None:
                    readings.append(found)
            for kind in kinds:
                found = self._moved_reading(kind, place, phase)
                if found is not None:
                    readings.append(found)
        return readings

    def _reading(self, name: str, phase: Phase) -> Reading | None:
        """One measure in one phase; None when nobody asks and nothing shows."""
        limits, series = common().limits, self.measured.series[name]
        thing = _thing(name)
        if thing and not has_thing(self.marks, thing):
            return None
        inside = phase.holds(self.marks.seconds)
        values = series.value[inside]
        told = np.isfinite(values)
        reason = "" if name == "head_roll" and self.measured.rest is not None else self.why_not
        if not reason and phase.end - phase.start < limits.min_phase_seconds:
            reason = SHORT.format(phase=phase.name)
        share = told.mean() if len(told) else 0.0
        if not reason and share < limits.min_visible_share:
            if not self._asked(name) or phase.name != "hold":
                return None
            reason = self._unseen(name, phase)
        if reason:
            # Of phases that last a moment nobody expects a reading.
            if not self._asked(name) or phase.name != "hold":
                return None
            return Reading(name, phase.name, None, None, series.unit, CANT_TELL, reason)
        value = float(np.median(values[told]))
        spread = Z95 * float(np.median(series.sigma[inside][told]))
        band = self._band(name, phase.name)
        return Reading(name, phase.name, value, spread, series.unit, verdict(value, spread, band))

    def _unseen(self, name: str, phase: Phase) -> str:
        """Why a measure has no value in a phase."""
        which = BY_MEASURE.get(name)
        if isinstance(which, Measure):
            if which.told in ("mm", "mm2") and self.measured.scales.at(which.plane) is None:
                return NO_SCALE
            contour = [name for name in CONTOUR_IDS if name in which.must_see]
            if contour and not self._known(contour[0]):
                return PALE
            if contour:
                return HIDDEN.format(what="lower lip", phase=phase.name)
            return HIDDEN.format(what=self._covered(which.must_see, phase), phase=phase.name)
        return HIDDEN.format(what="chin", phase=phase.name)

    def _covered(self, names: tuple[str, ...], phase: Phase) -> str:
        """What to call the one of these landmarks that is seen least in a phase."""
        inside = phase.holds(self.marks.seconds)
        known = [n for n in names if n in self.marks.ids]
        hidden = {n: self.marks.hidden[inside, self.marks.column(n)].mean() for n in known}
        least = max(hidden, key=lambda n: hidden[n]) if hidden else names[0] if names else ""
        return SEEN_AS.get(least.rsplit("_", 1)[0], "lips")

    def _known(self, landmark: str) -> bool:
        column = self.marks.column(landmark)
        return bool(np.isfinite(self.marks.xy[:, column, 0]).any())

    def _moved_reading(self, kind: motion.Kind, place: int, phase: Phase) -> Reading | None:
        unit, name = kind.unit, kind.id
        found = next((m for m in self.moved if m.kind is kind and m.phase == place), None)
        asked = phase.name == "hold" and self._asked(name)
        if kind.thing and not has_thing(self.marks, kind.thing):
            return None
        if self.why_not:
            reason = self.why_not
        elif found is None:
            seen_as = SEEN_AS.get(kind.needs[0].rsplit("_", 1)[0], "lips") if kind.needs else ""
            reason = HIDDEN.format(what=seen_as, phase=phase.name) if kind.needs else NOT_FORMED
        elif phase.end - phase.start < common().limits.min_phase_seconds:
            reason = SHORT.format(phase=phase.name)
        else:
            spread = Z95 * found.sigma
            band = self._band(name, phase.name)
            answer = verdict(found.value, spread, band)
            return Reading(name, phase.name, found.value, spread, unit, answer)
        return Reading(name, phase.name, None, None, unit, CANT_TELL, reason) if asked else None

    def _band(self, name: str, phase: str) -> Band | None:
        return self.standard.band(name, self.view, self.school, phase)

    # Findings.

    def _findings(self, readings: list[Reading]) -> list[Finding]:
        findings = []
        for rule in self.rules:
            for phase in self.phases if self.phases else [None]:
                if phase is not None and phase.name not in rule.phases:
                    continue
                found = self._apply(rule, phase, readings)
                if found is not None:
                    findings.append(found)
        if self.phases and not any(p.name == "hold" for p in self.phases):
            findings += [
                _cannot(rule, "hold", NO_PHASE.format(phase="hold"))
                for rule in self.rules
                if "hold" in rule.phases
                and not rule.quiet
                and not any(_thing(c.measure) for c in rule.all)
            ]
        return findings

    def _apply(self, rule: Rule, phase: Phase | None, readings: list[Reading]) -> Finding | None:
        name = phase.name if phase else rule.phases[0]
        things = {_thing(condition.measure) for condition in rule.all} - {""}
        if any(not has_thing(self.marks, thing) for thing in things):
            return None  # nobody said where it is: nothing is claimed about it
        by_measure = {r.measure: r for r in readings if r.phase == name}
        needed = [by_measure.get(condition.measure) for condition in rule.all]
        reasons = [self.why_not]
        reasons += [r.reason for r in needed if r is not None and r.verdict == CANT_TELL]
        reason = next((text for text in reasons if text), "")
        if rule.quiet and not self.why_not and (reason or any(r is None for r in needed)):
            return None  # many takes can't show it; the readings say why
        if phase is None or reason or any(r is None for r in needed):
            if phase is not None and not reason and name != "hold":
                return None  # another phase may show it
            return _cannot(rule, name, reason or NO_PHASE.format(phase=name))
        only = rule.all[0] if len(rule.all) == 1 else None
        if only is not None and (only.outside or only.measure in motion.BY_ID):
            return self._whole_phase(rule, phase, by_measure[rule.all[0].measure])
        return self._together(rule, phase)

    def _whole_phase(self, rule: Rule, phase: Phase, reading: Reading) -> Finding | None:
        """A rule on one measure: its value over the whole phase against limit or band."""
        condition, value, spread = rule.all[0], reading.value, reading.uncertainty
        assert value is not None and spread is not None
        band = self._band(condition.measure, phase.name)
        if condition.outside:
            beyond = outside_band(condition, reading, band)
            if beyond is None:
                return None
            high, evidence = beyond
            answer = reading.verdict
        else:
            if phase.end - phase.start < rule.min_seconds or _beyond(condition, value) <= 0:
                return None
            edge = self._edge(condition, rule, phase.name)
            limit = condition.limit
            answer = FAULT if abs(value - edge) > spread else WATCH
            high = condition.above is not None
            evidence = Evidence(condition.measure, value, spread, limit, edge, reading.unit)
        series = self.series.get(condition.measure)
        inside = phase.holds(self.marks.seconds)
        along = np.where(inside, series.value, np.nan) if series is not None else np.array([np.nan])
        worst = None
        if np.isfinite(along).any():
            worst = int(self.marks.frames[int(np.nanargmax(along if high else -along))])
        return Finding(rule.fault, answer, phase.name, phase.start, phase.end, worst, (evidence,))

    def _together(self, rule: Rule, phase: Phase) -> Finding | None:
        """A rule on several measures: the longest stretch on which all go beyond their limits."""
        marks, limits = self.marks, common().limits
        beyond = phase.holds(marks.seconds)
        for condition in rule.all:
            with np.errstate(invalid="ignore"):
                beyond &= _beyond(condition, self.series[condition.measure].value) > 0
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
            one = self.series[condition.measure]
            value = float(np.nanmedian(one.value[part]))
            spread = Z95 * float(np.nanmedian(one.sigma[part]))
            edge = self._edge(condition, rule, phase.name)
            sure &= abs(value - edge) > spread
            evidence.append(
                Evidence(condition.measure, value, spread, condition.limit, edge, one.unit)
            )
        lead = self.series[rule.all[0].measure].value[part]
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

    def _edge(self, condition: Condition, rule: Rule, phase: str) -> float:
        """The band edge the condition looks at; its own limit if there is none on that side.

        A fault must stand clear of the band by its uncertainty, so the edge that
        lies nearer to the band's middle counts.
        """
        band = self.standard.band(condition.measure, rule.view, self.school, phase)
        return nearer_edge(condition.limit, condition.above is not None, band)


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
    value, spread = reading.value, reading.uncertainty
    if band is None or value is None or spread is None or reading.verdict == IN_BAND:
        return None
    high = band.high is not None and value > band.high
    if condition.outside not in ("either", "high" if high else "low"):
        return None
    edge = band.high if high else band.low
    assert edge is not None
    limit = edge + band.watch_high if high else edge - band.watch_low
    return high, Evidence(condition.measure, value, spread, limit, edge, reading.unit)


#: Readings that a teacher looks for even where no standard asks.
ASKED_ALWAYS = frozenset({"corner_rise", "mouth_width", "stillness", "head_roll", "chin_hollow"})


def unit_of(name: str) -> str:
    """The unit in which a measure is told."""
    for table in (SIGNAL_UNITS, UNITS, SOUND_UNITS, SOUND_STAVES):
        if name in table:
            return table[name]
    return BY_MEASURE[name].unit


def view_of(name: str) -> str:
    """The view in which a measure shows."""
    if name in UNITS:
        return "close-up"
    if name in SOUND_UNITS:
        return "sound"
    return BY_MEASURE[name].view if name in BY_MEASURE else "front"


def seen_in(name: str, view: str) -> str:
    """The view whose band judges a measure of a take that was filmed from ``view``."""
    return "sound" if name in SOUND_UNITS else view


def _thing(name: str) -> str:
    return BY_MEASURE[name].thing if name in BY_MEASURE else ""


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


def _beyond(condition: Condition, value: Floats | float) -> Floats:
    """How far beyond the limit, positive when it is."""
    if condition.above is not None:
        return np.asarray(value) - condition.above
    return condition.limit - np.asarray(value)


def _cannot(rule: Rule, phase: str, reason: str) -> Finding:
    return Finding(rule.fault, CANT_TELL, phase, None, None, None, (), reason)


def has_thing(marks: Marks, thing: str) -> bool:
    """Whether all marks of something held to the mouth are known somewhere in the take."""
    return all(
        mark.id in marks.ids and np.isfinite(marks.xy[:, marks.column(mark.id), 0]).any()
        for mark in ALL_THINGS[thing]
    )
