"""How often a teacher confirms, dismisses and adds, per fault; reads only."""

from __future__ import annotations

from collections import defaultdict
from typing import Any

from django.contrib.auth.models import User

from sulvet.core.judgement.agreement import Counts, kappa, suggest
from sulvet.core.judgement.common import common
from sulvet.core.judgement.results import FAULT
from sulvet.core.judgement.schema import Rule
from sulvet.core.judgement.standards import Standard
from sulvet.core.language import figures, said
from sulvet.core.measures.catalogue import catalogue
from sulvet.takes.first_said import could_tell
from sulvet.takes.focus import findings_on
from sulvet.takes.models import Decision, Take


def agreement(teacher: User, standard: Standard) -> list[dict[str, Any]]:
    """One row a fault that was ever found or added on this instrument's read takes."""
    takes = list(
        Take.objects.filter(
            student__section__band__teacher=teacher,
            student__instrument=standard.instrument,
            state=Take.State.READY,
            read_at__isnull=False,
        )
        .select_related("student")
        .prefetch_related("findings", "decisions", "readings")
        .defer("frame_times", "notes")
    )
    rows = []
    for fault in common().faults:
        rules = [r for r in common().rules if r.fault == fault.id]
        counts, values = _counts(takes, fault.id)
        if counts.both + counts.program + counts.teacher == 0:
            continue
        agreement = kappa(counts)
        rows.append({
            "fault": fault.id, "name": fault.name,
            "confirmed": counts.both, "dismissed": counts.program, "added": counts.teacher,
            "neither": counts.neither,
            "kappa": None if agreement is None else round(agreement.value, 2),
            "low": None if agreement is None else round(agreement.low, 2),
            "high": None if agreement is None else round(agreement.high, 2),
            "suggestion": _suggestion(standard, rules, values),
        })  # fmt: skip
    return rows


#: What was said of a finding, and the measure it rests on → its values.
Values = dict[tuple[str, str], list[float]]


def _counts(takes: list[Take], fault: str) -> tuple[Counts, Values]:
    """Takes by what both say, and the values of what was found by the teacher's answer."""
    numbers: dict[str, int] = defaultdict(int)
    values: Values = defaultdict(list)
    for take in takes:
        mine = [d for (name, _), d in findings_on(take).decisions.items() if name == fault]
        if any(d.why == Decision.Why.CAMERA for d in mine):
            continue  # what a camera did says nothing of the limits
        # Put off till later is no disagreement.
        answers = {d.answer for d in mine if d.why != Decision.Why.LATER}
        found = [f for f in take.findings.all() if f.fault == fault and f.verdict == FAULT]
        if found:
            # A read take whose finding was let stand agrees with it.
            said = "program" if Decision.Answer.DISMISSED in answers else "both"
            for evidence in (e for f in found for e in f.evidence):
                values[said, evidence["measure"]].append(float(evidence["value"]))
        elif Decision.Answer.ADDED in answers:
            said = "teacher"
        elif could_tell(take, fault):
            said = "neither"
        else:
            continue
        numbers[said] += 1
    return Counts(**numbers), values


def _suggestion(standard: Standard, rules: list[Rule], values: Values) -> str:
    """In words, or empty: an edge that fits what was confirmed and dismissed."""
    for rule in rules:
        if len(rule.all) != 1 or not rule.all[0].outside:
            continue
        measure = rule.all[0].measure
        known = catalogue().measure(measure)
        for school in standard.schools:
            band = standard.band(measure, rule.view, school.id, rule.phases[0])
            if band is None:
                continue
            suggestion = suggest(
                values["both", measure], values["program", measure], band.low, band.high
            )
            if suggestion is not None:
                words = "{name} from {figure} would match what you dismissed."
                if suggestion.figure != "low":
                    words = "{name} up to {figure} would match what you dismissed."
                figure = figures(f"{suggestion.edge:.{max(known.decimals, 1)}f}")
                return said(words, name=known.name, figure=figure)
    return ""
