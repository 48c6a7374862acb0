"""Schools of a district: who belongs to one, and who belongs together."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import QuerySet

from sulvet.accounts.models import Membership, School


def school_of(account: User) -> School | None:
    """An account's school; None where there is only one."""
    kept = Membership.objects.select_related("school").filter(account=account).first()
    return kept.school if kept else None


def colleagues_of(account: User) -> QuerySet[User]:
    """All accounts of an account's school, its own among them, by name."""
    return User.objects.filter(membership__school=school_of(account)).order_by("username")


def join(account: User, school: School | None) -> None:
    """An account belongs to a school from now on."""
    if school is not None:
        Membership.objects.update_or_create(account=account, defaults={"school": school})
