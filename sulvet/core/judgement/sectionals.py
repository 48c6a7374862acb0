"""Workable groups of students who share a focus, and who comes when in a rehearsal."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil


@dataclass(frozen=True)
class Member:
    """A student with a focus.

    rank  place of the focus in the order of fixing, smaller is first
    """

    student: int
    name: str
    section: str
    fault: str
    rank: int


@dataclass(frozen=True)
class Group:
    """Students who work on the same fault together."""

    fault: str
    members: tuple[Member, ...]


@dataclass(frozen=True)
class Grouping:
    """Groups of a workable size, and who is left over: single lessons."""

    groups: list[Group]
    singles: list[Member]


@dataclass(frozen=True)
class Turn:
    """A group's place in the rehearsal: minutes from its start, at which station."""

    group: int
    station: int
    start: int
    end: int


@dataclass(frozen=True)
class Rotation:
    """Who comes when; ``left`` are the groups for which there was no time."""

    turns: tuple[Turn, ...]
    left: tuple[int, ...]


def groups_of(members: list[Member], least: int, most: int) -> Grouping:
    """Groups by fault, as even as they go, none smaller than ``least`` or larger than ``most``.

    Neighbours in a section stay together. The most pressing fault comes first, and of two
    faults that rank alike the larger group. ValueError when the sizes contradict each other.

    >>> five = [Member(n, str(n), "Horn", "smile", 3) for n in range(5)]
    >>> [len(g.members) for g in groups_of(five, 2, 4).groups]
    [3, 2]
    >>> found = groups_of(five, 3, 4)
    >>> [len(g.members) for g in found.groups], len(found.singles)
    ([4], 1)
    """
    if not 1 <= least <= most:
        raise ValueError("The minimum can't be larger than the maximum.")
    by_fault: dict[str, list[Member]] = {}
    for member in sorted(members, key=lambda m: (m.section, m.name, m.student)):
        by_fault.setdefault(member.fault, []).append(member)
    groups, singles = [], []
    for fault, sharing in by_fault.items():
        for size in _sizes(len(sharing), least, most):
            groups.append(Group(fault, tuple(sharing[:size])))
            sharing = sharing[size:]
        singles += sharing
    groups.sort(key=lambda g: (g.members[0].rank, -len(g.members), g.members[0].name))
    return Grouping(groups, sorted(singles, key=lambda m: (m.rank, m.section, m.name)))


def _sizes(count: int, least: int, most: int) -> list[int]:
    """Sizes of the groups that so many make: everybody if that goes, else as many as go."""
    parts = ceil(count / most)
    if parts and count // parts < least:
        parts = count // least
    seats = min(count, parts * most)
    return [seats // parts + (n < seats % parts) for n in range(parts)]


def rotation(groups: list[Group], minutes: int, total: int, stations: int) -> Rotation:
    """One turn after the other of ``minutes`` each, at so many stations side by side.

    total  minutes of the whole rehearsal; a turn that would end later is left out

    >>> groups = [Group("smile", ())] * 3
    >>> [(t.group, t.station, t.start) for t in rotation(groups, 10, 20, 2).turns]
    [(0, 0, 0), (1, 1, 0), (2, 0, 10)]
    """
    turns, left = [], []
    for number in range(len(groups)):
        start = number // stations * minutes
        if start + minutes > total:
            left.append(number)
        else:
            turns.append(Turn(number, number % stations, start, start + minutes))
    return Rotation(tuple(turns), tuple(left))
