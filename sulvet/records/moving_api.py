"""Archives of a band over HTTP in pieces, so that gigabytes survive a lost connection."""

from __future__ import annotations

import uuid
from dataclasses import dataclass, field

from django.http.response import HttpResponseBase
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.types import teacher_of
from sulvet.records import moving, serializers
from sulvet.takes.api.piecewise import DIGEST, Coming, PieceParser, piece_of
from sulvet.takes.api.ranged import serve

ZIP = "application/zip"


@dataclass(frozen=True)
class ArchiveWholeIn:
    """All pieces are there: how many, and the SHA-256 of the whole.

    without_consent  also students with clips and no consent for today: their clips stay closed
    """

    pieces: int
    digest: str = field(metadata=DIGEST)
    without_consent: bool = False


class ComingArchiveView(APIView):
    """An archive that is sent."""

    @extend_schema(responses=shape(Coming), operation_id="coming_archive")
    def get(self, request: Request, upload: uuid.UUID, count: int) -> Response:
        """Which of so many pieces are missing."""
        return answer(Coming(moving.missing(teacher_of(request), upload, count)))


class ArchivePieceView(APIView):
    """One piece of it."""

    parser_classes = (PieceParser,)

    @extend_schema(exclude=True)
    def put(self, request: Request, upload: uuid.UUID, number: int) -> Response:
        """Keep it, if it came whole."""
        moving.receive(teacher_of(request), upload, number, *piece_of(request))
        return Response(status=204)


class ArchiveWholeView(APIView):
    """The whole archive."""

    @extend_schema(
        request=shape(ArchiveWholeIn), responses={201: serializers.TakenSerializer},
        operation_id="take_in_pieces",
    )  # fmt: skip
    def post(self, request: Request, upload: uuid.UUID) -> Response:
        """All pieces are there: take the band into an account without students."""
        given: ArchiveWholeIn = checked(shape(ArchiveWholeIn), request.data)
        taken = moving.take_in(
            teacher_of(request), upload, given.pieces, given.digest, given.without_consent
        )
        return Response(serializers.TakenSerializer(taken).data, status=201)


class ArchivesOutView(APIView):
    """Archives to be fetched."""

    @extend_schema(
        request=None, responses={201: shape(moving.Made)}, operation_id="write_archive_out"
    )
    def post(self, request: Request) -> Response:
        """Write everything of this teacher out; it is kept for a day."""
        return answer(moving.make(teacher_of(request)), 201)


class ArchiveOutView(APIView):
    """One of them."""

    @extend_schema(exclude=True)
    def get(self, request: Request, number: uuid.UUID) -> HttpResponseBase:
        """The file, or a part of it (Range)."""
        return serve(request._request, moving.made(teacher_of(request), number), ZIP)

    @extend_schema(responses={204: None}, operation_id="drop_archive_out")
    def delete(self, request: Request, number: uuid.UUID) -> Response:
        """It is not wanted any more."""
        moving.made(teacher_of(request), number).unlink(missing_ok=True)
        return Response(status=204)
