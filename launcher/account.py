"""The user that serves: not root, whoever starts it."""

from __future__ import annotations

import os
import pwd
import shutil
import subprocess
from pathlib import Path
from typing import Any

from paths import BACKEND, PYTHON, STATE
from say import say, warn

NAME = "evengirder"


def serving(env: dict[str, str], home: Path, *folders: Path) -> dict[str, Any]:
    """As whom the server is started, for ``subprocess``: as oneself, or, where root starts it, as a user of its own,
    made when there is none, to whom the folders are given.

    Stays root, and says why, where that user cannot read Python or the application.
    """
    for folder in (home, *folders):
        folder.mkdir(parents=True, exist_ok=True)
        folder.chmod(0o700)
    if os.geteuid() != 0:
        return {}
    user = _user()
    if user is None:
        warn("runs as root: there is no useradd here to make a user for it")
        return {}
    for folder in (home, *folders):
        _give(folder, user)
    who: dict[str, Any] = {"user": user.pw_uid, "group": user.pw_gid, "extra_groups": []}
    if not _can_serve(env, who):
        warn(
            f"runs as root: the user {NAME} cannot read all of {PYTHON.resolve()}, {BACKEND} and {STATE}. "
            "Install Python and Even Girder in folders that are open to all."
        )
        _give_all_back(home, *folders)
        return {}
    return who


def _user() -> pwd.struct_passwd | None:
    try:
        return pwd.getpwnam(NAME)
    except KeyError:
        pass
    if shutil.which("useradd") is None:
        return None
    say(f"making the user {NAME}, who serves")
    command = ["useradd", "--system", "--no-create-home", "--home-dir", "/nonexistent", "--shell", "/usr/sbin/nologin"]
    done = subprocess.run([*command, NAME], capture_output=True)
    return pwd.getpwnam(NAME) if done.returncode == 0 else None


def _give(folder: Path, user: pwd.struct_passwd) -> None:
    """A folder and all in it is this user's, and nobody else's to read."""
    for path in (folder, *folder.rglob("*")):
        os.chown(path, user.pw_uid, user.pw_gid)
        path.chmod(0o700 if path.is_dir() else 0o600)


def _give_all_back(*folders: Path) -> None:
    for folder in folders:
        _give(folder, pwd.getpwuid(0))


def _can_serve(env: dict[str, str], who: dict[str, Any]) -> bool:
    """Whether the application comes up as this user, with the environment in which it is to serve."""
    try:
        test = [str(PYTHON), "-B", "-c", "import evengirder.asgi"]
        return subprocess.run(test, cwd=BACKEND, env=env, capture_output=True, **who).returncode == 0
    except OSError:
        return False
