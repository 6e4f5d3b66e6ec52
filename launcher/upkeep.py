"""Backups, and whether all is as it should be, on the database of ``./girder start``."""

from __future__ import annotations

import contextlib
import subprocess
from collections.abc import Iterator, Sequence

import machine
import project
from paths import BACKEND, PYTHON
from postgres import Cluster, cluster_exists
from say import Problem, say
from serve import kept_environment, managed, running


@contextlib.contextmanager
def _database() -> Iterator[dict[str, str]]:
    """The environment of a command on the database, which is started for it where it does not run."""
    project.python_environment("app")
    cluster, there = Cluster("app"), running() is not None
    if not there:
        say("starting the database")
        cluster.start()
    try:
        yield kept_environment(cluster)
    finally:
        if not there:
            cluster.stop()


def _managed(command: str, arguments: Sequence[str]) -> int:
    with _database() as env:
        return subprocess.run([str(PYTHON), "manage.py", command, *arguments], cwd=BACKEND, env=env).returncode


def backup(arguments: Sequence[str]) -> int:
    """Make a backup; while it is served too."""
    _need_a_database()
    return _managed("backup", arguments)


def verify_backup(arguments: Sequence[str]) -> int:
    """Restore a backup beside everything else, and throw it away again."""
    return _managed("verify_backup", arguments)


def restore(arguments: Sequence[str]) -> int:
    """Restore a backup; what is served now has to be stopped first."""
    if running():
        raise Problem("Even Girder is running. Stop it first (./girder stop).")
    machine.check_python()
    return _managed("restore", arguments)


def upgrade(arguments: Sequence[str]) -> int:
    """Bring the tables to this version, with a backup before."""
    _need_a_database()
    return _managed("upgrade", arguments)


def profile(arguments: Sequence[str]) -> int:
    """Look where the processes that serve spend their time."""
    return managed("profile", *arguments)


def doctor(arguments: Sequence[str]) -> int:
    """Look at all that it stands on."""
    _need_a_database()
    return _managed("doctor", arguments)


def _need_a_database() -> None:
    if not cluster_exists("app"):
        raise Problem("There is no database yet. Say ./girder start first.")
