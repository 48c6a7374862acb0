"""Backups from the shell: whole, read back, the newest kept, and restored on another computer."""

from __future__ import annotations

import io
import tempfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.core.management import CommandError, call_command
from django.test import override_settings

from sulvet.records import archive
from sulvet.takes import worker
from sulvet.takes.models import Take
from sulvet.takes.uploads import delete_student
from tests.fake_clock import fake_clock
from tests.records.base import RecordCase


class BackupTests(RecordCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "backups"
        self.words = Path(folder.name) / "words"
        self.words.write_text("four plain words\n", "utf-8")
        self.take = self.from_demo("edda-front-12", 12, self.student)

    def run_command(self, name: str, *words: str) -> str:
        out = io.StringIO()
        call_command(name, *words, stdout=out)
        return out.getvalue()

    def backup(self, *more: str) -> Path:
        said = self.run_command("backup", str(self.folder), *more)
        return Path(said.split("MB", 1)[1].strip())

    def test_written_and_restored_into_a_new_account(self) -> None:
        clip = self.take.clip.read_bytes()
        file = self.backup("--passphrase-file", str(self.words))
        delete_student(self.student)
        with self.assertRaisesMessage(CommandError, "is encrypted"):
            self.run_command("restore", str(file), "--account", "hanna")
        self.assertFalse(User.objects.filter(username="hanna").exists())
        said = self.run_command(
            "restore", str(file), "--account", "hanna", "--passphrase-file", str(self.words)
        )
        self.assertIn("1 students and 1 takes", said)
        self.assertEqual(Take.objects.get().clip.read_bytes(), clip)
        self.assertFalse(User.objects.get(username="hanna").has_usable_password())

    def test_a_download_leaves_in_large_pieces(self) -> None:
        # Pieces of 4 KB made a minute's download of every gigabyte.
        answer: Any = self.client.get("/api/archive.zip")
        pieces = [len(one) for one in answer.streaming_content]
        self.assertLess(len(pieces), sum(pieces) / 2**16)

    def test_one_that_can_not_be_read_back_is_no_backup(self) -> None:
        add = archive._add

        def wrong(*given: Any) -> dict[str, Any]:
            return {**add(*given), "sha256": "0" * 64}

        with (
            patch.object(archive, "_add", wrong),
            self.assertRaisesMessage(CommandError, "has changed"),
        ):
            self.backup()
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_a_passphrase_file_without_one_writes_no_readable_backup(self) -> None:
        self.words.write_text("\n", "utf-8")
        with self.assertRaisesMessage(CommandError, "A passphrase needs 12"):
            self.backup("--passphrase-file", str(self.words))
        own = {"BACKUPS": str(self.folder), "BACKUP_PASSPHRASE_FILE": str(self.words),
               "HOURLY": ("sulvet.records.backups.daily",)}  # fmt: skip
        with override_settings(**own), self.assertLogs("sulvet.takes.worker", "ERROR"):
            worker.every_hour()
        self.assertEqual(list(self.folder.glob("*")), [])

    def test_the_newest_stay_and_no_other_accounts_go(self) -> None:
        other = self.folder / "sulvet-other-9-2020-01-01-000000.zip"
        self.folder.mkdir()
        other.write_bytes(b"another's")
        made = []
        with fake_clock() as clock:
            for _ in range(4):
                made.append(self.backup("--keep", "2"))
                clock.advance(days=1)
        self.assertEqual(set(self.folder.iterdir()), {other, *made[2:]})

    def test_once_a_day_where_a_folder_is_set(self) -> None:
        own = {"BACKUPS": str(self.folder), "HOURLY": ("sulvet.records.backups.daily",)}
        with override_settings(**own), self.assertLogs("sulvet.records.backups") as said:
            for _ in range(3):
                worker.every_hour()
        self.assertEqual(len(said.output), 1)
        self.assertEqual(len(list(self.folder.iterdir())), 1)
