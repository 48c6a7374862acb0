"""From readings to findings: the rules of an instrument and school, phase by phase."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Floats, Marks
from sulvet.core.judgement.common import common
from sulvet.core.judgement.reasons import NO_PHASE, has_equipment
from sulvet.core.judgement.results import (
    CANT_TELL,
    FAULT,
    WATCH,
    Z95,
    Evidence,
    Finding,
    Reading,
    nearer_edge,
    outside_band,
)
from sulvet.core.judgement.schema import Band, Condition, Rule
from sulvet.core.judgement.several_holds import HOLD, one_each
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import said
from sulvet.core.measures.catalogue import catalogue
from sulvet.core.measures.series import Series
from sulvet.core.phases import Phase, runs_of


@dataclass(frozen=True)
class Rules:
    """The rules of one instrument and school, and the take they are tried on.

    series   by measure, motion along its own phase
    readings with the place of their phase, as ``Readings.by_phase`` gives them
    why_not  why nothing at all can be told; empty where something can
    """

    marks: Marks
    phases: list[Phase]
    standard: Standard
    view: str
    school: str
    series: dict[str, Series]
    readings: list[tuple[int | None, Reading]]
    why_not: str

    @property
    def rules(self) -> list[Rule]:
        """Those that are about this instrument, side and school."""
        return rules_for(self.standard, self.view, self.school)

    def findings(self) -> list[Finding]:
        """All findings of the take; of several holds each fault once."""
        if not self.phases:
            return [f for rule in self.rules if (f := self._apply(rule, None, None)) is not None]
        holds = [n for n, phase in enumerate(self.phases) if phase.name == HOLD]
        number = {place: n for n, place in enumerate(holds, 1)} if len(holds) > 1 else {}
        found: list[tuple[int | None, Finding]] = []
        for rule in self.rules:
            for place, phase in enumerate(self.phases):
                if phase.name in rule.phases:
                    one = self._apply(rule, phase, place)
                    if one is not None:
                        found.append((number.get(place), one))
        findings = one_each(found, len(number))
        if not holds:
            findings += [
                cannot(rule, HOLD, said(NO_PHASE, phase=said(HOLD)))
                for rule in self.rules
                if HOLD in rule.phases
                and not rule.quiet
                and not any(catalogue().measure(c.measure).equipment for c in rule.all)
            ]
        return findings

    def _apply(self, rule: Rule, phase: Phase | None, place: int | None) -> Finding | None:
        name = phase.name if phase else rule.phases[0]
        held = {catalogue().measure(condition.measure).equipment for condition in rule.all} - {""}
        if any(not has_equipment(self.marks, equipment) for equipment in held):
            return None  # nobody said where it is: nothing is claimed about it
        by_measure = {
            r.measure: r for n, r in self.readings if r.phase == name and n in (place, None)
        }
        needed = [by_measure.get(condition.measure) for condition in rule.all]
        reasons = [self.why_not]
        reasons += [r.reason for r in needed if r is not None and r.value is None]
        reason = next((text for text in reasons if text), "")
        if rule.quiet and not self.why_not and (reason or any(r is None for r in needed)):
            return None  # many takes can't show it; the readings say why
        if phase is None or reason or any(r is None for r in needed):
            if phase is not None and not reason and name != HOLD:
                return None  # another phase may show it
            return cannot(rule, name, reason or said(NO_PHASE, phase=said(name)))
        only = rule.all[0] if len(rule.all) == 1 else None
        if only is not None and (
            only.outside or catalogue().measure(only.measure).source == "motion"
        ):
            found = self._whole_phase(rule, phase, by_measure[rule.all[0].measure])
        else:
            found = self._together(rule, phase)
        if found is None and not rule.quiet and phase.name == HOLD:
            unsure = (r.reason for r in needed if r is not None and r.verdict == CANT_TELL)
            reason = next(unsure, "")
            return cannot(rule, name, reason) if reason else None
        return found

    def _whole_phase(self, rule: Rule, phase: Phase, reading: Reading) -> Finding | None:
        """A rule on one measure: its value over the whole phase against limit or band."""
        condition, value, half_width = rule.all[0], reading.value, reading.uncertainty
        assert value is not None and half_width is not None
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
            answer = FAULT if abs(value - edge) > half_width else WATCH
            high = condition.above is not None
            evidence = Evidence(condition.measure, value, half_width, limit, edge, reading.unit)
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
            half_width = Z95 * float(np.nanmedian(one.sigma[part]))
            edge = self._edge(condition, rule, phase.name)
            sure &= abs(value - edge) > half_width
            evidence.append(
                Evidence(condition.measure, value, half_width, condition.limit, edge, one.unit)
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

    def _band(self, measure: str, phase: str) -> Band | None:
        return self.standard.band(measure, self.view, self.school, phase)


def rules_for(standard: Standard, view: str, school: str) -> list[Rule]:
    """The rules that are about an instrument, seen from one side, by one school."""
    return [rule for rule in common().rules if rule.applies(standard, view, school)]


def _beyond(condition: Condition, value: Floats | float) -> Floats:
    """How far beyond the limit, positive when it is."""
    if condition.above is not None:
        return np.asarray(value) - condition.above
    return condition.limit - np.asarray(value)


def cannot(rule: Rule, phase: str, reason: str) -> Finding:
    """What a rule looks for can't be told in a phase, and why."""
    return Finding(rule.fault, CANT_TELL, phase, None, None, None, (), reason)
