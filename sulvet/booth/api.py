"""The booth over HTTP: opened by a logged-in teacher, used by nobody who is logged in."""

from __future__ import annotations

import json
from dataclasses import dataclass, field

from django.shortcuts import get_object_or_404
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.reach import reaches_phones, site_of
from sulvet.accounts.shapes import Plain, answer, checked, shape, valid
from sulvet.accounts.throttles import LoginThrottle
from sulvet.accounts.types import teacher_of
from sulvet.band.models import Section
from sulvet.booth import filming, mirror
from sulvet.booth.access import BoothAuthentication, InBooth, booth_of, end_booth, open_booth
from sulvet.booth.pages import BoothPage, booth_page
from sulvet.core.formats import qr
from sulvet.core.lessons.booth import booth as shipped
from sulvet.takes import space
from sulvet.takes.pages.shapes import VIEWS


@dataclass(frozen=True)
class BoothIn:
    """For which section, how many counts are played, and whether each student sees the one
    sentence of the own focus."""

    section: int
    counts: int
    focus: bool = False


@dataclass(frozen=True)
class BoothChoices:
    """What a teacher may choose when a booth is opened.

    address  where another device of the room finds Sulvet, and the same as a QR code (SVG as data
             URL); both empty where it finds it nowhere
    """

    counts: list[int]
    address: str
    qr: str


@dataclass(frozen=True)
class BoothEnd:
    """The password of the teacher who opened the booth."""

    password: str = field(
        metadata={"serializer_kwargs": {"max_length": 200, "trim_whitespace": False}}
    )


class BoothTakeSerializer(Plain):
    """A clip filmed in a booth; a form can't hold nested data."""

    student = serializers.IntegerField()
    view = serializers.ChoiceField(VIEWS)
    again = serializers.IntegerField(required=False, allow_null=True, default=None)
    clip = serializers.FileField(allow_empty_file=True)


class OpenBoothView(APIView):
    """Handing a screen over."""

    @extend_schema(responses=shape(BoothChoices), operation_id="booth_choices")
    def get(self, request: Request) -> Response:
        """What may be chosen."""
        site = site_of(request)
        address = site if reaches_phones(site) else ""
        return answer(
            BoothChoices(list(shipped().counts), address, address and qr.data_url(address))
        )

    @extend_schema(
        request=shape(BoothIn), responses={201: shape(BoothPage)}, operation_id="open_booth"
    )
    def post(self, request: Request) -> Response:
        """Log the teacher out here, and let the students of a section film themselves."""
        teacher = teacher_of(request)
        given: BoothIn = checked(shape(BoothIn), request.data)
        section = get_object_or_404(Section, pk=given.section, band__teacher=teacher)
        return answer(
            booth_page(open_booth(request, teacher, section, given.counts, given.focus)), 201
        )


class BoothView(APIView):
    """The screen itself."""

    authentication_classes = (BoothAuthentication,)
    permission_classes = (InBooth,)

    @extend_schema(responses=shape(BoothPage), operation_id="booth")
    def get(self, request: Request) -> Response:
        """Who may film, and the prompts."""
        return answer(booth_page(booth_of(request)))


@method_decorator(csrf_protect, name="dispatch")
class EndBoothView(APIView):
    """Giving the screen back."""

    authentication_classes = (BoothAuthentication,)
    permission_classes = (InBooth,)
    throttle_classes = (LoginThrottle,)

    @extend_schema(request=shape(BoothEnd), responses={204: None}, operation_id="end_booth")
    def post(self, request: Request) -> Response:
        """End it and log the teacher in; only with the teacher's password."""
        given: BoothEnd = checked(shape(BoothEnd), request.data)
        end_booth(request, booth_of(request), given.password)
        return Response(status=204)


class MirrorInSerializer(Plain):
    """One picture: RGB row by row, the last sound before it (16 bits, 48 kHz), and what the page
    remembers of the pictures before (JSON)."""

    student = serializers.IntegerField()
    view = serializers.ChoiceField(VIEWS)
    width = serializers.IntegerField(min_value=1)
    height = serializers.IntegerField(min_value=1)
    resting = serializers.BooleanField()
    passed = serializers.FloatField()
    state = serializers.CharField(max_length=200_000)
    pixels = serializers.FileField()
    sound = serializers.FileField(required=False, allow_empty_file=True, default=None)


class MirrorView(APIView):
    """A picture of the one before the screen, measured; nothing of it is kept."""

    authentication_classes = (BoothAuthentication,)
    permission_classes = (InBooth,)
    parser_classes = (MultiPartParser,)

    @extend_schema(
        request=MirrorInSerializer, responses=shape(mirror.Mirrored), operation_id="mirror"
    )
    def post(self, request: Request) -> Response:
        """What to change, one thing at a time."""
        booth = booth_of(request)
        given = valid(MirrorInSerializer, request)
        student = filming.student_in(booth, given["student"])
        try:
            state = mirror.state_of(json.loads(given["state"]))
        except json.JSONDecodeError:
            raise Refused(mirror.ODD) from None
        moment = mirror.Moment(
            given["pixels"].read(), given["width"], given["height"],
            b"" if given["sound"] is None else given["sound"].read(mirror.MOST_SOUND + 1),
            given["resting"], given["passed"],
        )  # fmt: skip
        return answer(mirror.look(student, given["view"], moment, state))


class BoothTakesView(APIView):
    """Clips that are filmed there."""

    authentication_classes = (BoothAuthentication,)
    permission_classes = (InBooth,)
    parser_classes = (MultiPartParser,)

    @extend_schema(
        request=BoothTakeSerializer, responses={201: shape(filming.Filmed)},
        operation_id="film_in_booth",
    )  # fmt: skip
    def post(self, request: Request) -> Response:
        """Take a clip in, and say whether it can be read."""
        booth = booth_of(request)
        space.demand(int(request.META.get("CONTENT_LENGTH") or 0))
        given = valid(BoothTakeSerializer, request)
        student = filming.student_in(booth, given["student"])
        filmed = filming.film(booth, student, given["view"], given["clip"], given["again"])
        return answer(filmed, 201)
