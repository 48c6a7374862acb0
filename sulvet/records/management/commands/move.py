"""Take a teacher's band to another Sulvet, such as a district's, or bring it from there.

What was broken off goes on where it was when the same is asked again. Nothing is deleted where
it came from.
"""

from __future__ import annotations

import getpass
import json
import time
from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser
from rest_framework.exceptions import APIException

from sulvet.band.models import Student
from sulvet.core import clock
from sulvet.records import moving, restore
from sulvet.records.elsewhere import CodeMissing, Elsewhere, Trouble


class Command(BaseCommand):
    """``python -m sulvet move --to ADDRESS --account NAME`` and ``--from ADDRESS``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """What the shell may say."""
        way = parser.add_mutually_exclusive_group(required=True)
        way.add_argument("--to", help="address of the Sulvet that the band goes to")
        way.add_argument("--from", dest="origin", help="address of the Sulvet that it comes from")
        parser.add_argument("--account", required=True, help="the account here")
        parser.add_argument("--login", help="the account there, if it has another name")
        parser.add_argument("--password-file", type=Path, help="else it is asked for")
        parser.add_argument("--authority", type=Path, help="certificate that signed the other's")
        parser.add_argument(
            "--without-consent", action="store_true",
            help="also students without consent for today; their clips stay closed",
        )  # fmt: skip

    def handle(self, *args: Any, **options: Any) -> None:
        """There or back."""
        teacher = User.objects.filter(username=options["account"]).first()
        if teacher is None:
            raise CommandError(f"There is no account “{options['account']}” here.")
        has_students = Student.objects.filter(section__band__teacher=teacher).exists()
        if options["to"] and not has_students:
            raise CommandError(f"“{teacher.username}” has no students to move.")
        if options["origin"] and has_students:
            raise CommandError(
                f"“{teacher.username}” has students already. Make an empty account for what comes."
            )
        try:
            there = self._logged_in(options)
            try:
                if options["to"]:
                    self._go(teacher, there, options["without_consent"])
                else:
                    self._come(teacher, there, options["without_consent"])
            finally:
                there.log_out()
        except Trouble as error:
            raise CommandError(str(error)) from error
        except APIException as error:
            raise CommandError(str(error.detail)) from error

    def _logged_in(self, options: dict[str, Any]) -> Elsewhere:
        there = Elsewhere(options["to"] or options["origin"], options["authority"])
        name, file = options["login"] or options["account"], options["password_file"]
        password = (
            file.read_text("utf-8").strip() if file
            else getpass.getpass(f"Password of “{name}” at {there.address}: ")
        )  # fmt: skip
        try:
            there.log_in(name, password)
        except CodeMissing:
            there.log_in(name, password, input("Code that your authenticator app shows now: "))
        return there

    def _go(self, teacher: User, there: Elsewhere, without_consent: bool) -> None:
        path = moving.folder() / f"to-{teacher.pk}.zip"
        if not path.exists() or clock.timestamp() - path.stat().st_mtime > moving.KEPT:
            self.stdout.write("writing the archive")
            moving.write(teacher, path)
        else:
            began = time.strftime("%H:%M", time.localtime(path.stat().st_mtime))
            self.stdout.write(
                f"going on with the archive of {began}; what has changed since is not in it. "
                f"To begin anew delete {path}."
            )
        done = there.send(path, without_consent, self._told)
        path.unlink()
        self._say(done["students"], done["takes"], done["files"], there.address)
        self.stdout.write(
            "Here everything is as it was. Look through the band there, then delete it here."
        )

    def _come(self, teacher: User, there: Elsewhere, without_consent: bool) -> None:
        path = moving.folder() / f"from-{teacher.pk}.zip"
        note = path.with_suffix(".json")
        made = json.loads(note.read_text()) if note.exists() else None
        if made is None or made["address"] != there.address:
            self.stdout.write("having the archive written")
            path.unlink(missing_ok=True)
            made = {**there.write_out(), "address": there.address}
            note.write_text(json.dumps(made))
        try:
            there.fetch(made, path, self._told)
        except Trouble:
            if not path.exists() or path.stat().st_size == 0:
                note.unlink()
            raise
        with path.open("rb") as source:
            taken = restore.read(teacher, source, without_consent)
        for one in (path, note):
            one.unlink()
        there.drop(made)
        self._say(taken.students, taken.takes, taken.files, there.address)

    def _told(self, done: int, of: int) -> None:
        self.stdout.write(f"{min(done, of) / 1e6:10.1f} of {of / 1e6:.1f} MB")

    def _say(self, students: int, takes: int, files: int, where: str) -> None:
        self.stdout.write(
            f"{students} students, {takes} takes and {files} files moved and checked: {where}"
        )
