"""Who opened, exported and deleted what is told, by number, and to its own account alone."""

from __future__ import annotations

import csv
import datetime
import io
from unittest.mock import patch

from axes.models import AccessLog as LoginLog
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from sulvet.accounts import access_log, pruning
from tests.base import BandTestCase


class AccessLogTests(BandTestCase):
    def lines(self) -> list[tuple[str, str]]:
        answer = self.client.get("/api/access-log.csv")
        rows = list(csv.reader(io.StringIO(answer.content.decode("utf-8-sig"))))
        return [(action, what) for _, action, what in rows[1:]][::-1]

    def test_opened_exported_and_deleted_is_told_once_and_without_names(self) -> None:
        take = self.add_ready()
        number, student = take.pk, self.student.pk
        for _ in range(3):
            self.client.get(f"/api/takes/{number}/")
        self.client.get(f"/api/students/{student}/")
        self.client.get(f"/api/takes/{number + 99}/")
        b"".join(self.client.get(f"/api/students/{student}/data.zip"))
        for _ in range(2):
            self.client.get("/api/readings.csv")
        self.client.delete(f"/api/takes/{number}/")
        self.client.delete(f"/api/students/{student}/")
        self.assertEqual(self.lines(), [
            ("opened", f"take {number}"), ("opened", f"student {student}"),
            ("exported", f"all of student {student}"), ("exported", "readings of the band"),
            ("exported", "readings of the band"),
            ("deleted", f"take {number}"), ("deleted", f"student {student}"),
        ])  # fmt: skip
        told = "".join(file.read_text() for file in access_log.folder().iterdir())
        self.assertNotIn("Edda", told)
        self.client.force_login(self.stranger)
        self.assertEqual(self.lines(), [])

    def test_a_full_disk_stops_nobody_and_half_a_line_is_left_out(self) -> None:
        access_log.note("teacher", "opened", "take 1")
        (file,) = access_log.folder().iterdir()
        file.write_text(file.read_text() + '{"at": "2026', "utf-8")
        self.assertEqual(self.lines(), [("opened", "take 1")])
        with patch("os.open", side_effect=OSError(28, "full")), self.assertLogs(level="ERROR"):
            self.assertEqual(self.client.get(f"/api/students/{self.student.pk}/").status_code, 200)

    def test_old_months_sessions_and_jobs_go(self) -> None:
        day = timezone.localdate() - datetime.timedelta(days=access_log.KEPT_DAYS + 40)
        access_log.note("teacher", "opened", "take 1")
        old = access_log.folder() / f"{day:%Y-%m}.jsonl"
        old.write_text("", "utf-8")
        session = self.client.session
        session.set_expiry(-1)
        session.save()
        long_ago = timezone.now() - datetime.timedelta(days=pruning.LOGIN_DAYS + 1)
        for moment in (long_ago, timezone.now()):
            made = LoginLog.objects.create(username="teacher", ip_address="192.0.2.7")
            LoginLog.objects.filter(pk=made.pk).update(attempt_time=moment)
            DBTaskResult.objects.create(
                task_path="sulvet.takes.tasks.read_take", status="SUCCESSFUL", finished_at=moment,
                backend_name="default", args_kwargs={"args": [], "kwargs": {}},
            )  # fmt: skip
        pruning.prune()
        self.assertFalse(LoginLog.objects.filter(attempt_time=long_ago).exists())
        # Beside the new one there is this test's own login.
        self.assertEqual((LoginLog.objects.count(), DBTaskResult.objects.count()), (2, 1))
        self.assertFalse(old.exists())
        self.assertEqual([one.what for one in access_log.entries("teacher")], ["take 1"])
        self.assertFalse(session.exists(session.session_key or ""))
