"""A band that goes to another Sulvet and comes back, over a connection that breaks."""

from __future__ import annotations

import hashlib
import io
import os
import tempfile
import time
from pathlib import Path
from typing import Any
from unittest.mock import patch

from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import LiveServerTestCase, override_settings, tag
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice

from sulvet.accounts import second_factor
from sulvet.band.models import Student
from sulvet.records import elsewhere, moving
from sulvet.takes import files
from sulvet.takes.models import Take
from tests.base import make_teacher, new_student
from tests.clips import SMILE, clip
from tests.records.base import RecordCase

#: Bytes of a piece here: a short clip has some.
PIECE = 20_000


@tag("database")
class MoveTests(LiveServerTestCase):
    """Three accounts of one server stand for three servers: a move knows only addresses."""

    from_demo = RecordCase.from_demo

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory(prefix="sulvet-moving-")
        self.addCleanup(folder.cleanup)
        own = override_settings(
            CLIPS_DIR=f"{folder.name}/clips",
            DATA_DIR=Path(folder.name),
            FILE_UPLOAD_TEMP_DIR=folder.name,
        )
        own.enable()
        self.addCleanup(own.disable)
        self.password = Path(folder.name) / "password"
        self.password.write_text("a-long-word\n")
        small = patch.object(elsewhere, "LARGEST", PIECE)
        small.start()
        self.addCleanup(small.stop)
        self.home, self.district, self.back = (
            make_teacher(name) for name in ("home", "district", "back")
        )
        self.today = time.strftime("%Y-%m-%d")
        self.student = new_student(self.home, "Edda")
        self.take = Take.objects.create(
            student=self.student, filmed_on=self.today, original_name="a.mp4",
            clip_name="clip.mp4", clip_seconds=5.0, state=Take.State.FAILED, message="unread",
        )  # fmt: skip
        self.take.directory.mkdir(parents=True)
        (self.take.directory / "clip.mp4").write_bytes(clip(SMILE, ".mp4", (640, 360)).read_bytes())

    def move(self, *words: str) -> str:
        out = io.StringIO()
        call_command("move", *words, password_file=self.password, stdout=out)
        return out.getvalue()

    def breaks(self, method: str, after: int) -> Any:
        """A connection that is lost after so many requests of a kind; how many were sent."""
        ask, self.sent = elsewhere.Elsewhere._asked, 0

        def asked(there: Any, kind: str, *given: Any, **named: Any) -> bytes:
            if kind == method and (kind != "GET" or "headers" in named):
                if self.sent == after:
                    raise elsewhere.Trouble("lost")
                self.sent += 1
            return ask(there, kind, *given, **named)

        return patch.object(elsewhere.Elsewhere, "_asked", asked)

    def test_there_and_back_over_a_connection_that_breaks(self) -> None:
        there = ("--to", self.live_server_url, "--account", "home", "--login", "district")
        with self.breaks("PUT", 3), self.assertRaisesMessage(CommandError, "lost"):
            self.move(*there)
        with self.breaks("PUT", 10_000):
            told = self.move(*there)
        whole = -(-self.archived() // PIECE)
        self.assertEqual(self.sent, whole - 3)
        self.assertIn("1 students, 1 takes and 1 files moved and checked", told)
        self.same(self.district)
        self.assertEqual(list(moving.folder().iterdir()), [])

        again = ("--from", self.live_server_url, "--account", "back", "--login", "district")
        with (
            patch("sulvet.takes.api.ranged.LONGEST", PIECE),
            self.breaks("GET", 2), self.assertRaisesMessage(CommandError, "lost"),
        ):  # fmt: skip
            self.move(*again)
        have = next(moving.folder().glob("from-*.zip")).stat().st_size
        self.assertEqual(have, 2 * PIECE)
        with self.breaks("GET", 10_000):
            self.move(*again)
        self.same(self.back)
        self.assertEqual(list(moving.folder().iterdir()), [])

    def archived(self) -> int:
        path = moving.folder() / "again.zip"
        moving.write(self.home, path)
        size = path.stat().st_size
        path.unlink()
        return size

    def same(self, teacher: Any) -> None:
        student = Student.objects.get(section__band__teacher=teacher)
        take = Take.objects.get(student=student)
        self.assertEqual((student.name, take.message, take.filmed_on.isoformat()),
                         ("Edda", "unread", self.today))  # fmt: skip
        self.assertEqual(take.clip.read_bytes(), self.take.clip.read_bytes())
        self.assertNotEqual(take.folder, self.take.folder)

    def test_what_does_not_match_is_not_taken_in(self) -> None:
        there = ("--to", self.live_server_url, "--account", "home", "--login", "district")
        with (
            patch.object(moving, "digest_of", return_value="0" * 64),
            self.assertRaisesMessage(CommandError, "damaged on its way"),
        ):
            self.move(*there)
        self.assertFalse(Student.objects.filter(section__band__teacher=self.district).exists())
        for words, told in (
            (("--to", self.live_server_url, "--account", "nobody"), "There is no account"),
            (("--to", self.live_server_url, "--account", "back"), "has no students"),
            (("--from", self.live_server_url, "--account", "home"), "has students already"),
            (("--to", "http://band.example", "--account", "home"), "need https"),
            (("--to", "http://127.0.0.1:9", "--account", "home"), "does not answer"),
            (("--to", self.live_server_url, "--account", "home", "--login", "x"), "Wrong name"),
        ):
            with self.assertRaisesMessage(CommandError, told):
                self.move(*words)

    def test_a_second_factor_is_asked_for(self) -> None:
        second_factor.begin(self.district)
        TOTPDevice.objects.update(confirmed=True)
        device = TOTPDevice.objects.get()
        code = TOTP(device.bin_key, device.step, device.t0, device.digits).token()
        there = ("--to", self.live_server_url, "--account", "home", "--login", "district")
        with patch("builtins.input", return_value="") as asked, self.assertRaises(CommandError):
            self.move(*there)
        asked.assert_called_once()
        TOTPDevice.objects.update(throttling_failure_count=0)
        with patch("builtins.input", return_value=f"{code:06d}"):
            self.assertIn("1 takes", self.move(*there))

    def test_nobody_has_anothers_pieces_and_what_nobody_fetches_goes(self) -> None:
        made = moving.make(self.home)
        path = f"/api/archive/out/{made.number}.zip"
        for who, status in ((self.district, 404), (self.home, 200)):
            self.client.force_login(who)
            self.assertEqual(self.client.get(path).status_code, status)
        moving.receive(self.home, made.number, 0, b"x", hashlib.sha256(b"x").hexdigest())
        self.assertEqual(moving.missing(self.home, made.number, 2), [1])
        self.assertEqual(moving.missing(self.district, made.number, 2), [0, 1])
        file = moving.made(self.home, made.number)
        moving.sweep()
        self.assertTrue(file.exists())
        old = time.time() - moving.KEPT - 1
        os.utime(file, (old, old))
        moving.sweep()
        self.assertFalse(file.exists())
        with self.assertLogs("sulvet.takes.files", "WARNING"):
            files.sweep(settled=0)
        self.assertEqual(moving.missing(self.home, made.number, 2), [0, 1])
