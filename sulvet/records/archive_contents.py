"""An archive opened: bounded, unlocked, and its bytes held against what it says it holds."""

from __future__ import annotations

import hashlib
import json
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import IO, Any

import pyzipper

from sulvet.accounts.errors import Refused
from sulvet.records.archive_format import (
    CHUNK,
    FORMAT,
    MANIFEST,
    MOST_ENTRIES,
    MOST_MANIFEST,
    MOST_RATIO,
    MOST_TABLES,
    VERSION,
)

#: The flag of an encrypted entry (PKWARE's APPNOTE, 4.4.4).
ENCRYPTED = 0x1
#: Characters of a passphrase: its key is derived with few rounds (AE-2), so that its length is
#: what protects the file.
SHORTEST_PASSPHRASE, LONGEST_PASSPHRASE = 12, 200


def checked_passphrase(words: str) -> str:
    """The same words; refused when they protect nothing."""
    if not SHORTEST_PASSPHRASE <= len(words) <= LONGEST_PASSPHRASE:
        raise Refused(
            "A passphrase needs {shortest} to {longest} characters: use four unrelated words.",
            shortest=SHORTEST_PASSPHRASE,
            longest=LONGEST_PASSPHRASE,
        )
    return words


@contextmanager
def opened(source: IO[bytes], passphrase: str = "") -> Iterator[zipfile.ZipFile]:
    """An archive that can be read; refused where it is cut off, too large, or locked.

    passphrase  what it was encrypted with, if it was
    """
    try:
        with pyzipper.AESZipFile(source) as archive:
            _check_sizes(archive)
            _unlock(archive, passphrase)
            yield archive
    except (
        pyzipper.BadZipFile, pyzipper.LargeZipFile, zlib.error, EOFError, NotImplementedError,
        RuntimeError,
    ) as error:  # fmt: skip
        raise Refused(
            "This backup is incomplete or was changed. Nothing was restored. Fetch the "
            "file again from where you keep it."
        ) from error


def verify(source: IO[bytes], passphrase: str = "") -> None:
    """Read an archive through, every byte of it; refused when it is not as it was written."""
    source.seek(0)
    with opened(source, passphrase) as archive:
        Contents(archive).read_through()


def _check_sizes(archive: zipfile.ZipFile) -> None:
    """Refused when an archive has more in it than a band can have."""
    entries = archive.infolist()
    tables = sum(one.file_size for one in entries if not one.filename.startswith("clips/"))
    packed = any(
        one.file_size > CHUNK and one.file_size > MOST_RATIO * max(one.compress_size, 1)
        for one in entries
    )
    if len(entries) > MOST_ENTRIES or tables > MOST_TABLES or packed:
        raise Refused(
            "This is not a Sulvet backup: it unpacks to far more than a band can have. "
            "Nothing was restored."
        )


def _unlock(archive: zipfile.ZipFile, passphrase: str) -> None:
    """Refused when an archive is encrypted and this is not its passphrase."""
    if not any(info.flag_bits & ENCRYPTED for info in archive.infolist()):
        return
    if not passphrase:
        raise Refused("This backup is encrypted. Enter its passphrase.")
    archive.setpassword(passphrase.encode())
    try:
        with archive.open(MANIFEST) as file:
            file.read(1)
    except (RuntimeError, KeyError):
        raise Refused("Wrong passphrase for this backup.") from None


class Contents:
    """What an archive says it holds, and its bytes held against that."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self.archive, self.version = archive, VERSION
        self.entries = self._manifest()

    def read_through(self) -> None:
        """Every byte; refused when one is not what was written."""
        for name in self.entries:
            for _ in self._checked(name):
                pass

    def _manifest(self) -> dict[str, dict[str, Any]]:
        try:
            with self.archive.open(MANIFEST) as file:
                manifest = json.loads(file.read(MOST_MANIFEST))
            known = manifest["format"] == FORMAT
            version = int(manifest["version"])
            entries = {str(e["name"]): e for e in manifest["entries"]}
        except (KeyError, TypeError, ValueError) as error:
            raise Refused(
                "This is not a Sulvet backup: its list of contents can't be read."
            ) from error
        if not known:
            raise Refused("This is not a Sulvet backup.")
        if version > VERSION:
            raise Refused(
                "This backup has version {version}; this Sulvet reads up to {newest}. Update "
                "Sulvet first.",
                version=version,
                newest=VERSION,
            )
        self.version = version
        return entries

    def _checked(self, name: str) -> Iterator[bytes]:
        """The bytes of an entry, piece by piece; refused when they are not what was written."""
        entry = self.entries[name]
        digest, size = hashlib.sha256(), 0
        try:
            with self.archive.open(name) as file:
                while chunk := file.read(CHUNK):
                    size += len(chunk)
                    if size > int(entry["bytes"]):
                        break
                    digest.update(chunk)
                    yield chunk
        except KeyError:
            size = -1
        if size != int(entry["bytes"]) or digest.hexdigest() != entry["sha256"]:
            raise Refused(
                "The backup is damaged: “{name}” has changed. Nothing was restored. Fetch the "
                "file again from where you keep it.",
                name=name,
            )
