"""Dates as people write them in lists: 2026-08-28, 8/28/2026, 28.8.2026, 28 Aug 2026."""

from __future__ import annotations

import datetime
import re
from collections.abc import Iterable
from typing import Literal

from dateutil import parser

Order = Literal["day", "month"]
_EARLY, _LATE = datetime.datetime(1904, 1, 1), datetime.datetime(1912, 12, 28)
_ISO = re.compile(r"^(\d{4})-(\d{1,2})-(\d{1,2})(?!\d)")
_SLASHED = re.compile(r"^(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})$")


def order_of(cells: Iterable[str]) -> Order | None:
    """Which comes first in dates such as 3/4/2026, told by those that leave no doubt.

    None where nothing tells, or where they contradict each other.

    >>> order_of(["3/4/2026", "8/28/2026"]), order_of(["28/8/2026"]), order_of(["3/4/2026"])
    ('month', 'day', None)
    """
    first, second = False, False
    for found in filter(None, (_SLASHED.match(cell.strip()) for cell in cells)):
        first |= int(found[1]) > 12
        second |= int(found[2]) > 12
    if first == second:
        return None
    return "day" if first else "month"


def is_ambiguous(cell: str) -> bool:
    """Whether a date reads either way, and as two different days."""
    found = _SLASHED.match(cell.strip())
    if found is None:
        return False
    one, two = int(found[1]), int(found[2])
    return one <= 12 and two <= 12 and one != two


def read(cell: str, order: Order = "month") -> datetime.date:
    """The day a cell means. ValueError where it is none.

    >>> read("8/28/2026"), read("28.8.2026") == read("2026-08-28") == read("28 Aug 2026")
    (datetime.date(2026, 8, 28), True)
    """
    text = cell.strip()
    if found := _ISO.match(text):
        return datetime.date(*(int(part) for part in found.groups()))
    if found := _SLASHED.match(text):
        one, two, year = (int(part) for part in found.groups())
        day, month = (one, two) if order == "day" or one > 12 else (two, one)
        return datetime.date(year + 2000 if year < 100 else year, month, day)
    if not re.search(r"\d", text) or not re.search(r"\d{4}|[./ -]", text):
        raise ValueError("not a date")
    # Nothing is filled in from today: a cell without day or month is no date.
    early: datetime.datetime = parser.parse(text, dayfirst=True, default=_EARLY)
    late: datetime.datetime = parser.parse(text, dayfirst=True, default=_LATE)
    if early != late:
        raise ValueError("not a whole date")
    return early.date()
