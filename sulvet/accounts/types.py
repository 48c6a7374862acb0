"""Narrowing what the web framework leaves open."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from rest_framework.request import Request

#: Under this name a session holds the booth it was handed over for.
BOOTH = "booth"


def teacher_of(request: Request | HttpRequest) -> User:
    """The logged-in teacher of a view that only lets teachers in."""
    user = request.user
    assert isinstance(user, User)
    return user
