"""Files that a browser keeps."""

from __future__ import annotations

import datetime

from django.http import FileResponse, HttpResponse

from sulvet.accounts import local_time

CSV = "text/csv; charset=utf-8"
CALENDAR = "text/calendar; charset=utf-8"
PDF = "application/pdf"
NOTES = "text/vtt; charset=utf-8"
JSON = "application/json"


class WholeFile(FileResponse):
    """A file from disk, however large.

    Django's own pieces of 4 KB cost the server more than the reading: 2.3 GB took minutes.
    """

    block_size = 2**18


def dated(name: str, suffix: str, day: datetime.date | None = None) -> str:
    """The name of a file to keep: what it holds, and the day it speaks of or today."""
    return f"{name}-{(day or local_time.today()).isoformat()}.{suffix}"


def download(
    data: str | bytes,
    kind: str,
    name: str,
    suffix: str,
    day: datetime.date | None = None,
    inline: bool = False,
) -> HttpResponse:
    """A file to keep, called as ``dated`` says.

    kind    its media type
    inline  shown in the browser first
    """
    response = HttpResponse(data, content_type=kind)
    how = "inline" if inline else "attachment"
    response["Content-Disposition"] = f'{how}; filename="{dated(name, suffix, day)}"'
    return response
