"""``manage.py audit_files``, also ``python -m sulvet audit-files``."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError
from django.db import OperationalError

from sulvet.takes import files


class Command(BaseCommand):
    """What lies in the data folder and belongs to nobody."""

    help = "List files that belong to no take; --remove takes them away."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """``--remove`` and ``--now``."""
        parser.add_argument("--remove", action="store_true", help="remove what is listed")
        parser.add_argument(
            "--now",
            action="store_true",
            help="also what is younger than an hour; only while Sulvet does not run",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """One line each, with its size and why it is nobody's."""
        settled = 0.0 if options["now"] else files.SETTLED
        try:
            found = (
                files.sweep(settled, unowned=True)
                if options["remove"]
                else list(files.strays(settled))
            )
        except OperationalError as error:
            raise CommandError(
                f"There is no band in “{settings.DATA_DIR}” ({error}). Set SULVET_DATA to the "
                "folder that Sulvet keeps its data in."
            ) from error
        for stray in found:
            self.stdout.write(f"{stray.path}\t{stray.size / 1e6:.1f} MB\t{stray.why}")
        what = "removed" if options["remove"] else "found"
        total = sum(stray.size for stray in found) / 1e6
        self.stdout.write(f"{len(found)} that belong to nobody {what}, {total:.1f} MB.")
