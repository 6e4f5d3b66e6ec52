"""Hosts of a network, each a namespace on this machine: an address, names for the others, and what runs there."""

from __future__ import annotations

import contextlib
import os
import pwd
import signal
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import machine
from say import Problem

BRIDGE, NET = "girder0", "10.20.0"
ETC = Path("/etc/netns")
INSIDE = "girder.internal"


class Host:
    """One host. Its ports are its own, and others reach it by its name."""

    def __init__(self, name: str, number: int) -> None:
        self.name, self.address = name, f"{NET}.{number}"
        self.space, self._near = f"girder-{name}", f"girder{number}"

    def make(self, names: Mapping[str, str]) -> None:
        """Bring it up: a line to the others, and their names."""
        etc = ETC / self.space
        etc.mkdir(parents=True, exist_ok=True)
        lines = [f"{address} {name}.{INSIDE} {name}" for name, address in names.items()]
        (etc / "hosts").write_text("127.0.0.1 localhost\n" + "\n".join(lines) + "\n")
        _ip("netns", "add", self.space)
        _ip("link", "add", self._near, "type", "veth", "peer", "name", "eth0", "netns", self.space)
        _ip("link", "set", self._near, "master", BRIDGE, "up")
        _ip("-n", self.space, "addr", "add", f"{self.address}/24", "dev", "eth0")
        for line in ("lo", "eth0"):
            _ip("-n", self.space, "link", "set", line, "up")

    def _within(self, command: Sequence[str], user: str) -> list[str]:
        there = ["ip", "netns", "exec", self.space]
        if not user:
            return [*there, *command]
        one = pwd.getpwnam(user)
        return [*there, "setpriv", f"--reuid={one.pw_uid}", f"--regid={one.pw_gid}", "--clear-groups", *command]

    def start(
        self, command: Sequence[str], env: Mapping[str, str] | None = None, user: str = "", **more: Any
    ) -> subprocess.Popen[Any]:
        """Start something there that goes on."""
        env = dict(os.environ if env is None else env)
        return subprocess.Popen(self._within(command, user), env=env, start_new_session=True, **more)

    def done(self, command: Sequence[str], env: Mapping[str, str] | None = None, user: str = "", **more: Any) -> str:
        """Do something there, and hear what it says; it has to go well."""
        env = dict(os.environ if env is None else env)
        ran = subprocess.run(self._within(command, user), env=env, capture_output=True, text=True, **more)
        if ran.returncode != 0:
            raise Problem(f"{' '.join(command[:3])} failed at {self.name}: {ran.stdout[-1500:]}{ran.stderr[-1500:]}")
        return str(ran.stdout).strip()

    def die(self) -> None:
        """As when the plug is pulled: nobody says goodbye, and nothing comes from it any more."""
        _ip("-n", self.space, "link", "set", "eth0", "down")
        for pid in _ip("netns", "pids", self.space).split():
            with contextlib.suppress(ProcessLookupError):
                os.kill(int(pid), signal.SIGKILL)

    def come_back(self) -> None:
        """It has its line again; nothing runs there yet."""
        _ip("-n", self.space, "link", "set", "eth0", "up")

    def remove(self) -> None:
        """End all that runs there, and forget it."""
        with contextlib.suppress(Problem):
            self.die()
        # A namespace that is deleted lives on until the last that ran there is gone; its line goes at once.
        for words in (("link", "del", self._near), ("netns", "del", self.space)):
            with contextlib.suppress(Problem):
                _ip(*words)
        (ETC / self.space / "hosts").unlink(missing_ok=True)
        with contextlib.suppress(OSError):
            (ETC / self.space).rmdir()


class Network(contextlib.AbstractContextManager["Network"]):
    """Hosts that reach each other, and are reached from here."""

    def __init__(self, **numbers: int) -> None:
        self.hosts = {name: Host(name, number) for name, number in numbers.items()}

    def __getitem__(self, name: str) -> Host:
        return self.hosts[name]

    def __enter__(self) -> Network:
        machine.need_network_tools()
        self._remove()
        _ip("link", "add", BRIDGE, "type", "bridge")
        _ip("addr", "add", f"{NET}.1/24", "dev", BRIDGE)
        _ip("link", "set", BRIDGE, "up")
        names = {name: host.address for name, host in self.hosts.items()}
        for host in self.hosts.values():
            host.make(names)
        return self

    def __exit__(self, *error: object) -> None:
        self._remove()

    def _remove(self) -> None:
        for host in self.hosts.values():
            host.remove()
        with contextlib.suppress(Problem):
            _ip("link", "del", BRIDGE)


def _ip(*words: str) -> str:
    ran = subprocess.run(["ip", *words], capture_output=True, text=True)
    if ran.returncode != 0:
        raise Problem(f"ip {' '.join(words)}: {ran.stderr.strip()}")
    return str(ran.stdout)
