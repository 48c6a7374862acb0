"""What a teacher sees on a take before the program says anything."""

from __future__ import annotations

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core.judgement.common import common
from sulvet.takes.models import SaidFirst, Take


def say_first(take: Take, faults: list[str], untold: bool) -> None:
    """Keep it, once: what is said after the findings were seen is no first look."""
    known = {fault.id for fault in common().faults if fault.suits(take.student.family)}
    if set(faults) - known:
        raise Refused("This fault is not one of this instrument's. Reload the page.")
    if untold and faults:
        raise Refused("Say what you see, or that it can't be told.")
    _, fresh = SaidFirst.objects.get_or_create(
        take=take, defaults={"faults": sorted(set(faults)), "untold": untold}
    )
    if not fresh:
        raise Conflict("You have said already what you see on this take.")


def said_on(take: Take) -> SaidFirst | None:
    """What was said first; None while nothing was."""
    return SaidFirst.objects.filter(take=take).first()
