"""Archives of every account in a folder: written, read back, and the older ones removed."""

from __future__ import annotations

import logging
import re
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.contrib.auth.models import User

from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core import clock
from sulvet.records import archive
from sulvet.records.archive_contents import checked_passphrase, verify

log = logging.getLogger(__name__)
#: Between the name of the account and the moment.
STAMP = "%Y-%m-%d-%H%M%S"


def write_all(folder: Path, keep: int, passphrase: str = "", only: str = "") -> Iterator[Path]:
    """Write an archive of each account that has students, and yield each when it is whole.

    keep  so many of an account stay, the newest
    only  one account by its name

    Raises ``Refused`` when one can't be read back as it was written; OSError from a full disk.
    """
    folder.mkdir(parents=True, exist_ok=True)
    accounts = User.objects.filter(bands__sections__students__isnull=False).distinct()
    for teacher in accounts.filter(username=only) if only else accounts:
        path = folder / f"{stem_of(teacher)}{clock.now():{STAMP}}.zip"
        half = path.with_suffix(".part")
        try:
            with half.open("w+b") as file:
                archive.write(teacher, file, passphrase)
                verify(file, passphrase)
            half.rename(path)
        finally:
            half.unlink(missing_ok=True)
        for old in kept(folder, teacher)[keep:]:
            old.unlink()
        yield path


def passphrase_in(path: Path) -> str:
    """The passphrase that a file holds; refused, rather than written without one, when it holds
    none that protects."""
    try:
        return checked_passphrase(path.read_text("utf-8").strip())
    except (OSError, UnicodeDecodeError) as error:
        raise Refused(
            "The passphrase can't be read from {path}: {error}", path=path, error=error
        ) from error


def stem_of(teacher: User) -> str:
    """How the files of an account begin; the number keeps names apart that look alike."""
    return f"sulvet-{re.sub(r'[^A-Za-z0-9]+', '-', teacher.username)[:40]}-{teacher.pk}-"


def kept(folder: Path, teacher: User) -> list[Path]:
    """The archives of an account, the newest first."""
    return sorted(folder.glob(f"{stem_of(teacher)}[0-9]*.zip"), reverse=True)


def daily() -> None:
    """Write archives into ``SULVET_BACKUPS``, if that is set and a day has gone by."""
    if not settings.BACKUPS:
        return
    folder = Path(settings.BACKUPS)
    newest = max((path.stat().st_mtime for path in folder.glob("sulvet-*.zip")), default=0.0)
    if clock.now().timestamp() - newest < 23.5 * 3600 or not Student.objects.exists():
        return
    words = settings.BACKUP_PASSPHRASE_FILE
    passphrase = passphrase_in(Path(words)) if words else ""
    for path in write_all(folder, settings.BACKUPS_KEPT, passphrase):
        log.warning("backup written and read back: %s", path.name)
