"""The worker: jobs one after the other, and what a killed worker left."""

from __future__ import annotations

import logging
import threading
import time
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import close_old_connections

from sulvet.takes.services import take_up_stale

log = logging.getLogger(__name__)
LOOK_EVERY = 5.0


def _watch() -> None:
    while True:
        try:
            close_old_connections()
            taken = take_up_stale()
            if taken:
                log.warning("%s take(s) of a stopped worker taken up again", taken)
        except Exception:
            log.exception("looking for stale takes")
        time.sleep(LOOK_EVERY)


class Command(BaseCommand):
    """``manage.py work``."""

    help = "Read the waiting takes, for ever."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run until told to stop."""
        threading.Thread(target=_watch, daemon=True).start()
        call_command("db_worker", interval=0.5, startup_delay=False, reload=False, verbosity=0)
