"""The day it is where the school is."""

from __future__ import annotations

import datetime

from django.utils import timezone

from sulvet.core import clock


def today() -> datetime.date:
    """Return the day it is in the time zone that was activated for this request."""
    return timezone.localdate(clock.now())  # noqa: TID251  the one place
