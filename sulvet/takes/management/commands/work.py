"""``manage.py work``."""

from __future__ import annotations

import threading
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from sulvet.takes.worker import PatientWorker, look_after_for_ever, run_queue


class Command(BaseCommand):
    """The worker beside the server."""

    help = "Read the waiting takes, for ever."

    def handle(self, *args: Any, **options: Any) -> None:
        """Run until told to stop."""
        threading.Thread(target=look_after_for_ever, daemon=True).start()
        if settings.RQ_QUEUES:
            run_queue()
            return
        worker = PatientWorker()
        worker.configure_signals()
        worker.run()
