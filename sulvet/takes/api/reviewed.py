"""Many takes reviewed at once."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.shapes import Plain, id_list, valid
from sulvet.accounts.types import teacher_of
from sulvet.takes import decisions
from sulvet.takes.pages.summary import NOTHING_FOUND, summary
from sulvet.takes.selectors import takes_of, with_findings


class ReviewedSerializer(Plain):
    """Takes, by number."""

    takes = id_list()


class ReviewedView(APIView):
    """Takes on which nothing was found."""

    @extend_schema(
        request=ReviewedSerializer, responses=ReviewedSerializer, operation_id="mark_reviewed"
    )
    def post(self, request: Request) -> Response:
        """Mark those of the takes as reviewed on which nothing was found; which they are."""
        asked = valid(ReviewedSerializer, request)["takes"]
        takes = takes_of(teacher_of(request)).filter(pk__in=asked, read_at=None)
        clear = [take for take in with_findings(takes) if summary(take).result in NOTHING_FOUND]
        for take in clear:
            decisions.set_read(take, True)
        return Response({"takes": [take.pk for take in clear]})
