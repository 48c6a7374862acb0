"""Shapes of accounts, invitations and the second factor."""

from __future__ import annotations

import datetime
from dataclasses import dataclass, field
from typing import Literal

Role = Literal["teacher", "substitute"]


@dataclass(frozen=True)
class AccountRow:
    """An account, as an administrator sees it; of its band nothing is shown."""

    id: int
    name: str
    administrator: bool
    active: bool
    second_factor: bool
    last_login: datetime.date | None


@dataclass(frozen=True)
class InvitationRow:
    """An invitation of the account's own.

    address  while it waits to be accepted; empty otherwise
    guest    who accepted; empty while nobody has
    """

    id: int
    role: Role
    address: str
    guest: str
    until: datetime.date | None
    expires_on: datetime.date
    over: bool


@dataclass(frozen=True)
class People:
    """Who may come in; ``accounts`` of the own school for an administrator alone.

    school  the account's own; empty where there is only one
    """

    administrator: bool
    school: str
    accounts: list[AccountRow]
    invitations: list[InvitationRow]


@dataclass(frozen=True)
class InvitationIn:
    """Whom to invite, a substitute until when."""

    role: Role
    until: datetime.date | None = None


@dataclass(frozen=True)
class AccountIn:
    """What an account is to be."""

    active: bool
    administrator: bool


@dataclass(frozen=True)
class Joining:
    """What an invitation is for.

    host  who invites, empty for whoever runs Sulvet;  school  which it is to, empty where there is
    only one;  account  who is logged in here; empty for nobody
    """

    role: Role
    host: str
    school: str
    until: datetime.date | None
    account: str


@dataclass(frozen=True)
class JoinIn:
    """A new account's name and password; both empty to accept with the one that is logged in."""

    username: str = field(
        default="", metadata={"serializer_kwargs": {"max_length": 150, "allow_blank": True}}
    )
    password: str = field(
        default="",
        metadata={
            "serializer_kwargs": {
                "max_length": 200, "allow_blank": True, "trim_whitespace": False
            }
        },
    )  # fmt: skip


@dataclass(frozen=True)
class ActingIn:
    """For whom to stand in; None for nobody."""

    host: int | None


@dataclass(frozen=True)
class SecondFactor:
    """Whether logging in asks for a code, and how many codes on paper are left."""

    on: bool
    on_paper: int


@dataclass(frozen=True)
class Secret:
    """For an authenticator app: as a picture to scan (SVG as a data URL), and to type."""

    qr: str
    secret: str


@dataclass(frozen=True)
class CodeIn:
    """A code of the app."""

    code: str = field(metadata={"serializer_kwargs": {"max_length": 20}})


@dataclass(frozen=True)
class PaperCodes:
    """Codes to write down, each good for once."""

    codes: list[str]


@dataclass(frozen=True)
class OffIn:
    """The password, to turn the second factor off."""

    password: str = field(
        metadata={"serializer_kwargs": {"max_length": 200, "trim_whitespace": False}}
    )
