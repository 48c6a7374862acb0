"""What fails says so in a sentence, and what to do; never a page of code."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.db.migrations.recorder import MigrationRecorder
from django.test import SimpleTestCase, TransactionTestCase, override_settings

from sulvet.accounts.management.commands import prepare
from tests.base import BandTestCase, sqlite_alone

ROOT = Path(__file__).resolve().parents[2]


class FailureTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.client.raise_request_exception = False

    def test_a_locked_database_asks_to_come_again_wherever_it_happens(self) -> None:
        locked = OperationalError("database is locked")
        log_in = {"username": "teacher", "password": "a-long-word"}
        for method, path, body, where in (
            ("get", "/api/band/", None, "sulvet.takes.pages.band.students_of"),
            ("post", "/api/session/", log_in, "sulvet.accounts.api.login"),
        ):
            with patch(where, side_effect=locked), self.assertLogs("django.request", "ERROR"):
                answer = getattr(self.client, method)(path, body, content_type="application/json")
            self.assertEqual((answer.status_code, answer["Retry-After"]), (503, "2"), path)
            self.assertIn("the page tries again", answer.json()["detail"])

    def test_a_full_disk_is_called_a_full_disk(self) -> None:
        for error in (OSError(28, "No space left"), OperationalError("database or disk is full")):
            with (
                patch("sulvet.band.services.Student", side_effect=error),
                self.assertLogs("django.request", "ERROR"),
            ):
                said = self.sent(
                    "post", "/api/students/", {"name": "Bo", "instrument": "horn"}, 507
                )
            self.assertIn("is full", said["detail"])

    def test_anything_else_says_that_nothing_was_changed(self) -> None:
        with (
            patch("sulvet.takes.pages.band.students_of", side_effect=ZeroDivisionError),
            self.assertLogs("django.request", "ERROR"),
        ):
            said = self.sent("get", "/api/band/", expect=500)
        self.assertIn("Your saved data is unchanged", said["detail"])
        self.assertNotIn("Zero", str(said))


class SharedTests(SimpleTestCase):
    def test_the_frameworks_own_check_finds_nothing_where_it_is_shared(self) -> None:
        with tempfile.TemporaryDirectory() as data:
            how = {**os.environ, "SULVET_DATA": data, "SULVET_SHARE": "https://band.example/"}
            # Browser tests set it, and no school does.
            how.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)
            command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
            done = subprocess.run(command, cwd=ROOT, env=how, capture_output=True, text=True)
            self.assertEqual(done.returncode, 0, done.stderr)
            how["SULVET_SHARE"] = "band.example"
            done = subprocess.run(command, cwd=ROOT, env=how, capture_output=True, text=True)
            self.assertIn("must be an address such as https://", done.stderr)


class SecretKeyTests(SimpleTestCase):
    def test_a_key_that_a_full_disk_left_empty_is_made_anew_and_kept(self) -> None:
        with tempfile.TemporaryDirectory() as data:
            file = Path(data) / "secret.key"
            file.write_text("")
            how = {**os.environ, "SULVET_DATA": data}
            for _ in range(2):
                done = subprocess.run(
                    [sys.executable, "manage.py", "shell", "-v", "0", "-c",
                     "from django.conf import settings; print(settings.SECRET_KEY)"],
                    cwd=ROOT, env=how, capture_output=True, text=True, check=True,
                )  # fmt: skip
                self.assertGreater(len(done.stdout.strip()), 40)
                self.assertEqual(done.stdout.strip(), file.read_text())
            self.assertEqual([one.name for one in Path(data).glob("secret*")], ["secret.key"])


class PrepareTests(TransactionTestCase):
    def test_a_database_of_a_newer_sulvet_is_left_alone(self) -> None:
        MigrationRecorder(connection).record_applied("takes", "9999_later")
        self.addCleanup(MigrationRecorder(connection).record_unapplied, "takes", "9999_later")
        with self.assertRaisesMessage(CommandError, "by a newer Sulvet (it knows takes.9999"):
            call_command("prepare")

    @sqlite_alone
    def test_a_copy_holds_what_the_database_holds_and_the_newest_few_stay(self) -> None:
        User.objects.create_user("hanna")
        with tempfile.TemporaryDirectory() as folder, override_settings(DATA_DIR=folder):
            copies = [prepare.copy_database(Path(folder)) for _ in range(prepare.KEPT + 2)]
            self.assertEqual([one.exists() for one in copies], [False] * 2 + [True] * prepare.KEPT)
            with closing(sqlite3.connect(copies[-1])) as copy:
                names = copy.execute("SELECT username FROM auth_user").fetchall()
            self.assertEqual(names, [("hanna",)])
