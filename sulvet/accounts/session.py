"""What a page knows of who is there."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.models import User
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from sulvet.accounts.roles import hosts_of
from sulvet.accounts.services import code_needed
from sulvet.accounts.types import BOOTH


class HostSerializer(serializers.Serializer[Any]):
    """A teacher one may stand in for, and until when."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    until = serializers.DateField()


class SessionSerializer(serializers.Serializer[Any]):
    """Who is logged in; ``new`` when the installation has no account yet, ``code_needed`` when
    making it takes the code that was printed at the start; ``booth`` when this browser was handed
    to students who film themselves; ``acting_for`` the teacher whose bands are shown instead of
    the own, and ``hosts`` all for whom that may be."""

    username = serializers.CharField(allow_null=True)
    new = serializers.BooleanField()
    code_needed = serializers.BooleanField()
    booth = serializers.BooleanField()
    acting_for = serializers.CharField(allow_null=True)
    hosts = HostSerializer(many=True)


def session_page(request: Request) -> Response:
    """Who is there."""
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    new = name is None and not get_user_model().objects.exists()
    acting: User | None = getattr(request, "acting_for", None)
    hosts = hosts_of(user) if isinstance(user, User) else []
    page = {
        "username": name, "new": new,
        "code_needed": new and code_needed(request.META.get("REMOTE_ADDR", "")),
        "booth": name is None and BOOTH in request._request.session,
        "acting_for": acting.get_username() if acting and name else None,
        "hosts": [
            {"id": one.host_id, "name": one.host.get_username(), "until": one.until}
            for one in hosts if one.host
        ],
    }  # fmt: skip
    return Response(SessionSerializer(page).data)
