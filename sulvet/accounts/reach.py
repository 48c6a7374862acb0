"""Where other devices reach Sulvet: what stands in links and QR codes."""

from __future__ import annotations

import ipaddress
from urllib.parse import urlsplit

from django.conf import settings
from rest_framework.request import Request


def site_of(request: Request) -> str:
    """The address that a link begins with, without a slash at its end.

    Where Sulvet is shared that is the shared one, whatever the teacher's own browser asked for.
    """
    return settings.SHARE or request.build_absolute_uri("/").rstrip("/")


def reaches_phones(site: str) -> bool:
    """Whether another device gets there: an address of this computer alone leads nowhere."""
    host = urlsplit(site).hostname or ""
    try:
        return not ipaddress.ip_address(host).is_loopback
    except ValueError:
        return host != "localhost" and not host.endswith(".localhost")
