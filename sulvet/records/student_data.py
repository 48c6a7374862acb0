"""Everything that is kept of one student, to be read by the family that asks for it.

A ZIP of files that any computer opens: clips and photos as they came, tables (CSV), every row
of the database (JSON), and a page of text that says what is what.
"""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import IO, Any

from django.contrib.auth.models import User
from django.db import models

from sulvet.accounts import local_time
from sulvet.band.models import Student, Transfer
from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.core.formats import tables
from sulvet.core.judgement.common import common
from sulvet.core.judgement.standards import shipped_standard
from sulvet.core.language import inside, said
from sulvet.plans.models import Plan
from sulvet.records import selectors
from sulvet.records.archive_format import TABLES, file_of, plain_row
from sulvet.takes.models import Take

#: How a table hangs on a student ends so, seen from its teacher.
OF_STUDENT = "section__band__teacher"
ABOUT = """\
What Sulvet keeps of {name}, as of {day}

{name} plays {instrument}.
Filming consent: {consent}
To be kept until: {kept}

clips/         every video, as it was sent, by the day on which it was filmed and the side
photos/        every photo of mouthpiece and reed
readings.csv   every measured value of every video, with its uncertainty
findings.csv   what was found, and what the teacher said to it
plans.csv      what was practised
notes.csv      what the teacher wrote down, and the student on the own page
moves.csv      from which teacher to which the student went, and the filming consent on that day
tables/        every row that the database has, for programs (JSON lines)

A spreadsheet program opens the tables (CSV). Nothing else is kept, but for copies that the
school has made of its database, and the list of who opened, exported or deleted records, which
holds numbers and no names.
"""


def write(student: Student, out: IO[bytes]) -> None:
    """Write all of it into an open file."""
    teacher = student.section.band.teacher
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("about.txt", _about(student))
        for name, data in _tables(teacher, student):
            archive.writestr(name, data)
        for name, path in _clips(student):
            archive.write(path, name, zipfile.ZIP_STORED)
        for row in CloseUp.objects.filter(student=student).select_related("picture"):
            name = f"photos/{row.taken_on} {row.pk}.jpg"
            archive.writestr(name, bytes(row.picture.jpeg), zipfile.ZIP_STORED)
        for model, way in TABLES:
            if model is not CloseUpPicture and way.endswith(OF_STUDENT):
                archive.writestr(file_of(model), _rows(model, way, student))


def _about(student: Student) -> str:
    consent, kept = said("none on file"), said("no date set")
    if student.consent_on:
        words = "since {since}"
        if student.consent_until:
            words = "since {since}, until {until}"
        consent = said(words, since=student.consent_on, until=student.consent_until)
    if student.retain_until:
        kept = str(student.retain_until)
    instrument = inside(shipped_standard(student.instrument).name)
    return said(
        ABOUT,
        name=student.name, day=local_time.today(), instrument=instrument, consent=consent,
        kept=kept,
    )  # fmt: skip


def _tables(teacher: User, student: Student) -> Iterator[tuple[str, bytes]]:
    readings = selectors.reading_rows(teacher, take__student_id=student.pk)
    yield "readings.csv", tables.dump(selectors.READING_COLUMNS, readings)
    findings = selectors.finding_rows(teacher, student_id=student.pk)
    yield "findings.csv", tables.dump(selectors.FINDING_COLUMNS, findings)
    plans = [
        (plan.started_on, common().fault(plan.fault).name, plan.state,
         ", ".join(common().drill(drill).name for drill in plan.drills),
         plan.practised.values("date").distinct().count())
        for plan in Plan.objects.filter(student=student)
    ]  # fmt: skip
    yield "plans.csv", tables.dump(("started", "focus", "state", "drills", "days practised"), plans)
    notes = [
        (note.written_on.date(), "student" if note.by_student else "teacher", note.text)
        for note in student.teacher_notes.all()
    ]
    yield "notes.csv", tables.dump(("day", "by", "note"), notes)
    moves = [
        (one.made_at.date(), *(who.get_username() if who else "" for who in (one.left, one.joined)),
         one.consent_on, one.consent_until)
        for one in Transfer.objects.filter(student=student).select_related("left", "joined")
    ]  # fmt: skip
    yield "moves.csv", tables.dump(("day", "from", "to", "consent since", "consent until"), moves)


def _clips(student: Student) -> Iterator[tuple[str, Path]]:
    for take in Take.objects.filter(student=student).order_by("filmed_on", "pk"):
        if take.clip.exists():
            yield f"clips/{take.filmed_on} {take.view} {take.pk}{take.clip.suffix}", take.clip


def _rows(model: type[models.Model], way: str, student: Student) -> str:
    to_student = f"{way.removesuffix(OF_STUDENT)}pk"
    rows: Any = model._default_manager.filter(**{to_student: student.pk}).order_by("pk")
    return "".join(
        json.dumps(plain_row(one), ensure_ascii=False, sort_keys=True) + "\n" for one in rows
    )
