"""What comes from outside: under which licences, whether a weakness of it is known, and NOTICE, which names it all."""

from __future__ import annotations

import json
import re
import subprocess
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from paths import BACKEND, FRONTEND, PYTHON, ROOT
from say import say, warn

NOTICE = ROOT / "NOTICE"
ALLOWED = re.compile(
    r"(The )?(MIT\b|BSD\b|0BSD|2-Clause|3-Clause|Apache\b|ISC\b|PSF|Python|MPL|Mozilla|LGPL|GNU Lesser|Zlib|CC0|CC-BY-4"
    r"|OFL|BlueOak|Unlicense|HPND)"
)
"""Licences that a school may use, and we may ship beside the application, without asking anybody."""
READ = {"pyrage": "MIT License"}
"""Licences of packages whose description names none, as read in the text that comes with them."""
HEAD = """\
Even Girder is made with the work of others. What it ships with, or installs to run, is listed here with its licence;
the texts of the licences come with the packages. ./girder notice writes this file, ./girder check holds it.

The licence of Even Girder itself is not decided yet.
"""


@dataclass(frozen=True)
class Package:
    """Something from outside: its name, its version, and its licence in the words of whoever made it."""

    name: str
    version: str
    licence: str

    @property
    def allowed(self) -> bool:
        """Whether one of the licences it is offered under is fine, in all its parts."""
        offers = re.split(r"\s+OR\s+|;", self.licence.strip("()"))
        return any(all(ALLOWED.match(part.strip(" ()")) for part in re.split(r"\s+AND\s+", offer)) for offer in offers)


def python_packages() -> list[Package]:
    """What is installed to serve and to test."""
    command: list[str | Path] = [PYTHON.parent / "pip-licenses", "--python", PYTHON, "--format", "json"]
    rows = json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout)
    told = {row["Name"]: row["License"] for row in rows}
    told |= {name: licence for name, licence in READ.items() if told.get(name) == "UNKNOWN"}
    return [Package(row["Name"], row["Version"], told[row["Name"]]) for row in rows]


def node_packages(shipped_only: bool = False) -> list[Package]:
    """What the interface is made with; of that, what a browser gets."""
    lock = json.loads((FRONTEND / "package-lock.json").read_text("utf-8"))
    return [
        Package(path.rsplit("node_modules/", 1)[1], row["version"], _licence(path, row))
        for path, row in lock["packages"].items()
        if path and not (shipped_only and (row.get("dev") or row.get("optional")))
    ]


def _licence(path: str, row: dict[str, Any]) -> str:
    """A package's licence: the lock has it, or else its own description."""
    if "license" in row:
        return str(row["license"])
    own = FRONTEND / path / "package.json"
    told = json.loads(own.read_text("utf-8")) if own.exists() else {}
    return str(told.get("license") or "none named")


def licences() -> bool:
    """Whether everything from outside has a licence that is fine; those that have none are named."""
    wrong = [one for one in [*python_packages(), *node_packages()] if not one.allowed]
    for one in wrong:
        warn(f"{one.name} {one.version} has the licence “{one.licence}”. May we use it? Say so in launcher/vetting.py.")
    return not wrong


def notice() -> str:
    """The text of NOTICE."""
    serving = set(re.findall(r"^([\w.-]+)(?:\[[\w,-]+\])?==", (BACKEND / "requirements" / "app.txt").read_text(), re.M))
    wanted = {_plain(name) for name in serving}
    python = [one for one in python_packages() if _plain(one.name) in wanted]
    node = node_packages(shipped_only=True)
    fonts = [one for one in node if one.name.startswith("@fontsource/")]
    parts = (
        ("Fonts, shipped with the interface and the printed sheets", fonts),
        ("In the interface", [one for one in node if one not in fonts]),
        ("On the server", python),
    )
    text = HEAD
    for title, some in parts:
        lines = {f"    {one.name} {one.version}: {one.licence}\n" for one in some}
        text += f"\n{title}\n\n" + "".join(sorted(lines, key=str.lower))
    return text


def _plain(name: str) -> str:
    return re.sub(r"[-_.]+", "-", name).lower()


def write_notice() -> None:
    """Write NOTICE again."""
    NOTICE.write_text(notice(), "utf-8")
    say("NOTICE is written")


def known_weaknesses(env: dict[str, str]) -> bool:
    """Whether none is known in what is shipped; a registry that cannot say is named, and passed over."""
    none = True
    for what, found in (("Python", _python_weaknesses()), ("the interface", _node_weaknesses(env))):
        if found is None:
            say(f"known weaknesses of packages for {what}: skipped, the registry does not say")
            continue
        for one in found:
            none = False
            warn(f"a weakness is known: {one}")
    return none


def _python_weaknesses() -> list[str] | None:
    command = [str(PYTHON.parent / "pip-audit"), "-r", str(BACKEND / "requirements" / "app.txt"), "--disable-pip"]
    done = _asked([*command, "--require-hashes", "--progress-spinner", "off", "-f", "json"])
    if done is None:
        return None
    rows = done.get("dependencies", [])
    if not any("vulns" in row for row in rows):
        return None
    return [f"{row['name']} {row['version']}: {weak['id']}" for row in rows for weak in row.get("vulns", [])]


def _node_weaknesses(env: dict[str, str]) -> list[str] | None:
    done = _asked(["npm", "audit", "--omit=dev", "--json"], FRONTEND, env)
    if done is None or "vulnerabilities" not in done:
        return None
    return [f"{name}: {row.get('severity')}" for name, row in done["vulnerabilities"].items()]


def _asked(command: list[str], cwd: Path = BACKEND, env: dict[str, str] | None = None) -> dict[str, Any] | None:
    """What a tool answers as JSON, whatever it thinks of it; nothing when it does not answer."""
    try:
        done = subprocess.run(command, cwd=cwd, env=env, capture_output=True, text=True, timeout=120)
        answer = json.loads(done.stdout)
    except (subprocess.TimeoutExpired, OSError, ValueError):
        return None
    return answer if isinstance(answer, dict) else None
