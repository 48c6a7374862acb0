"""Add a school to a district, and print where its administrator makes an account."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from sulvet.accounts.errors import Refused
from sulvet.accounts.invitations import found, path_of


class Command(BaseCommand):
    """``manage.py add_school NAME``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """The name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it."""
        try:
            invitation = found(options["name"])
        except Refused as error:
            raise CommandError(str(error.detail)) from error
        self.stdout.write(path_of(invitation))
