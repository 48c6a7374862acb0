"""An archive read back: checked first, then the band is restored in one step."""

from __future__ import annotations

import base64
import contextlib
import json
import logging
import os
import re
import shutil
import tempfile
import uuid
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path
from typing import Any, BinaryIO

from django.conf import settings
from django.contrib.auth.models import User
from django.core.exceptions import ValidationError
from django.db import models, transaction

from sulvet.accounts import local_time
from sulvet.accounts.errors import Conflict, Refused
from sulvet.band.models import Band, Student
from sulvet.closeups.models import CloseUpPicture
from sulvet.core import clock, sandbox
from sulvet.core.video.clip import ClipError
from sulvet.records import older_archives
from sulvet.records.archive_contents import Contents, opened
from sulvet.records.archive_format import (
    BATCH,
    CLIP_PATH,
    FILE_NAME,
    MOST_LINE,
    SETTINGS,
    TABLES,
    VERSION,
)
from sulvet.records.look_through import look_through
from sulvet.takes import files, storage, uploads
from sulvet.takes.files import INCOMING
from sulvet.takes.models import Take

NO_CONSENT = (
    "The backup has clips of {count} student(s) without consent today: {names}. If you "
    "restore it anyway, their clips stay locked until you enter the consent. Nothing was "
    "restored yet."
)
#: How often folders on their way in are touched, s: well within ``files.SETTLED``.
ALIVE = 300.0
log = logging.getLogger(__name__)
PARTS = re.compile(r"(\.incoming$|^making-)")


def _look(column: models.CharField[Any, Any], value: Any) -> None:
    """Words the program goes by must be words that it could have written; ValueError if not."""
    known = {choice for choice, _ in column.flatchoices}
    if not isinstance(value, str) or len(value) > (column.max_length or len(value)):
        raise ValueError(f"{column.name}: {value!r}")
    if known and value not in known and not (column.blank and value == ""):
        raise ValueError(f"{column.name}: {value!r}")


def _no_number(word: str) -> None:
    """JSON knows neither infinity nor what is not a number; Python's reader does."""
    raise ValueError(word)


@dataclass
class Taken:
    """What came in, and which of the account's own settings stayed."""

    students: int = 0
    takes: int = 0
    files: int = 0
    stayed: list[str] = field(default_factory=list)


def read(
    teacher: User, source: BinaryIO, without_consent: bool = False, passphrase: str = ""
) -> Taken:
    """Take an archive in; all of it or nothing.

    passphrase  what the archive was encrypted with, if it was
    without_consent  also students with clips and no consent for today: their clips stay closed

    Refused with a sentence when the account has students already, or when the archive is
    damaged, of another kind or of a later version.
    """
    if Student.objects.filter(section__band__teacher=teacher).exists():
        raise Refused(
            "This account already has students. Log in with an empty account to restore a "
            "backup, so that nothing is mixed up."
        )
    with opened(source, passphrase) as archive:
        return _Reader(teacher, archive, without_consent).read()


