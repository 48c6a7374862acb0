"""Handing a take to the worker.

The task is named, not imported: what reads a take stands above what enqueues one. The queue only
says that there is work: what is to be done, and who does it, stands in the take's own row.
"""

from __future__ import annotations

import datetime
import logging
import uuid
from typing import Literal

from django.db import DatabaseError, transaction
from django.utils import timezone
from django.utils.module_loading import import_string

from sulvet.takes.models import Take

log = logging.getLogger(__name__)
TASK = "sulvet.takes.tasks.read_take"
#: Who waits for it: a student before the screen, a teacher who sends clips, or nobody.
Urgency = Literal["booth", "upload", "again"]
PRIORITIES: dict[Urgency, int] = {"booth": 50, "upload": 0, "again": -50}
#: One that waits this long has lost its place in the queue; a second place does no harm, since only
#: the newest job of a take may run.
LOST = datetime.timedelta(minutes=30)


def enqueue(take: Take, urgency: Urgency = "upload") -> None:
    """Hand a take to the worker under a new job; whatever an older job brings is dropped."""
    take.job, take.state, take.stage, take.share = uuid.uuid4(), Take.State.WAITING, "", 0.0
    take.heartbeat, take.message = timezone.now(), ""
    take.save(update_fields=["job", "state", "stage", "share", "heartbeat", "message"])
    transaction.on_commit(lambda: _ring(take, urgency))


def _ring(take: Take, urgency: Urgency) -> None:
    task = import_string(TASK).using(priority=_priority(urgency), queue_name=urgency)
    try:
        task.enqueue(take.pk, str(take.job))
    except DatabaseError:
        raise
    except Exception:
        # A queue server of whatever kind. The row waits, and whoever looks after takes hands it
        # out once the queue is back.
        log.exception("take %s: the queue does not answer", take.pk)
        overdue = timezone.now() - LOST - datetime.timedelta(seconds=1)
        Take.objects.filter(pk=take.pk, job=take.job).update(heartbeat=overdue)


def _priority(urgency: Urgency) -> int:
    """What queues that know no priority take as none: they have a queue for each urgency."""
    backend = import_string(TASK).get_backend()
    return PRIORITIES[urgency] if backend.supports_priority else 0
