"""Rounds as they are shown: what is true is told only of what was judged."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from functools import cache

from sulvet.accounts.errors import Refused
from sulvet.core.eye.catalogue import fault_name, faults_on, where_to_look
from sulvet.core.eye.library import FOLDER, MARKS
from sulvet.core.eye.loop import ALIKE, UNTOLD, Loop
from sulvet.core.eye.schema import EAR
from sulvet.core.eye.score import Answer
from sulvet.core.judgement.standards import shipped_standards
from sulvet.core.language import inside, listed, said
from sulvet.eye.shapes import Mark, Named, RoundItem, SaidIn, Truth

#: How strongly a fault is drawn, in words.
DEGREES = ("slight", "clear", "strong")
NOTHING = "nothing"
UNKNOWN = "Unknown instrument “{instrument}”. Choose one of the list."


def known(instrument: str) -> str:
    """The same; refused where there is no such instrument."""
    if instrument not in shipped_standards():
        raise Refused(UNKNOWN, instrument=instrument)
    return instrument


def checked(loops: list[Loop], given: SaidIn) -> Answer:
    """What was given of one loop of a round; refused where it is not in it, or can't be given."""
    if not 0 <= given.place < len(loops):
        raise Refused("This round has no such take. Reload the page.")
    one = loops[given.place]
    if given.untold and given.faults:
        raise Refused("Say what you see, or that it can't be told.")
    if set(given.faults) - set(faults_on(one.instrument, one.view)):
        raise Refused("This can't be given of this take. Reload the page.")
    return Answer(one, frozenset(given.faults), given.untold)


def items(
    loops: list[Loop], answers: Mapping[int, Answer], film: Callable[[int], str]
) -> list[RoundItem]:
    """The loops of a round in their order.

    film  where the film of a place is served
    """
    return [
        RoundItem(
            place, one.view, film(place),
            [Named(f, fault_name(f, one.instrument)) for f in faults_on(one.instrument, one.view)],
            truth_of(answers[place]) if place in answers else None,
        )
        for place, one in enumerate(loops)
    ]  # fmt: skip


def truth_of(answer: Answer) -> Truth:
    """What is true of a loop, beside what was said."""
    one = answer.loop
    told = _cant(one) if answer.untold else _named(answer.faults, one)
    looks = [where_to_look(f) for f in (*one.faults, *([one.like] if one.like else []))]
    return Truth(
        answer.right, told, truth_words(one), " ".join(dict.fromkeys(looks)), one.because,
        marks_of(one),
    )  # fmt: skip


def _cant(one: Loop) -> str:
    return said("can't be told" if one.view == EAR else "can't be told from here")


def truth_words(one: Loop) -> str:
    """What is true of a loop."""
    if one.kind == UNTOLD:
        return _cant(one)
    if one.kind == ALIKE:
        words = "nothing; it only sounds like “{fault}”"
        if one.view != EAR:
            words = "nothing; it only looks like “{fault}”"
        return said(words, fault=inside(fault_name(one.like, one.instrument)))
    if not one.faults:
        return said(NOTHING)
    degree = "" if len(one.faults) > 1 else f", {said(DEGREES[one.degree or 0])}"
    return f"{_named(one.faults, one)}{degree}"


def _named(faults: frozenset[str] | tuple[str, ...], one: Loop) -> str:
    names = [inside(fault_name(f, one.instrument)) for f in sorted(faults)]
    return listed(names) if names else said(NOTHING)


@cache
def _all_marks() -> dict[str, dict[str, tuple[float, float]]]:
    file = FOLDER / MARKS
    return dict(json.loads(file.read_text("utf-8"))) if file.exists() else {}


def marks_of(one: Loop) -> list[Mark]:
    """Where to look on a loop; none of one that was never filmed."""
    return [Mark(x, y) for x, y in _all_marks().get(one.id, {}).values()]


def summary_of(answers: list[Answer]) -> str:
    """A round in a sentence."""
    right = sum(one.right for one in answers)
    seen = [a for a in answers if a.loop.faults]
    hits = sum(bool(a.faults & set(a.loop.faults)) for a in seen)
    clean = [a for a in answers if not a.loop.faults and a.loop.kind != UNTOLD]
    alarms = sum(bool(a.faults) for a in clean)
    return said(
        "{right} of {answers} fully right. Of {seen} takes with a fault you named one "
        "in {hits}; on {alarms} of {clean} without one you named a fault.",
        right=right,
        answers=len(answers),
        seen=len(seen),
        hits=hits,
        alarms=alarms,
        clean=len(clean),
    )
