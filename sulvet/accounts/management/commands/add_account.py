"""Make an account for another teacher, on the data folder that is meant."""

from __future__ import annotations

from getpass import getpass
from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from sulvet.accounts.errors import Refused
from sulvet.accounts.services import set_password


class Command(BaseCommand):
    """``run.py account NAME``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """The name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Ask for a password twice and make the account."""
        name = options["name"]
        if User.objects.filter(username=name).exists():
            raise CommandError(f"There is an account “{name}” already.")
        given = getpass("Password: ")
        if given != getpass("Password again: "):
            raise CommandError("These are two different passwords. Nothing was made.")
        try:
            set_password(User(username=name), given)
        except Refused as error:
            raise CommandError(f"{error.detail} Nothing was made.") from error
        self.stdout.write(f"“{name}” can log in now, to a band of their own.")
