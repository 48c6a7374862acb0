"""When pictures of a student may be looked at, and when they are to be deleted.

Days are calendar days of the school; nothing here knows a database.
"""

from __future__ import annotations

import datetime
from dataclasses import dataclass

#: Days between the end of consent, or of the time all is kept, and the deletion: long enough to
#: ask the parents again after a holiday. Sulvet default (common practice, no source).
WARNING_DAYS = 30


@dataclass(frozen=True)
class Consent:
    """What is on file of one student.

    given_on    when the parents agreed; None when they did not, or no longer do
    until       the last day of their consent; None while no end is set
    """

    given_on: datetime.date | None = None
    until: datetime.date | None = None

    def covers(self, day: datetime.date) -> bool:
        """Whether the student may be filmed, and pictures be looked at, on that day."""
        if self.given_on is None or day < self.given_on:
            return False
        return self.until is None or day <= self.until


def deletion_day(
    over_since: datetime.date | None, agreed_on: datetime.date | None, days: int
) -> datetime.date | None:
    """When what is over is deleted: after the warning, and never unless the teacher agreed once.

    over_since  first day on which it was seen that there is no reason to keep it; None while
                there is one
    agreed_on   when the teacher agreed that Sulvet deletes by itself
    days        of warning

    >>> deletion_day(datetime.date(2026, 9, 1), datetime.date(2026, 8, 1), 30)
    datetime.date(2026, 10, 1)
    >>> deletion_day(datetime.date(2026, 9, 1), None, 30) is None
    True
    """
    if over_since is None or agreed_on is None:
        return None
    return max(over_since, agreed_on) + datetime.timedelta(days=days)
