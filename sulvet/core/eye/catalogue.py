"""All that a round may show, films and tones, and what may be said of each."""

from __future__ import annotations

from sulvet.core.eye import library
from sulvet.core.eye.loop import Loop, filmed_on
from sulvet.core.eye.schema import EAR, Level, Shown, cases
from sulvet.core.eye.tones import heard_faults, tones_of
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard, shipped_standards
from sulvet.core.language import per_language


@per_language
def by_id() -> dict[str, Loop]:
    """Every film and tone by its id."""
    tones = (one for instrument in shipped_standards() for one in tones_of(instrument))
    return {one.id: one for one in (*library.library(), *tones)}


def shown_on(instrument: str) -> list[Loop]:
    """All films and tones of an instrument."""
    films = [one for one in library.library() if one.instrument == filmed_on(instrument)]
    return [*films, *tones_of(instrument)]


def of_level(instrument: str, level: Level) -> list[Loop]:
    """What a round of a level is chosen from."""
    return [one for one in shown_on(instrument) if (one.view == EAR) == (level == "by-ear")]


def faults_on(instrument: str, view: Shown) -> tuple[str, ...]:
    """What may be wrong on an instrument, seen from a side or heard, in the tables' order."""
    return tuple(heard_faults()) if view == EAR else library.faults_on(instrument, view)


def fault_name(fault: str, instrument: str) -> str:
    """A fault in words for the player of an instrument."""
    heard = heard_faults().get(fault)
    if heard is not None:
        return heard.name
    return common().fault(fault, shipped_standard(instrument).family).name


def where_to_look(fault: str) -> str:
    """What to look at, or to listen for."""
    heard = heard_faults().get(fault)
    return cases().case(fault).look if heard is None else heard.look
