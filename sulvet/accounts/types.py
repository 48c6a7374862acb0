"""Narrowing what the web framework leaves open."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from rest_framework.request import Request

#: Under this name a session holds the booth it was handed over for.
BOOTH = "booth"


def account_of(request: Request | HttpRequest) -> User:
    """Who is logged in, of a view that only lets accounts in."""
    user = request.user
    assert isinstance(user, User)
    return user


def teacher_of(request: Request | HttpRequest) -> User:
    """Whose bands are meant: the account's own, or those of the teacher it stands in for."""
    host: User | None = getattr(request, "acting_for", None)
    return host or account_of(request)
