"""Whether the disk has room for what comes in."""

from __future__ import annotations

import shutil
from pathlib import Path

from django.conf import settings
from rest_framework.exceptions import APIException

from sulvet.core.language import said

#: What reading a clip needs beside the clip itself: working pictures and the review copy, bytes;
#: and how often the clip's own size (measured: twice for a phone's, more for coarse ones).
READING, TIMES = 400_000_000, 3
#: Below this share of the disk it is said on the home screen.
LOW = 0.05


class NoRoom(APIException):
    """The disk is too full for what is sent (RFC 4918, 11.5)."""

    status_code = 507
    default_code = "no-room"


def demand(size: int) -> None:
    """Refused, before it is read from the wire, when there is no room for a clip of this size."""
    _, free = _disk()
    if size * TIMES + READING > free:
        raise NoRoom(
            said(
                "The disk of the computer that Sulvet runs on has {free:.1f} GB left, too "
                "little for this clip and its analysis. Free some space, or delete takes you "
                "no longer need.",
                free=free / 1000000000.0,
            )
        )


def is_short() -> bool:
    """Whether this computer's disk has too little room to read any clip."""
    return _disk()[1] < READING


def warning() -> str:
    """What the home screen says of the disk; empty while there is room."""
    total, free = _disk()
    if free > LOW * total:
        return ""
    return said(
        "The disk of the computer that Sulvet runs on is nearly full: {free:.1f} GB "
        "are left. Free some space before you upload more clips.",
        free=free / 1000000000.0,
    )


def _disk() -> tuple[int, int]:
    """Bytes in all, and free."""
    folder = Path(settings.DATA_DIR)
    known = shutil.disk_usage(folder if folder.exists() else folder.parent)
    return known.total, known.free
