"""Under which addresses this machine is reached from the network it is in."""

from __future__ import annotations

import ipaddress
import socket
from collections.abc import Iterable

import ifaddr

INSIDE = ("docker", "br-", "veth", "virbr", "lxc", "cni", "flannel", "vmnet", "vboxnet")
"""How adapters are called that lead to programs inside this machine, and to nobody outside."""


def reached_at() -> list[str]:
    """The IPv4 addresses of this machine on its networks, the one that leads outward first; none on loopback."""
    found: list[tuple[str, str]] = []
    for adapter in ifaddr.get_adapters():
        found += [(adapter.name, str(ip.ip)) for ip in adapter.ips if ip.is_IPv4]
    return ordered(found, _outward())


def ordered(found: Iterable[tuple[str, str]], outward: str) -> list[str]:
    """Addresses of adapters, each ``(name, address)`` that lead somewhere, each once, ``outward`` first."""
    kept = dict.fromkeys(at for name, at in found if not name.startswith(INSIDE) and _leads_somewhere(at))
    return sorted(kept, key=lambda at: at != outward)


def names() -> list[str]:
    """What this machine is called: its name, and the same as the network around it may find it."""
    name = socket.gethostname().split(".")[0].lower()
    return [name, f"{name}.local"] if name and name != "localhost" else []


def _leads_somewhere(at: str) -> bool:
    address = ipaddress.ip_address(at)
    return not (address.is_loopback or address.is_link_local or address.is_unspecified)


def _outward() -> str:
    """The address from which this machine would speak to others; empty where it has none to speak to."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asked:
        try:
            # Nothing is sent: a route is looked up, to an address that is kept for examples (RFC 5737).
            asked.connect(("192.0.2.1", 9))
        except OSError:
            return ""
        return str(asked.getsockname()[0])
