"""What the teacher says of a take: answers to findings, the focus, ticks, that it is read.

None of it touches a measure.
"""

from __future__ import annotations

from django.utils import timezone

from sulvet.accounts.errors import Refused
from sulvet.core.judgement.common import common, observations
from sulvet.core.judgement.results import CANT_TELL
from sulvet.core.phases import PHASES
from sulvet.takes.focus import focus_of
from sulvet.takes.history import recorded
from sulvet.takes.models import Decision, Take


def decide(
    take: Take, fault: str, phase: str, answer: str, reason: str, revision: int | None = None
) -> None:
    """Confirm, dismiss or add a finding; an empty answer takes the decision back."""
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
    if answer == Decision.Answer.DISMISSED and not reason.strip():
        raise Refused("Say in a word why you dismiss the finding.")
    name = common().fault(fault).name if fault in known else fault
    label = f"“{name}” {answer}" if answer else f"answer to “{name}” undone"
    with recorded(take, label, revision, "decisions", "chosen_focus", "student_focus"):
        if answer in ("", Decision.Answer.DISMISSED) and take.chosen_focus == fault:
            _choose(take, "")
        if answer == Decision.Answer.CONFIRMED and focus_of(take).fault == fault:
            # Confirming the focus sets it: it stays, whatever other takes bring.
            _choose(take, fault)
        if not answer:
            take.decisions.filter(fault=fault, phase=phase).delete()
            return
        Decision.objects.update_or_create(
            take=take,
            fault=fault,
            phase=phase,
            defaults={"answer": answer, "reason": reason.strip()},
        )


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
    with recorded(take, "focus chosen", revision, "chosen_focus", "student_focus"):
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
    """What the teacher saw, heard and felt: the whole list as it stands now."""
    known = {one.id for one in observations().observations}
    strange = sorted(set(seen) - known)
    if strange:
        raise Refused(f"Unknown observation “{strange[0]}”.")
    with recorded(take, "observations", revision, "observations"):
        take.observations = [one for one in sorted(known) if one in set(seen)]
        take.save(update_fields=["observations"])


def set_read(take: Take, is_read: bool, revision: int | None = None) -> None:
    """The teacher has read the take, or wants it back in the list."""
    label = "marked as reviewed" if is_read else "marked as not reviewed"
    with recorded(take, label, revision, "read_at"):
        take.read_at = timezone.now() if is_read else None
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
