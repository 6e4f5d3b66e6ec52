"""Serve to the network of the school: under which addresses, with which certificate, and what is said about it."""

from __future__ import annotations

import argparse
import json
import os
import ssl
import subprocess
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from paths import BACKEND, PYTHON
from say import Problem, say, warn

ANYWHERE, LOOPBACK = "0.0.0.0", "127.0.0.1"


@dataclass(frozen=True)
class Sharing:
    """How far the server is reached: this machine alone, or the network it is in, encrypted or not."""

    shared: bool = False
    certificate: Path | None = None
    key: Path | None = None
    authority: Path | None = None
    fingerprint: str = ""
    addresses: tuple[str, ...] = ()
    names: tuple[str, ...] = ()

    @property
    def host(self) -> str:
        """Where the server listens."""
        return ANYWHERE if self.shared else LOOPBACK

    @property
    def scheme(self) -> str:
        return "https" if self.certificate else "http"

    def at(self, host: str, port: int) -> str:
        """An address to open."""
        return f"{self.scheme}://{host}:{port}"

    def known_as(self, port: int) -> str:
        """The address that tablets are given; empty where they cannot reach this machine."""
        return self.at(self.addresses[0], port) if self.addresses else ""

    def environment(self, port: int) -> dict[str, str]:
        """What the application is told of it; what whoever runs it says stands above that."""
        if not self.shared:
            return {}
        hosts = [*self.addresses, *self.names, LOOPBACK, "localhost"]
        told = {
            "GIRDER_SHARED": "1",
            "GIRDER_HOSTS": ",".join(hosts),
            "GIRDER_SHARED_AS": self.known_as(port),
            "GIRDER_ENCRYPTS": "1" if self.certificate else "",
            # A door to a school's network is not open to whoever comes by.
            "GIRDER_SIGN_UP": "invited",
        }
        return {name: os.environ.get(name, value) for name, value in told.items()}

    def server_options(self) -> list[str]:
        """What the server is told of it."""
        if self.certificate is None:
            return []
        return ["--certfile", str(self.certificate), "--keyfile", str(self.key)]

    def trusting(self) -> ssl.SSLContext | None:
        """How the launcher itself asks the server whether it is there."""
        if self.certificate is None:
            return None
        context = ssl.create_default_context()
        # It asks on loopback, and knows whose certificate that is; a school's own need not name this address.
        context.check_hostname = False
        context.verify_mode = ssl.CERT_NONE
        return context


def options(arguments: Sequence[str]) -> argparse.Namespace:
    """What stands behind ``./girder start``; ends with a sentence when it cannot be understood."""
    asked = argparse.ArgumentParser(prog="./girder start", add_help=False, exit_on_error=False)
    asked.add_argument("--share", action="store_true")
    asked.add_argument("--tls", action="store_true")
    asked.add_argument("--cert", type=Path)
    asked.add_argument("--key", type=Path)
    try:
        given, unknown = asked.parse_known_args(arguments)
    except argparse.ArgumentError as error:
        raise Problem(f"{error}. Say ./girder help.") from None
    if unknown:
        raise Problem(f"“{unknown[0]}” is nothing that start knows: --share, --tls, --cert FILE --key FILE.")
    if (given.cert is None) != (given.key is None):
        raise Problem("A certificate and its key go together: --cert FILE --key FILE.")
    if (given.tls or given.cert) and not given.share:
        raise Problem("--tls and --cert are for sharing: ./girder start --share --tls")
    for file in (given.cert, given.key):
        if file is not None and not os.access(file, os.R_OK):
            raise Problem(f"{file} is not there, or cannot be read.")
    if given.cert is not None:
        _fit_together(given.cert, given.key)
    return given


def _fit_together(certificate: Path, key: Path) -> None:
    try:
        ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(certificate, key)
    except (ssl.SSLError, OSError) as error:
        raise Problem(f"{certificate} and {key} do not go together ({error}).") from None


