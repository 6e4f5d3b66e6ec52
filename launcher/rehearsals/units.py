"""Units of systemd's without systemd: what they start and with what environment, looked at and carried out here."""

from __future__ import annotations

import contextlib
import os
import re
import shlex
import subprocess
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from string import Template
from typing import Any

from paths import ROOT
from say import Problem

DEPLOY = ROOT / "deploy"
PATIENCE_S = 60.0
"""How long anything is waited for."""


@dataclass
class Unit:
    """What a unit starts, and with what environment."""

    command: list[str]
    env: dict[str, str]


@dataclass(frozen=True)
class Moved:
    """Where things lie in a rehearsal, instead of where the files of ``deploy`` say."""

    instead: Sequence[tuple[str, str]] = field(default_factory=list)

    def text(self, file: Path) -> str:
        """A file of ``deploy`` with this rehearsal's places."""
        text = file.read_text()
        for written, here in self.instead:
            text = text.replace(written, here)
        return text

    def laid(self, file: Path, into: Path) -> Path:
        """The same, laid into a folder."""
        into.mkdir(parents=True, exist_ok=True)
        laid = into / file.name
        laid.write_text(self.text(file))
        return laid


def laid_out(moved: Moved, sources: Sequence[Path], into: Path) -> str:
    """Units and what is dropped in beside them, moved into a folder; says what systemd itself says of them."""
    for source in sources:
        for file in (*source.glob("*.service"), *source.glob("*.timer")):
            moved.laid(file, into)
        for file in source.glob("*.d/*.conf"):
            moved.laid(file, into / file.parent.name)
    units = sorted(str(file) for file in into.iterdir() if file.is_file())
    said = subprocess.run(["systemd-analyze", "verify", *units], capture_output=True, text=True)
    if said.returncode != 0 or "even-girder" in said.stderr:
        raise Problem(f"systemd does not take the units:\n{said.stderr}")
    return f"{len(units)}, taken by systemd"


def unit(file: Path, home: Path) -> Unit:
    """A unit as systemd would start it: its command, its environment, and that of its files, which comes first."""
    said: dict[str, str] = {}
    filed: dict[str, str] = {}
    command = ""
    dropped = sorted(file.with_name(f"{file.name}.d").glob("*.conf"))
    for line in "\n".join(one.read_text() for one in (file, *dropped)).splitlines():
        key, _, value = line.partition("=")
        if key == "Environment":
            said |= dict(one.split("=", 1) for one in shlex.split(value))
        elif key == "EnvironmentFile":
            lines = Path(value).read_text().splitlines()
            filed |= dict(one.split("=", 1) for one in lines if re.match(r"\w+=", one))
        elif key == "ExecStart":
            command = value
    env = {**said, **filed}
    words = shlex.split(Template(command).safe_substitute(env))
    return Unit(words, {**env, "PATH": os.environ["PATH"], "HOME": str(home)})


Started = Callable[[Sequence[str], Mapping[str, str]], subprocess.Popen[Any]]
"""Starts a command with an environment, wherever that is."""


class Kept(contextlib.AbstractContextManager["Kept"]):
    """A unit that is kept running, as systemd would."""

    def __init__(self, kept: Unit, started: Started) -> None:
        self._unit, self._started = kept, started

    def __enter__(self) -> Kept:
        self.start()
        return self

    def __exit__(self, *error: object) -> None:
        self.stop()

    def start(self) -> None:
        self._process = self._started(self._unit.command, self._unit.env)

    def stop(self) -> None:
        ended(self._process)

    def again(self) -> None:
        """Ended, and started as ``Restart=always`` does, a second later."""
        self._process.terminate()
        self._process.wait(PATIENCE_S)
        time.sleep(1)
        self.start()

    def processes(self) -> list[int]:
        """Those that serve."""
        pid = self._process.pid
        return [int(one) for one in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]


def until(what: Callable[[], object], words: str, seconds: float = PATIENCE_S) -> None:
    """Wait until something is so."""
    last = time.monotonic() + seconds
    while not what():
        if time.monotonic() > last:
            raise Problem(f"Waited in vain until {words}.")
        time.sleep(0.2)


def ended(process: subprocess.Popen[Any]) -> None:
    """End a process, politely first."""
    if process.poll() is None:
        process.terminate()
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(20)
    if process.poll() is None:
        process.kill()
        process.wait()
