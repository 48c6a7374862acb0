"""Which of a take's findings stand, and which is the focus; reads only."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.closeups.selectors import looked_at
from sulvet.core.judgement.common import common, observations, worded
from sulvet.core.judgement.focus import Candidate, Focus, choose
from sulvet.core.judgement.reeds import FirstLook, first_look, in_doubt
from sulvet.core.judgement.results import CANT_TELL, FAULT, WATCH, Evidence, severity
from sulvet.core.judgement.schema import Fault
from sulvet.reeds.selectors import habits_of, plain, with_own
from sulvet.takes.models import Decision, Finding, Take

#: The verdict of a finding that is the teacher's own.
ADDED = "added"
#: Findings in the order in which they are shown: what is to be fixed first.
RANK = {FAULT: 0, ADDED: 0, WATCH: 1, CANT_TELL: 2}


@dataclass(frozen=True)
class TakeFindings:
    """What program and teacher say of a take, fetched once.

    findings   the program's and the teacher's own, in the order in which to fix them
    decisions  the teacher's answers, by fault and phase
    """

    findings: list[Finding]
    decisions: dict[tuple[str, str], Decision]

    def decision(self, finding: Finding) -> Decision | None:
        """The teacher's answer to a finding."""
        return self.decisions.get((finding.fault, finding.phase))


def findings_on(take: Take) -> TakeFindings:
    """Findings and decisions of a take."""
    decisions = {(d.fault, d.phase): d for d in take.decisions.all()}
    found = list(take.findings.all())
    known = {(f.fault, f.phase) for f in found}
    own = [
        Finding(take=take, fault=d.fault, phase=d.phase, verdict=ADDED, reason=d.reason)
        for d in decisions.values()
        if d.answer == Decision.Answer.ADDED and (d.fault, d.phase) not in known
    ]
    place = common().place
    found = sorted(found + own, key=lambda f: (RANK[f.verdict], place(f.fault), f.start or 0.0))
    return TakeFindings(found, decisions)


def standing(take: Take, found: TakeFindings | None = None) -> list[Finding]:
    """Findings that count: faults not dismissed, what was confirmed, and the teacher's own.

    found  what was fetched of the take already
    """
    found = found or findings_on(take)
    stands = []
    for finding in found.findings:
        decision = found.decision(finding)
        answer = decision.answer if decision else ""
        if finding.verdict == CANT_TELL or answer == Decision.Answer.DISMISSED:
            continue
        wanted = finding.fault == take.chosen_focus or answer == Decision.Answer.CONFIRMED
        if finding.verdict in (FAULT, ADDED) or wanted:
            stands.append(finding)
    return stands


def fault_on(finding: Finding) -> Fault:
    """What a finding is called and what is said of it to its student."""
    first = finding.evidence[0] if finding.evidence else None
    return worded(finding.fault, finding.take.student.family, first)


def focus_of(take: Take, found: TakeFindings | None = None) -> Focus:
    """The one thing to fix on a take.

    found  what was fetched of it already

    What the student works on already counts while a take is not read; once it is, the
    focus it then had was confirmed or chosen.
    """
    stops = tuple(
        one.label for one in observations().observations
        if one.stops and one.id in take.observations
    )  # fmt: skip
    rows = [
        Candidate(f.fault, f.phase, severity(Evidence(**e) for e in f.evidence))
        for f in standing(take, found)
        if common().place(f.fault) < len(common().faults)
    ]
    before = take.student.focus if take.read_at is None else ""
    first = set_up_of(take, {row.fault for row in rows})
    return choose(rows, take.chosen_focus, before, stops, first.why if first else "")


def set_up_of(take: Take, faults: set[str]) -> FirstLook | None:
    """What to look at before the mouth is blamed; None when nothing sounds like it.

    faults  that stand on the take

    Only while the take is not read: a reed's box tells how it stands today, not how it
    stood when an older take was looked at.
    """
    if take.read_at is not None or not (take.observations or faults):
        return None
    student = take.student

    def doubt() -> str:
        own = with_own(take.reed_figures) if hasattr(take, "reed_figures") else habits_of(
            student.section.band.teacher
        )  # fmt: skip
        looked = looked_at(student, take.filmed_on, own.known_days)
        return in_doubt(plain(student.reeds.all()), take.filmed_on, own, looked)

    return first_look(student.family, set(take.observations), faults, doubt)
