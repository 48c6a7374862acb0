"""A teacher's whole band as one file, out and in again.

A ZIP with ``manifest.json``, one file of JSON lines a table, and every clip's folder.
The manifest lists each of them with its size and SHA-256; what does not match is not
taken in, and then nothing is.
"""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import IO, Any

import pyzipper
from django.contrib.auth.models import User
from django.db import models

from sulvet.core import clock
from sulvet.records.archive_format import (
    BATCH,
    CHUNK,
    FORMAT,
    MANIFEST,
    TABLES,
    VERSION,
    file_of,
    plain_row,
)
from sulvet.records.restore import PARTS
from sulvet.takes import storage
from sulvet.takes.models import (
    Take,
)


def write(teacher: User, out: IO[bytes], passphrase: str = "") -> None:
    """Write everything of a teacher into an open file, row by row and piece by piece.

    passphrase  every entry is encrypted with it (AES-256 in ZIP, which common programs for
                archives open as well); without one nothing is
    """
    entries: list[dict[str, Any]] = []
    # Nothing is locked meanwhile. What hangs on a row that came after its table was written
    # is left out, so that the whole always fits together.
    there: dict[type[models.Model], set[Any]] = {}
    how = pyzipper.WZ_AES if passphrase else None
    with pyzipper.AESZipFile(out, "w", compression=zipfile.ZIP_DEFLATED, encryption=how) as archive:
        if passphrase:
            archive.setpassword(passphrase.encode())
        for model, way in TABLES:
            there[model] = set()
            rows = model._default_manager.filter(**{way: teacher}).order_by("pk")
            lines = (
                json.dumps(plain_row(one), ensure_ascii=False, sort_keys=True).encode() + b"\n"
                for one in rows.iterator(BATCH)
                if _fits(one, there)
            )
            entries.append(_add(archive, file_of(model), lines))
        for take in Take.objects.filter(pk__in=there[Take]).only("folder").iterator(BATCH):
            for path in _files(take):
                # Clips are compressed already.
                name = f"clips/{take.folder}/{path.name}"
                info = archive.zipinfo_cls(name, (1980, 1, 1, 0, 0, 0))
                entries.append(_add(archive, info, _pieces(path)))
        manifest = {
            "format": FORMAT,
            "version": VERSION,
            "made_at": clock.now().isoformat(),
            "entries": entries,
        }
        archive.writestr(MANIFEST, json.dumps(manifest, indent=1))


def _fits(one: models.Model, there: dict[type[models.Model], set[Any]]) -> bool:
    """Whether all that a row hangs on is written; then it counts as written itself."""
    for column in one._meta.concrete_fields:
        value = getattr(one, column.attname)
        if isinstance(column, models.ForeignKey) and value is not None:
            target = column.remote_field.model
            if target is not User and value not in there[target]:
                return False
    there[type(one)].add(one.pk)
    return True


def _pieces(path: Path) -> Iterator[bytes]:
    with path.open("rb") as source:
        while chunk := source.read(CHUNK):
            yield chunk


def _add(
    archive: zipfile.ZipFile, name: str | zipfile.ZipInfo, pieces: Iterable[bytes]
) -> dict[str, Any]:
    """Write one entry; its line in the manifest."""
    digest, size = hashlib.sha256(), 0
    with archive.open(name, "w", force_zip64=True) as target:
        for piece in pieces:
            digest.update(piece)
            target.write(piece)
            size += len(piece)
    entry_name = name if isinstance(name, str) else name.filename
    return {"name": entry_name, "bytes": size, "sha256": digest.hexdigest()}


def _files(take: Take) -> list[Path]:
    """A take's files; what is only on its way is left out."""
    return [path for path in storage.fetched_all(take.folder) if not PARTS.search(path.name)]
