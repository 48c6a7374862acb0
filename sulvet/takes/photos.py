"""Photos as takes: one of the mouth as it plays, and one of the relaxed face where there is one."""

from __future__ import annotations

import datetime
import tempfile
from dataclasses import replace
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.files import File
from django.core.files.uploadedfile import UploadedFile

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.core import sandbox
from sulvet.core.video.clip import ClipError
from sulvet.takes import uploads
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Take

#: So many photos at once.
MOST = 12
TOO_MANY = "Upload at most {most} photos at once."


def add_photos(
    student: Student, photos: list[UploadedFile[Any]], rest: UploadedFile[Any] | None,
    facts: TakeFacts, day: datetime.date | None,
) -> list[Take]:  # fmt: skip
    """A take of each photo; refused with a sentence where one can't be used, then none is kept.

    rest  the relaxed face, of all of them;  day  when they were taken, None as they say themselves
    """
    if not 0 < len(photos) <= MOST:
        raise Refused(TOO_MANY if photos else "Choose at least one photo.", most=MOST)
    made: list[Take] = []
    with tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR) as name:
        folder = Path(name)
        rested = None if rest is None else _kept(rest, folder, "rest")
        try:
            for n, photo in enumerate(photos):
                made.append(_add(student, photo, rested, folder, n, facts, day))
        except (ClipError, sandbox.ChildEnded, Refused) as error:
            for take in made:
                uploads.delete_take(take)
            raise error if isinstance(error, Refused) else Refused(str(error)) from error
    return made


def _add(
    student: Student, photo: UploadedFile[Any], rest: Path | None, folder: Path, n: int,
    facts: TakeFacts, day: datetime.date | None,
) -> Take:  # fmt: skip
    playing, out = _kept(photo, folder, str(n)), folder / f"{n}.mp4"
    told = sandbox.stills(rest, playing, out)
    said = datetime.date.fromisoformat(told.filmed_on) if told.filmed_on else None
    when = day or said or local_time.today()
    prompts = [{"name": "hold", "start": told.hold[0], "end": told.hold[1]}]
    if told.rest is not None:
        prompts.insert(0, {"name": "rest", "start": told.rest[0], "end": told.rest[1]})
    with out.open("rb") as file:
        clip = UploadedFile(File(file), photo.name, size=out.stat().st_size)
        return uploads.add_take(student, clip, replace(facts, filmed_on=when), prompts, still=True)


def _kept(photo: UploadedFile[Any], folder: Path, name: str) -> Path:
    """A photo on disk, under a name of ours that ends as its own does."""
    path = folder / f"{name}-{Path(photo.name or 'photo').name[-60:]}"
    with path.open("wb") as file:
        for chunk in photo.chunks():
            file.write(chunk)
    return path
