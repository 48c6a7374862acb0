"""Writes to close-ups."""

from __future__ import annotations

import datetime
import io
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction
from PIL import Image

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.band.models import Student
from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.closeups.selectors import is_stale
from sulvet.core import ENGINE_VERSION, sandbox
from sulvet.core.equipment.kinds import Point, kind, ticks
from sulvet.core.equipment.measure import measure
from sulvet.core.judgement import reeds as core_reeds
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import ENGLISH, speaking
from sulvet.core.video.clip import ClipError
from sulvet.reeds.models import Reed

#: What a tick says of the reed in the box.
CONDITIONS: dict[str, core_reeds.Condition] = {
    "reed-chipped": "chipped",
    "reed-warped": "warped",
}
FACE = (
    "This photo shows a face, and there is no consent to film {name} on file for {day}. Photograph "
    "the mouthpiece alone, or enter the date of the parents' consent first."
)


def add_close_up(
    student: Student, upload: UploadedFile[Any], taken_on: datetime.date | None = None
) -> CloseUp:
    """Take a photo or short clip in. Refused with a sentence when it can't be used."""
    with tempfile.TemporaryDirectory(dir=settings.FILE_UPLOAD_TEMP_DIR) as folder:
        source = Path(folder) / "given"
        with source.open("wb") as file:
            for chunk in upload.chunks():
                file.write(chunk)
        out = Path(folder) / "picture.jpg"
        try:
            seen = sandbox.photo(source, out)
        except ClipError as error:
            raise Refused(str(error)) from error
        day = taken_on or local_time.today()
        if seen.shows_face and not student.may_be_filmed(day):
            raise Refused(FACE, name=student.name, day=day.isoformat())
        return keep_close_up(student, out.read_bytes(), seen, upload.name or "photo", day)


@transaction.atomic
def keep_close_up(
    student: Student,
    jpeg: bytes,
    seen: sandbox.Photo,
    name: str,
    taken_on: datetime.date | None = None,
) -> CloseUp:
    """Keep a picture that has been read."""
    if student.family not in core_reeds.FAMILIES:
        raise Refused(
            "The {instrument} has no reed to look at.",
            instrument=shipped_standard(student.instrument).name.lower(),
        )
    day = taken_on or local_time.today()
    if day > local_time.today():
        raise Refused("This date is in the future.")
    row = CloseUp.objects.create(
        student=student, taken_on=day, original_name=name[:200], width=seen.width,
        height=seen.height, shows_face=seen.shows_face,
    )  # fmt: skip
    CloseUpPicture.objects.create(close_up=row, jpeg=jpeg)
    return row


@dataclass(frozen=True)
class Placed:
    """What is marked on a close-up: pixels by mark, what is covered, what the teacher sees."""

    marks: dict[str, Point]
    hidden: frozenset[str]
    ticks: frozenset[str]


def mark_close_up(row: CloseUp, placed: Placed) -> None:
    """Measure a close-up by these marks. Refused for marks there are not, or beside the picture."""
    standard = shipped_standard(row.student.instrument)
    known = {mark.id: mark for mark in kind(standard.family).marks}
    for name, (x, y) in placed.marks.items():
        if name not in known:
            raise Refused(
                "There is no mark “{name}” on a close-up of the {standard}.",
                name=name,
                standard=standard.name.lower(),
            )
        if not (0 <= x < row.width and 0 <= y < row.height):
            raise Refused("“{name}” lies outside the picture.", name=known[name].name)
    for name in placed.hidden:
        if name not in known or not known[name].may_hide:
            raise Refused(
                "“{name}” can't be covered.", name=known[name].name if name in known else name
            )
    if placed.ticks - set(ticks()):
        raise Refused("Only items of the list can be ticked.")
    row.marks = {n: [x, y] for n, (x, y) in placed.marks.items() if n not in placed.hidden}
    row.hidden, row.ticks = sorted(placed.hidden), sorted(placed.ticks)
    # Measured before anything is written: nobody waits for the database meanwhile.
    row.measured, row.engine = _measured(row), ENGINE_VERSION
    with transaction.atomic():
        row.save()
        if row.reed is not None:
            _tell_the_box(row.reed, placed.ticks)


def _measured(row: CloseUp) -> dict[str, Any]:
    """What the marks tell of the picture; kept in English, like what is kept of a take."""
    standard = shipped_standard(row.student.instrument)
    with Image.open(io.BytesIO(bytes(row.picture.jpeg)), formats=("JPEG",)) as picture:
        image = np.asarray(picture.convert("RGB"))
    marks = {name: (float(x), float(y)) for name, (x, y) in row.marks.items()}
    hidden = frozenset(row.hidden)
    with speaking(ENGLISH):
        return measure(
            np.asarray(image, np.uint8), marks, hidden, standard.instrument, standard.family
        ).plain()  # fmt: skip


def refresh(row: CloseUp) -> None:
    """Measure a close-up anew if another engine measured it."""
    if is_stale(row):
        row.measured, row.engine = _measured(row), ENGINE_VERSION
        row.save(update_fields=["measured", "engine"])


def _tell_the_box(reed: Reed, ticked: frozenset[str]) -> None:
    """A reed that is seen chipped or warped is so in its box."""
    seen = next((CONDITIONS[t] for t in ticks() if t in ticked and t in CONDITIONS), None)
    if seen and reed.condition == "good":
        reed.condition = seen
        reed.save(update_fields=["condition"])


def say_which_reed(row: CloseUp, reed: Reed | None) -> None:
    """Which reed of the student's box it shows."""
    if reed is not None and reed.student_id != row.student_id:
        raise Refused("This reed is in another student's box.")
    row.reed = reed
    row.save(update_fields=["reed"])
    if reed is not None:
        _tell_the_box(reed, frozenset(row.ticks))


def answer(row: CloseUp, fault: str, dismissed: bool) -> None:
    """The teacher says that a finding is not so, or takes that back."""
    if common().place(fault) >= len(common().faults):
        raise Refused("Unknown fault “{fault}”.", fault=fault)
    kept = [one for one in row.dismissed if one != fault]
    row.dismissed = [*kept, fault] if dismissed else kept
    row.save(update_fields=["dismissed"])