def prepared(given: argparse.Namespace, home: Path) -> Sharing:
    """Find the addresses, and make or take the certificate. ``home/served`` is for whoever serves."""
    if not given.share:
        return Sharing()
    own = given.tls and given.cert is None
    told = _ask("--home", str(home)) if own else _ask()
    shared = Sharing(shared=True, addresses=tuple(told["addresses"]), names=tuple(told["names"]))
    if not shared.addresses:
        warn("this machine is in no network: nobody but itself can reach it. Join one, and start again.")
    if own:
        for one in told["left_out"]:
            warn(f"the certificate does not speak for {one}; remove {home} to have another authority made")
        certificate, key, authority = (Path(told[name]) for name in ("certificate", "key", "authority"))
        return replace(shared, certificate=certificate, key=key, authority=authority, fingerprint=told["fingerprint"])
    if given.cert is not None:
        certificate, key = _given_away(given.cert, given.key, home / "served")
        return replace(shared, certificate=certificate, key=key)
    return shared


def _given_away(certificate: Path, key: Path, served: Path) -> tuple[Path, Path]:
    """Copies of the school's certificate and key that whoever serves may read."""
    served.mkdir(parents=True, exist_ok=True)
    copies = served / "school.crt", served / "school.key"
    for copy, file in zip(copies, (certificate, key), strict=True):
        copy.unlink(missing_ok=True)
        with os.fdopen(os.open(copy, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as out:
            out.write(file.read_bytes())
    return copies


def doorstep_command(port: int) -> list[str]:
    """How the page is served that says how a tablet comes to trust the certificate."""
    return [
        str(PYTHON), "-m", "uvicorn", "doorstep.page:application", "--factory", "--host", ANYWHERE, "--port", str(port),
        "--log-level", "warning", "--no-proxy-headers", "--limit-concurrency", "64",
    ]  # fmt: skip


def tell(sharing: Sharing, port: int, doorstep: int | None, invitation: str) -> None:
    """Say where tablets find it, and what is to be done first."""
    places = [sharing.at(host, port) for host in (*sharing.addresses, *sharing.names)]
    if not places:
        return
    first = f"http://{sharing.addresses[0]}:{doorstep}" if doorstep and sharing.addresses else places[0]
    print("  In your network it is at\n" + "".join(f"    {place}\n" for place in places), flush=True)
    if invitation:
        print(
            "  There is no teacher's account here yet. Make the first one at\n"
            f"    {sharing.known_as(port)}/?code={invitation}\n  (the code works once; ./girder invite prints more)\n",
            flush=True,
        )
    if doorstep:
        print(
            f"  On each tablet first, once: {first}\n  says how it comes to trust this server. Its fingerprint:\n"
            f"    {sharing.fingerprint}\n",
            flush=True,
        )
    elif sharing.certificate is None:
        print(
            "  Nothing is encrypted: whoever is in this network can read what is sent, passwords too, and some things\n"
            "  do not work on tablets (--tls; the guide says which).\n",
            flush=True,
        )
    print(f"  For a camera: {first}", flush=True)
    print(_ask("--code", first)["codes"][0], flush=True)


def first_account(env: dict[str, str], who: dict[str, Any]) -> str:
    """A code for the first teacher's account; empty where there is one, or where none is needed."""
    command = [str(PYTHON), "manage.py", "first_account"]
    done = subprocess.run(command, cwd=BACKEND, env=env, capture_output=True, text=True, **who)
    if done.returncode != 0:
        raise Problem(f"Looking for a teacher's account failed:\n{done.stderr[-2000:]}")
    return str(done.stdout).strip()


def _ask(*arguments: str) -> dict[str, Any]:
    done = subprocess.run([str(PYTHON), "-m", "doorstep", *arguments], cwd=BACKEND, capture_output=True, text=True)
    if done.returncode != 0:
        raise Problem(f"Looking at the network failed:\n{done.stderr[-2000:]}")
    told: dict[str, Any] = json.loads(done.stdout)
    if arguments and "--home" in arguments:
        say("certificates are ready")
    return told
