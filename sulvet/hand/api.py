"""The exercise over HTTP."""

from __future__ import annotations

from typing import Any

from django.http import FileResponse, Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.types import teacher_of
from sulvet.hand import selectors, services
from sulvet.hand.faces import FACES, LANDMARKS, picture
from sulvet.hand.models import HandMark


class HandMarkInSerializer(s.Serializer[Any]):
    """One mark of the exercise, pixels of the face's picture."""

    round = s.ChoiceField(HandMark.Round.choices)
    face = s.IntegerField()
    landmark = s.ChoiceField(LANDMARKS)
    x = s.FloatField()
    y = s.FloatField()


class AskedSerializer(s.Serializer[Any]):
    """What is to be marked next."""

    round = s.IntegerField()
    face = s.IntegerField()
    landmark = s.CharField()


class HandErrorSerializer(s.Serializer[Any]):
    """How sure the hand is of one landmark, pixels of the face's picture."""

    landmark = s.CharField()
    pixels = s.FloatField()


class ExerciseSerializer(s.Serializer[Any]):
    """The exercise as it stands; errors once both rounds are done."""

    faces = s.IntegerField()
    width = s.IntegerField()
    height = s.IntegerField()
    landmarks = s.ListField(child=s.CharField())
    total = s.IntegerField()
    done = s.IntegerField()
    next = AskedSerializer(allow_null=True)
    hand_errors = HandErrorSerializer(many=True)


class HandView(APIView):
    """How sure the teacher's hand is."""

    @extend_schema(responses=ExerciseSerializer, operation_id="hand")
    def get(self, request: Request) -> Response:
        """The exercise as it stands."""
        return self._stands(request)

    @extend_schema(
        request=HandMarkInSerializer, responses=ExerciseSerializer, operation_id="mark_hand"
    )
    def put(self, request: Request) -> Response:
        """Keep one mark."""
        given = HandMarkInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        services.mark(teacher_of(request), services.Placed(**given.validated_data))
        return self._stands(request)

    @extend_schema(responses={200: ExerciseSerializer}, operation_id="forget_hand")
    def delete(self, request: Request) -> Response:
        """Begin anew."""
        services.forget(teacher_of(request))
        return self._stands(request)

    def _stands(self, request: Request) -> Response:
        return Response(ExerciseSerializer(selectors.exercise(teacher_of(request))).data)


class FaceView(APIView):
    """The made-up faces that are marked."""

    @extend_schema(exclude=True)
    def get(self, request: Request, face: int) -> FileResponse:
        """One face as JPEG."""
        if not 1 <= face <= FACES:
            raise Http404
        return FileResponse(picture(face).open("rb"), content_type="image/jpeg")
