"""How often somebody may ask."""

from __future__ import annotations

from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView


class LinkThrottle(SimpleRateThrottle):
    """So many requests under links from one address."""

    scope = "link"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        """By address."""
        return f"link-{self.get_ident(request)}"
