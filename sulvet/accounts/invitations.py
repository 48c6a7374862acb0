"""Invitations: made by a teacher, accepted once, ended at any time."""

from __future__ import annotations

import datetime

from django.contrib.auth.models import User
from django.core.signing import BadSignature, Signer
from django.db import transaction

from sulvet.accounts import local_time
from sulvet.accounts.errors import Refused
from sulvet.accounts.models import Invitation, School
from sulvet.accounts.roles import demand_administrator
from sulvet.accounts.schools import join, school_of
from sulvet.accounts.services import end_sessions, set_password
from sulvet.core import clock

_signer = Signer(salt="sulvet.accounts.invitations")
#: For so many days it may be accepted, and a substitute may stay at most. Sulvet defaults.
ACCEPT_DAYS, LONGEST = 7, 400
OVER = "This invitation is not valid any more. Ask for a new one."


def invite(host: User, role: str, until: datetime.date | None) -> Invitation:
    """A new one. Teachers are invited by an administrator, a substitute by the teacher."""
    today = local_time.today()
    if role == Invitation.Role.TEACHER:
        demand_administrator(host)
        until = None
    elif until is None or not today <= until <= today + datetime.timedelta(days=LONGEST):
        raise Refused(
            "Choose the substitute's last day: today or later, within {longest} days.",
            longest=LONGEST,
        )
    return Invitation.objects.create(
        host=host, role=role, until=until, school=school_of(host), expires_at=_last_moment()
    )


def found(name: str) -> Invitation:
    """A new school, and an invitation for whoever is to run it; refused where there is one of
    that name."""
    with transaction.atomic():
        school, new = School.objects.get_or_create(name=name)
        if not new:
            raise Refused("There is a school “{name}” already.", name=name)
        return Invitation.objects.create(
            role=Invitation.Role.TEACHER, school=school, administrator=True,
            expires_at=_last_moment(),
        )  # fmt: skip


def _last_moment() -> datetime.datetime:
    return clock.now() + datetime.timedelta(days=ACCEPT_DAYS)


def path_of(invitation: Invitation) -> str:
    """The path of its address."""
    return f"/join/{_signer.sign(str(invitation.pk))}"


def is_over(invitation: Invitation) -> bool:
    """Whether it lets nobody in any more."""
    last = invitation.until
    return invitation.ended_at is not None or (last is not None and last < local_time.today())


def waits(invitation: Invitation) -> bool:
    """Whether it may still be accepted."""
    unused = invitation.guest_id is None and not is_over(invitation)
    return unused and invitation.expires_at > clock.now()


def waiting_at(token: str) -> Invitation:
    """The invitation of an address; refused where it can't be accepted (any more)."""
    try:
        number = int(_signer.unsign(token))
    except (BadSignature, ValueError):
        raise Refused(OVER) from None
    one = Invitation.objects.select_related("host", "school").filter(pk=number).first()
    if one is None or not waits(one) or (one.host is not None and not one.host.is_active):
        raise Refused(OVER)
    return one


def accept(token: str, account: User | None, name: str, password: str) -> User:
    """Accept with the account that is logged in, or with a new one; once."""
    if account is None and User.objects.filter(username=name).exists():
        raise Refused(
            "There is an account “{name}” already. Choose another name, or log in.", name=name
        )
    with transaction.atomic():
        invitation = waiting_at(token)
        if account is not None and account == invitation.host:
            raise Refused("This is your own invitation. Send its address to somebody else.")
        if account is not None and invitation.role == Invitation.Role.TEACHER:
            raise Refused("You have an account already. Send the address to whom it is meant for.")
        invitation.made_account = account is None
        if account is None:
            account = User(username=name, is_staff=invitation.administrator)
            set_password(account, password)
            join(account, invitation.school)
        invitation.guest = account
        invitation.save(update_fields=["guest", "made_account"])
    return account


def end(invitation: Invitation) -> None:
    """Take it back: a substitute sees nothing from the next request on."""
    Invitation.objects.filter(pk=invitation.pk, ended_at=None).update(ended_at=clock.now())


def set_account(by: User, account: User, active: bool, administrator: bool) -> None:
    """Open or close an account, or make it an administrator's; one administrator must be left."""
    demand_administrator(by)
    if account == by and not (active and administrator):
        raise Refused("You can't close your own account or leave the school without administrator.")
    account.is_active, account.is_staff = active, administrator
    account.save(update_fields=["is_active", "is_staff"])
    if not active:
        end_sessions(account)
