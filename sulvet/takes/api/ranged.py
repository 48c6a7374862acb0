"""Serving a private file with byte ranges, so that a browser can seek.

RFC 9110: 14.2 (Range), 14.4 (416), 13.1.5 (If-Range), 13.1.2 (If-None-Match).
A request for several ranges is answered with the whole, as 14.2 allows.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

from django.http import HttpRequest, HttpResponse, HttpResponseNotModified
from django.http.response import HttpResponseBase, StreamingHttpResponse

from sulvet.accounts.downloads import WholeFile

#: A range answer ends after this many bytes, wherever the asked range ends.
#: Browsers ask for all, read some and stop; an answer without an end would then
#: hold a server thread for as long as the page is open.
LONGEST = 2**20
#: A position of more digits is in no file: such a range is no range.
_RANGE = re.compile(r"bytes=([0-9]{0,18})-([0-9]{0,18})$")


def _span(header: str, size: int) -> tuple[int, int] | None:
    """First and last byte asked for; None when the header is to be ignored."""
    match = _RANGE.match(header.strip())
    if not match or match.groups() == ("", ""):
        return None
    first, last = match.groups()
    if not first:
        # The last N bytes.
        return (max(size - int(last), 0), size - 1) if int(last) else (size, size - 1)
    if last and int(last) < int(first):
        return None
    return int(first), min(int(last), size - 1) if last else size - 1


def _read(path: Path, first: int, length: int) -> Iterator[bytes]:
    with open(path, "rb") as file:
        file.seek(first)
        while length > 0 and (piece := file.read(min(length, WholeFile.block_size))):
            length -= len(piece)
            yield piece


def serve(request: HttpRequest, path: Path, content_type: str) -> HttpResponseBase:
    """Answer GET or HEAD for one file; FileNotFoundError when there is none."""
    facts = path.stat()
    size, tag = facts.st_size, f'"{facts.st_mtime_ns:x}-{facts.st_size:x}"'
    response: HttpResponseBase
    span = None
    if_range = request.headers.get("If-Range")
    if "Range" in request.headers and request.method == "GET" and if_range in (None, tag):
        span = _span(request.headers["Range"], size)
    if request.headers.get("If-None-Match") == tag:
        response = HttpResponseNotModified()
    elif span is None:
        if request.method == "HEAD":
            response = HttpResponse(content_type=content_type)
        else:
            response = WholeFile(path.open("rb"), content_type=content_type)
        response["Content-Length"] = str(size)
    elif span[0] >= size:
        response = HttpResponse(status=416, content_type="text/plain")
        response["Content-Range"] = f"bytes */{size}"
    else:
        first, last = span[0], min(span[1], span[0] + LONGEST - 1)
        response = StreamingHttpResponse(
            _read(path, first, last - first + 1), status=206, content_type=content_type
        )
        response["Content-Range"] = f"bytes {first}-{last}/{size}"
        response["Content-Length"] = str(last - first + 1)
    response["Accept-Ranges"] = "bytes"
    response["ETag"] = tag
    return response
