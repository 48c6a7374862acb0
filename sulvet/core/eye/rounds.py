"""Rounds: which loops are shown, by instrument and level, and by where one errs."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import get_args

import numpy as np

from sulvet.core.eye.catalogue import of_level
from sulvet.core.eye.loop import ALIKE, FAULT, RIGHT, UNTOLD, Loop
from sulvet.core.eye.schema import Level, figures

LEVELS: tuple[Level, ...] = get_args(Level)


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
    by, mix = figures(), figures().levels[level]
    rng = np.random.default_rng(lot)
    pool = of_level(instrument, level)
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

    again = [one for one in pool if one.id in lately and one.kind == FAULT]
    take(min(1, len(again)), again)
    for kind, count in ((RIGHT, mix.right), (ALIKE, mix.alike), (UNTOLD, mix.untold)):
        take(count, [one for one in pool if one.kind == kind])
    take(mix.two, [one for one in pool if len(one.faults) > 1])
    single = [one for one in pool if len(one.faults) == 1 and one.degree in mix.degrees]
    often = [1.0 + (by.oftener - 1) * (errs or {}).get(one.faults[0], 0.0) for one in single]
    take(by.length - len(chosen), single, often)
    # A small instrument has fewer look-alikes: right ones fill the round.
    take(by.length - len(chosen), pool)
    return [chosen[int(n)] for n in rng.permutation(len(chosen))]
