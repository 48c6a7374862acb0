"""Rounds: which loops are shown, by instrument and level, and by where one errs."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Literal, get_args

import numpy as np

from sulvet.core.eye.library import ALIKE, RIGHT, UNTOLD, Loop, filmed_on, library

Level = Literal["clear", "slight", "look-alikes", "mixed"]
LEVELS: tuple[Level, ...] = get_args(Level)
#: Loops in a round.
LENGTH = 12
#: What a round of each level is made of (Sulvet default): so many of each kind, the rest faults.
#: About as many takes show a fault as do not: who always says "smile" gains nothing.
MIX: dict[Level, dict[str, int]] = {
    "clear": {RIGHT: 4, ALIKE: 0, UNTOLD: 1, "two": 0},
    "slight": {RIGHT: 4, ALIKE: 1, UNTOLD: 1, "two": 0},
    "look-alikes": {RIGHT: 2, ALIKE: 4, UNTOLD: 1, "two": 0},
    "mixed": {RIGHT: 3, ALIKE: 2, UNTOLD: 1, "two": 2},
}
#: Which degrees of a fault each level shows.
DEGREES: dict[Level, tuple[int, ...]] = {
    "clear": (1, 2), "slight": (0,), "look-alikes": (1, 2), "mixed": (0, 1, 2),
}  # fmt: skip
#: A fault that one always gets wrong comes so many times as often as one that one never does.
OFTENER = 4.0


def choose(
    instrument: str, level: Level, lot: int, errs: Mapping[str, float] | None = None,
    lately: Collection[str] = (),
) -> list[Loop]:  # fmt: skip
    """A round: no loop twice, in an order by lot.

    lot     seed: the same lot gives the same round
    errs    fault → how often it was judged wrongly, 0 to 1: such faults come oftener
    lately  ids of loops shown lately: only where there are no others, but for one of them, so that
            one can be compared with oneself
    """
    rng = np.random.default_rng(lot)
    pool = [one for one in library() if one.instrument == filmed_on(instrument)]
    chosen: list[Loop] = []

    def take(count: int, those: Sequence[Loop], weights: Sequence[float] | None = None) -> None:
        left = [n for n, one in enumerate(those) if one not in chosen]
        fresh = [n for n in left if those[n].id not in lately] or left
        for group in (fresh, [n for n in left if n not in fresh]):
            few = min(count, len(group))
            if few:
                share = np.array([1.0 if weights is None else weights[n] for n in group])
                picked = rng.choice(len(group), few, replace=False, p=share / share.sum())
                chosen.extend(those[group[int(n)]] for n in picked)
                count -= few

    again = [one for one in pool if one.id in lately and one.kind == "fault"]
    take(min(1, len(again)), again)
    for kind, count in MIX[level].items():
        if kind == "two":
            take(count, [one for one in pool if len(one.faults) > 1])
        else:
            take(count, [one for one in pool if one.kind == kind])
    single = [one for one in pool if len(one.faults) == 1 and one.degree in DEGREES[level]]
    often = [1.0 + (OFTENER - 1) * (errs or {}).get(one.faults[0], 0.0) for one in single]
    take(LENGTH - len(chosen), single, often)
    # A small instrument has fewer look-alikes: right ones fill the round.
    take(LENGTH - len(chosen), pool)
    return [chosen[int(n)] for n in rng.permutation(len(chosen))]
