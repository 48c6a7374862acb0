"""Whole archives on their way between two Sulvets: in pieces, checked, and kept for a day.

What is written out for a move waits in ``moving/`` of the data folder, under the account's number;
what comes in waits as pieces do (``takes.pieces``).
"""

from __future__ import annotations

import hashlib
import uuid
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import User
from django.http import Http404

from sulvet.accounts.errors import Refused
from sulvet.core import clock
from sulvet.records import archive, restore
from sulvet.takes import pieces, space

#: So many pieces are an archive of 200 GB, which no band has.
MOST_PIECES = 100_000
TOO_LARGE = "The archive is too large to come this way. Restore it from the shell."
#: How long an archive that was written out is kept to be fetched, s.
KEPT = 24 * 3600.0


@dataclass(frozen=True)
class Made:
    """An archive that was written out: under which number it is fetched, bytes, and SHA-256."""

    number: uuid.UUID
    bytes: int
    digest: str


def folder() -> Path:
    """Where archives wait."""
    made = Path(settings.DATA_DIR) / "moving"
    made.mkdir(mode=0o700, exist_ok=True)
    return made


def digest_of(path: Path) -> str:
    """SHA-256 of a file."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


def write(teacher: User, path: Path) -> None:
    """A teacher's archive in a file of this name, all of it or none."""
    half = path.with_suffix(".part")
    with half.open("wb") as file:
        archive.write(teacher, file)
    half.rename(path)


def make(teacher: User) -> Made:
    """Write everything of a teacher out, to be fetched."""
    number = uuid.uuid4()
    path = _made(teacher, number)
    write(teacher, path)
    return Made(number, path.stat().st_size, digest_of(path))


def made(teacher: User, number: uuid.UUID) -> Path:
    """The file of what was written out; 404 where there is none of this account."""
    path = _made(teacher, number)
    if not path.exists():
        raise Http404
    return path


def _made(teacher: User, number: uuid.UUID) -> Path:
    return folder() / f"{teacher.pk}-{number}.zip"


def sweep() -> None:
    """Remove what nobody has fetched for a day, and what was broken off."""
    for path in folder().iterdir():
        if clock.timestamp() - path.stat().st_mtime > KEPT:
            path.unlink(missing_ok=True)


# -- what comes in -----------------------------------------------------------------


def missing(teacher: User, upload: uuid.UUID, count: int) -> list[int]:
    """Which pieces of an archive have not come yet; refused without room for all of them."""
    if not 0 < count <= MOST_PIECES:
        raise Refused(TOO_LARGE)
    found = pieces.missing(_own(teacher, upload), count)
    space.demand(len(found) * pieces.LARGEST)
    return found


def receive(teacher: User, upload: uuid.UUID, number: int, data: bytes, digest: str) -> None:
    """Keep one piece of an archive."""
    pieces.put(_own(teacher, upload), number, data, digest, MOST_PIECES)


def take_in(
    teacher: User, upload: uuid.UUID, count: int, digest: str, without_consent: bool
) -> restore.Taken:
    """All pieces are there: restore the archive. The pieces stay where it is refused."""
    own = _own(teacher, upload)
    with pieces.joined(own, count, digest, MOST_PIECES).open("rb") as source:
        taken = restore.read(teacher, source, without_consent)
    pieces.drop(own)
    return taken


def _own(teacher: User, upload: uuid.UUID) -> uuid.UUID:
    """Nobody can touch another's pieces, whatever number is sent."""
    return uuid.uuid5(upload, f"archive of {teacher.pk}")
