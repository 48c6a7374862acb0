"""What only eye and ear together can tell; each says which of the two it heard and saw."""

from __future__ import annotations

import tomllib
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from typing import Literal

from pydantic import BaseModel, ConfigDict, model_validator

from sulvet.core.judgement.judge import FAULT, Reading, outside_band
from sulvet.core.judgement.standards import DATA, Band, Condition, Standard, common

Seen = Literal["seen", "not seen", "can't be seen"]
#: In which the shape stands before the air comes.
FORMED = ("form", "place")


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class Changed(_Strict):
    """A measure that is less or more in the hold than when the shape was formed."""

    measure: str
    way: Literal["less", "more"]


class Pair(_Strict):
    """One fault: what is heard of it, and what is seen: one of the two kinds."""

    fault: str
    heard: Condition
    seen: Condition | None = None
    changed: Changed | None = None
    families: tuple[str, ...] = ()

    @model_validator(mode="after")
    def _one_look(self) -> Pair:
        if (self.seen is None) == (self.changed is None):
            raise ValueError("a pair needs one of seen and changed")
        return self


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


def suspected(
    which: Standard, ear: Iterable[Reading], eye: Iterable[Reading], view: str, school: str
) -> tuple[Suspected, ...]:
    """What is heard as a fault, and whether it is seen as well, in the order of fixing.

    ear, eye  readings of the sound and of the picture, with their verdicts; ``view`` is from
              where that was filmed
    """
    by_ear = {r.measure: r for r in ear}
    by_eye = {(r.measure, r.phase): r for r in eye}
    found = []
    for pair in pairs():
        if pair.families and which.family not in pair.families:
            continue
        heard = by_ear.get(pair.heard.measure)
        if heard is None or heard.verdict != FAULT:
            continue
        band = which.band(heard.measure, "sound", school)
        if outside_band(pair.heard, heard, band) is None:
            continue
        if pair.changed is not None:
            found.append(_changed(pair.fault, pair.changed, heard, by_eye))
        elif pair.seen is not None:
            hold = by_eye.get((pair.seen.measure, "hold"))
            band = which.band(pair.seen.measure, view, school)
            found.append(_outside(pair.fault, pair.seen, heard, hold, band))
    return tuple(sorted(found, key=lambda one: common().place(one.fault)))


def _outside(
    fault: str, seen: Condition, heard: Reading, hold: Reading | None, band: Band | None
) -> Suspected:
    """Whether the picture's reading lies outside its band as well."""
    if hold is None or hold.value is None or hold.uncertainty is None or band is None:
        return Suspected(fault, heard, "can't be seen", seen.measure)
    saw: Seen = "not seen" if outside_band(seen, hold, band) is None else "seen"
    return Suspected(fault, heard, saw, seen.measure, hold.value, hold.uncertainty)


def _changed(
    fault: str, changed: Changed, heard: Reading, by_eye: dict[tuple[str, str], Reading]
) -> Suspected:
    """Whether a measure has changed since the shape was formed, by more than it is unsure of."""
    hold = by_eye.get((changed.measure, "hold"))
    formed = [by_eye[key] for name in FORMED if (key := (changed.measure, name)) in by_eye]
    before = next((r for r in formed if r.value is not None and r.uncertainty is not None), None)
    for one in (hold, before):
        if one is None or one.value is None or one.uncertainty is None:
            return Suspected(fault, heard, "can't be seen", changed.measure)
    assert hold is not None and hold.value is not None and hold.uncertainty is not None
    assert before is not None and before.value is not None and before.uncertainty is not None
    change = hold.value - before.value
    spread = float((hold.uncertainty**2 + before.uncertainty**2) ** 0.5)
    wanted = change < -spread if changed.way == "less" else change > spread
    saw: Seen = "seen" if wanted else "not seen"
    return Suspected(fault, heard, saw, changed.measure, change, spread)
