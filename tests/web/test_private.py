"""What is private stays out of caches and out of other accounts' reach."""

from __future__ import annotations

import sqlite3
import stat
import tempfile
from contextlib import redirect_stdout
from io import StringIO
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase
from django.urls import reverse

from launcher import serving
from sulvet.takes.files import EMPTY_LOG
from sulvet.web.databases import SQLITE_SETUP
from tests.base import BandTestCase


class NothingKeptTests(BandTestCase):
    def test_no_browser_stores_anything_of_a_band(self) -> None:
        take = self.add_take()
        addresses = [
            reverse("session"), reverse("band"), reverse("take", args=[take.pk]),
            reverse("clip", args=[take.pk]), reverse("frame", args=[take.pk, 0]),
            "/api/there-is-no-such-address/",
        ]  # fmt: skip
        for client in (self.client, self.client_class()):
            for address in addresses:
                kept = client.get(address)["Cache-Control"]
                self.assertEqual(kept, "private, no-store", address)

    def test_logging_out_empties_the_browsers_cache(self) -> None:
        self.assertEqual(self.client.delete(reverse("session"))["Clear-Site-Data"], '"cache"')


class DataFolderTests(SimpleTestCase):
    def test_files_and_folder_are_for_one_account_alone(self) -> None:
        with tempfile.NamedTemporaryFile(dir=settings.DATA_DIR) as made:
            made_by_hand = Path(made.name).with_suffix(".txt")
            made_by_hand.write_text("x")
            mode = made_by_hand.stat().st_mode
            made_by_hand.unlink()
        self.assertEqual(stat.S_IMODE(mode) & 0o077, 0)
        with tempfile.TemporaryDirectory() as folder:
            data = Path(folder) / "data"
            data.mkdir()
            data.chmod(0o755)
            with redirect_stdout(StringIO()) as said:
                serving.keep_private(data)
            self.assertIn("to other accounts", said.getvalue())
            self.assertEqual(stat.S_IMODE(data.stat().st_mode), 0o700)


class DeletedRowsTests(SimpleTestCase):
    def test_what_is_deleted_is_in_no_file_of_the_database_any_more(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            database = sqlite3.connect(Path(folder) / "band.sqlite3", isolation_level=None)
            database.executescript(SQLITE_SETUP)
            database.execute("CREATE TABLE student (name TEXT)")
            database.execute("INSERT INTO student VALUES ('Edda Marschall')")
            database.execute("INSERT INTO student VALUES ('Farid Belmondi')")

            def kept() -> bytes:
                return b"".join(path.read_bytes() for path in Path(folder).iterdir())

            self.assertTrue(b"Edda Marschall" in kept())
            database.execute("DELETE FROM student WHERE name = 'Edda Marschall'")
            database.execute(EMPTY_LOG)
            self.assertFalse(b"Edda Marschall" in kept())
            self.assertTrue(b"Farid Belmondi" in kept())
            database.close()
