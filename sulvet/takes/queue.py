"""Handing a take to the worker.

The task is named, not imported: what reads a take stands above what enqueues one.
"""

from __future__ import annotations

import uuid

from django.db import transaction
from django.utils import timezone
from django.utils.module_loading import import_string

from sulvet.takes.models import Take

TASK = "sulvet.takes.tasks.read_take"


def enqueue(take: Take) -> None:
    """Hand a take to the worker under a new job; whatever an older job brings is dropped."""
    take.job, take.state, take.stage, take.share = uuid.uuid4(), Take.State.WAITING, "", 0.0
    take.heartbeat, take.message = timezone.now(), ""
    take.save(update_fields=["job", "state", "stage", "share", "heartbeat", "message"])
    job = str(take.job)
    transaction.on_commit(lambda: import_string(TASK).enqueue(take.pk, job))
