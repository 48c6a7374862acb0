"""The mirror: pictures are measured, a cue comes back, and nothing is kept."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.lessons.mirror import Shown, cue_for, cues, steady
from sulvet.core.review.mirror import Seen, readings, seen
from sulvet.takes.analysis import standard_for_student

#: A picture is so large at most, pixels of each side; so many of the relaxed face, and of the last
#: moments, are looked at together.
LARGEST, MOST_REST, MOST_RECENT = 400, 8, 5
ODD = "This is no picture of the mirror. Reload the page."


@dataclass(frozen=True)
class MirrorState:
    """What the page remembers from one picture to the next: nothing is kept here.

    rest    landmarks of the relaxed face, some pictures; recent  those of the last moments
    """

    rest: list[dict[str, list[float]]] = field(default_factory=list)
    recent: list[dict[str, list[float]]] = field(default_factory=list)
    words: str = ""
    next: str = ""
    since: float = 0.0
    held: float = 0.0


@dataclass(frozen=True)
class Mirrored:
    """What the mirror says of a picture.

    found  whether a face was seen;  good  whether the shape is right
    """

    found: bool
    good: bool
    state: MirrorState


def look(
    student: Student, view: str, pixels: bytes, width: int, height: int, state: MirrorState,
    resting: bool, passed: float,
) -> Mirrored:  # fmt: skip
    """Measure one picture against the relaxed face.

    pixels   RGB, row by row;  resting  this is the relaxed face;  passed  s since the one before
    """
    if not (0 < width <= LARGEST and 0 < height <= LARGEST and len(pixels) == width * height * 3):
        raise Refused(ODD)
    standard = standard_for_student(student)
    picture = np.frombuffer(pixels, np.uint8).reshape(height, width, 3)
    found = seen(picture, standard.family, view)
    rest, recent = [_seen(one) for one in state.rest], [_seen(one) for one in state.recent]
    if found is not None and resting:
        rest = [*rest, found][-MOST_REST:]
    elif found is not None:
        recent = [*recent, found][-MOST_RECENT:]
    before = Shown(state.words, state.next, state.since, state.held)
    words = ""
    if found is not None and not resting:
        school = standard.school(student.school or None).id
        values = readings(rest, recent, view, standard.instrument)
        words = cue_for(values, standard, view, school, before.words)
    shown = Shown() if resting else steady(before, words, min(max(passed, 0.0), 1.0))
    kept = MirrorState([_plain(s) for s in rest], [_plain(s) for s in recent], **asdict(shown))
    return Mirrored(found is not None, shown.words == cues().good, kept)


def _seen(points: dict[str, list[float]]) -> Seen:
    if any(len(point) != 3 for point in points.values()):
        raise Refused(ODD)
    return Seen({name: (x, y, s) for name, (x, y, s) in points.items()})


def _plain(one: Seen) -> dict[str, list[float]]:
    return {name: [round(v, 2) for v in point] for name, point in one.points.items()}


def state_of(given: Any) -> MirrorState:
    """A state as the page sends it back; refused where it is none."""
    try:
        rest, recent = (
            [{str(n): [float(v) for v in point] for n, point in one.items()} for one in given[name]]
            for name in ("rest", "recent")
        )
        words, next_ = str(given["words"])[:80], str(given["next"])[:80]
        since, held = float(given["since"]), float(given["held"])
    except (KeyError, TypeError, ValueError, AttributeError):
        raise Refused(ODD) from None
    known = all(name in TAKE_IDS for one in (*rest, *recent) for name in one)
    figures = [v for one in (*rest, *recent) for point in one.values() for v in point]
    finite = all(math.isfinite(v) for v in (*figures, since, held))
    if not known or not finite or len(rest) > MOST_REST or len(recent) > MOST_RECENT:
        raise Refused(ODD)
    return MirrorState(rest, recent, words, next_, since, held)
