"""One thing to fix: which of the findings is the focus, why this one, and what waits.

In the order of fixing (``faults.toml``), with these rules before it:

1. A caution (pain, dizziness) comes before any fault: then there is no focus.
2. What the teacher chose is the focus.
3. While it sounds like the equipment and nobody has looked there, there is no focus
   either: the equipment is looked at first.
4. The focus of the take before stays while it still stands, so that a student is not
   sent from one thing to the next; only what causes it goes before.
5. An earlier fault that another one often comes from is the focus, and says so.
"""

from __future__ import annotations

from dataclasses import dataclass

from sulvet.core.judgement.common import Common, common
from sulvet.core.language import inside, listed, said

CHOSEN, KEPT, CAUSE, ORDER, ALONE = "chosen", "kept", "cause", "order", "alone"
#: Reasons under which nothing of the mouth is corrected.
CAUTION, SET_UP = "caution", "set-up"


@dataclass(frozen=True)
class Candidate:
    """A finding that stands.

    severity  how far beyond its band, in widths of its watch margin or uncertainty; 0 unknown
    """

    fault: str
    phase: str
    severity: float = 0.0


@dataclass(frozen=True)
class Waits:
    """A finding that waits, and why."""

    fault: str
    phase: str
    why: str


@dataclass(frozen=True)
class Focus:
    """The focus and its reason; ``fault`` is None under a caution, while the equipment comes
    first, or when nothing stands."""

    fault: str | None
    phase: str
    reason: str
    why: str
    waits: tuple[Waits, ...]


def choose(
    standing: list[Candidate],
    chosen: str = "",
    before: str = "",
    cautions: tuple[str, ...] = (),
    set_up: str = "",
    wording: Common | None = None,
) -> Focus:
    """The focus of one take.

    standing  findings that are not dismissed
    chosen    the fault the teacher made the focus
    before    the focus of the student's take before
    cautions  what was ticked that comes before any fault, in words
    set_up    what to look at before the mouth, in words

    >>> both = [Candidate("bunched-chin", "hold"), Candidate("swallowed-lip", "hold")]
    >>> choose(both).fault
    'swallowed-lip'
    """
    table = wording or common()
    rows = sorted(standing, key=lambda c: (table.place(c.fault), -c.severity))
    if cautions:
        why = said(
            "First: {cautions}. No corrections until this is resolved.",
            cautions=", ".join(cautions),
        )
        return Focus(None, "", CAUTION, why, _waiting(rows, None, table))
    by_fault = {row.fault: row for row in reversed(rows)}
    if chosen in by_fault:
        return _focus_on(by_fault[chosen], CHOSEN, said("You set this focus."), rows, table)
    if set_up:
        return Focus(None, "", SET_UP, set_up, _waiting(rows, None, table))
    if not rows:
        return Focus(None, "", "", "", ())
    lead = by_fault.get(before, rows[0])
    cause = _first_cause(lead.fault, set(by_fault), table)
    name = _lower(lead.fault, table)
    if cause is not None:
        why = said(
            "“{cause}” often causes “{name}”, so it comes first.",
            cause=_lower(cause, table),
            name=name,
        )
        return _focus_on(by_fault[cause], CAUSE, why, rows, table)
    if lead.fault == before:
        why = said(
            "It was the focus of the last take and is still there: one thing at a time "
            "until it holds."
        )
        return _focus_on(lead, KEPT, why, rows, table)
    if len(rows) == 1:
        return _focus_on(lead, ALONE, said("No other fault."), rows, table)
    caused = [
        _lower(row.fault, table) for row in rows if lead.fault in table.fault(row.fault).causes
    ]
    if caused:
        why = said(
            "“{name}” often causes {caused}, so it comes first.", name=name, caused=_list(caused)
        )
        return _focus_on(lead, CAUSE, why, rows, table)
    group = table.fault(lead.fault).group
    why = said("In the order of fixing, {group} comes before the other faults.", group=group)
    if all(table.fault(row.fault).group == group for row in rows):
        why = said("Largest deviation, so first.")
    return _focus_on(lead, ORDER, why, rows, table)


def _first_cause(fault: str, there: set[str], wording: Common) -> str | None:
    """The earliest of the standing faults that a fault comes from, by way of others too."""
    seen, found, ask = {fault}, None, [fault]
    while ask:
        for cause in wording.fault(ask.pop()).causes:
            if cause in there and cause not in seen:
                seen.add(cause)
                ask.append(cause)
                if found is None or wording.place(cause) < wording.place(found):
                    found = cause
    return found


def _focus_on(
    row: Candidate, reason: str, why: str, rows: list[Candidate], wording: Common
) -> Focus:
    return Focus(row.fault, row.phase, reason, why, _waiting(rows, row, wording))


def _waiting(rows: list[Candidate], focus: Candidate | None, wording: Common) -> tuple[Waits, ...]:
    waits = []
    for row in rows:
        if focus is not None and row.fault == focus.fault:
            continue
        why = said("one thing at a time")
        if focus is not None and focus.fault in wording.fault(row.fault).causes:
            why = said("it may disappear once the focus is fixed")
        waits.append(Waits(row.fault, row.phase, why))
    return tuple(waits)


def _lower(fault: str, wording: Common) -> str:
    return inside(wording.fault(fault).name)


def _list(names: list[str]) -> str:
    return listed([said("“{name}”", name=name) for name in names])
