"""The app of accounts and sessions."""

from __future__ import annotations

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Listens to logins from the start: one may come before any request."""

    name = "sulvet.accounts"

    def ready(self) -> None:
        """Connect what a session keeps from its beginning."""
        from sulvet.accounts import idle, preferences  # noqa: F401
