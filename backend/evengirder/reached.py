"""By which address others reach what is shown here."""

from __future__ import annotations

import ipaddress

from django.conf import settings
from django.http import HttpRequest


def is_loopback(host: str) -> bool:
    """Whether a host's name or address leads to this machine alone."""
    if host == "localhost":
        return True
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return False


def address_for_others(request: HttpRequest, path: str) -> str:
    """A page of this server as another device opens it: by the address that whoever asks has in the browser, unless
    that one is loopback and the server is shared."""
    asked = request.get_host().rpartition(":")[0] or request.get_host()
    if settings.SHARED_AS and is_loopback(asked):
        return f"{settings.SHARED_AS}{path}"
    return str(request.build_absolute_uri(path))
