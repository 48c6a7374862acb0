"""What the teacher says of a take: answers to findings, the focus, ticks, that it is read.

None of it touches a measure.
"""

from __future__ import annotations

from sulvet.accounts.errors import Refused
from sulvet.core import clock
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.results import CANT_TELL
from sulvet.core.judgement.schema import Observation
from sulvet.core.language import said
from sulvet.core.phases import PHASES
from sulvet.lessons.standing import has_passed
from sulvet.takes.focus import focus_of
from sulvet.takes.history import recorded
from sulvet.takes.models import Decision, Take

#: What an answer is called among the edits.
ANSWERED = {
    "confirmed": "“{name}” confirmed", "dismissed": "“{name}” dismissed",
    "added": "“{name}” added",
}  # fmt: skip
#: The phase that what was seen and heard is noted under.
OBSERVED_IN = "hold"


def decide(
    take: Take,
    fault: str,
    phase: str,
    answer: str,
    reason: str,
    revision: int | None = None,
    why: str = "",
) -> None:
    """Confirm, dismiss or add a finding; an empty answer takes the decision back.

    why  it is dismissed: not so, the camera, or later; or in words by ``reason``
    """
    there = take.findings.filter(fault=fault, phase=phase).exists()
    added = take.decisions.filter(fault=fault, phase=phase, answer=Decision.Answer.ADDED).exists()
    known = {f.id for f in common().faults}
    if answer == Decision.Answer.ADDED:
        if fault not in known or phase not in PHASES:
            raise Refused("Choose a fault and a phase from the list.")
        if there:
            raise Refused("Sulvet has already found this: confirm or dismiss it.")
    elif not there and not (added and not answer):
        raise Refused("This take no longer has this finding. Check it again.")
    if answer == Decision.Answer.DISMISSED and not (why or reason.strip()):
        raise Refused("Say why you dismiss the finding: not so, the camera, or later.")
    name = common().fault(fault).name if fault in known else fault
    label = (
        said(ANSWERED[answer], name=name)
        if answer
        else said("answer to “{name}” undone", name=name)
    )
    parts = ("decisions", "chosen_focus", "student_focus", "observations")
    with recorded(take, label, revision, *parts):
        if answer in ("", Decision.Answer.DISMISSED) and take.chosen_focus == fault:
            _choose(take, "")
        if answer == Decision.Answer.CONFIRMED and focus_of(take).fault == fault:
            # Confirming the focus sets it: it stays, whatever other takes bring.
            _choose(take, fault)
        if not answer:
            take.decisions.filter(fault=fault, phase=phase).delete()
            _untick(take, fault)
            return
        Decision.objects.update_or_create(
            take=take,
            fault=fault,
            phase=phase,
            defaults={"answer": answer, "reason": reason.strip(), "why": why},
        )


def _untick(take: Take, fault: str) -> None:
    """A finding that is taken back is not seen any more."""
    named = {one.id for one in observations().observations if one.fault == fault}
    if named & set(take.observations):
        take.observations = [one for one in take.observations if one not in named]
        take.save(update_fields=["observations"])


def choose_focus(take: Take, fault: str, revision: int | None = None) -> None:
    """Make another finding the focus; an empty word leaves it to the order of fixing."""
    stands = {f.fault for f in take.findings.exclude(verdict=CANT_TELL)}
    stands |= set(
        take.decisions.filter(answer=Decision.Answer.ADDED).values_list("fault", flat=True)
    )
    stands -= set(
        take.decisions.filter(answer=Decision.Answer.DISMISSED).values_list("fault", flat=True)
    )
    if fault and fault not in stands:
        raise Refused("Only a finding of this take can be the focus. Add it first.")
    with recorded(take, said("focus chosen"), revision, "chosen_focus", "student_focus"):
        _choose(take, fault)


def _choose(take: Take, fault: str) -> None:
    """The take's focus, and with it what the student works on."""
    student = take.student
    if fault or student.focus == take.chosen_focus:
        student.focus = fault
        student.save(update_fields=["focus"])
    take.chosen_focus = fault
    take.save(update_fields=["chosen_focus"])


def observe(take: Take, seen: list[str], revision: int | None = None) -> None:
    """What the teacher saw, heard and felt: the whole list as it stands now.

    A tick that names a fault is a finding of the teacher's own: it has a drill, stands in the
    order of fixing, and may be the focus.
    """
    known = {one.id: one for one in observations().observations}
    strange = sorted(set(seen) - set(known))
    if strange:
        raise Refused("Unknown observation “{strange}”.", strange=strange[0])
    before, now = set(take.observations), set(seen)
    with recorded(take, "observations", revision, "observations", "decisions"):
        take.observations = [one for one in sorted(known) if one in now]
        take.save(update_fields=["observations"])
        for one in sorted(now - before):
            _add_observed(take, known[one])
        gone = [known[one].fault for one in before - now if one in known and known[one].fault]
        take.decisions.filter(
            fault__in=gone, phase=OBSERVED_IN, answer=Decision.Answer.ADDED
        ).delete()


def _add_observed(take: Take, one: Observation) -> None:
    """The finding that a tick makes, unless it is none yet for who has not learnt the step."""
    if not one.fault or (one.after and not has_passed(take.student, one.after)):
        return
    if not take.findings.filter(fault=one.fault).exists():
        Decision.objects.get_or_create(
            take=take,
            fault=one.fault,
            phase=OBSERVED_IN,
            defaults={"answer": Decision.Answer.ADDED, "reason": one.label},
        )


def set_read(take: Take, is_read: bool, revision: int | None = None) -> None:
    """The teacher has read the take, or wants it back in the list."""
    label = said("marked as reviewed" if is_read else "marked as not reviewed")
    with recorded(take, label, revision, "read_at"):
        take.read_at = clock.now() if is_read else None
        take.save(update_fields=["read_at"])


NO_DEPTH = (
    "This take does not show how deep the mouthpiece is. Mark the edge of the ligature and "
    "the lip on a frame of the held note, from the side."
)


def keep_depth(take: Take, keep: bool) -> None:
    """The depth of this take is right for the student: a tape goes where the lip was; or not."""
    reading = take.readings.filter(measure="depth", phase="hold", value__isnull=False).first()
    if keep and reading is None:
        raise Refused(NO_DEPTH)
    student = take.student
    student.tape_mm = reading.value if keep and reading else None
    student.tape_spread = reading.uncertainty if keep and reading else None
    student.tape_on = take.filmed_on if keep else None
    student.save(update_fields=["tape_mm", "tape_spread", "tape_on"])
