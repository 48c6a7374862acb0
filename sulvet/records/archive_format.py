"""The archive's layout: a manifest, one table a file, and the clips beside them."""

from __future__ import annotations

import base64
import datetime
import re
import uuid
from typing import Any

from django.db import models

from sulvet.accounts.models import Invitation, Membership, Preferences, School
from sulvet.band.models import Band, Retention, SchoolRetention, Section, Student, Transfer
from sulvet.booth.models import Booth, BoothTake, CaptureLink
from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.eye.models import EyeAnswer, EyeRound
from sulvet.hand.models import HandMark
from sulvet.lessons.models import GivenDrill, LadderMove, Standing
from sulvet.plans.models import FreeDays, Plan, Practice, Recheck, SchoolDays
from sulvet.records.models import Note
from sulvet.reeds.models import Reed, ReedHabits, ReedPlay
from sulvet.standards.models import OwnStandard, SharedStandard
from sulvet.takes.models import (
    Decision,
    Discarded,
    Edit,
    Finding,
    Mark,
    Reading,
    SaidFirst,
    Take,
    TakeAnalysis,
    TakePhase,
    TakeSound,
    Track,
)

FORMAT, VERSION = "sulvet band", 2
MANIFEST, MOST_MANIFEST = "manifest.json", 50_000_000

#: What is said of this computer's disk and of no band, what a school says, and what an account
#: agreed to or prefers, which an archive can't say for another.
STAYS_HERE: tuple[type[models.Model], ...] = (
    Invitation,
    School,
    Membership,
    Transfer,
    Discarded,
    Retention,
    SchoolRetention,
    SharedStandard,
    Preferences,
    Booth,
    BoothTake,
    CaptureLink,
    EyeRound,
    EyeAnswer,
)

#: Tables after those they hang on, each with the way to its teacher.
TABLES: tuple[tuple[type[models.Model], str], ...] = (
    (Band, "teacher"),
    (OwnStandard, "teacher"),
    (HandMark, "teacher"),
    (SchoolDays, "teacher"),
    (FreeDays, "school_days__teacher"),
    (Section, "band__teacher"),
    (Student, "section__band__teacher"),
    (ReedHabits, "teacher"),
    (Reed, "student__section__band__teacher"),
    (ReedPlay, "reed__student__section__band__teacher"),
    (CloseUp, "student__section__band__teacher"),
    (CloseUpPicture, "close_up__student__section__band__teacher"),
    (Take, "student__section__band__teacher"),
    *(
        (model, "take__student__section__band__teacher")
        for model in (
            TakePhase,
            Mark,
            Track,
            TakeSound,
            TakeAnalysis,
            Reading,
            Finding,
            Decision,
            SaidFirst,
            Edit,
        )
    ),
    (Plan, "student__section__band__teacher"),
    (Practice, "plan__student__section__band__teacher"),
    (Recheck, "plan__student__section__band__teacher"),
    (Note, "student__section__band__teacher"),
    (Standing, "student__section__band__teacher"),
    (LadderMove, "student__section__band__teacher"),
    (GivenDrill, "student__section__band__teacher"),
)


#: The teacher's own settings: those of the account stay where it has some.
SETTINGS: tuple[type[models.Model], ...] = (OwnStandard, HandMark, SchoolDays, ReedHabits)
BATCH, CHUNK = 500, 2**20
#: What no archive of a band has more of: files, bytes of one row, bytes of all tables; and how
#: much smaller than its contents an entry may be, beyond which it is made to fill a disk.
MOST_ENTRIES, MOST_LINE, MOST_TABLES, MOST_RATIO = 50_000, 2**25, 2**32, 200
#: A file's own name, never a way out of its folder.
FILE_NAME = re.compile(r"[\w-][\w.-]*")
CLIP_PATH = re.compile(rf"clips/([0-9a-f-]{{36}})/({FILE_NAME.pattern})$")


def file_of(model: type[models.Model]) -> str:
    """The name of a table in the archive."""
    return f"tables/{model._meta.label_lower}.jsonl"


def plain_row(one: models.Model) -> dict[str, Any]:
    """A row, every column as JSON has it."""
    return {f.attname: _plain(getattr(one, f.attname)) for f in one._meta.concrete_fields}


def _plain(value: Any) -> Any:
    """A column's value as JSON has it; nothing of it is rounded."""
    if isinstance(value, (datetime.datetime, datetime.date)):
        return value.isoformat()
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, (bytes, memoryview)):
        return base64.b64encode(bytes(value)).decode("ascii")
    return value
