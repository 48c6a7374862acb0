"""What only eye and ear together can tell; each says which of the two it heard and saw."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from typing import Literal

from pydantic import BaseModel, ConfigDict

from sulvet.core.judgement.judge import Reading
from sulvet.core.judgement.standards import DATA, common

Seen = Literal["seen", "not seen", "can't be seen"]
#: In which the shape stands before the air comes.
FORMED = ("form", "place")


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Limit(_Strict):
    """A measure beyond a limit, or changed since the shape was formed."""

    measure: str
    above: float | None = None
    below: float | None = None
    changed: Literal["less", "more"] | None = None


class Pair(_Strict):
    """One fault: what is heard of it, and what is seen."""

    fault: str
    heard: Limit
    seen: Limit
    families: tuple[str, ...] = ()


class _File(_Strict):
    version: int
    together: tuple[Pair, ...]


@cache
def pairs() -> tuple[Pair, ...]:
    """All of them."""
    text = (DATA / "shared" / "together.toml").read_text(encoding="utf-8")
    return _File.model_validate(tomllib.loads(text)).together


@dataclass(frozen=True)
class Suspected:
    """A fault that is heard, and whether the picture bears it out.

    heard  the reading of the sound
    saw    ``seen``, ``not seen`` or ``can't be seen``;  measure  what was looked at
    change and uncertainty  of that measure, where it could be told
    """

    fault: str
    heard: Reading
    saw: Seen
    measure: str
    change: float | None = None
    uncertainty: float | None = None


def suspected(family: str, ear: Iterable[Reading], eye: Iterable[Reading]) -> tuple[Suspected, ...]:
    """What is heard beyond its limit by more than it is unsure of, in the order of fixing.

    ear, eye  readings of the sound and of the picture
    """
    by_ear = {r.measure: r for r in ear}
    by_eye = {(r.measure, r.phase): r for r in eye}
    found = []
    for pair in pairs():
        if pair.families and family not in pair.families:
            continue
        heard = by_ear.get(pair.heard.measure)
        if heard is None or not _beyond(pair.heard, heard.value, heard.uncertainty):
            continue
        found.append(_looked(pair, heard, by_eye))
    return tuple(sorted(found, key=lambda one: common().place(one.fault)))


def _beyond(limit: Limit, value: float | None, spread: float | None) -> bool:
    """Whether a value lies beyond a limit, and clear of it."""
    if value is None or spread is None:
        return False
    if limit.above is not None:
        return value - limit.above > spread
    return limit.below is not None and limit.below - value > spread


def _looked(pair: Pair, heard: Reading, by_eye: dict[tuple[str, str], Reading]) -> Suspected:
    """What the picture says to what is heard."""
    seen = pair.seen
    hold = by_eye.get((seen.measure, "hold"))
    unseen = Suspected(pair.fault, heard, "can't be seen", seen.measure)
    if hold is None or hold.value is None or hold.uncertainty is None:
        return unseen
    if seen.changed is None:
        saw: Seen = "seen" if _beyond(seen, hold.value, hold.uncertainty) else "not seen"
        return Suspected(pair.fault, heard, saw, seen.measure, hold.value, hold.uncertainty)
    formed = [by_eye[key] for name in FORMED if (key := (seen.measure, name)) in by_eye]
    before = next((r for r in formed if r.value is not None and r.uncertainty is not None), None)
    if before is None or before.value is None or before.uncertainty is None:
        return unseen
    change = hold.value - before.value
    spread = float((hold.uncertainty**2 + before.uncertainty**2) ** 0.5)
    wanted = change < -spread if seen.changed == "less" else change > spread
    saw = "seen" if wanted else "not seen"
    return Suspected(pair.fault, heard, saw, seen.measure, change, spread)
