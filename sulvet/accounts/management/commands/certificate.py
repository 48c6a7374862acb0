"""Make certificates for the network, and show where phones find Sulvet."""

from __future__ import annotations

import sys
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from sulvet.accounts.certificates import certificates
from sulvet.core.formats import qr

FOLDER = "certificate"


class Command(BaseCommand):
    """``manage.py certificate ADDRESS NAME …``."""

    help = "Certificates for some names of this computer, and a QR code of its address."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The address phones are led to, and all names that are to be signed for."""
        parser.add_argument("address")
        parser.add_argument("names", nargs="+")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make what is missing; the code only where somebody reads it."""
        certificates(Path(settings.DATA_DIR) / FOLDER, options["names"])
        if sys.stdout.isatty():
            self.stdout.write(qr.blocks(options["address"]))
