"""Where the files of takes are kept: in the data folder, or on a storage that computers share.

A storage (``STORAGE_URL``) holds an object for every file, named ``folder/file``. The data folder
is then what this computer has at hand: a file is fetched when it is wanted, put when it is made,
and dropped when there is no room. Without one the folder is all there is, and nothing is copied.
"""

from __future__ import annotations

import logging
import os
import shutil
import tempfile
import uuid
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from functools import cache
from pathlib import Path

from django.conf import settings
from django.core.files import File
from django.core.files.storage import Storage, storages
from tenacity import (
    Retrying,
    retry_if_exception_type,
    stop_after_attempt,
    wait_random_exponential,
)

log = logging.getLogger(__name__)
NAME = "clips"
#: How often a file is put before it is said that the storage refuses.
TRIES = 4
#: Half fetched files are called so; nobody takes them for whole ones.
HALF = ".half-"


class StorageAway(Exception):
    """The storage does not answer, or refuses. Nothing was changed; it is worth trying again."""


def shared() -> Storage | None:
    """The storage that all computers share; None where the data folder is all there is."""
    return storages[NAME] if NAME in settings.STORAGES else None


@contextmanager
def _asked(what: str) -> Iterator[None]:
    """Ask the storage for something. Its own errors are of a dozen kinds: all are one here."""
    try:
        yield
    except FileNotFoundError:
        raise
    except Exception as error:
        log.warning("the storage: %s: %s", what, type(error).__name__)
        raise StorageAway(what) from error


def _local(folder: uuid.UUID | str, name: str) -> Path:
    return Path(settings.CLIPS_DIR) / str(folder) / name


def fetched(folder: uuid.UUID | str, name: str) -> Path:
    """A file of a take on this computer; a path where nothing is when nobody has it.

    StorageAway when only the storage can tell and does not answer.
    """
    path, far = _local(folder, name), shared()
    if far is None or not name:
        return path
    if path.exists():
        # What was used last is dropped last.
        os.utime(path)
        return path
    with _asked(f"fetch {folder}/{name}"):
        try:
            _fetch(far, f"{folder}/{name}", path)
        except FileNotFoundError:
            return path
    return path


def _fetch(far: Storage, key: str, path: Path) -> None:
    with far.open(key) as source:
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, half = tempfile.mkstemp(prefix=HALF, dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as target:
                shutil.copyfileobj(source, target, 1 << 20)
            Path(half).replace(path)
        except BaseException:
            Path(half).unlink(missing_ok=True)
            raise


def fetched_all(folder: uuid.UUID | str) -> list[Path]:
    """All files of a take, on this computer."""
    far = shared()
    if far is not None:
        with _asked(f"list {folder}"):
            names = far.listdir(str(folder))[1]
        for name in names:
            fetched(folder, name)
    directory = Path(settings.CLIPS_DIR) / str(folder)
    there = directory.iterdir() if directory.is_dir() else ()
    return sorted(p for p in there if p.is_file() and not p.name.startswith(HALF))


def put(folder: uuid.UUID | str, paths: Iterable[Path]) -> None:
    """Keep files of a take in the storage; a file of the same name is replaced.

    StorageAway when it goes on refusing one: those before it are there.
    """
    far = shared()
    for path in paths if far is not None else ():
        assert far is not None
        for attempt in Retrying(
            retry=retry_if_exception_type(StorageAway), stop=stop_after_attempt(TRIES),
            wait=wait_random_exponential(multiplier=0.2, max=2.0), reraise=True,
        ):  # fmt: skip
            with attempt, _asked(f"put {folder}/{path.name}"), path.open("rb") as file:
                far.save(f"{folder}/{path.name}", File(file))


def is_kept(folder: uuid.UUID | str, name: str) -> bool:
    """Whether a file of a take is there at all, without fetching it."""
    far = shared()
    if _local(folder, name).exists() or far is None:
        return _local(folder, name).exists()
    with _asked(f"look for {folder}/{name}"):
        return bool(far.exists(f"{folder}/{name}"))


def remove(folder: uuid.UUID | str, name: str = "") -> bool:
    """Remove a file of a take, or all of them, from the storage; whether nothing is left there."""
    far = shared()
    if far is None:
        return True
    try:
        with _asked(f"remove {folder}/{name}"):
            names = [name] if name else far.listdir(str(folder))[1]
            for one in names:
                far.delete(f"{folder}/{one}")
    except FileNotFoundError:
        return True
    except StorageAway:
        return False
    return True


def signed(folder: uuid.UUID | str, name: str) -> str:
    """An address at which a browser gets a file from the storage itself for a short while; empty
    where it comes through Sulvet."""
    far = shared()
    seconds = getattr(far, "querystring_expire", 0)
    return "" if far is None or not seconds else str(far.url(f"{folder}/{name}"))


@cache
def keeps_versions() -> bool:
    """Whether the storage keeps what is deleted as an older version: then it is not gone."""
    bucket = getattr(shared(), "bucket", None)
    if bucket is None:
        return False
    with _asked("ask for versions"):
        return bool(bucket.Versioning().status == "Enabled")


def make_room(keep: int | None = None) -> None:
    """Drop what was used longest ago of what this computer has fetched, down to the share it may
    have. Only what the storage has as well.

    keep  bytes instead of that share
    """
    far, room = shared(), settings.LOCAL_CLIPS_BYTES if keep is None else keep
    clips = Path(settings.CLIPS_DIR)
    if far is None or not clips.is_dir():
        return
    files = sorted(
        ((path.stat().st_mtime, path.stat().st_size, path) for path in clips.glob("*/*")
         if path.is_file() and not path.parent.suffix),
        key=lambda one: one[0],
    )  # fmt: skip
    held = sum(size for _, size, _ in files)
    for _, size, path in files:
        if held <= room:
            return
        with _asked(f"look for {path.parent.name}/{path.name}"):
            there = far.exists(f"{path.parent.name}/{path.name}")
        if there:
            path.unlink(missing_ok=True)
            held -= size
