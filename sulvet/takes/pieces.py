"""A clip or an archive that comes in pieces, so that a lost connection costs one of them.

Each piece is checked by its SHA-256 when it comes, the whole once more when all are there. Pieces
lie in a folder that the sweep of unfinished uploads takes away when nobody goes on.
"""

from __future__ import annotations

import hashlib
import shutil
import uuid
from pathlib import Path

from django.conf import settings

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core.video.clip import MAX_BYTES
from sulvet.takes.files import INCOMING

#: Bytes of a piece at most, and how many pieces a clip may have.
LARGEST = 2 * 2**20
MOST = MAX_BYTES // LARGEST + 1
BROKEN = "A piece was damaged on its way. It is sent again."
TOO_MANY = "The clip is too long. Film the few seconds that matter, or at a lower resolution."
MISSING = "Some pieces are still missing. Try again."


def missing(upload: uuid.UUID, count: int) -> list[int]:
    """Which pieces of an upload have not come yet."""
    return [n for n in range(count) if not _piece(upload, n).exists()]


def put(upload: uuid.UUID, number: int, data: bytes, digest: str, most: int = MOST) -> None:
    """Keep one of at most so many pieces. Refused where it would make the whole too large; a
    conflict where it came damaged: it is to be sent again."""
    if not 0 <= number < most or len(data) > LARGEST:
        raise Refused(TOO_MANY)
    if hashlib.sha256(data).hexdigest() != digest.lower():
        raise Conflict(BROKEN)
    path = _piece(upload, number)
    path.parent.mkdir(parents=True, exist_ok=True)
    half = path.with_suffix(".half")
    half.write_bytes(data)
    half.rename(path)


def joined(upload: uuid.UUID, count: int, digest: str, most: int = MOST) -> Path:
    """The whole in one file. Refused while a piece is missing; a conflict where it is not the
    one that was sent: all of it is to be sent again."""
    if not 0 < count <= most or missing(upload, count):
        raise Refused(MISSING)
    whole, told = _folder(upload) / "whole", hashlib.sha256()
    with whole.open("wb") as out:
        for n in range(count):
            data = _piece(upload, n).read_bytes()
            told.update(data)
            out.write(data)
    if told.hexdigest() != digest.lower():
        drop(upload)
        raise Conflict(BROKEN)
    return whole


def drop(upload: uuid.UUID) -> None:
    """Take the pieces away."""
    shutil.rmtree(_folder(upload), ignore_errors=True)


def _folder(upload: uuid.UUID) -> Path:
    return Path(settings.CLIPS_DIR) / f"{upload}{INCOMING}"


def _piece(upload: uuid.UUID, number: int) -> Path:
    return _folder(upload) / f"piece-{number:05d}"
