"""What a take says of a plan's focus; reads only."""

from __future__ import annotations

from sulvet.core.judgement.change import WORSE, Value, change
from sulvet.core.judgement.corroboration import measures_needed
from sulvet.core.judgement.results import CANT_TELL, FAULT, IN_BAND, WATCH, band_view
from sulvet.core.judgement.schema import Band
from sulvet.core.measures.catalogue import catalogue
from sulvet.plans.models import Plan
from sulvet.takes.analysis import school_for, standard_for
from sulvet.takes.models import Decision, Take


def verdict_on(plan: Plan, take: Take) -> str:
    """``fault``, ``watch``, ``in band`` or ``can't tell``.

    A fault that no rule finds is the teacher's own: it stands while the teacher adds it.
    A dismissed finding counts as in band.
    """
    if take.view != plan.view or take.state != Take.State.READY:
        return CANT_TELL
    said = {d.answer for d in take.decisions.all() if d.fault == plan.fault}
    if Decision.Answer.ADDED in said:
        return FAULT
    found = [f for f in take.findings.all() if f.fault == plan.fault]
    if Decision.Answer.DISMISSED in said:
        return IN_BAND
    for verdict in (FAULT, WATCH, CANT_TELL):
        if any(f.verdict == verdict for f in found):
            return verdict
    measured = {r.measure for r in take.readings.all() if r.verdict != CANT_TELL}
    wanted = measures_needed(plan.fault, plan.view)
    if not wanted:
        # Only the teacher can tell: the take has been read and nothing was added.
        return IN_BAND if take.read_at else CANT_TELL
    return IN_BAND if any(look <= measured for look in wanted) else CANT_TELL


def began_at(take: Take, fault: str) -> dict[str, float | str]:
    """How far out a fault stands on a take: measure, value, uncertainty, edge."""
    for finding in take.findings.all():
        if finding.fault == fault and finding.evidence:
            first = finding.evidence[0]
            return {name: first[name] for name in ("measure", "value", "uncertainty", "edge")}
    return {}


def is_worse(plan: Plan, take: Take) -> bool:
    """Whether the focus stands clearly farther out than when the plan began.

    By the rule that Then and now goes by: what is not clear there is not worse here.
    """
    before, now = plan.began_at, began_at(take, plan.fault)
    if not before or not now or now["measure"] != before["measure"]:
        return False
    measure, standard = catalogue().measure(str(now["measure"])), standard_for(take)
    band = standard.band(measure.id, band_view(measure.id, take.view), school_for(take, standard))
    then, since = (
        Value(float(s["value"]), float(s["uncertainty"]), measure.unit) for s in (before, now)
    )
    return change(then, since, measure, band or _band_of(now)).answer == WORSE


def _band_of(evidence: dict[str, float | str]) -> Band:
    """The edge a finding rests on, where no band is about its measure."""
    edge, measure = float(evidence["edge"]), str(evidence["measure"])
    side = "high" if float(evidence["value"]) > edge else "low"
    return Band.model_validate({"measure": measure, side: edge, "note": "the finding's own limit"})
