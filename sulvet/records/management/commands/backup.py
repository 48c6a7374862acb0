"""Write an archive of each account into a folder, and read it back."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from rest_framework.exceptions import APIException

from sulvet.records import backups


class Command(BaseCommand):
    """``python -m sulvet backup FOLDER``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """What the shell may say."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--keep", type=int, default=7, help="archives of an account (7)")
        parser.add_argument("--account", default="", help="one account alone")
        parser.add_argument("--passphrase-file", type=Path, help="encrypt with what stands there")

    def handle(self, *args: Any, **options: Any) -> None:
        """Write all of them."""
        words, count = options["passphrase_file"], 0
        try:
            passphrase = backups.passphrase_in(words) if words else ""
            for path in backups.write_all(
                options["folder"], max(options["keep"], 1), passphrase, options["account"]
            ):
                count += 1
                self.stdout.write(f"{path.stat().st_size / 1e6:10.1f} MB  {path}")
        except (OSError, APIException) as error:
            raise CommandError(f"The backup was not written: {error}") from error
        if not count:
            raise CommandError("There is no account with students to back up.")
