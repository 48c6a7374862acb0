"""Making a teacher's account."""

from __future__ import annotations

import ipaddress
import secrets
from importlib import import_module

from django.conf import settings
from django.contrib.auth import SESSION_KEY, get_user_model
from django.contrib.auth.models import User
from django.contrib.auth.password_validation import validate_password
from django.contrib.sessions.models import Session
from django.core.exceptions import ValidationError
from django.db import transaction

from sulvet.accounts.errors import Conflict, Refused
from sulvet.core import clock

NEEDS_CODE = (
    "The first account is created on the computer Sulvet runs on, or with the code Sulvet "
    "printed there when it was started. Enter that code."
)


def code_needed(address: str) -> bool:
    """Whether somebody at this address must know the code to make the first account."""
    try:
        here = ipaddress.ip_address(address).is_loopback
    except ValueError:
        here = False
    return bool(settings.SHARE) or not here


def check_code(address: str, code: str) -> None:
    """Refused when the first account may not be made from there with this code."""
    known = settings.FIRST_CODE
    if code_needed(address) and not (known and secrets.compare_digest(known, code.strip())):
        raise Refused(NEEDS_CODE)


def create_first_teacher(username: str, password: str) -> User:
    """The account of a new, empty installation, an administrator's; refused once there is one."""
    with transaction.atomic():
        if get_user_model().objects.exists():
            raise Conflict("There is an account already. Log in.")
        user = User(username=username, is_staff=True)
        set_password(user, password)
    return user


def set_password(user: User, password: str) -> None:
    """Give an account a password and save it; refused when it is too easy to guess."""
    try:
        user.clean_fields(exclude=["password"])
        validate_password(password, user)
    except ValidationError as error:
        raise Refused(" ".join(error.messages)) from error
    user.set_password(password)
    user.save()


def end_sessions(user: User) -> int:
    """End all sessions of an account, on every computer; how many."""
    store, ended = import_module(settings.SESSION_ENGINE).SessionStore, 0
    for row in Session.objects.filter(expire_date__gt=clock.now()):
        if str(row.get_decoded().get(SESSION_KEY)) == str(user.pk):
            store(row.session_key).delete()
            ended += 1
    return ended