class _Reader(Contents):
    """One archive on its way in."""

    def __init__(self, teacher: User, archive: zipfile.ZipFile, without_consent: bool) -> None:
        super().__init__(archive)
        self.teacher, self.without_consent = teacher, without_consent
        self.ids: dict[type[models.Model], dict[Any, Any]] = {}
        self.folders: dict[str, uuid.UUID] = {}
        self.taken, self.touched = Taken(), clock.monotonic()

    def read(self) -> Taken:
        """Check and unpack everything, then write the rows, then give the folders their names.

        Until its rows are there a folder bears the name of one that comes in: if this ends in
        between, the worker gives it its name, or takes away what belongs to nobody.
        """
        try:
            for row in self._rows(Take):
                name = str(row["folder"])
                there = Take.objects.filter(folder=uuid.UUID(name)).exists()
                there = there or self._final(uuid.UUID(name)).exists()
                self.folders[name] = uuid.uuid4() if there else uuid.UUID(name)
            self._unpack()
            self._look_at_files()
            self._keep_alive()
            with transaction.atomic():
                for model, way in TABLES:
                    self._insert(model, way)
                if not self.without_consent:
                    self._ask_for_consent()
        except BaseException as error:
            for folder in self.folders.values():
                shutil.rmtree(self._coming(folder), ignore_errors=True)
                storage.remove(folder)
            if isinstance(error, (KeyError, TypeError, ValueError, ValidationError)):
                raise Refused(
                    "The backup is inconsistent near {error}. Nothing was restored.",
                    error=str(error)[:80],
                ) from error
            raise
        for take in Take.objects.filter(folder__in=self.folders.values()):
            files.arrived(take)
        self._try_pages()
        return self.taken

    @staticmethod
    def _final(folder: uuid.UUID) -> Path:
        return Path(settings.CLIPS_DIR) / str(folder)

    def _coming(self, folder: uuid.UUID) -> Path:
        return self._final(folder).with_suffix(INCOMING)

    def _keep_alive(self) -> None:
        """What comes in must not look like an import that was broken off an hour ago, however
        long the rest of it takes."""
        if clock.monotonic() - self.touched > ALIVE:
            for folder in self.folders.values():
                with contextlib.suppress(FileNotFoundError):
                    os.utime(self._coming(folder))
            self.touched = clock.monotonic()

    def _try_pages(self) -> None:
        """Refused, and all of it taken back, when some page can't be made of what came in."""
        try:
            look_through(self.teacher)
        except Exception as error:
            log.exception("a restore was undone: a page could not be made of it")
            # There was no student before.
            for student in Student.objects.filter(section__band__teacher=self.teacher):
                uploads.delete_student(student)
            own: tuple[type[models.Model], ...] = (Band, *SETTINGS)
            for model in own:
                new = self.ids.get(model, {}).values()
                model._default_manager.filter(pk__in=list(new)).delete()
            raise Refused(
                "The backup is inconsistent: one of its takes can't be shown. Nothing was restored."
            ) from error

    def _ask_for_consent(self) -> None:
        """Refused when there are clips of students who may not be filmed today."""
        day = local_time.today()
        filmed = Student.objects.filter(
            section__band__teacher=self.teacher, takes__isnull=False
        ).distinct()
        names = [student.name for student in filmed if not student.may_be_filmed(day)]
        if names:
            raise Conflict(NO_CONSENT, count=len(names), names=", ".join(names[:12]))

    def _rows(self, model: type[models.Model]) -> Iterator[dict[str, Any]]:
        """The rows of a table as its model is now, one by one."""
        if self.version < VERSION:
            return older_archives.rows(model, self._table)
        return self._table(model._meta.label_lower)

    def _table(self, name: str) -> Iterator[dict[str, Any]]:
        """The rows of a table as they stand in the archive; none of one that came later.

        Refused at the end of a table that does not match: what was written of it until then
        must be taken back.
        """
        file = f"tables/{name}.jsonl"
        if file not in self.entries:
            return
        rest = b""
        for piece in self._checked(file):
            *lines, rest = (rest + piece).split(b"\n")
            if len(rest) > MOST_LINE:
                raise ValueError(file)
            for line in lines:
                yield json.loads(line, parse_constant=_no_number)
        if rest:
            raise ValueError(file)

    def _unpack(self) -> None:
        clips = Path(settings.CLIPS_DIR)
        clips.mkdir(parents=True, exist_ok=True)
        wanted = sum(int(e["bytes"]) for n, e in self.entries.items() if n.startswith("clips/"))
        if wanted > shutil.disk_usage(clips).free:
            raise Refused("There is not enough space on this computer's disk for the clips.")
        for name in self.entries:
            found = CLIP_PATH.match(name)
            if not found:
                continue
            folder, file = found.groups()
            if folder not in self.folders:
                raise Refused("The backup is damaged: “{name}” belongs to no take.", name=name)
            self._keep_alive()
            coming = self._coming(self.folders[folder])
            coming.mkdir(exist_ok=True)
            with (coming / file).open("wb") as target:
                for chunk in self._checked(name):
                    target.write(chunk)
            storage.put(self.folders[folder], [coming / file])
            self.taken.files += 1

    def _look_at_files(self) -> None:
        """Every clip and picture passes what an upload passes; refused where one does not."""
        coming = [self._coming(folder) for folder in self.folders.values()]
        found = [
            path for folder in coming for path in sorted(folder.glob("*")) if path.suffix != ".npz"
        ]
        with tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR) as pictures:
            for row in self._rows(CloseUpPicture):
                path = Path(pictures) / f"{int(row['id'])}.jpg"
                path.write_bytes(base64.b64decode(row["jpeg"]))
                found.append(path)
            try:
                wrong, why = sandbox.check(found)
            except ClipError as error:
                wrong, why = "clips", str(error)
        if wrong:
            name = Path(wrong).name
            raise Refused(
                "“{name}” in the backup can't be used. {why} Nothing was restored.",
                name=name,
                why=why,
            )

    def _insert(self, model: type[models.Model], way: str) -> None:
        mine = model._default_manager.filter(**{way: self.teacher})
        self.ids[model] = {}
        if model in SETTINGS and mine.exists():
            if any(True for _ in self._rows(model)):
                self.taken.stayed.append(str(model._meta.verbose_name))
            return
        if model is Band:
            mine.delete()
        rows = self._rows(model)
        while some := list(islice(rows, BATCH)):
            self._insert_some(model, some)
        if model is Student:
            self.taken.students = len(self.ids[model])
        if model is Take:
            self.taken.takes = len(self.ids[model])

    def _insert_some(self, model: type[models.Model], rows: list[dict[str, Any]]) -> None:
        ids = [row["id"] for row in rows]
        used = set(model._default_manager.filter(pk__in=ids).values_list("pk", flat=True))
        pairs = [(row, one) for row in rows if (one := self._made(model, row, used)) is not None]
        made = [one for _, one in pairs]
        kept = [self._own_times(one) for one in made]
        model._default_manager.bulk_create(made)
        self.ids[model] |= {row["id"]: one.pk for row, one in pairs}
        self._put_times(model, made, kept)

    def _made(
        self, model: type[models.Model], row: dict[str, Any], used: set[Any]
    ) -> models.Model | None:
        one = model()
        for column in model._meta.concrete_fields:
            if column.attname not in row and not column.is_relation and not column.primary_key:
                # A column that came later than the archive: as a new row has it.
                setattr(one, column.attname, column.get_default())
                continue
            value = row[column.attname]
            if column.primary_key:
                value = None if value in used else value
            elif isinstance(column, models.ForeignKey):
                target = column.remote_field.model
                if target is User:
                    value = self.teacher.pk
                elif value is not None:
                    if target in SETTINGS and value not in self.ids[target]:
                        return None
                    value = self.ids[target][value]
            elif column.name == "folder":
                value = self.folders[str(value)]
            elif isinstance(column, models.BinaryField):
                value = base64.b64decode(value)
            else:
                value = column.to_python(value)
            setattr(one, column.attname, value)
            if isinstance(column, models.CharField):
                _look(column, value)
            elif value not in column.empty_values and not column.is_relation:
                column.run_validators(value)
        if isinstance(one, Take) and not FILE_NAME.fullmatch(one.clip_name):
            raise ValueError(one.clip_name)
        return one

    @staticmethod
    def _own_times(one: models.Model) -> dict[str, Any]:
        """Moments that saving would set to now."""
        return {
            f.attname: getattr(one, f.attname)
            for f in one._meta.concrete_fields
            if getattr(f, "auto_now", False) or getattr(f, "auto_now_add", False)
        }

    @staticmethod
    def _put_times(
        model: type[models.Model], made: list[models.Model], kept: list[dict[str, Any]]
    ) -> None:
        if not made or not kept[0]:
            return
        for one, times in zip(made, kept, strict=True):
            for name, value in times.items():
                setattr(one, name, value)
        model._default_manager.bulk_update(made, list(kept[0]))
