"""Two teachers, their bands, and takes without going through video."""

from __future__ import annotations

import datetime
import tempfile
import unittest
import uuid
from typing import Any
from unittest.mock import patch

import numpy as np
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection
from django.test import TestCase, override_settings

from sulvet.accounts import access_log
from sulvet.band.models import Student
from sulvet.band.services import StudentFacts, add_student, band_of
from sulvet.core.anatomy.landmarks import FRONT_IDS
from sulvet.core.anatomy.marks import FOUND
from sulvet.core.sandbox import Outcome
from sulvet.core.video.keyframes import Keyframe
from sulvet.takes import jobs
from sulvet.takes.models import Take
from tests.core.faces import PHASES, take, with_corners

#: Of a test about what SQLite alone does.
sqlite_alone = unittest.skipUnless(connection.vendor == "sqlite", "about SQLite")
TODAY = datetime.date(2026, 11, 20)


def outcome(rise: float = 9.0, width: float = 1.13, needs: str = "") -> Outcome:
    """What a review would bring for marks made by hand."""
    marks = take(with_corners(rise, width))
    keys = [
        Keyframe(name, 0, float(marks.xy[0, n, 0]), float(marks.xy[0, n, 1]), 0.5, FOUND)
        for n, name in enumerate(FRONT_IDS)
    ]
    if needs:
        marks.xy[:] = np.nan
        keys = []
    return Outcome((600, 600), marks, [] if needs else PHASES, keys, needs, [])


def make_teacher(name: str) -> User:
    """An account that teachers of tests log in with."""
    return User.objects.create_user(name, password="a-long-word")


def own_folders(test: unittest.TestCase) -> None:
    """Give a test folders of its own for clips, uploads and accesses: tests run side by side."""
    clips, accesses = (
        test.enterContext(
            tempfile.TemporaryDirectory(prefix=f"sulvet-{name}-", ignore_cleanup_errors=True)
        )
        for name in ("clips", "accesses")
    )
    # It goes with the run's own: an upload deletes its file when it is let go, which may be later.
    incoming = tempfile.mkdtemp(dir=settings.FILE_UPLOAD_TEMP_DIR)
    test.enterContext(
        override_settings(CLIPS_DIR=clips, FILE_UPLOAD_TEMP_DIR=incoming, ACCESS_DIR=accesses)
    )
    test.enterContext(patch.dict(access_log._last, clear=True))


def new_student(teacher: User, name: str, **facts: Any) -> Student:
    """A horn player with consent, unless told otherwise."""
    given = {"instrument": "horn", "consent_on": datetime.date(2026, 9, 1), **facts}
    return add_student(band_of(teacher), StudentFacts(name, **given))


class BandTestCase(TestCase):
    """``self.client`` is logged in as the teacher; ``self.stranger`` owns nothing here."""

    teacher: User
    stranger: User
    student: Student

    @classmethod
    def setUpTestData(cls) -> None:
        """Once for all tests of the class; each works on its own copy."""
        cls.teacher, cls.stranger = make_teacher("teacher"), make_teacher("stranger")
        cls.student = new_student(cls.teacher, "Edda")

    def setUp(self) -> None:
        own_folders(self)
        self.client.force_login(self.teacher)

    def add_student(self, name: str, teacher: User | None = None, **facts: Any) -> Student:
        return new_student(teacher or self.teacher, name, **facts)

    def add_take(self, student: Student | None = None, **state: Any) -> Take:
        """A take as it stands after upload, its job given out."""
        return Take.objects.create(
            student=student or self.student,
            filmed_on=TODAY,
            original_name="clip.mp4",
            clip_name="clip.mp4",
            clip_seconds=5.0,
            job=uuid.uuid4(),
            **state,
        )

    def add_ready(self, student: Student | None = None, **told: Any) -> Take:
        """A take that has been read."""
        made = self.add_take(student, state=Take.State.WORKING)
        assert jobs.finish(made, outcome(**told))
        made.refresh_from_db()
        return made

    def sent(self, method: str, path: str, body: Any = None, expect: int = 200) -> Any:
        """JSON there and back."""
        answer = getattr(self.client, method)(path, body, content_type="application/json")
        self.assertEqual(answer.status_code, expect, answer.content[:400])
        return answer.json() if answer.content else None
