"""Nothing is worked out, and no clip is read, while the database is held for writing."""

from __future__ import annotations

import uuid
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.db import connection
from django.test import Client, TransactionTestCase, tag
from django.urls import reverse

from sulvet.core import sandbox
from sulvet.takes import analysis, jobs, marking, sound
from sulvet.takes.models import Take
from tests.base import TODAY, new_student, outcome
from tests.takes.test_edits import HOLD, REST

#: What takes longer than a write may: where it is called from, and by what name.
SLOW = (
    (analysis, "analyse_material"), (marking, "retrack_front"), (sound, "listen_to"),
    (sandbox, "_call"),
)  # fmt: skip


@tag("database")
class TransactionTests(TransactionTestCase):
    def test_every_edit_works_out_first_and_writes_then(self) -> None:
        teacher = User.objects.create_user("teacher", password="a-long-word")
        client = Client()
        client.force_login(teacher)
        take = Take.objects.create(
            student=new_student(teacher, "Edda"), filmed_on=TODAY, original_name="clip.mp4",
            clip_name="clip.mp4", clip_seconds=5.0, job=uuid.uuid4(), state=Take.State.WORKING,
        )  # fmt: skip
        self.assertTrue(jobs.finish(take, outcome()))
        asked: list[str] = []

        def watched(module: Any, name: str) -> Any:
            work = getattr(module, name)

            def call(*given: Any, **named: Any) -> Any:
                asked.append(name)
                self.assertFalse(connection.in_atomic_block, f"{name} inside a transaction")
                return work(*given, **named)

            return patch.object(module, name, call)

        edits = (
            ("put", "phases", {"phases": [REST, HOLD]}), ("put", "scale", {"known_mm": 12.5}),
            ("put", "decisions", {"fault": "smile", "phase": "hold", "answer": "confirmed"}),
            ("post", "undo", None), ("put", "undo", None), ("post", "refresh", None),
            ("post", "accept", None), ("post", "sound", None),
        )  # fmt: skip
        with watched(*SLOW[0]), watched(*SLOW[1]), watched(*SLOW[2]), watched(*SLOW[3]):
            for method, name, body in edits:
                answer = getattr(client, method)(
                    reverse(name, args=[take.pk]), body, content_type="application/json"
                )
                self.assertLess(answer.status_code, 500, name)
                # No clip lies there: what needs one says so, and where it may still be.
                if name == "accept":
                    self.assertIn("is no longer on the disk", answer.json()["detail"])
        self.assertIn("analyse_material", asked)
