"""Who opened, exported and deleted what: numbers and no names, outlasting what was deleted.

Lines of JSON in files of their own, one a month: looking at a page writes nothing into the
database, and what is deleted there stays told here.
"""

from __future__ import annotations

import datetime
import json
import logging
import os
from collections.abc import Iterator
from dataclasses import asdict, dataclass
from pathlib import Path

from django.conf import settings

from sulvet.core import clock

log = logging.getLogger(__name__)
#: For so many days it is told. Sulvet default: a school year and a holiday.
KEPT_DAYS = 400
OPENED, EXPORTED, DELETED, MOVED = "opened", "exported", "deleted", "moved to a colleague"
#: The same thing opened again by the same account within this time is one line, s.
AGAIN = 600.0
_last: dict[tuple[str, str, str], datetime.datetime] = {}


@dataclass(frozen=True)
class Access:
    """One line: when (ISO 8601), which account, what was done, and to what, as in “take 12”."""

    at: str
    account: str
    action: str
    what: str


def folder() -> Path:
    """Where the months lie."""
    return Path(settings.ACCESS_DIR)


def note(account: str, action: str, what: str) -> None:
    """Write a line; what is opened again and again is one. A full disk stops nobody."""
    now, key = clock.now(), (account, action, what)
    before = _last.get(key)
    if action == OPENED and before is not None and (now - before).total_seconds() < AGAIN:
        return
    line = json.dumps(asdict(Access(now.isoformat(timespec="seconds"), *key)), ensure_ascii=False)
    try:
        folder().mkdir(parents=True, exist_ok=True)
        file = folder() / f"{now:%Y-%m}.jsonl"
        # One write to the end of the file: lines of several processes don't mix.
        with os.fdopen(os.open(file, os.O_WRONLY | os.O_APPEND | os.O_CREAT, 0o600), "w") as out:
            out.write(line + "\n")
    except OSError:
        log.exception("the access log can't be written")
        return
    if len(_last) > 10_000:
        _last.clear()
    _last[key] = now


def entries(account: str) -> Iterator[Access]:
    """All lines of an account, the newest first; what was cut off by a crash is left out."""
    for file in sorted(folder().glob("*.jsonl"), reverse=True):
        for line in reversed(file.read_text("utf-8").splitlines()):
            try:
                one = Access(**json.loads(line))
            except (ValueError, TypeError):
                continue
            if one.account == account:
                yield one


def prune(day: datetime.date) -> None:
    """Remove months that lie further back than is told."""
    oldest = day - datetime.timedelta(days=KEPT_DAYS)
    for file in folder().glob("*.jsonl"):
        if file.stem < f"{oldest:%Y-%m}":
            file.unlink(missing_ok=True)
