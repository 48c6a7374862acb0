"""The worker: jobs one after the other, and what a killed or older one left."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable
from itertools import count
from typing import Any
from uuid import uuid4

from django.conf import settings
from django.db import OperationalError, close_old_connections
from django.utils.module_loading import import_string
from django_tasks_db.management.commands.db_worker import Worker
from django_tasks_db.models import DBTaskResult

from sulvet.core import clock
from sulvet.takes import jobs
from sulvet.takes.analysis import ANALYSED, refresh_all
from sulvet.takes.models import Take
from sulvet.takes.queue import Urgency
from sulvet.takes.waiting import is_locked, patiently

log = logging.getLogger(__name__)
#: How often the worker looks for stopped jobs, s; and at every so-manieth look, for analyses
#: that are out of date: a page asks for those it shows by itself.
LOOK_EVERY, REFRESH_AT = 5.0, 12
#: And at every so-manieth, for files that belong to nobody: hourly, and at the start.
SWEEP_AT = 720
#: Queues of a queue server, the most urgent first; and how long one that is away is left alone, s.
QUEUES: tuple[Urgency, ...] = ("booth", "upload", "again")
AWAY = 2.0


class PatientWorker(Worker):
    """A worker that lives on when the database is locked for longer than SQLite waits.

    A job runs once: what is tried again is only the note of how it ended.
    """

    def __init__(self, interval: float = 0.5, worker_id: str = "") -> None:
        super().__init__(
            queue_names=["*"],
            interval=interval,
            batch=False,
            backend_name="default",
            startup_delay=False,
            max_tasks=None,
            worker_id=worker_id or uuid4().hex,
            excluded_queue_names=[],
        )

    def run(self) -> None:
        """Until told to stop."""
        while self.running:
            try:
                super().run()
            except OperationalError as error:
                if not is_locked(error):
                    raise
                log.warning("the database is locked; the worker waits")
                clock.sleep(self.interval)

    def run_task(self, db_task_result: DBTaskResult[Any, Any]) -> None:
        """One job, and the note of how it ended."""
        for name in ("set_successful", "set_failed"):
            setattr(db_task_result, name, _patient(getattr(db_task_result, name)))
        super().run_task(db_task_result)


def run_queue() -> None:
    """Until told to stop, the jobs of a queue server: the urgent ones first."""
    from django_rq.workers import get_worker
    from django_tasks_rq.backend import Job
    from redis.exceptions import ConnectionError as QueueAway
    from rq.worker import SimpleWorker

    class QueueWorker(SimpleWorker):  # type: ignore[misc, unused-ignore]
        """One job after the other in this process, like the worker beside SQLite."""

        #: Longest pause between two looks whether the queue is back, s.
        max_connection_wait_time = AWAY

        def perform_job(self, *given: Any, **named: Any) -> bool:
            """One job, on connections to the database that still answer."""
            close_old_connections()
            return bool(super().perform_job(*given, **named))

    while True:
        try:
            worker = get_worker(*QUEUES, job_class=Job, worker_class=QueueWorker)
            worker.work(logging_level="WARNING")
            return
        except QueueAway:
            log.warning("the queue does not answer; the worker waits")
            clock.sleep(AWAY)


def _patient(note: Callable[[Any], None]) -> Callable[[Any], None]:
    return lambda value: patiently(lambda: note(value))


def requeue() -> None:
    """Take up what a killed worker left."""
    taken = patiently(jobs.requeue_stale)
    if taken:
        log.warning("%s take(s) of a stopped worker taken up again", taken)


def refresh() -> None:
    """Make anew what another engine, ear, standard or school made."""
    refresh_all(
        Take.objects.filter(state__in=ANALYSED)
        .select_related("student__section__band__teacher", "analysis")
        .defer("notes", "analysis__drawing", "analysis__stills", "analysis__frames")
    )


def every_hour(names: Iterable[str] | None = None) -> None:
    """What is done from time to time; one that fails keeps no other from its turn.

    names  of functions; all that a worker does where none are given
    """
    for name in settings.HOURLY if names is None else names:
        try:
            patiently(import_string(name))
        except Exception:
            log.exception("%s", name)


def look_after_for_ever() -> None:
    """All three, again and again."""
    for look in count():
        try:
            close_old_connections()
            requeue()
            if look % REFRESH_AT == 0:
                refresh()
            if look % SWEEP_AT == 0:
                every_hour()
        except Exception:
            log.exception("looking after takes")
        clock.sleep(LOOK_EVERY)


def tidy_for_ever() -> None:
    """Beside a web process whose data folder no worker has: what is left in it goes."""
    while True:
        try:
            close_old_connections()
            every_hour(settings.OWN_FOLDER)
        except Exception:
            log.exception("tidying the data folder")
        clock.sleep(SWEEP_AT * LOOK_EVERY)
