"""Students and standards over HTTP."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.types import teacher_of
from sulvet.band import serializers, services
from sulvet.band.selectors import student_of
from sulvet.core.judgement.standards import standards


def _facts(request: Request) -> services.StudentFacts:
    given = serializers.StudentInSerializer(data=request.data)
    given.is_valid(raise_exception=True)
    return services.StudentFacts(**given.validated_data)


class StudentsView(APIView):
    """New chairs."""

    @extend_schema(
        request=serializers.StudentInSerializer,
        responses={201: serializers.StudentIdSerializer},
        operation_id="add_student",
    )
    def post(self, request: Request) -> Response:
        """Add a student to the teacher's band."""
        student = services.add_student(services.band_of(teacher_of(request)), _facts(request))
        return Response(serializers.StudentIdSerializer(student).data, status=201)


class StudentFactsView(APIView):
    """What is known of one student."""

    @extend_schema(
        request=serializers.StudentInSerializer,
        responses=serializers.StudentIdSerializer,
        operation_id="change_student",
    )
    def put(self, request: Request, student_id: int) -> Response:
        """Change name, instrument, school or consent."""
        student = student_of(teacher_of(request), student_id)
        services.change_student(student, _facts(request))
        return Response(serializers.StudentIdSerializer(student).data)


class StandardsView(APIView):
    """What Sulvet knows of instruments."""

    @extend_schema(responses=serializers.StandardSerializer(many=True), operation_id="standards")
    def get(self, request: Request) -> Response:
        """Instruments and their schools."""
        return Response(serializers.StandardSerializer(list(standards().values()), many=True).data)
