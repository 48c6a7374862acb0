"""Files of takes go with them, and none is kept that belongs to nobody."""

from __future__ import annotations

import io
import os
import shutil
import time
import uuid
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import OperationalError, connection
from django.test import TransactionTestCase

from sulvet.takes import files, uploads
from sulvet.takes.facts import TakeFacts
from sulvet.takes.models import Discarded, Take
from tests.base import TODAY, BandTestCase, sqlite_alone

LONG_AGO = time.time() - 2 * files.SETTLED


class FileTests(BandTestCase):
    def setUp(self) -> None:
        super().setUp()
        self.clips = Path(settings.CLIPS_DIR)
        self.incoming = Path(settings.FILE_UPLOAD_TEMP_DIR)

    def put(self, path: Path, old: bool = True) -> Path:
        """A clip in this folder."""
        path.mkdir(parents=True)
        (path / "clip.mp4").write_bytes(b"x" * 1000)
        for one in (path / "clip.mp4", path) if old else ():
            os.utime(one, (LONG_AGO, LONG_AGO))
        return path

    def left(self) -> set[str]:
        return {path.name for path in (*self.clips.iterdir(), *self.incoming.iterdir())}

    def test_only_what_belongs_to_nobody_and_has_settled_is_swept(self) -> None:
        take = self.add_take()
        gone = uuid.uuid4()
        Discarded.objects.create(folder=gone)
        self.put(take.directory)
        reading = self.put(take.directory / "making-abc")
        nobody = [
            self.put(self.clips / str(uuid.uuid4())), self.put(self.clips / "a.incoming"),
            self.put(self.clips / str(gone), old=False), self.put(self.incoming / "upload"),
        ]  # fmt: skip
        kept = [
            self.put(self.clips / str(uuid.uuid4()), old=False),
            self.put(self.clips / "c.incoming", old=False), self.put(self.clips / "somebody's"),
        ]  # fmt: skip
        self.assertEqual({s.path for s in files.strays()}, {reading, *nobody})
        said = io.StringIO()
        call_command("audit_files", stdout=said)
        self.assertIn("5 that belong to nobody found", said.getvalue())
        self.assertIn(str(nobody[0]), said.getvalue())
        with self.assertLogs("sulvet.takes.files", "WARNING"):
            files.sweep()
        # Beside another database, a clip without a row may be all there is of it.
        kept.append(nobody[0])
        self.assertEqual(self.left(), {take.directory.name, *(path.name for path in kept)})
        self.assertEqual([p.name for p in take.directory.iterdir()], ["clip.mp4"])
        with self.assertLogs("sulvet.takes.files", "WARNING"):
            call_command("audit_files", "--remove", "--now", stdout=said)
        self.assertEqual(self.left(), {take.directory.name, "somebody's"})

    def test_a_delete_that_could_not_finish_says_so_and_is_finished_later(self) -> None:
        for name in ("take", "student"):
            take = self.add_take()
            self.put(take.directory, old=False)
            path = {
                "take": f"/api/takes/{take.pk}/",
                "student": f"/api/students/{take.student_id}/",
            }
            with (
                patch.object(shutil, "rmtree", side_effect=PermissionError("open elsewhere")),
                self.assertLogs("sulvet.takes.files", "ERROR"),
            ):
                said = self.sent("delete", path[name], expect=202)
            self.assertIn("can't be removed", said["detail"])
            self.assertFalse(Take.objects.filter(pk=take.pk).exists())
            self.assertEqual(self.left(), {str(take.folder)})
            files.sweep()
            self.assertEqual(self.left(), set())
            self.assertFalse(Discarded.objects.exists())
        take = self.add_take(self.add_student("Farid"))
        self.put(take.directory)
        self.sent("delete", f"/api/takes/{take.pk}/", expect=204)
        self.assertEqual(self.left(), set())

    def test_a_deletion_that_was_killed_is_finished_and_a_take_that_came_back_is_kept(self) -> None:
        back, killed = self.add_take(), self.add_take()
        for take in (back, killed):
            self.put(take.directory, old=False)
        files.note([back, killed])
        killed.delete()
        files.sweep()
        self.assertEqual(self.left(), {str(back.folder)})
        self.assertFalse(Discarded.objects.exists())

    def test_without_a_database_the_command_says_so(self) -> None:
        with (
            patch.object(files, "strays", side_effect=OperationalError("no such table")),
            self.assertRaisesMessage(CommandError, "Set SULVET_DATA"),
        ):
            call_command("audit_files")

    def test_a_clip_whose_folder_has_not_got_its_name_yet_is_not_lost(self) -> None:
        for by_worker in (False, True):
            take = self.add_take()
            self.put(take.directory.with_suffix(files.INCOMING))
            self.assertEqual(list(files.strays()), [])
            if by_worker:
                files.arrived(take)
            else:
                files.sweep()
            self.assertTrue(take.clip.exists())

    def test_a_row_that_fails_leaves_no_clip(self) -> None:
        clip = SimpleUploadedFile("clip.mp4", b"x")
        facts = TakeFacts("front", "check", TODAY)
        with (
            patch.object(uploads, "_look"),
            patch.object(Take.objects, "create", side_effect=OperationalError("full")),
            self.assertRaises(OperationalError),
        ):
            uploads.add_take(self.student, clip, facts)
        self.assertEqual(self.left(), set())


@sqlite_alone
class LogTests(TransactionTestCase):
    def test_emptying_the_log_leaves_the_patience_of_the_connection(self) -> None:
        def patience() -> int:
            with connection.cursor() as cursor:
                cursor.execute("PRAGMA busy_timeout")
                return int(cursor.fetchone()[0])

        before = patience()
        self.assertGreater(before, 0)
        files.forget_in_log()
        self.assertEqual(patience(), before)
