"""Schools of a district: who belongs to one, and who belongs together."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db.models import Exists, Q, QuerySet

from sulvet.accounts.models import Membership, School


def school_of(account: User) -> School | None:
    """An account's school; None where there is only one."""
    kept = Membership.objects.select_related("school").filter(account=account).first()
    return kept.school if kept else None


def ours(account: User) -> Q:
    """What has a column ``school``: that of an account's school; where it belongs to none, what
    has none."""
    member = Exists(Membership.objects.filter(account=account))
    own = Q(school__memberships__account=account)
    return own | Q(~member, school=None)


def colleagues_of(account: User) -> QuerySet[User]:
    """All accounts of an account's school, its own among them, by name."""
    return User.objects.filter(membership__school=school_of(account)).order_by("username")


def join(account: User, school: School | None) -> None:
    """An account belongs to a school from now on."""
    if school is not None:
        Membership.objects.update_or_create(account=account, defaults={"school": school})
