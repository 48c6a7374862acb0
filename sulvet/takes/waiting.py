"""Waiting for a database that another process has locked, or whose server does not answer."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TypeVar

from django.db import InterfaceError, OperationalError, connection
from django_tasks_db.utils import is_locked_database_exception
from tenacity import (
    RetryCallState,
    Retrying,
    retry_if_exception,
    wait_random_exponential,
)

from sulvet.core import clock

log = logging.getLogger(__name__)
T = TypeVar("T")
#: A worker has time: nobody looks at a page that waits for it, s.
LONGEST = 300.0


def is_locked(error: BaseException) -> bool:
    """Whether SQLite gave up waiting for another writer."""
    return isinstance(error, OperationalError) and bool(is_locked_database_exception(error))


def is_away(error: BaseException) -> bool:
    """Whether a database's server could not be reached, or ended the connection.

    It then says nothing (no SQLSTATE), or that it ends (classes 08 and 57P of PostgreSQL).
    """
    cause = error.__cause__
    if not isinstance(error, OperationalError | InterfaceError) or not hasattr(cause, "sqlstate"):
        return False
    state: str | None = getattr(cause, "sqlstate")  # noqa: B009  no other database's errors have it
    return state is None or state.startswith(("08", "57P"))


def patiently(write: Callable[[], T]) -> T:
    """Run a short write, again and again while the database is locked or away.

    ``write`` must be a whole transaction: what it did before it failed has been undone.
    """
    end = clock.monotonic() + LONGEST
    trying = Retrying(
        retry=retry_if_exception(lambda error: is_locked(error) or is_away(error)),
        wait=wait_random_exponential(multiplier=0.1, max=5.0),
        stop=lambda _: clock.monotonic() > end,
        sleep=clock.sleep,
        before_sleep=_wait,
        reraise=True,
    )
    return trying(write)


def _wait(state: RetryCallState) -> None:
    error = state.outcome.exception() if state.outcome else None
    if error is not None and is_away(error):
        # The next try needs a new connection.
        connection.close()
        log.warning("the database does not answer; waiting for it")
    else:
        log.warning("the database is locked; waiting for it")
