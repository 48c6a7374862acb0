"""Practising the eye over HTTP."""

from __future__ import annotations

from django.http.response import HttpResponseBase
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.reach import site_of
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.throttles import LinkThrottle
from sulvet.accounts.types import account_of
from sulvet.core.eye.rounds import choose
from sulvet.eye import judged, pages, services
from sulvet.eye.films import serve_loop, serve_one
from sulvet.eye.shapes import (
    AllSaidIn,
    EyePage,
    GalleryRow,
    OpenLink,
    OpenRound,
    RoundIn,
    RoundPage,
    SaidIn,
)


class EyeView(APIView):
    """Where a teacher stands."""

    @extend_schema(responses=shape(EyePage), operation_id="eye")
    def get(self, request: Request) -> Response:
        """What may be practised, and how well one sees."""
        return answer(pages.eye_page(account_of(request)))


class RoundsView(APIView):
    """Rounds."""

    @extend_schema(
        request=shape(RoundIn), responses={201: shape(RoundPage)}, operation_id="begin_eye_round"
    )
    def post(self, request: Request) -> Response:
        """Begin one."""
        given: RoundIn = checked(shape(RoundIn), request.data)
        made = services.begin(account_of(request), given.instrument, given.level)
        return answer(pages.round_page(made), 201)


class RoundView(APIView):
    """One round."""

    @extend_schema(responses=shape(RoundPage), operation_id="eye_round")
    def get(self, request: Request, round_id: int) -> Response:
        """As it stands: the truth of what was judged."""
        return answer(pages.round_page(pages.round_of(account_of(request), round_id)))

    @extend_schema(
        request=shape(SaidIn), responses=shape(RoundPage), operation_id="say_what_is_seen"
    )
    def post(self, request: Request, round_id: int) -> Response:
        """Say what is seen on one take."""
        teacher = account_of(request)
        services.say(pages.round_of(teacher, round_id), checked(shape(SaidIn), request.data))
        return answer(pages.round_page(pages.round_of(teacher, round_id)))


class GalleryView(APIView):
    """All that may be wrong on an instrument."""

    @extend_schema(responses=shape(GalleryRow, many=True), operation_id="eye_gallery")
    def get(self, request: Request, instrument: str) -> Response:
        """Right, and each fault in three degrees."""
        return answer(pages.gallery(instrument))


class OpenLinksView(APIView):
    """Rounds for others."""

    @extend_schema(
        request=shape(RoundIn), responses={201: shape(OpenLink)}, operation_id="open_eye_round"
    )
    def post(self, request: Request) -> Response:
        """An address under which anybody may take a round; nothing is kept of it."""
        given: RoundIn = checked(shape(RoundIn), request.data)
        token = services.token_for(given.instrument, given.level)
        return answer(OpenLink(f"{site_of(request)}/eye/open/{token}"), 201)


class Open(APIView):
    """Whoever has the address; nobody is logged in."""

    authentication_classes = ()
    permission_classes = (AllowAny,)
    throttle_classes = (LinkThrottle,)


class OpenRoundView(Open):
    """A round of nobody's."""

    @extend_schema(responses=shape(OpenRound), operation_id="open_round", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """Its takes."""
        instrument, level, lot = services.read_token(token)
        return answer(pages.open_round(token, lot, instrument, level, []))

    @extend_schema(
        request=shape(AllSaidIn), responses=shape(OpenRound), operation_id="judge_open_round",
        auth=[],
    )  # fmt: skip
    def post(self, request: Request, token: str) -> Response:
        """The truth of what was said so far: the page remembers it, nothing is kept here."""
        instrument, level, lot = services.read_token(token)
        given: AllSaidIn = checked(shape(AllSaidIn), request.data)
        loops = choose(instrument, level, lot)  # type: ignore[arg-type]
        said = [judged.checked(loops, one) for one in pages.each_once(loops, given.said)]
        return answer(pages.open_round(token, lot, instrument, level, said))


class RoundFilmView(APIView):
    """A film or tone of a round, without a name that tells its truth."""

    @extend_schema(exclude=True)
    def get(self, request: Request, round_id: int, place: int) -> HttpResponseBase:
        """A film with byte ranges, or a tone as WAV."""
        one = pages.round_of(account_of(request), round_id)
        return serve_one(request, pages.loops_of(one), place)


class GalleryFilmView(APIView):
    """A film or tone of the gallery."""

    @extend_schema(exclude=True)
    def get(self, request: Request, loop: str) -> HttpResponseBase:
        """A film with byte ranges, or a tone as WAV; 404 for what is not in the library."""
        return serve_loop(request, loop)


class OpenFilmView(Open):
    """A film or tone of a round of nobody's."""

    @extend_schema(exclude=True)
    def get(self, request: Request, token: str, place: int) -> HttpResponseBase:
        """A film with byte ranges, or a tone as WAV."""
        instrument, level, lot = services.read_token(token)
        return serve_one(request, choose(instrument, level, lot), place)  # type: ignore[arg-type]
