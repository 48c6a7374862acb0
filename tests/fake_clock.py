"""The one fake time of the tests: it stands until it is moved, and nobody waits."""

from __future__ import annotations

import datetime
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from unittest.mock import patch

from sulvet.core import clock


class FakeClock:
    """Stands at a moment; whoever sleeps moves it on and returns at once."""

    def __init__(self, moment: datetime.datetime) -> None:
        self._moment, self._seconds = moment, 0.0

    def now(self) -> datetime.datetime:
        return self._moment

    def time(self) -> float:
        return self._moment.timestamp()

    def monotonic(self) -> float:
        return self._seconds

    def advance(self, **by: float) -> None:
        """Move on: ``advance(minutes=20)``."""
        step = datetime.timedelta(**by)
        self._moment += step
        self._seconds += step.total_seconds()

    def sleep(self, seconds: float) -> None:
        self.advance(seconds=seconds)


@contextmanager
def fake_clock(moment: datetime.datetime | None = None) -> Iterator[FakeClock]:
    """Put a clock that stands at a moment (now, if none is given) in the place of Sulvet's own,
    and of what Django stamps rows, sessions and signatures with."""
    fake = FakeClock(moment or clock.now())
    with ExitStack() as stack:
        stack.enter_context(clock.replaced(fake))
        stack.enter_context(patch("django.utils.timezone.now", fake.now))
        stack.enter_context(patch("django.core.signing.time", fake))
        yield fake
