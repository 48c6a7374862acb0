"""A student with takes, and tables as the standard library reads them."""

from __future__ import annotations

import csv
import datetime
import io
from typing import Any

from django.urls import reverse
from django.utils import timezone

from sulvet.band.models import Student
from sulvet.demo import readings
from sulvet.demo.scenario import STUDENTS
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Take
from sulvet.takes.uploads import add_read_take
from tests.base import BandTestCase
from tests.marked import reading_of

DAYS = datetime.timedelta(days=1)


class RecordCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.today = timezone.localdate()

    def filmed(self, days_ago: int, student: Student | None = None, **told: Any) -> Take:
        take = self.add_ready(student, **told)
        Take.objects.filter(pk=take.pk).update(filmed_on=self.today - days_ago * DAYS)
        take.refresh_from_db()
        return take

    def from_demo(self, name: str, days_ago: int, student: Student, heard: bool = False) -> Take:
        """A take with its pictures, as it was read, and ``heard`` if it was listened to."""
        demo = next(t for s in STUDENTS for t in s.takes if t.name == name)
        facts = TakeFacts("front", "check", self.today - days_ago * DAYS)
        sound = readings.heard(demo.reading) if heard else None
        return add_read_take(student, demo.clip, facts, readings.load(reading_of(demo)), sound)

    def compare(self, **query: Any) -> Any:
        address = reverse("then-and-now", args=[self.student.pk])
        return self.sent("get", f"{address}?" + "&".join(f"{k}={v}" for k, v in query.items()))

    def table(self, address: str) -> list[dict[str, str]]:
        """A CSV answer as the standard library reads it."""
        answer = self.client.get(address)
        self.assertEqual(answer.status_code, 200)
        text = b"".join(answer) if answer.streaming else answer.content
        return list(csv.DictReader(io.StringIO(text.decode("utf-8-sig"), newline="")))
