"""Rehearsal marks: the named stretches a take is cut into."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sulvet.core.anatomy.marks import Bools, Floats, Marks

PHASES: tuple[str, ...] = (
    "rest",
    "form",
    "place",
    "breathe",
    "start",
    "hold",
    "change",
    "release",
)


@dataclass(frozen=True)
class Phase:
    """One stretch of a take, seconds from the first frame; both ends included.

    confidence  how sure a suggested one is, 0..1; the teacher's own are 1
    """

    name: str
    start: float
    end: float
    confidence: float = 1.0

    def __post_init__(self) -> None:
        if self.name not in PHASES:
            raise ValueError(f"unknown phase {self.name!r}; use one of {', '.join(PHASES)}")
        if not self.end > self.start:
            raise ValueError(f"phase {self.name} ends before it starts")

    def holds(self, seconds: Floats) -> Bools:
        """(T,) which of these times fall into the phase."""
        return np.asarray((seconds >= self.start - 1e-6) & (seconds <= self.end + 1e-6))


def frames_of(phases: list[Phase] | tuple[Phase, ...], name: str, seconds: Floats) -> Bools:
    """(T,) which of these times fall into any phase of that name."""
    mask = np.zeros(len(seconds), dtype=bool)
    for phase in phases:
        if phase.name == name:
            mask |= phase.holds(seconds)
    return mask


def runs_of(mask: Bools, seconds: Floats, bridge: float = 0.1) -> list[tuple[int, int]]:
    """First and last index of each stretch of True, gaps up to ``bridge`` s closed.

    >>> runs_of(np.array([True, True, False, True]), np.array([0.0, 0.1, 0.2, 0.9]))
    [(0, 1), (3, 3)]
    """
    runs: list[tuple[int, int]] = []
    for index in np.flatnonzero(mask):
        if runs and (
            index == runs[-1][1] + 1 or seconds[index] - seconds[runs[-1][1]] <= bridge + 1e-6
        ):
            runs[-1] = (runs[-1][0], int(index))
        else:
            runs.append((int(index), int(index)))
    return runs


#: How sure a suggestion is: told by the tone, by how the mouth looks, or guessed from
#: stillness alone (shares of simulated takes in which each was right within 0.25 s).
SURE, LIKELY, GUESSED = 0.9, 0.6, 0.4
#: A suggestion less sure than this is shown as a guess: between what the tone tells and the rest.
CLEAR = 0.7
#: The start and the end of a tone are no hold, s; nor is what is shorter than this.
ATTACK, RELEASE, SHORTEST_HOLD = 0.15, 0.10, 0.4
#: So long a letter must be, s, and so long the release is looked at.
SHORTEST_STEP, RELEASE_LASTS = 0.15, 0.35
#: A breath that counts is so long and begins so many seconds before its tone.
SHORTEST_BREATH, BREATH_WITHIN = 0.15, 1.2

#: A frame shows the rest shape while mouth width and corner height differ by
#: less than this from the first frames, share of rest mouth width.
SAME_MOUTH = 0.025


def suggest(marks: Marks) -> list[Phase]:
    """``rest`` and ``hold`` from marks alone, for files that bring no phases.

    ``rest`` is the stretch from the first frame on that keeps the first frames'
    shape, ``hold`` the longest later stretch that keeps a shape of its own; a
    take that never changes shape is cut in the middle. Empty when there are
    fewer than four frames with both mouth corners.
    """
    names = ("ch_r", "ch_l", "ls", "li")
    if not set(names) <= set(marks.ids):
        return []
    right, left, upper, lower = (marks.xy[:, marks.column(name)] for name in names)
    rows = np.flatnonzero(np.isfinite(right[:, 0]) & np.isfinite(left[:, 0]))
    if len(rows) < 4:
        return []
    across = left[rows] - right[rows]
    width = np.linalg.norm(across, axis=1)
    down = np.stack([-across[:, 1], across[:, 0]], axis=1) / width[:, None]
    middle = (upper + lower)[rows] / 2 - (left + right)[rows] / 2
    start = max(len(rows) // 10, 1)
    base = float(np.median(width[:start]))
    lift = np.nan_to_num((middle * down).sum(1))
    shape = np.stack([width, lift], axis=1) / base
    resting = (np.abs(shape - np.median(shape[:start], axis=0)) < SAME_MOUTH).all(1)
    last = len(rows) - 1 if resting.all() else max(int(np.argmin(resting)) - 1, 0)
    seconds = marks.seconds[rows]
    if last == len(rows) - 1:
        half = len(rows) // 2
        return _cut(seconds, (0, half - 1), (half, last))
    longest, first = (last + 1, last + 1), last + 1
    for row in range(last + 1, len(rows)):
        part = shape[first : row + 1]
        if (np.abs(part - np.median(part, axis=0)) >= SAME_MOUTH).any():
            first = row
        if row - first > longest[1] - longest[0]:
            longest = (first, row)
    return _cut(seconds, (0, last), longest)


def _cut(seconds: Floats, rest: tuple[int, int], hold: tuple[int, int]) -> list[Phase]:
    return [
        Phase(name, float(seconds[first]), float(seconds[last]))
        for name, (first, last) in (("rest", rest), ("hold", hold))
        if seconds[last] > seconds[first]
    ]
