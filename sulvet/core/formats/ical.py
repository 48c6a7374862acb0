"""Days in a calendar as iCalendar (RFC 5545), for any calendar program."""

from __future__ import annotations

import datetime
from dataclasses import dataclass

import icalendar

from sulvet.core import clock


@dataclass(frozen=True)
class Event:
    """A whole day; the same ``uid`` again replaces it in a calendar."""

    uid: str
    day: datetime.date
    summary: str
    about: str = ""


def dump(events: list[Event], made_at: datetime.datetime | None = None) -> bytes:
    """The bytes of a calendar file.

    made_at  time stamp of the file, UTC; now if not given
    """
    calendar = icalendar.Calendar()
    calendar.add("prodid", "-//Sulvet//rechecks//EN")
    calendar.add("version", "2.0")
    stamp = made_at or clock.now()
    for one in events:
        event = icalendar.Event()
        event.add("uid", one.uid)
        event.add("dtstamp", stamp)
        event.add("dtstart", one.day)
        event.add("dtend", one.day + datetime.timedelta(days=1))
        event.add("summary", one.summary)
        if one.about:
            event.add("description", one.about)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
