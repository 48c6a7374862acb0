"""Files that a browser keeps."""

from __future__ import annotations

import datetime

from django.http import HttpResponse
from django.utils import timezone

CSV = "text/csv; charset=utf-8"
CALENDAR = "text/calendar; charset=utf-8"
JSON = "application/json"


def download(
    data: str | bytes, kind: str, name: str, suffix: str, day: datetime.date | None = None
) -> HttpResponse:
    """A file to keep, named after what it holds and the day it speaks of, today unless told.

    kind  its media type
    """
    told = (day or timezone.localdate()).isoformat()
    response = HttpResponse(data, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}-{told}.{suffix}"'
    return response
