"""Files that come over HTTP in pieces, each with its SHA-256 in the header ``X-Digest``."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from rest_framework.parsers import BaseParser
from rest_framework.request import Request

from sulvet.takes import pieces

#: What a SHA-256 in a request may be.
DIGEST = {"serializer_kwargs": {"min_length": 64, "max_length": 64}}


@dataclass(frozen=True)
class Coming:
    """Which pieces have not come yet."""

    missing: list[int]


class PieceParser(BaseParser):
    """Bytes as they come, no more than one piece."""

    media_type = "application/octet-stream"

    def parse(self, stream, media_type=None, parser_context=None) -> bytes:  # type: ignore[no-untyped-def, override]
        """At most a byte more than a piece may have: then it is refused."""
        return bytes(stream.read(pieces.LARGEST + 1))


def piece_of(request: Request) -> tuple[bytes, str]:
    """The bytes of a piece and what is said to be their SHA-256."""
    data: Any = request.data
    return data if isinstance(data, bytes) else b"", request.headers.get("X-Digest", "")
