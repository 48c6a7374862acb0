"""A second factor: codes of an authenticator app (TOTP, RFC 6238), and codes on paper."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import transaction
from django_otp import match_token
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from sulvet.accounts.errors import Refused

#: So many codes on paper, each good for once.
ON_PAPER = 8
WRONG = "This code is not right. Wait for the next one and try again."


def is_on(account: User) -> bool:
    """Whether logging in asks for a code."""
    return bool(TOTPDevice.objects.filter(user=account, confirmed=True).exists())


def all_on() -> set[int]:
    """Numbers of the accounts whose logging in asks for a code."""
    return set(TOTPDevice.objects.filter(confirmed=True).values_list("user_id", flat=True))


def left_on_paper(account: User) -> int:
    """How many of the codes on paper are unused."""
    return int(StaticToken.objects.filter(device__user=account).count())


def begin(account: User) -> TOTPDevice:
    """A secret for an app; it counts from the first right code on."""
    with transaction.atomic():
        TOTPDevice.objects.filter(user=account, confirmed=False).delete()
        return TOTPDevice.objects.create(user=account, name="app", confirmed=False)


def confirm(account: User, code: str) -> list[str]:
    """Turn it on with a first code; the codes for paper, which are shown this once."""
    device = TOTPDevice.objects.filter(user=account, confirmed=False).first()
    if device is None or not device.verify_token(code.strip().replace(" ", "")):
        raise Refused(WRONG)
    with transaction.atomic():
        turn_off(account, keep=device.pk)
        device.confirmed = True
        device.save()
        paper = StaticDevice.objects.create(user=account, name="paper")
        codes = [StaticToken.random_token() for _ in range(ON_PAPER)]
        StaticToken.objects.bulk_create(StaticToken(device=paper, token=one) for one in codes)
    return codes


def passes(account: User, code: str) -> bool:
    """Whether a code is right now; a wrong one makes the next wait longer each time."""
    return match_token(account, code.strip().replace(" ", "")) is not None


def turn_off(account: User, keep: int | None = None) -> None:
    """Log in with the password alone from now on."""
    TOTPDevice.objects.filter(user=account).exclude(pk=keep).delete()
    StaticDevice.objects.filter(user=account).delete()
