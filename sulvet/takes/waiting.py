"""Waiting for a database that another process has locked."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TypeVar

from django.db import OperationalError
from django_tasks_db.utils import is_locked_database_exception
from tenacity import Retrying, retry_if_exception, stop_after_delay, wait_random_exponential

log = logging.getLogger(__name__)
T = TypeVar("T")
#: A worker has time: nobody looks at a page that waits for it, s.
LONGEST = 300.0


def is_locked(error: BaseException) -> bool:
    """Whether SQLite gave up waiting for another writer."""
    return isinstance(error, OperationalError) and bool(is_locked_database_exception(error))


def patiently(write: Callable[[], T]) -> T:
    """Run a short write, again and again while the database is locked.

    ``write`` must be a whole transaction: what it did before it failed has been undone.
    """
    trying = Retrying(
        retry=retry_if_exception(is_locked),
        wait=wait_random_exponential(multiplier=0.1, max=5.0),
        stop=stop_after_delay(LONGEST),
        before_sleep=lambda state: log.warning("the database is locked; waiting for it"),
        reraise=True,
    )
    return trying(write)
