"""How often somebody may ask."""

from __future__ import annotations

from typing import Any

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView


class LinkThrottle(SimpleRateThrottle):
    """So many requests under links from one address."""

    scope = "link"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        """By address."""
        return f"link-{self.get_ident(request)}"


class LoginThrottle(SimpleRateThrottle):
    """So many tries to log in from one address, whatever the names."""

    scope = "login"

    def get_cache_key(self, request: Request, view: Any) -> str | None:
        """By address; reading who is there is not a try."""
        del view
        return None if request.method in ("GET", "DELETE") else f"login-{self.get_ident(request)}"
