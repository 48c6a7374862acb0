"""What a take says of a plan's focus; reads only."""

from __future__ import annotations

from sulvet.core.judgement.corroboration import measures_needed
from sulvet.core.judgement.judge import CANT_TELL, FAULT, IN_BAND, WATCH
from sulvet.plans.models import Plan
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
    told = {r.measure for r in take.readings.all() if r.value is not None}
    wanted = measures_needed(plan.fault, plan.view)
    if not wanted:
        # Only the teacher can tell: the take has been read and nothing was added.
        return IN_BAND if take.read_at else CANT_TELL
    return IN_BAND if any(look <= told for look in wanted) else CANT_TELL


def began_at(take: Take, fault: str) -> dict[str, float | str]:
    """How far out a fault stands on a take: measure, value, uncertainty, edge."""
    for finding in take.findings.all():
        if finding.fault == fault and finding.evidence:
            first = finding.evidence[0]
            return {name: first[name] for name in ("measure", "value", "uncertainty", "edge")}
    return {}


def is_worse(plan: Plan, take: Take) -> bool:
    """Whether the focus stands clearly farther out than when the plan began."""
    before, now = plan.began_at, began_at(take, plan.fault)
    if not before or not now or now["measure"] != before["measure"]:
        return False
    out, then = (abs(float(s["value"]) - float(s["edge"])) for s in (now, before))
    return out - then > float(now["uncertainty"])
