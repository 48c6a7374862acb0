"""All that is kept of one student, readable, and nothing of another's."""

from __future__ import annotations

import csv
import io
import json
import zipfile

from django.test import tag
from django.urls import reverse

from sulvet.closeups.models import CloseUp, CloseUpPicture
from sulvet.records import archive_format
from tests.records.base import RecordCase


@tag("database")
class StudentDataTests(RecordCase):
    def test_everything_of_the_student_and_nothing_of_another(self) -> None:
        take = self.from_demo("edda-front-12", 12, self.student)
        other = self.add_student("Ragna Solveig")
        self.from_demo("edda-front-1", 1, other)
        self.sent("post", reverse("record", args=[self.student.pk]),
                  {"text": "Grüße", "take": None, "seconds": None}, 201)  # fmt: skip
        photo = CloseUp.objects.create(student=self.student, original_name="r", width=9, height=9)
        CloseUpPicture.objects.create(close_up=photo, jpeg=b"a photo")
        answer = self.client.get(reverse("student-data", args=[self.student.pk]))
        with zipfile.ZipFile(io.BytesIO(b"".join(answer))) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        self.assertNotIn(b"Ragna", b"".join(files.values()))
        self.assertIn("Filming consent: since 2026-09-01", files["about.txt"].decode())
        clips = [data for name, data in files.items() if name.startswith("clips/")]
        self.assertEqual(clips, [take.clip.read_bytes()])
        self.assertIn(b"a photo", files.values())
        self.assertIn("Grüße", files["notes.csv"].decode("utf-8-sig"))
        rows = list(csv.DictReader(io.StringIO(files["readings.csv"].decode("utf-8-sig"))))
        self.assertEqual(len(rows), take.readings.count())
        # Every table that hangs on a student is there, with this student's rows.
        for model, way in archive_format.TABLES:
            if way.endswith("section__band__teacher") and model is not CloseUpPicture:
                lines = files[archive_format.file_of(model)].decode().splitlines()
                for row in map(json.loads, lines):
                    self.assertIn(row.get("take_id"), (None, take.pk), model)
                    self.assertIn(row.get("student_id"), (None, self.student.pk), model)
                if model in (type(take), type(self.student)):
                    own = take.pk if model is type(take) else self.student.pk
                    self.assertEqual([json.loads(line)["id"] for line in lines], [own])

    def test_not_of_anybody_elses_student(self) -> None:
        self.client.force_login(self.stranger)
        answer = self.client.get(reverse("student-data", args=[self.student.pk]))
        self.assertEqual(answer.status_code, 404)
