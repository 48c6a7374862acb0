"""No sound, or not the right one: what to look for first, by what is heard and seen."""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.judgement.common import triage_causes
from sulvet.core.judgement.schema import Cause


@dataclass(frozen=True)
class Advice:
    """One thing to look for; ``seen`` names a fault on the film that speaks for it."""

    cause: Cause
    seen: str = ""


def triage(heard: set[str], family: str, standing: set[str]) -> tuple[Advice, ...]:
    """What to look for, first things first: equipment, then what the film shows.

    heard     observations that are ticked
    standing  faults that stand on the take

    >>> [a.cause.drill for a in triage({"squeaks"}, "single-reed", set())][0]
    'cover-the-holes'
    """
    rows = []
    for cause in triage_causes():
        if cause.heard in heard and (not cause.families or family in cause.families):
            seen = next((fault for fault in cause.seen if fault in standing), "")
            rows.append(Advice(cause, seen))
    return tuple(sorted(rows, key=lambda a: (not a.cause.equipment, not a.seen)))
