"""The one clock Sulvet reads: what time it is, how long something took, and waiting.

Everything that counts, waits or grows old asks here, never ``time`` or ``datetime`` themselves
(the linter holds it). A test puts its own clock in with ``replaced`` and moves it by hand, so that
an hour passes in no time.
"""

from __future__ import annotations

import datetime
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Protocol


class Clock(Protocol):
    """What a clock must do."""

    def now(self) -> datetime.datetime:
        """Return the moment, in UTC."""
        ...

    def monotonic(self) -> float:
        """Return seconds since some moment; they never run backwards."""
        ...

    def sleep(self, seconds: float) -> None:
        """Wait."""
        ...


class SystemClock:
    """This computer's."""

    def now(self) -> datetime.datetime:
        """Return the moment, in UTC."""
        return datetime.datetime.now(datetime.UTC)  # noqa: TID251  the one place

    def monotonic(self) -> float:
        """Return seconds since some moment; they never run backwards."""
        return time.monotonic()  # noqa: TID251

    def sleep(self, seconds: float) -> None:
        """Wait."""
        time.sleep(seconds)  # noqa: TID251


_current: Clock = SystemClock()


def now() -> datetime.datetime:
    """Return the moment, in UTC."""
    return _current.now()


def timestamp() -> float:
    """Return seconds since 1970, as files and sessions are stamped."""
    return _current.now().timestamp()


def monotonic() -> float:
    """Return seconds since some moment; they never run backwards."""
    return _current.monotonic()


def sleep(seconds: float) -> None:
    """Wait."""
    _current.sleep(seconds)


@contextmanager
def replaced(clock: Clock) -> Iterator[None]:
    """Read another clock for as long as the block runs, in all threads of the process."""
    global _current
    before, _current = _current, clock
    try:
        yield
    finally:
        _current = before
