"""Turn an account's second factor off: its phone is lost."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.models import User
from django.core.management.base import BaseCommand, CommandError, CommandParser

from sulvet.accounts.second_factor import turn_off


class Command(BaseCommand):
    """``run.py second-factor-off NAME``."""

    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        """The name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Turn it off."""
        account = User.objects.filter(username=options["name"]).first()
        if account is None:
            raise CommandError(f"There is no account “{options['name']}”.")
        turn_off(account)
        self.stdout.write(f"“{account}” logs in with the password alone now.")
