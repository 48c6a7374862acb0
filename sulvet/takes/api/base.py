"""What views on one take share, and the one view that all edits go through."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, cast

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts.errors import Refused
from sulvet.accounts.numbers import number_of
from sulvet.accounts.shapes import Plain, answer, checked, shape
from sulvet.accounts.types import teacher_of
from sulvet.band.consent import demand_open
from sulvet.takes.models import Take
from sulvet.takes.pages.bench import bench_page
from sulvet.takes.pages.bench_shapes import BenchPage
from sulvet.takes.selectors import bench_take_of, take_of

IF_MATCH = OpenApiParameter(
    "If-Match", int, OpenApiParameter.HEADER,
    description="The take's revision the edit was begun on; refused (412) when it has moved on.",
)  # fmt: skip


def revision_of(request: Request) -> int | None:
    """The revision of ``If-Match`` (RFC 9110, section 13.1.1); None when none is given."""
    given = request.headers.get("If-Match", "").strip().strip('"')
    if not given:
        return None
    revision = number_of(given)
    if revision is None:
        raise Refused("If-Match must be the number that came as the take's revision.")
    return revision


class TakeView(APIView):
    """Base of all views on one take."""

    def take(self, request: Request, take_id: int) -> Take:
        """The teacher's own take; 404 for anybody else's."""
        return take_of(teacher_of(request), take_id)

    def bench(self, request: Request, take_id: int) -> Response:
        """The Bench as it stands."""
        return answer(bench_page(bench_take_of(teacher_of(request), take_id)))


@dataclass(frozen=True)
class Edit:
    """One edit of a take over HTTP; it answers with the Bench as it then stands.

    operation  its name in the schema;  summary  what it does, in a sentence
    change     (take, what the request says, the revision it was begun on): writes the edit
    given      the shape of the request, None where it says nothing
    in_query   whether that is said in the address
    """

    operation: str
    summary: str
    change: Callable[[Take, Any, int | None], None]
    given: type[Any] | None = None
    in_query: bool = False

    def method(self) -> Callable[..., Response]:
        """The method of a view that does it."""

        def method(view: TakeView, request: Request, take_id: int) -> Response:
            take = view.take(request, take_id)
            demand_open(take.student)
            revision = revision_of(request)
            given = None
            if self.given is not None:
                data = request.query_params if self.in_query else request.data
                given = checked(shape(self.given), data)
            self.change(take, given, revision)
            return view.bench(request, take_id)

        method.__doc__ = self.summary
        asked = None if self.given is None else shape(self.given)
        return extend_schema(
            request=None if self.in_query else asked,
            parameters=[*([cast(Plain, asked)] if self.in_query else []), IF_MATCH],
            responses={200: shape(BenchPage)},
            operation_id=self.operation,
        )(method)


def edit_view(name: str, summary: str, **edits: Edit) -> type[TakeView]:
    """A view with one edit a method of HTTP."""
    methods = {verb: edit.method() for verb, edit in edits.items()}
    return type(name, (TakeView,), {"__doc__": summary, **methods})
