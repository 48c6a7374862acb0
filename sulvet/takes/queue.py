"""Handing a take to the worker.

The task is named, not imported: what reads a take stands above what enqueues one. The queue only
says that there is work: what is to be done, and who does it, stands in the take's own row.
"""

from __future__ import annotations

import datetime
import logging
import uuid
from typing import Literal

from django.conf import settings
from django.db import DatabaseError, transaction
from django.db.models.functions import Now
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
    take.message = ""
    take.save(update_fields=["job", "state", "stage", "share", "message"])
    _beat(take)
    transaction.on_commit(lambda: _ring(take, urgency))


def pass_on(take_id: int, job: str, urgency: Urgency = "upload") -> None:
    """Hand a job that this worker can't do to another one; where there is none, to itself again."""
    take = Take.objects.filter(pk=take_id, job=job, state=Take.State.WAITING).first()
    if take is not None:
        _ring(take, urgency)


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
        _beat(take, LOST + datetime.timedelta(seconds=1))


def _beat(take: Take, ago: datetime.timedelta = datetime.timedelta()) -> None:
    """The take was heard of, by the database's clock: those of the computers may differ."""
    Take.objects.filter(pk=take.pk, job=take.job).update(heartbeat=Now() - ago)


def is_empty() -> bool:
    """Whether a queue server has nothing to hand out, as when it was started anew.

    False where jobs stand in the database, or the server does not answer.
    """
    if not settings.RQ_QUEUES:
        return False
    from django_rq import get_queue
    from redis.exceptions import RedisError

    try:
        return not any(get_queue(name).count for name in settings.RQ_QUEUES)
    except RedisError:
        return False


def _priority(urgency: Urgency) -> int:
    """What queues that know no priority take as none: they have a queue for each urgency."""
    backend = import_string(TASK).get_backend()
    return PRIORITIES[urgency] if backend.supports_priority else 0
