"""The mirror: pictures are measured, a cue comes back, and nothing is kept."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core.anatomy.landmarks import TAKE_IDS
from sulvet.core.judgement.common import measures_of
from sulvet.core.judgement.intended_note import playing_range
from sulvet.core.lessons.mirror import Shown, cue_for, cues, steady
from sulvet.core.review.mirror import Line, Seen, last_moments, seen
from sulvet.core.sound.pitch import RATE, note_now
from sulvet.takes.analysis import standard_for_student

#: A picture is so large at most, pixels of each side; so many of the relaxed face, and of the last
#: moments, are looked at together.
LARGEST, MOST_REST, MOST_RECENT = 400, 8, 5
#: The last moments are this long, s, and two pictures at least: a slow machine, which sees few, is
#: to be no later with what it says.
LAST_SECONDS, LEAST_RECENT = 0.5, 2
#: Bytes of sound at most: half a second.
MOST_SOUND = RATE
ODD = "This is no picture of the mirror. Reload the page."


@dataclass(frozen=True)
class MirrorState:
    """What the page remembers from one picture to the next: nothing is kept here.

    rest     landmarks of the relaxed face, some pictures; recent  those of the last moments
    held_on  the note that sounded last while the shape was good; empty while it is not
    """

    rest: list[dict[str, list[float]]] = field(default_factory=list)
    recent: list[dict[str, list[float]]] = field(default_factory=list)
    words: str = ""
    next: str = ""
    since: float = 0.0
    held: float = 0.0
    held_on: str = ""


@dataclass(frozen=True)
class Mirrored:
    """What the mirror says of a picture.

    found  whether a face was seen;  good  whether the shape is right
    lines  the face at rest and what the standard wants, in pixels of the picture
    note   what sounds, and how many cents above it; empty and None where nothing does
    """

    found: bool
    good: bool
    lines: list[Line]
    note: str
    cents: int | None
    state: MirrorState


@dataclass(frozen=True)
class Moment:
    """What comes from the page: a picture, RGB row by row, and the last sound before it.

    sound    mono at ``pitch.RATE``, 16 bits; may be empty
    resting  this is the relaxed face;  passed  s since the picture before
    """

    pixels: bytes
    width: int
    height: int
    sound: bytes
    resting: bool
    passed: float


def look(student: Student, view: str, moment: Moment, state: MirrorState) -> Mirrored:
    """Measure one picture against the relaxed face."""
    width, height = moment.width, moment.height
    fits = 0 < width <= LARGEST and 0 < height <= LARGEST
    if not fits or len(moment.pixels) != width * height * 3 or len(moment.sound) > MOST_SOUND:
        raise Refused(ODD)
    standard = standard_for_student(student)
    picture = np.frombuffer(moment.pixels, np.uint8).reshape(height, width, 3)
    found = seen(picture, standard.family, view)
    passed = min(max(moment.passed, 0.0), 1.0)
    rest, recent = [_seen(one) for one in state.rest], [_seen(one) for one in state.recent]
    if found is not None and moment.resting:
        rest = [*rest, found][-MOST_REST:]
    elif found is not None:
        recent = [*recent, found][-_many(passed) :]
    before = Shown(state.words, state.next, state.since, state.held)
    words, lines, last = "", list[Line](), None
    if found is not None and not moment.resting:
        last = last_moments(rest, recent, view, standard.instrument)
    if last is not None:
        school = standard.school(student.school or None).id
        first = measures_of(student.focus, view) if student.focus else ()
        words = cue_for(last.readings(), standard, view, school, before.words, first)
        lines = last.lines(standard, school)
    shown = Shown() if moment.resting else steady(before, words, passed)
    good = shown.words == cues().good
    heard = note_now(np.frombuffer(moment.sound[: len(moment.sound) // 2 * 2], "<i2") / 32768.0,
                     *playing_range(standard))  # fmt: skip
    note, off = heard if heard is not None else ("", None)
    kept = MirrorState(
        [_plain(s) for s in rest], [_plain(s) for s in recent], **asdict(shown),
        held_on=(note or state.held_on) if good else "",
    )  # fmt: skip
    return Mirrored(found is not None, good, lines, note, off, kept)


def _many(passed: float) -> int:
    """How many of the last pictures are the last moments, ``passed`` s one after the other."""
    return round(min(max(LAST_SECONDS / max(passed, 0.1), LEAST_RECENT), MOST_RECENT))


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
        since, held, note = float(given["since"]), float(given["held"]), str(given["held_on"])[:8]
    except (KeyError, TypeError, ValueError, AttributeError):
        raise Refused(ODD) from None
    known = all(name in TAKE_IDS for one in (*rest, *recent) for name in one)
    figures = [v for one in (*rest, *recent) for point in one.values() for v in point]
    finite = all(math.isfinite(v) for v in (*figures, since, held))
    if not known or not finite or len(rest) > MOST_REST or len(recent) > MOST_RECENT:
        raise Refused(ODD)
    return MirrorState(rest, recent, words, next_, since, held, note)
