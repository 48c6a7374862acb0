"""Who is there: session, login, logout, first account."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from django.conf import settings
from django.contrib.auth import (
    authenticate,
    login,
    logout,
    update_session_auth_hash,
)
from django.contrib.auth.models import User
from django.http import HttpResponse
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts import access_log, local_time, preferences, second_factor
from sulvet.accounts.downloads import CSV, download
from sulvet.accounts.errors import CodeWanted, Refused
from sulvet.accounts.roles import act_for, hosts_of
from sulvet.accounts.services import (
    check_code,
    create_first_teacher,
    end_sessions,
    set_password,
)
from sulvet.accounts.session import SessionSerializer, session_page
from sulvet.accounts.shapes import Plain, valid
from sulvet.accounts.throttles import LoginThrottle
from sulvet.accounts.types import account_of, teacher_of
from sulvet.core.formats import tables


class CredentialsSerializer(serializers.Serializer[Any]):
    """Name and password."""

    username = serializers.CharField(max_length=150)
    password = serializers.CharField(max_length=200, trim_whitespace=False)


class LoginSerializer(CredentialsSerializer):
    """The same, with a code where the account has a second factor."""

    code = serializers.CharField(default="", allow_blank=True, max_length=20)


class FirstAccountSerializer(CredentialsSerializer):
    """The same, with the code that was printed at the start where it is needed."""

    code = serializers.CharField(default="", allow_blank=True, max_length=40)


class PasswordSerializer(serializers.Serializer[Any]):
    """The password as it is, and as it is to be."""

    old = serializers.CharField(max_length=200, trim_whitespace=False)
    new = serializers.CharField(max_length=200, trim_whitespace=False)


@method_decorator(csrf_protect, name="dispatch")
class SessionView(APIView):
    """The teacher's session."""

    permission_classes = (AllowAny,)
    throttle_classes = (LoginThrottle,)

    @extend_schema(responses=SessionSerializer, operation_id="session")
    def get(self, request: Request) -> Response:
        """Who is logged in."""
        return session_page(request)

    @extend_schema(request=LoginSerializer, responses=SessionSerializer, operation_id="log_in")
    def post(self, request: Request) -> Response:
        """Log in; who was invited as a substitute alone stands in at once."""
        said = LoginSerializer(data=request.data)
        said.is_valid(raise_exception=True)
        given = dict(said.validated_data)
        code = given.pop("code")
        user = authenticate(request._request, **given)
        if not isinstance(user, User):
            raise Refused("Wrong name or password. After ten tries Sulvet waits 15 minutes.")
        if second_factor.is_on(user):
            if not code:
                raise CodeWanted("Enter the code that your authenticator app shows now.")
            if not second_factor.passes(user, code):
                raise CodeWanted(second_factor.WRONG)
        login(request._request, user)
        request.user = user
        guest_of = [one for one in hosts_of(user) if one.made_account]
        if guest_of:
            act_for(request._request, guest_of[0].host_id)
        return session_page(request)

    @extend_schema(responses=SessionSerializer, operation_id="log_out")
    def delete(self, request: Request) -> Response:
        """Log out."""
        logout(request._request)
        request.user = request._request.user
        return _cleared(session_page(request))


def _cleared(answer: Response) -> Response:
    """What the browser holds in memory and in caches goes as well."""
    answer.headers["Clear-Site-Data"] = '"cache"'
    return answer


class PreferencesSerializer(Plain):
    """Time zone, paper and language; empty leaves them to browser and computer."""

    time_zone = serializers.CharField(max_length=60, allow_blank=True)
    paper = serializers.CharField(max_length=10, allow_blank=True)
    language = serializers.CharField(max_length=10, allow_blank=True, default="")


class LanguageSerializer(Plain):
    """A language by its code, called as those who speak it do."""

    code = serializers.CharField()
    name = serializers.CharField()


class PreferencesPageSerializer(PreferencesSerializer):
    """What is set, and what can be."""

    time_zones = serializers.ListField(child=serializers.CharField())
    languages = LanguageSerializer(many=True)
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
        """Set time zone, paper and language."""
        wishes = preferences.Wishes(**valid(PreferencesSerializer, request))
        preferences.set_wishes(request._request, teacher_of(request), wishes)
        return self._page(request)

    def _page(self, request: Request) -> Response:
        wishes = preferences.wishes_of(teacher_of(request))
        page = {**asdict(wishes), "time_zones": sorted(preferences.time_zones()),
                "languages": [{"code": code, "name": name} for code, name in settings.LANGUAGES],
                "today": local_time.today()}  # fmt: skip
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
        user = account_of(request)
        if not user.check_password(given.validated_data["old"]):
            raise Refused("The current password is wrong.")
        set_password(user, given.validated_data["new"])
        update_session_auth_hash(request._request, user)
        return session_page(request)


class SessionsView(APIView):
    """Sessions on all computers."""

    @extend_schema(responses=SessionSerializer, operation_id="log_out_everywhere")
    def delete(self, request: Request) -> Response:
        """Log out everywhere, here as well."""
        end_sessions(account_of(request))
        logout(request._request)
        request.user = request._request.user
        return _cleared(session_page(request))


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
        return session_page(request)
