"""Many takes reviewed at once."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.types import teacher_of
from sulvet.takes import decisions
from sulvet.takes.pages.summary import summary
from sulvet.takes.selectors import takes_of, with_findings

#: Results that leave nothing to answer.
NOTHING_FOUND = ("clear", "unchecked")


class ReviewedSerializer(serializers.Serializer[Any]):
    """Takes, by number."""

    takes = serializers.ListField(child=serializers.IntegerField(), max_length=1000)


class ReviewedView(APIView):
    """Takes on which nothing was found."""

    @extend_schema(
        request=ReviewedSerializer, responses=ReviewedSerializer, operation_id="mark_reviewed"
    )
    def post(self, request: Request) -> Response:
        """Mark those of the takes as reviewed on which nothing was found; which they are."""
        given = ReviewedSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        takes = takes_of(teacher_of(request)).filter(pk__in=given.validated_data["takes"])
        clear = [
            take
            for take in with_findings(takes.filter(read_at=None))
            if summary(take).result in NOTHING_FOUND
        ]
        for take in clear:
            decisions.set_read(take, True)
        return Response({"takes": [take.pk for take in clear]})
