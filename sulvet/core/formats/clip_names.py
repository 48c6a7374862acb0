"""Whose clip a file is, by its name: what is proposed to the teacher, who looks it over."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from itertools import pairwise
from pathlib import PurePath

from sulvet.core.language import said

VIDEO = (".mp4", ".mov", ".m4v", ".webm", ".mkv", ".3gp", ".avi")
SIDE_WORDS = {"side", "profile"}
FRONT_WORDS = {"front"}
RECHECK_WORDS = {"recheck", "again"}


@dataclass(frozen=True)
class Match:
    """What a file's name says.

    student  None when no name or more than one fits; ``why`` then says what to do
    view     as the name says, else the one that tells most of the student's instrument
    filmed_on  a date in the name as ISO text, empty without one
    video    whether it is a clip at all
    """

    file: str
    student: int | None
    view: str
    purpose: str
    filmed_on: str
    why: str
    video: bool = True


@dataclass(frozen=True)
class Player:
    """A student as a file may name them; ``view`` is the usual one of the instrument."""

    name: str
    view: str = "front"


def words_of(text: str) -> list[str]:
    """The words of a name, in lower case, without accents and signs.

    >>> words_of("Nuñez-Hofer_side 2026")
    ['nunez', 'hofer', 'side', '2026']
    """
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    return re.findall(r"[a-z]+|\d+", plain)


def match(files: list[str], students: dict[int, Player]) -> list[Match]:
    """Who is on each clip, seen from where.

    students  id → who that is

    A student's number in the file's name, such as "no14", says it all. Else all words of a name
    count; whoever has the most of them in the file's name is it, as long as nobody else has as
    many.
    """
    names = {student: set(words_of(player.name)) for student, player in students.items()}
    return [_match(file, names, students) for file in files]


def _match(file: str, names: dict[int, set[str]], students: dict[int, Player]) -> Match:
    path = PurePath(file.replace("\\", "/"))
    words = words_of(str(path.with_suffix("")))
    found = set(words)
    view_said = "side" if found & SIDE_WORDS else "front" if found & FRONT_WORDS else ""
    view = view_said or "front"
    purpose = "recheck" if found & RECHECK_WORDS else "check"
    day = re.search(r"(?<!\d)(20\d\d)[-_]?(0[1-9]|1[0-2])[-_]?([0-2]\d|3[01])(?!\d)", path.stem)
    date = "-".join(day.groups()) if day else ""
    if path.suffix.lower() not in VIDEO:
        return Match(file, None, view, purpose, date, said("Not a video; it will not be uploaded."),
                     video=False)  # fmt: skip
    numbered = [int(b) for a, b in pairwise(words) if a == "no" and b.isdigit() and len(b) < 10]
    of_best = [n for n in numbered if n in names][:1] or _called(found, names)
    if not of_best:
        why = said("The file name contains no student's name. Choose the student.")
        return Match(file, None, view, purpose, date, why)
    if len(of_best) > 1:
        why = said("More than one student has this name. Choose the student.")
        return Match(file, None, view, purpose, date, why)
    return Match(file, of_best[0], view_said or students[of_best[0]].view, purpose, date, "")


def _called(found: set[str], names: dict[int, set[str]]) -> list[int]:
    """Who has the most words of their name among those found; nobody where none fits."""
    scores = {student: len(words & found) for student, words in names.items()}
    best = max(scores.values(), default=0)
    return [student for student, score in scores.items() if 0 < score == best]
