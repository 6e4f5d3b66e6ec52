"""How often one may try at a door. The counts lie in the database, so all server processes have the same.

A count begins with the first try and is forgotten after its time, so being shut out never lasts longer than that.
"""

from __future__ import annotations

import ipaddress
from dataclasses import dataclass
from datetime import timedelta
from math import ceil

from django.conf import settings
from django.db import connection
from django.db.models import F
from django.http import HttpRequest
from django.utils import timezone

from evengirder.reached import is_loopback
from girder_core.ground import GirderError
from people.models import Tries


@dataclass(frozen=True)
class Door:
    """What is counted, how often one may try within a time, and for how long that is [s]."""

    name: str
    most: int
    within_s: int = 900


def account_door(email: str) -> Door:
    """Wrong passwords for an account, from browsers that were never signed in to it."""
    return Door(f"account {email.strip().lower()}"[:120], 10)


def browser_door(browser: str, email: str) -> Door:
    """Wrong passwords for an account from a browser that was signed in to it: whoever else tries shuts it not out."""
    return Door(f"browser {browser} {email}"[:120], 20)


def address_door(request: HttpRequest) -> Door:
    """Wrong passwords from one address; a whole school can have the same."""
    return Door(f"address {address_of(request)}", 100)


def joining_door(request: HttpRequest) -> Door:
    """New accounts from one address."""
    return Door(f"joining {address_of(request)}", 20, 3600)


def lesson_door(request: HttpRequest) -> Door:
    """Codes of lessons from one address; those that were right are taken back (``took_back``)."""
    return Door(f"lesson {address_of(request)}", 40)


_KNOCK = """
    INSERT INTO people_tries AS t (door, count, since) VALUES (%s, 1, %s)
    ON CONFLICT (door) DO UPDATE SET
        count = CASE WHEN t.since <= %s THEN 1 ELSE LEAST(t.count, 1000000) + 1 END,
        since = CASE WHEN t.since <= %s THEN excluded.since ELSE t.since END
    RETURNING count, since
"""


def knock(*doors: Door) -> None:
    """Count a try at each door; ``too_many_tries`` where one is shut, with ``data["wait_s"]``.

    It is counted before it is known whether it is right, so that many at once have no more tries than one.
    """
    waits = []
    for door in doors:
        now = timezone.now()
        over = now - timedelta(seconds=door.within_s)
        with connection.cursor() as cursor:
            cursor.execute(_KNOCK, [door.name, now, over, over])
            count, since = cursor.fetchone()
        if count > door.most:
            waits.append(ceil((since - over).total_seconds()))
    if waits:
        minutes = max(1, ceil(max(waits) / 60))
        raise GirderError(
            "too_many_tries", f"Too many tries. Wait {minutes} min; a browser that was signed in here before is not "
            "kept waiting by others.", wait_s=max(waits),
        )  # fmt: skip


def opened(*doors: Door) -> None:
    """It was right after all: these doors are as if nobody had tried."""
    Tries.objects.filter(door__in=[door.name for door in doors]).delete()


def took_back(door: Door) -> None:
    """A try that was right counts no more; those before it do."""
    Tries.objects.filter(door=door.name, count__gt=0).update(count=F("count") - 1)


def forget_old() -> None:
    """Forget counts that count no more."""
    Tries.objects.filter(since__lt=timezone.now() - timedelta(days=1)).delete()


def address_of(request: HttpRequest) -> str:
    """The address that a request comes from; of IPv6 its network, of which a household has one.

    What a proxy says of whom it speaks for is believed only of proxies that ``GIRDER_PROXIES`` names.
    """
    at = str(request.META.get("REMOTE_ADDR", ""))
    said = [part.strip() for part in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
    while _is_proxy(at) and said:
        at = said.pop()
    try:
        found = ipaddress.ip_address(at)
    except ValueError:
        return "unknown"
    if found.version == 6:
        return str(ipaddress.ip_network((int(found) >> 64 << 64, 64)))
    return str(found)


def is_from_here(request: HttpRequest) -> bool:
    """Whether a request comes from the machine that serves, over loopback, and not through a proxy for another."""
    at = str(request.META.get("REMOTE_ADDR", ""))
    return is_loopback(at) and "HTTP_X_FORWARDED_FOR" not in request.META


def _is_proxy(at: str) -> bool:
    try:
        found = ipaddress.ip_address(at)
    except ValueError:
        return False
    return any(found in network for network in settings.PROXIES)
