"""Who is there: session, login, logout, first account."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.contrib.auth import (
    authenticate,
    get_user_model,
    login,
    logout,
    update_session_auth_hash,
)
from django.http import HttpResponse
from django.utils import timezone
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView

from sulvet.accounts import access_log, preferences
from sulvet.accounts.downloads import CSV, download
from sulvet.accounts.errors import Refused
from sulvet.accounts.services import (
    check_code,
    code_needed,
    create_first_teacher,
    end_sessions,
    set_password,
)
from sulvet.accounts.shapes import Plain, valid
from sulvet.accounts.types import BOOTH, teacher_of
from sulvet.core.formats import tables


class SessionSerializer(serializers.Serializer[Any]):
    """Who is logged in; ``new`` when the installation has no account yet, ``code_needed`` when
    making it takes the code that was printed at the start; ``booth`` when this browser was handed
    to students who film themselves."""

    username = serializers.CharField(allow_null=True)
    new = serializers.BooleanField()
    code_needed = serializers.BooleanField()
    booth = serializers.BooleanField()


class CredentialsSerializer(serializers.Serializer[Any]):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class FirstAccountSerializer(CredentialsSerializer):
    """The same, with the code that was printed at the start where it is needed."""

    code = serializers.CharField(default="", allow_blank=True, max_length=40)


class PasswordSerializer(serializers.Serializer[Any]):
    """The password as it is, and as it is to be."""

    old = serializers.CharField(max_length=200, trim_whitespace=False)
    new = serializers.CharField(max_length=200, trim_whitespace=False)


def _session(request: Request) -> Response:
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    new = name is None and not get_user_model().objects.exists()
    needed = new and code_needed(request.META.get("REMOTE_ADDR", ""))
    booth = name is None and BOOTH in request._request.session
    page = {"username": name, "new": new, "code_needed": needed, "booth": booth}
    return Response(SessionSerializer(page).data)


class LoginThrottle(SimpleRateThrottle):
    """So many tries to log in from one address, whatever the names."""

    scope = "login"

    def get_cache_key(self, request: Request, view: Any) -> str | None:
        """By address; reading who is there is not a try."""
        del view
        return None if request.method in ("GET", "DELETE") else f"login-{self.get_ident(request)}"


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The teacher's session."""

    permission_classes = (AllowAny,)
    throttle_classes = (LoginThrottle,)

    @extend_schema(responses=SessionSerializer, operation_id="session")
    def get(self, request: Request) -> Response:
        """Who is logged in."""
        return _session(request)

    @extend_schema(
        request=CredentialsSerializer, responses=SessionSerializer, operation_id="log_in"
    )
    def post(self, request: Request) -> Response:
        """Log in."""
        given = CredentialsSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        user = authenticate(request._request, **given.validated_data)
        if user is None:
            raise Refused("Wrong name or password. After ten tries Sulvet waits 15 minutes.")
        login(request._request, user)
        request.user = user
        return _session(request)

    @extend_schema(responses=SessionSerializer, operation_id="log_out")
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request._request)
        request.user = request._request.user
        return _cleared(_session(request))


def _cleared(answer: Response) -> Response:
    """What the browser holds in memory and in caches goes as well."""
    answer.headers["Clear-Site-Data"] = '"cache"'
    return answer


class PreferencesSerializer(Plain):
    """Time zone and paper; empty leaves them to browser and computer."""

    time_zone = serializers.CharField(max_length=60, allow_blank=True)
    paper = serializers.CharField(max_length=10, allow_blank=True)


class PreferencesPageSerializer(PreferencesSerializer):
    """What is set, and what can be."""

    time_zones = serializers.ListField(child=serializers.CharField())
    today = serializers.DateField()


class PreferencesView(APIView):
    """What the teacher prefers."""

    @extend_schema(responses=PreferencesPageSerializer, operation_id="preferences")
    def get(self, request: Request) -> Response:
        """What is set, and what can be set."""
        return self._page(request)

    @extend_schema(
        request=PreferencesSerializer,
        responses=PreferencesPageSerializer,
        operation_id="set_preferences",
    )
    def put(self, request: Request) -> Response:
        """Set time zone and paper."""
        wishes = preferences.Wishes(**valid(PreferencesSerializer, request))
        preferences.set_wishes(request._request, teacher_of(request), wishes)
        return self._page(request)

    def _page(self, request: Request) -> Response:
        wishes = preferences.wishes_of(teacher_of(request))
        page = {**asdict(wishes), "time_zones": sorted(preferences.time_zones()),
                "today": timezone.localdate()}  # fmt: skip
        return Response(PreferencesPageSerializer(page).data)


class PasswordView(APIView):
    """The teacher's password."""

    throttle_classes = (LoginThrottle,)

    @extend_schema(
        request=PasswordSerializer, responses=SessionSerializer, operation_id="change_password"
    )
    def put(self, request: Request) -> Response:
        """Another password; every other session of this account ends with it."""
        given = PasswordSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        user = teacher_of(request)
        if not user.check_password(given.validated_data["old"]):
            raise Refused("The current password is wrong.")
        set_password(user, given.validated_data["new"])
        update_session_auth_hash(request._request, user)
        return _session(request)


class SessionsView(APIView):
    """Sessions on all computers."""

    @extend_schema(responses=SessionSerializer, operation_id="log_out_everywhere")
    def delete(self, request: Request) -> Response:
        """Log out everywhere, here as well."""
        end_sessions(teacher_of(request))
        logout(request._request)
        request.user = request._request.user
        return _cleared(_session(request))


class AccessLogView(APIView):
    """Who opened, exported and deleted what."""

    @extend_schema(exclude=True)
    def get(self, request: Request) -> HttpResponse:
        """The lines of this account as a table, the newest first."""
        lines = access_log.entries(request.user.get_username())
        data = tables.dump(("when", "what was done", "to what"),
                           ((one.at, one.action, one.what) for one in lines))  # fmt: skip
        return download(data, CSV, "access-log", "csv")


@method_decorator(csrf_protect, name="dispatch")
class FirstAccountView(APIView):
    """The first-account step of a new installation."""

    permission_classes = (AllowAny,)
    throttle_classes = (LoginThrottle,)

    @extend_schema(
        request=FirstAccountSerializer, responses=SessionSerializer, operation_id="first_account"
    )
    def post(self, request: Request) -> Response:
        """Make the first account and log it in."""
        given = FirstAccountSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        check_code(request.META.get("REMOTE_ADDR", ""), given.validated_data.pop("code"))
        user = create_first_teacher(**given.validated_data)
        login(request._request, user, backend="django.contrib.auth.backends.ModelBackend")
        request.user = user
        return _session(request)
