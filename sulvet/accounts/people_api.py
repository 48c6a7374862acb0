"""Accounts, invitations, standing in and the second factor over HTTP."""

from __future__ import annotations

import base64

from django.contrib.auth import login
from django.shortcuts import get_object_or_404
from django.utils import timezone
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from sulvet.accounts import invitations, schools, second_factor
from sulvet.accounts.errors import Refused
from sulvet.accounts.models import Invitation
from sulvet.accounts.people_shapes import (
    AccountIn,
    AccountRow,
    ActingIn,
    CodeIn,
    InvitationIn,
    InvitationRow,
    JoinIn,
    Joining,
    OffIn,
    PaperCodes,
    People,
    SecondFactor,
    Secret,
)
from sulvet.accounts.reach import site_of
from sulvet.accounts.roles import act_for, demand_administrator
from sulvet.accounts.session import SessionSerializer, session_page
from sulvet.accounts.shapes import answer, checked, shape
from sulvet.accounts.throttles import LoginThrottle
from sulvet.accounts.types import account_of
from sulvet.core.formats import qr


def _people(request: Request) -> People:
    account, site = account_of(request), site_of(request)
    coded = second_factor.all_on() if account.is_staff else set()
    known = schools.colleagues_of(account) if account.is_staff else ()
    school = schools.school_of(account)
    return People(
        account.is_staff,
        school.name if school else "",
        [
            AccountRow(
                one.pk, one.get_username(), one.is_staff, one.is_active, one.pk in coded,
                timezone.localtime(one.last_login).date() if one.last_login else None,
            )
            for one in known
        ],
        [
            InvitationRow(
                one.pk, one.role,  # type: ignore[arg-type]
                site + invitations.path_of(one) if invitations.waits(one) else "",
                one.guest.get_username() if one.guest else "", one.until,
                timezone.localtime(one.expires_at).date(),
                invitations.is_over(one) or not (one.guest or invitations.waits(one)),
            )
            for one in Invitation.objects.filter(host=account).select_related("guest")
        ],
    )  # fmt: skip


class PeopleView(APIView):
    """Who may come in."""

    @extend_schema(responses=shape(People), operation_id="people")
    def get(self, request: Request) -> Response:
        """The own invitations; to an administrator all accounts."""
        return answer(_people(request))


class InvitationsView(APIView):
    """New invitations."""

    @extend_schema(
        request=shape(InvitationIn), responses={201: shape(People)}, operation_id="invite"
    )
    def post(self, request: Request) -> Response:
        """Invite a teacher, or a substitute for the own bands."""
        given: InvitationIn = checked(shape(InvitationIn), request.data)
        invitations.invite(account_of(request), given.role, given.until)
        return answer(_people(request), 201)


class InvitationView(APIView):
    """One of the own invitations."""

    @extend_schema(responses={200: shape(People)}, operation_id="end_invitation")
    def delete(self, request: Request, number: int) -> Response:
        """Take it back; a substitute sees nothing from now on."""
        own = Invitation.objects.filter(host=account_of(request))
        invitations.end(get_object_or_404(own, pk=number))
        return answer(_people(request))


class AccountView(APIView):
    """One account, for an administrator."""

    @extend_schema(request=shape(AccountIn), responses=shape(People), operation_id="set_account")
    def put(self, request: Request, number: int) -> Response:
        """Open or close it, or make it an administrator's."""
        by = account_of(request)
        demand_administrator(by)
        given: AccountIn = checked(shape(AccountIn), request.data)
        account = get_object_or_404(schools.colleagues_of(by), pk=number)
        invitations.set_account(by, account, given.active, given.administrator)
        return answer(_people(request))


@method_decorator(csrf_protect, name="dispatch")
class JoinView(APIView):
    """The address of an invitation."""

    permission_classes = (AllowAny,)
    throttle_classes = (LoginThrottle,)

    @extend_schema(responses=shape(Joining), operation_id="invitation", auth=[])
    def get(self, request: Request, token: str) -> Response:
        """What it is for; refused once it is not valid any more."""
        one = invitations.waiting_at(token)
        account = request.user.get_username() if request.user.is_authenticated else ""
        return answer(
            Joining(
                one.role,  # type: ignore[arg-type]
                one.host.get_username() if one.host else "",
                one.school.name if one.school else "",
                one.until,
                account,
            )
        )

    @extend_schema(request=shape(JoinIn), responses=SessionSerializer, operation_id="join", auth=[])
    def post(self, request: Request, token: str) -> Response:
        """Accept it, and be logged in; a substitute sees the teacher's bands at once."""
        given: JoinIn = checked(shape(JoinIn), request.data)
        own = account_of(request) if request.user.is_authenticated else None
        one = invitations.waiting_at(token)
        account = invitations.accept(token, own, given.username, given.password)
        if own is None:
            login(request._request, account, "django.contrib.auth.backends.ModelBackend")
            request.user = account
        if one.role == Invitation.Role.SUBSTITUTE:
            act_for(request._request, one.host_id)
        return session_page(request)


class ActingView(APIView):
    """Standing in for a teacher."""

    @extend_schema(
        request=shape(ActingIn), responses=SessionSerializer, operation_id="stand_in_for"
    )
    def put(self, request: Request) -> Response:
        """Begin with one, or go back to the own bands."""
        given: ActingIn = checked(shape(ActingIn), request.data)
        act_for(request._request, given.host)
        return session_page(request)


class SecondFactorView(APIView):
    """The own second factor."""

    throttle_classes = (LoginThrottle,)

    @extend_schema(responses=shape(SecondFactor), operation_id="second_factor")
    def get(self, request: Request) -> Response:
        """Whether it is on."""
        account = account_of(request)
        return answer(
            SecondFactor(second_factor.is_on(account), second_factor.left_on_paper(account))
        )

    @extend_schema(request=None, responses={201: shape(Secret)}, operation_id="begin_second_factor")
    def post(self, request: Request) -> Response:
        """A secret for an app; it counts from the first right code on."""
        device = second_factor.begin(account_of(request))
        secret = base64.b32encode(device.bin_key).decode().rstrip("=")
        return answer(Secret(qr.data_url(device.config_url), secret), 201)

    @extend_schema(
        request=shape(CodeIn), responses=shape(PaperCodes), operation_id="confirm_second_factor"
    )
    def put(self, request: Request) -> Response:
        """Turn it on with a first code."""
        given: CodeIn = checked(shape(CodeIn), request.data)
        return answer(PaperCodes(second_factor.confirm(account_of(request), given.code)))


class SecondFactorOffView(APIView):
    """Without a second factor."""

    throttle_classes = (LoginThrottle,)

    @extend_schema(
        request=shape(OffIn), responses=shape(SecondFactor), operation_id="end_second_factor"
    )
    def post(self, request: Request) -> Response:
        """Turn it off, with the password."""
        given: OffIn = checked(shape(OffIn), request.data)
        account = account_of(request)
        if not account.check_password(given.password):
            raise Refused("The current password is wrong.")
        second_factor.turn_off(account)
        return answer(SecondFactor(False, 0))
