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


def groups_of(members: list[Member], least: int, most: int) -> list[Group]:
    """Groups by fault, each as even as they go, none larger than ``most``.

    least  fewer than this are not brought together for the fault: they come one by one

    Neighbours in a section stay together. The most pressing fault comes first, and of two
    faults that rank alike the larger group. ValueError when the sizes contradict each other.

    >>> five = [Member(n, str(n), "Horn", "smile", 3) for n in range(5)]
    >>> [len(g.members) for g in groups_of(five, 2, 4)]
    [3, 2]
    """
    if not 1 <= least <= most:
        raise ValueError("The minimum can't be larger than the maximum.")
    by_fault: dict[str, list[Member]] = {}
    for member in sorted(members, key=lambda m: (m.section, m.name, m.student)):
        by_fault.setdefault(member.fault, []).append(member)
    groups = []
    for fault, sharing in by_fault.items():
        if len(sharing) < least:
            groups += [Group(fault, (one,)) for one in sharing]
            continue
        parts = ceil(len(sharing) / most)
        sizes = [len(sharing) // parts + (n < len(sharing) % parts) for n in range(parts)]
        for size in sizes:
            groups.append(Group(fault, tuple(sharing[:size])))
            sharing = sharing[size:]
    return sorted(groups, key=lambda g: (g.members[0].rank, -len(g.members), g.members[0].name))


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
