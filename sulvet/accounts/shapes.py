"""What every app's API starts from: shapes of plain data, and checked requests.

A page is a frozen dataclass. The API's schema is made from it, and so are the types of the
front end: nothing is written down twice.
"""

from __future__ import annotations

import inspect
from typing import Any, TypeVar, cast

import orjson
from drf_spectacular.contrib.rest_framework_dataclasses import (
    OpenApiDataclassSerializerExtensions,
)
from rest_framework import renderers, serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.utils import encoders
from rest_framework_dataclasses.serializers import DataclassSerializer

from sulvet.accounts.numbers import GREATEST

T = TypeVar("T")


class Plain(serializers.Serializer[Any]):
    """Only shapes what a selector returns."""


def id_list(**how: Any) -> serializers.ListField:
    """Numbers of rows in a request, none greater than a database knows."""
    child = serializers.IntegerField(min_value=1, max_value=GREATEST)
    return serializers.ListField(child=child, max_length=1000, **how)


def valid(kind: type[Plain], request: Request) -> dict[str, Any]:
    """The body of a request, checked; a refusal names the fields."""
    given = kind(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


def shape(kind: type[Any], many: bool = False) -> serializers.BaseSerializer[Any]:
    """The shape of a dataclass, for the schema and for checking a request.

    many  a list of them

    A field's ``serializer_kwargs`` in its metadata say what it may be, such as ``max_length``.
    """
    made = _serializer(kind)
    return made(many=True) if many else made()


#: Made once each: the schema knows two shapes of one name apart by their class.
_made: dict[type[Any], type[DataclassSerializer[Any]]] = {}


def _serializer(kind: type[Any]) -> type[DataclassSerializer[Any]]:
    if kind in _made:
        return _made[kind]
    meta = type("Meta", (), {"dataclass": kind})
    made = type(f"{kind.__name__}Serializer", (DataclassSerializer,), {"Meta": meta})
    _made[kind] = cast("type[DataclassSerializer[Any]]", made)
    return _made[kind]


def checked(kind: serializers.BaseSerializer[Any], data: Any) -> Any:
    """What a request says, as the dataclass of its shape; a refusal names the fields.

    kind  as ``shape`` gives it
    """
    given = type(kind)(data=data)
    given.is_valid(raise_exception=True)
    return given.validated_data


class ShapeExtension(OpenApiDataclassSerializerExtensions):  # type: ignore[no-untyped-call]
    """How a shape stands in the schema: with the words of its dataclass, and, in an answer, with
    every field, since a page has them all."""

    target_class = "rest_framework_dataclasses.serializers.DataclassSerializer"
    match_subclasses = True
    priority = 1

    def map_serializer(self, auto_schema: Any, direction: Any) -> dict[str, Any]:
        """The shape as a schema."""
        schema: dict[str, Any] = super().map_serializer(auto_schema, direction)
        if direction == "response":
            schema["required"] = list(schema.get("properties", {}))
        described = inspect.getdoc(self.target.dataclass_definition.dataclass_type)
        return {**schema, "description": (described or "").split("\n\n")[0]}


#: Dates as the framework writes them everywhere else.
HOW = orjson.OPT_PASSTHROUGH_DATETIME | orjson.OPT_NON_STR_KEYS


class DataRenderer(renderers.JSONRenderer):
    """Answers that are dataclasses, or hold some, or plain data: in compiled code, since a Bench
    holds ten thousand numbers."""

    def render(
        self, data: Any, accepted_media_type: str | None = None, renderer_context: Any = None
    ) -> bytes:
        """JSON, UTF-8; nothing for an answer without a body."""
        del accepted_media_type, renderer_context
        return b"" if data is None else orjson.dumps(data, _plain, HOW)


def _plain(value: Any) -> Any:
    """What JSON has no word for, as the framework writes it."""
    return encoders.JSONEncoder().default(value)


def answer(page: Any, status: int = 200) -> Response:
    """A page, or a list of some, as it is: its type has been checked already."""
    return Response(page, status=status)
