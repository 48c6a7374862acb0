"""A student on the ladder, over HTTP."""

from __future__ import annotations

import datetime
from typing import Any

from django.urls import reverse
from django.utils import timezone

from sulvet.lessons.models import Standing
from tests.base import BandTestCase

DAY = datetime.timedelta(days=1)


class LadderCase(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.ladder = reverse("ladder", args=[self.student.pk])

    def moved(self, do: str, heard: str = "", expect: int = 200, *students: int) -> Any:
        body = {"students": list(students) or [self.student.pk], "do": do, "heard": heard}
        return self.sent("post", reverse("lessons"), body, expect)

    def row(self) -> Any:
        rows = self.sent("get", reverse("lessons"))["rows"]
        return next(row for row in rows if row["student"] == self.student.pk)

    def stand_at(self, step: str, days: int = 3) -> None:
        since = timezone.localdate() - days * DAY
        Standing.objects.update_or_create(
            student=self.student, defaults={"step": step, "since": since, "heard": ""}
        )
