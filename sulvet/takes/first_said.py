"""What a teacher sees on a take before the program says anything."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from django.contrib.auth.models import User

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core.judgement.agreement import Counts
from sulvet.core.judgement.common import common
from sulvet.core.judgement.corroboration import measures_needed
from sulvet.takes.focus import standing
from sulvet.takes.models import SaidFirst, Take

#: So many takes are compared, the newest.
LOOKS = 300


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


@dataclass(frozen=True)
class FirstLooks:
    """What was seen first beside what stood in the end, over a teacher's takes.

    counts    fault by fault of what each take could show
    missed    fault → how often it stood and was not named;  invented  the other way round
    """

    takes: int
    counts: Counts
    missed: Counter[str]
    invented: Counter[str]


def first_looks(teacher: User) -> FirstLooks:
    """All of them; where it was said that nothing can be told, nothing is compared."""
    takes = list(
        Take.objects.filter(
            student__section__band__teacher=teacher, state=Take.State.READY,
            said_first__untold=False,
        )
        .select_related("student", "said_first")
        .prefetch_related("findings__take__student", "decisions", "readings")
        .defer("frame_times", "notes")
        .order_by("-said_first__said_at")[:LOOKS]
    )  # fmt: skip
    both = neither = 0
    missed: Counter[str] = Counter()
    invented: Counter[str] = Counter()
    for take in takes:
        stands, said = {f.fault for f in standing(take)}, set(take.said_first.faults)
        could = {f.id for f in common().faults if could_tell(take, f.id)} | stands
        both += len(stands & said)
        neither += len(could - stands - said)
        missed.update(stands - said)
        # What the take could not show may well be there.
        invented.update((said & could) - stands)
    counts = Counts(both, missed.total(), invented.total(), neither)
    return FirstLooks(len(takes), counts, missed, invented)


def could_tell(take: Take, fault: str) -> bool:
    """Whether what was measured on a take can show a fault."""
    known = {r.measure for r in take.readings.all() if r.value is not None}
    return any(look <= known for look in measures_needed(fault, take.view))
