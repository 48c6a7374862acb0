"""What every app's API starts from: shapes of plain data, and checked requests."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers
from rest_framework.request import Request


class Plain(serializers.Serializer[Any]):
    """Only shapes what a selector returns."""


def valid(kind: type[Plain], request: Request) -> dict[str, Any]:
    """The body of a request, checked; a refusal names the fields."""
    given = kind(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)
