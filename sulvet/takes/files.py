"""Files of takes: gone when the take goes, and none that belongs to nobody.

Rows and files can't change at one stroke. A process that is killed between the two, or a file
that can't be removed, leaves a folder without a take; it is found here and taken away.
"""

from __future__ import annotations

import logging
import shutil
import tempfile
import uuid
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from django.conf import settings
from django.db import connection

from sulvet.core import clock
from sulvet.core.language import gettext_noop
from sulvet.takes import storage
from sulvet.takes.models import Discarded, Take

log = logging.getLogger(__name__)
#: What a folder is called while a clip or an archive comes in.
INCOMING = ".incoming"
#: What is younger may still be on its way in, s.
SETTLED = 3600.0
EMPTY_LOG = "PRAGMA wal_checkpoint(TRUNCATE)"
#: Folders in which a take is being analysed, inside its own.
MAKING = "making-*"

STILL_THERE = (
    "It is deleted from the band, but its files can't be removed from the disk yet. Sulvet "
    "tries again every hour. Make sure that no other program has them open and that the "
    "folder “{folder}” is writable."
)


LOST = gettext_noop(
    "The clip of this take is no longer on the disk, so it can't be analysed. Restore a "
    "backup if you have one, or film again. Earlier measurements are still there."
)


@contextmanager
def making(take: Take) -> Iterator[str]:
    """A folder to make something of a take in, beside what is there: gone after the block."""
    take.directory.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=take.directory, prefix=MAKING.rstrip("*")) as folder:
        yield folder


@dataclass(frozen=True)
class Stray:
    """A file or folder that belongs to nobody; ``size`` bytes with all that is in it."""

    path: Path
    size: int
    why: str


def note(takes: list[Take]) -> None:
    """Note that the folders of these takes are to be removed: in the transaction that deletes
    them."""
    Discarded.objects.bulk_create(
        [Discarded(folder=take.folder) for take in takes], ignore_conflicts=True
    )


def discard(folder: uuid.UUID) -> bool:
    """Remove the folder of a deleted take; whether nothing of it is left."""
    directory = Path(settings.CLIPS_DIR) / str(folder)
    gone = [_removed(path) for path in (directory, directory.with_suffix(INCOMING))]
    gone.append(storage.remove(folder))
    if all(gone):
        Discarded.objects.filter(folder=folder).delete()
    return all(gone)


def forget_in_log() -> None:
    """Empty the database's write-ahead log, in which deleted rows may still be read.

    Left for the worker's next sweep where another connection is reading: nobody waits for it.
    """
    if connection.vendor != "sqlite" or connection.in_atomic_block:
        return
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA busy_timeout")
        (patience,) = cursor.fetchone()
        cursor.execute("PRAGMA busy_timeout = 0")
        try:
            cursor.execute(EMPTY_LOG)
        finally:
            cursor.execute(f"PRAGMA busy_timeout = {int(patience)}")


def strays(settled: float = SETTLED) -> Iterator[Stray]:
    """What belongs to nobody and was not written to for so many seconds."""
    for path, why in _candidates():
        newest, size = _weight(path)
        if clock.timestamp() - newest >= settled or why == GONE:
            yield Stray(path, size, why)


def finish_deleting() -> None:
    """Remove what deletions left behind; a take that came back from an archive keeps its own."""
    folders = Discarded.objects.all()
    folders.filter(folder__in=Take.objects.values("folder")).delete()
    for folder in list(folders.values_list("folder", flat=True)):
        discard(folder)


def arrived(take: Take) -> None:
    """Give a take's folder its name, if the process that took the clip in ended before it did."""
    incoming = take.directory.with_suffix(INCOMING)
    with suppress(FileNotFoundError):
        if not take.directory.exists():
            incoming.rename(take.directory)


def sweep(settled: float = SETTLED, unowned: bool = False) -> list[Stray]:
    """Remove what belongs to nobody; what could be removed.

    unowned  also whole folders of takes that are not in the band. Never by itself: beside a
             database that was lost, or is another one, they are all there is
    """
    forget_in_log()
    finish_deleting()
    for take in Take.objects.filter(folder__in=_on_their_way()):
        arrived(take)
    found = [stray for stray in strays(settled) if unowned or stray.why != UNOWNED]
    removed = [stray for stray in found if _removed(stray.path)]
    if removed:
        log.warning("%s file(s) or folder(s) without an owner removed", len(removed))
    return removed


GONE = "of a deleted take"
HALF = "of a clip or backup that was never completed"
UNOWNED = "of a take that is not in the band"
UPLOAD = "of an interrupted upload"
READING = "of an interrupted analysis"


def _candidates() -> Iterator[tuple[Path, str]]:
    owned, gone = (
        {str(folder) for folder in rows.objects.values_list("folder", flat=True)}
        for rows in (Take, Discarded)
    )
    clips = Path(settings.CLIPS_DIR)
    for path in sorted(clips.iterdir()) if clips.is_dir() else []:
        if path.suffix == INCOMING and path.stem not in owned:
            yield path, HALF
        elif path.name in owned:
            broken_off = (*path.glob(MAKING), *path.glob(f"{storage.HALF}*"))
            yield from ((part, READING) for part in sorted(broken_off))
        elif path.name in gone:
            yield path, GONE
        elif _is_uuid(path.name):
            yield path, UNOWNED
    incoming = Path(settings.FILE_UPLOAD_TEMP_DIR)
    for path in sorted(incoming.iterdir()) if incoming.is_dir() else []:
        yield path, UPLOAD


def _on_their_way() -> list[str]:
    """Folders that have not got their name yet."""
    incoming = Path(settings.CLIPS_DIR).glob(f"*{INCOMING}")
    return [path.stem for path in incoming if _is_uuid(path.stem)]


def _is_uuid(name: str) -> bool:
    try:
        return str(uuid.UUID(name)) == name
    except ValueError:
        return False


def _weight(path: Path) -> tuple[float, int]:
    """When anything in it was last written to, and its bytes."""
    newest, size = 0.0, 0
    for one in (path, *path.rglob("*")):
        try:
            known = one.lstat()
        except FileNotFoundError:
            continue  # on its way in or out
        newest, size = max(newest, known.st_mtime), size + known.st_size
    return newest, size


def _removed(path: Path) -> bool:
    try:
        if path.is_dir() and not path.is_symlink():
            shutil.rmtree(path)
        else:
            path.unlink(missing_ok=True)
    except FileNotFoundError:
        return True
    except OSError:
        log.exception("%s can't be removed", path)
    return not path.exists()
