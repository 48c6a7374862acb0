"""Take an archive into an account without students, however large the file is."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser
from rest_framework.exceptions import APIException

from sulvet.records import backups, restore


class Command(BaseCommand):
    """``python -m sulvet restore FILE --account NAME``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """What the shell may say."""
        parser.add_argument("file", type=Path)
        parser.add_argument("--account", required=True, help="made if there is none of this name")
        parser.add_argument("--passphrase-file", type=Path)
        parser.add_argument(
            "--without-consent", action="store_true",
            help="also students without consent for today; their clips stay closed",
        )  # fmt: skip

    def handle(self, *args: Any, **options: Any) -> None:
        """Take it in: all of it or nothing."""
        if not options["file"].is_file():
            raise CommandError(f"There is no file {options['file']}.")
        words = options["passphrase_file"]
        teacher, made = User.objects.get_or_create(username=options["account"])
        try:
            with options["file"].open("rb") as source:
                taken = restore.read(
                    teacher, source, options["without_consent"],
                    backups.passphrase_in(words) if words else "",
                )  # fmt: skip
        except BaseException as error:
            if made:
                teacher.delete()
            if isinstance(error, APIException):
                raise CommandError(str(error.detail)) from error
            raise
        self.stdout.write(f"{taken.students} students and {taken.takes} takes restored.")
        if made:
            teacher.set_unusable_password()
            teacher.save()
            self.stdout.write(
                f"The account “{teacher.username}” is new. Give it a password: python3 run.py "
                f"password {teacher.username} --data FOLDER"
            )
