"""From series to readings: one value a measure and phase, against its band."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Marks
from sulvet.core.judgement.common import common
from sulvet.core.judgement.reasons import (
    NO_PHASE,
    SHORT,
    has_equipment,
    impossible,
    why_unseen,
)
from sulvet.core.judgement.results import CANT_TELL, NO_BAND, Z95, Reading, judged
from sulvet.core.judgement.schema import Band, Rule
from sulvet.core.judgement.several_holds import over_holds
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import said
from sulvet.core.measures.catalogue import Measure, catalogue
from sulvet.core.measures.motion import Moved
from sulvet.core.measures.series import Measured
from sulvet.core.phases import Phase


@dataclass(frozen=True)
class Readings:
    """What a take's readings are made from.

    rules    that apply to it: what they look at is worth saying why not
    why_not  why nothing at all can be told; empty where something can
    """

    marks: Marks
    phases: list[Phase]
    standard: Standard
    view: str
    school: str
    measured: Measured
    moved: list[Moved]
    rules: list[Rule]
    why_not: str

    def all(self) -> list[Reading]:
        """Every reading, phase by phase in the order of the catalogue; several holds as one."""
        return over_holds(self.by_phase(), self._band)

    def _band(self, measure: str) -> Band | None:
        return self.standard.band(measure, self.view, self.school)

    def by_phase(self) -> list[tuple[int | None, Reading]]:
        """Every reading with the place of its phase; None where there is no such phase."""
        measures = [
            m
            for m in catalogue().measures
            if m.reported and (m.id in self.measured.series or self._is_motion(m))
        ]
        readings: list[tuple[int | None, Reading]] = []
        if not any(phase.name == "hold" for phase in self.phases):
            reason = self.why_not or said(NO_PHASE, phase=said("hold"))
            readings += [
                (None, Reading(m.id, "hold", None, None, m.unit, CANT_TELL, reason))
                for m in measures
                if self._asked(m) and not m.equipment
            ]
        for place, phase in enumerate(self.phases):
            if phase.name == "rest":
                continue
            for m in measures:
                if m.equipment and not has_equipment(self.marks, m.equipment):
                    continue
                motion = self._is_motion(m)
                found = self._moved(m, place, phase) if motion else self._series(m, phase)
                if found is not None:
                    readings.append((place, found))
        return readings

    def _is_motion(self, measure: Measure) -> bool:
        return measure.source == "motion" and measure.view == self.view

    def _asked(self, measure: Measure) -> bool:
        """Whether standard or rules ask for a measure: then it is worth saying why not."""
        return (
            measure.always
            or any(c.measure == measure.id for rule in self.rules for c in rule.all)
            or (
                (not measure.phases or "hold" in measure.phases)
                and self.standard.has_band(measure.id, self.view)
            )
        )

    def _series(self, measure: Measure, phase: Phase) -> Reading | None:
        """A measure of every frame in one phase; None when nobody asks and nothing shows."""
        limits, series = common().limits, self.measured.series[measure.id]
        # Of phases that last a moment nobody expects a reading.
        asked = phase.name == "hold" and self._asked(measure)
        inside = phase.holds(self.marks.seconds)
        values = series.value[inside]
        known = np.isfinite(values)
        lean = measure.id == "head_roll" and self.measured.rest is not None
        reason = "" if lean else self.why_not
        if not reason and phase.end - phase.start < limits.min_phase_seconds:
            reason = said(SHORT, phase=said(phase.name))
        share = known.mean() if len(known) else 0.0
        if not reason and share < limits.min_visible_share:
            reason = why_unseen(measure, phase, self.marks, self.measured)
        if reason:
            return self._cannot(measure, phase, reason) if asked else None
        value = float(np.median(values[known]))
        half_width = Z95 * float(np.median(series.sigma[inside][known]))
        if not np.isfinite(half_width):
            # Known only where the head is hardly seen: how sure it is nobody can say.
            reason = why_unseen(measure, phase, self.marks, self.measured)
            return self._cannot(measure, phase, reason) if asked else None
        return self._told(measure, phase, value, half_width)

    def _moved(self, measure: Measure, place: int, phase: Phase) -> Reading | None:
        """A measure of motion in one phase; None when nobody asks and nothing shows."""
        asked = phase.name == "hold" and self._asked(measure)
        found = next((m for m in self.moved if m.measure == measure and m.phase == place), None)
        reason = self.why_not
        if not reason and found is None:
            reason = why_unseen(measure, phase, self.marks, self.measured)
        if not reason and phase.end - phase.start < common().limits.min_phase_seconds:
            reason = said(SHORT, phase=said(phase.name))
        if reason or found is None:
            return self._cannot(measure, phase, reason) if asked else None
        return self._told(measure, phase, found.value, Z95 * found.sigma)

    def _told(self, measure: Measure, phase: Phase, value: float, half_width: float) -> Reading:
        doubt = impossible(measure, value)
        if doubt:
            return self._cannot(measure, phase, doubt)
        band = self.standard.band(measure.id, self.view, self.school, phase.name)
        return judged(
            Reading(measure.id, phase.name, value, half_width, measure.unit, NO_BAND), band
        )

    @staticmethod
    def _cannot(measure: Measure, phase: Phase, reason: str) -> Reading:
        return Reading(measure.id, phase.name, None, None, measure.unit, CANT_TELL, reason)
