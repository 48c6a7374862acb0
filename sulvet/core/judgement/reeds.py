"""Reeds: how far they are worn, which is next, what to buy, and when to look there first."""

from __future__ import annotations

import datetime
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from pydantic import Field

from sulvet.core.data_files import Strict, read_table
from sulvet.core.judgement.common import DATA
from sulvet.core.language import inside, per_language, said

Condition = Literal["good", "chipped", "warped", "retired"]
CONDITIONS: tuple[Condition, ...] = ("good", "chipped", "warped", "retired")
Status = Literal["new", "good", "soon", "worn", "chipped", "warped", "retired"]
#: Instruments that have reeds.
FAMILIES = ("single-reed", "double-reed")


class Habits(Strict):
    """Figures of a teacher; see ``reeds.toml`` for where the shipped ones come from."""

    life_minutes: int = Field(ge=60, le=20000)
    least: int = Field(ge=1, le=20)
    a_day: int = Field(ge=1, le=480)
    break_in_days: int = Field(ge=0, le=30)
    break_in_minutes: int = Field(ge=1, le=120)
    soak_seconds: int = Field(ge=5, le=600)
    soon: float = Field(gt=0, lt=1)
    known_days: int = Field(ge=0, le=30)


class Check(Strict):
    """What is looked at before the mouth, and when."""

    families: tuple[str, ...]
    heard: tuple[str, ...]
    faults: tuple[str, ...] = ()
    done: str
    look: str
    reed: bool = False


class _File(Strict):
    version: int
    habits: Habits
    checks: tuple[Check, ...]


@per_language
def _shipped() -> _File:
    return read_table(DATA / "shared" / "reeds.toml", _File)


def habits() -> Habits:
    """The shipped figures."""
    return _shipped().habits


def checks() -> tuple[Check, ...]:
    """What is looked at first, in the order in which it is asked."""
    return _shipped().checks


@dataclass(frozen=True)
class Reed:
    """One reed of a box.

    minutes, days  played in all; ``days`` on how many days
    """

    slot: int
    strength: str
    opened_on: datetime.date
    condition: Condition = "good"
    minutes: int = 0
    days: int = 0
    last_on: datetime.date | None = None


def worn(reed: Reed, by: Habits) -> float:
    """The share of its life a reed has played.

    >>> worn(Reed(1, "2", datetime.date(2026, 11, 1), minutes=420), habits())
    0.5
    """
    return reed.minutes / by.life_minutes


def status(reed: Reed, by: Habits) -> Status:
    """How a reed stands: what the teacher saw on it counts before what it has played."""
    if reed.condition != "good":
        return reed.condition
    share = worn(reed, by)
    if share >= 1:
        return "worn"
    if share >= by.soon:
        return "soon"
    return "new" if reed.days < by.break_in_days else "good"


def usable(reed: Reed, by: Habits) -> bool:
    """Whether it can be played."""
    return status(reed, by) in ("new", "good", "soon")


def rotation(reeds: list[Reed], by: Habits) -> list[Reed]:
    """Those that can be played, the one to play next first: the longest not played, then the
    least worn."""
    longest = datetime.date.min
    return sorted(
        (reed for reed in reeds if usable(reed, by)),
        key=lambda r: (r.last_on or longest, r.minutes, r.slot),
    )


def missing(reeds: list[Reed], by: Habits) -> int:
    """How many to buy so that enough are in rotation; those that are worn soon don't count.

    A box that nobody has filled tells nothing: none.
    """
    if not reeds:
        return 0
    return max(0, by.least - sum(status(reed, by) in ("new", "good") for reed in reeds))


def shopping(boxes: list[tuple[str, str, list[Reed]]], by: Habits) -> list[tuple[str, str, int]]:
    """What to buy for everybody: instrument, strength, how many, the most first.

    boxes  instrument and the student's usual strength with the reeds of each box
    """
    wanted: Counter[tuple[str, str]] = Counter()
    for instrument, strength, reeds in boxes:
        wanted[instrument, strength] += missing(reeds, by)
    rows = [(instrument, strength, count) for (instrument, strength), count in wanted.items()]
    return sorted((row for row in rows if row[2]), key=lambda row: (-row[2], row[0], row[1]))


def usual_strength(reeds: list[Reed]) -> str:
    """The strength a student plays: that of the reed opened last; empty if there is none."""
    return max(reeds, key=lambda r: (r.opened_on, r.slot)).strength if reeds else ""


#: What is said of a reed that is not for playing.
OUT_OF_USE = {
    "chipped": "the reed in slot {slot} is chipped",
    "warped": "the reed in slot {slot} is warped",
    "retired": "the reed in slot {slot} is out of use",
}


def in_doubt(
    reeds: list[Reed], day: datetime.date, by: Habits, looked: list[str] | None = None
) -> str:
    """Why the reed of a take may be to blame; empty when it is known and in order.

    day     on which the take was filmed
    looked  what a close-up near that day shows to be wrong, by name; None without one
    """
    if looked:
        return said("the close-up shows: {faults}", faults=", ".join(map(inside, looked)))
    near = [
        reed for reed in reeds
        if reed.last_on is not None and abs((day - reed.last_on).days) <= by.known_days
    ]  # fmt: skip
    if not near and looked is not None:
        return ""
    if not near:
        return said("no reed is on record for that day")
    played = max(near, key=lambda reed: (reed.last_on or day, reed.slot))
    state = status(played, by)
    if state in OUT_OF_USE:
        return said(OUT_OF_USE[state], slot=played.slot)
    if state in ("worn", "soon"):
        return said(
            "the reed in slot {slot} has played {played:.0f} of about {life:.0f} hours",
            slot=played.slot, played=played.minutes / 60, life=by.life_minutes / 60,
        )  # fmt: skip
    return ""


@dataclass(frozen=True)
class FirstLook:
    """What to look at before the mouth, in a sentence, and the observation that says it is done."""

    why: str
    done: str


def first_look(
    family: str, ticked: set[str], standing: set[str], reed_doubt: Callable[[], str]
) -> FirstLook | None:
    """What to look at before the mouth; None when there is nothing.

    ticked    observations of the take
    standing  faults that stand on it
    reed_doubt  gives what ``in_doubt`` says; asked only when it matters

    >>> first_look("single-reed", {"airy"}, set(), lambda: "") is None
    True
    >>> first_look("single-reed", {"airy"}, set(), lambda: "no reed is on record").done
    'reed-fine'
    """
    for check in checks():
        if family not in check.families or check.done in ticked:
            continue
        if not (set(check.heard) & ticked or set(check.faults) & standing):
            continue
        if not check.reed:
            return FirstLook(check.look, check.done)
        why = reed_doubt()
        if why:
            return FirstLook(said("{look} Also, {why}.", look=check.look, why=why), check.done)
    return None
