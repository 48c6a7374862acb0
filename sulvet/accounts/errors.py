"""One form for every refusal: a sentence in ``detail``, fields beside it."""

from __future__ import annotations

from typing import Any

from django.http import UnreadablePostError
from rest_framework import status
from rest_framework.exceptions import APIException, NotAuthenticated, ValidationError
from rest_framework.response import Response
from rest_framework.views import exception_handler

from sulvet.core.language import said


class Refused(APIException):
    """Something can't be done as asked; the sentence says what to do.

    words   the sentence in English; it is said in the language of the request
    values  what stands in its braces
    """

    status_code: int = status.HTTP_400_BAD_REQUEST
    default_code = "refused"

    def __init__(self, words: str, **values: object) -> None:
        super().__init__(said(words, **values))


class CodeWanted(Refused):
    """The password is right; a code is wanted as well."""

    default_code = "code-wanted"


class Outdated(Refused):
    """What an edit was begun on has changed since."""

    status_code = status.HTTP_412_PRECONDITION_FAILED


class Conflict(Refused):
    """The thing is not in a state in which this can be done."""

    status_code = status.HTTP_409_CONFLICT


def handle(error: Exception, context: dict[str, Any]) -> Response | None:
    """DRF's handler; validation errors and ended sessions get a ``detail`` sentence as well."""
    if isinstance(error, UnreadablePostError):
        for handler in context["request"].upload_handlers:
            half = getattr(handler, "file", None)
            if half is not None:
                half.close()  # and deleted by it
        error = Refused("The connection ended before all of it had come. Send it again.")
    response = exception_handler(error, context)
    if response is not None and isinstance(error, NotAuthenticated):
        # The page asks for the password by this, and does it again.
        response.data = {"detail": said("You are not logged in any more. Log in again."),
                         "code": "logged-out"}  # fmt: skip
    if response is not None and isinstance(error, CodeWanted):
        # The page asks for the code by this.
        response.data = {"detail": str(error.detail), "code": CodeWanted.default_code}
    if response is not None and isinstance(error, ValidationError):
        data = response.data if isinstance(response.data, dict) else {"errors": response.data}
        parts = [
            f"{name}: {' '.join(map(str, texts)) if isinstance(texts, list) else texts}"
            for name, texts in data.items()
        ]
        response.data = {"detail": " ".join(parts), "fields": data}
    return response
