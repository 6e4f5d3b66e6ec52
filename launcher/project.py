"""The project's own parts, made ready: Python environment, built interface, migrated database."""

from __future__ import annotations

import os
import secrets
import shutil
import sys
from pathlib import Path

import machine
from paths import BACKEND, FRONTEND, PYTHON, STATE, VENV, Stamp
from say import Problem, say


def python_environment(requirements: str = "app", folder: Path = VENV) -> Path:
    """An environment with one of the locked requirement sets; returns its Python."""
    lock = BACKEND / "requirements" / f"{requirements}.txt"
    stamp = Stamp(f"{folder.name}-{requirements}", lock)
    python = folder / "bin" / "python"
    if not (stamp.fresh and python.exists()):
        if not python.exists():
            machine.check_disk()
            machine.need_venv_module()
            machine.run([sys.executable, "-m", "venv", folder], "Making the Python environment")
        say(f"installing Python packages ({requirements})")
        pip: list[str | Path] = [python, "-m", "pip", "install", "-q", "--disable-pip-version-check", "-r", lock]
        machine.run(pip, "Installing Python packages")
        stamp.set()
    return python


def node_modules() -> dict[str, str]:
    """The front end's packages; returns the environment in which npm and node run."""
    env = {**os.environ, "PATH": machine.node_path()}
    stamp = Stamp("node-modules", FRONTEND / "package-lock.json")
    if not (stamp.fresh and (FRONTEND / "node_modules").is_dir()):
        say("installing the interface's packages")
        flags = ["--ignore-scripts", "--no-audit", "--no-fund"]
        machine.run(["npm", "ci", *flags], "Installing the interface's packages", cwd=FRONTEND, env=env)
        stamp.set()
    return env


def built_interface() -> None:
    """The interface, built when its sources changed, and gathered for the server."""
    sources = [FRONTEND / name for name in ("src", "public", "index.html", "package-lock.json", "vite.config.ts")]
    # The settings say how its files are kept.
    sources.append(BACKEND / "evengirder" / "settings.py")
    stamp = Stamp("interface", *(source for source in sources if source.exists()))
    if stamp.fresh and (static_root() / "assets").is_dir():
        return
    env = node_modules()
    say("building the interface")
    machine.run(["npm", "run", "build", "--silent"], "Building the interface", cwd=FRONTEND, env=env)
    django = {**os.environ, **base_environment()}
    # Its folders too, which would keep the modes that they had.
    shutil.rmtree(static_root(), ignore_errors=True)
    machine.run(
        [PYTHON, "manage.py", "collectstatic", "--noinput", "-v0"],
        "Gathering files",
        cwd=BACKEND,
        env=django,
    )
    stamp.set()


def static_root() -> Path:
    """Where the server finds the built interface."""
    return STATE / "static"


ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1"}
"""Several processes share the cores; each that put threads on all of them would wait for the others."""


def base_environment() -> dict[str, str]:
    """What every Django process needs, but for the database."""
    secret = STATE / "secret-key"
    if not secret.exists():
        STATE.mkdir(parents=True, exist_ok=True)
        secret.write_text(secrets.token_urlsafe(50))
        secret.chmod(0o600)
    return {
        "DJANGO_SETTINGS_MODULE": "evengirder.settings",
        "GIRDER_SECRET_KEY": secret.read_text(),
        "GIRDER_STATIC_ROOT": str(static_root()),
        "PYTHONPATH": str(BACKEND),
        **ONE_THREAD,
    }


def migrated(env: dict[str, str], name: str) -> None:
    """Bring the database to the present shape."""
    apps = sorted(path for path in BACKEND.glob("*/migrations"))
    stamp = Stamp(f"migrations-{name}", *apps, BACKEND / "requirements" / "app.txt")
    if not stamp.fresh:
        say("bringing the database up to date")
        try:
            machine.run(
                # Nobody else is there: whoever starts it has stopped it before.
                [PYTHON, "manage.py", "upgrade", "--alone"],
                "Bringing the database up to date",
                cwd=BACKEND,
                env=env,
            )
        except Problem as problem:
            if "InconsistentMigrationHistory" not in str(problem):
                raise
            raise Problem(
                "This database was made by a version before the apps were parted, and cannot be brought up to date. "
                "Save what you need with that version (Compare, Record, the whole run as a file), then "
                "./girder reset, and bring the files in."
            ) from None
        stamp.set()
