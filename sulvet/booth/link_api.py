"""Capture links over HTTP: the teacher's side, and the side of the phone, which is nobody's."""

from __future__ import annotations

import datetime
import uuid
from dataclasses import dataclass, field

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.reach import reaches_phones, site_of
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.throttles import LinkThrottle
from sulvet.accounts.types import teacher_of
from sulvet.band.selectors import student_of
from sulvet.booth import links
from sulvet.booth.filming import Filmed
from sulvet.booth.models import CaptureLink
from sulvet.core.formats import qr
from sulvet.core.judgement.standards import shipped_standard
from sulvet.takes import pieces, space
from sulvet.takes.api.piecewise import DIGEST, Coming, PieceParser, piece_of
from sulvet.takes.pages.shapes import View


@dataclass(frozen=True)
class LinkIn:
    """Which side is asked for, for how many days, and what else the student may see."""

    view: View
    days: int
    page: bool = False
    pictures: bool = False


@dataclass(frozen=True)
class LinkRow:
    """A link as its teacher sees it: the address, and the same as a QR code (SVG as data URL)."""

    id: int
    view: View
    until: datetime.datetime
    page: bool
    pictures: bool
    address: str
    reaches_phones: bool
    qr: str


@dataclass(frozen=True)
class PhonePage:
    """What a phone is asked for: whose mouth by first name, on what, from which side.

    page   whether the student's page is open as well;  piece  bytes that may come at once
    file   how a clip is to be called that comes another way: it then falls into place
    """

    name: str
    instrument: str
    view: View
    until: datetime.datetime
    page: bool
    piece: int
    file: str


@dataclass(frozen=True)
class WholeIn:
    """All pieces are there: how many, the SHA-256 of the whole, and what the file was called."""

    pieces: int
    digest: str = field(metadata=DIGEST)
    name: str = field(metadata={"serializer_kwargs": {"max_length": 200}})


def _row(request: Request, link: CaptureLink) -> LinkRow:
    site = site_of(request)
    address = f"{site}{links.path_of(link)}"
    return LinkRow(
        link.pk, link.view, link.until, link.page, link.pictures, address,  # type: ignore[arg-type]
        reaches_phones(site), qr.data_url(address),
    )  # fmt: skip


class StudentLinksView(APIView):
    """The links of a student."""

    @extend_schema(responses=shape(LinkRow, many=True), operation_id="links")
    def get(self, request: Request, student_id: int) -> Response:
        """Those that are valid."""
        student = student_of(teacher_of(request), student_id)
        return answer([_row(request, one) for one in student.links.order_by("pk") if one.open])

    @extend_schema(request=shape(LinkIn), responses={201: shape(LinkRow)}, operation_id="make_link")
    def post(self, request: Request, student_id: int) -> Response:
        """A new one; refused without consent."""
        student = student_of(teacher_of(request), student_id)
        given: LinkIn = checked(shape(LinkIn), request.data)
        made = links.make(student, given.view, given.days, given.page, given.pictures)
        return answer(_row(request, made), 201)


class LinkView(APIView):
    """One link."""

    @extend_schema(responses={204: None}, operation_id="revoke_link")
    def delete(self, request: Request, link_id: int) -> Response:
        """Take it back: nothing can be sent under it any more."""
        mine = CaptureLink.objects.filter(student__section__band__teacher=teacher_of(request))
        link = get_object_or_404(mine, pk=link_id)
        link.revoked = True
        link.save(update_fields=["revoked"])
        return Response(status=204)


class FromPhone(APIView):
    """Whoever has the address; nobody is logged in."""

    authentication_classes = ()
    permission_classes = (AllowAny,)
    throttle_classes = (LinkThrottle,)


class PhoneView(FromPhone):
    """What whoever has the address may ask and send."""

    @extend_schema(responses=shape(PhonePage), operation_id="asked_of_phone", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """Whom to film, from which side."""
        link = links.link_at(token)
        name = link.student.name.split()[0]
        instrument = shipped_standard(link.student.instrument).name
        page = PhonePage(
            name, instrument, link.view, link.until, link.page, pieces.LARGEST,  # type: ignore[arg-type]
            f"{name.lower()}-{link.view}-no{link.student_id}",
        )  # fmt: skip
        return answer(page)


class PhoneUploadView(FromPhone):
    """One clip that is sent."""

    @extend_schema(responses=shape(Coming), operation_id="coming_from_phone", auth=[])
    def get(self, request: Request, token: str, upload: uuid.UUID, count: int) -> Response:
        """Which of so many pieces are missing."""
        links.link_at(token)
        if not 0 < count <= pieces.MOST:
            raise Refused(pieces.TOO_MANY)
        return answer(Coming(pieces.missing(upload, count)))


class PhonePieceView(FromPhone):
    """One piece of it."""

    parser_classes = (PieceParser,)

    @extend_schema(exclude=True)
    def put(self, request: Request, token: str, upload: uuid.UUID, number: int) -> Response:
        """Keep it, if it came whole."""
        link = links.link_at(token)
        space.demand(pieces.LARGEST)
        links.receive(link, upload, number, *piece_of(request))
        return Response(status=204)


class PhoneWholeView(FromPhone):
    """The whole clip."""

    @extend_schema(
        request=shape(WholeIn), responses={201: shape(Filmed)}, operation_id="sent_from_phone",
        auth=[],
    )  # fmt: skip
    def post(self, request: Request, token: str, upload: uuid.UUID) -> Response:
        """All pieces are there: make a take of them, and say whether it can be read."""
        link = links.link_at(token)
        given: WholeIn = checked(shape(WholeIn), request.data)
        filmed = links.take_in(link, upload, given.pieces, given.digest, given.name)
        # Whoever has the address learns no number of a take.
        return answer(Filmed(0, filmed.readable, filmed.advice), 201)
