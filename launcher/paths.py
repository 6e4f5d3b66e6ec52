"""Where things are."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BACKEND = ROOT / "backend"
FRONTEND = ROOT / "frontend"
STATE = Path(os.environ.get("GIRDER_STATE", ROOT / ".girder")).resolve()
VENV = STATE / "venv"
PYTHON = VENV / "bin" / "python"


def data_home() -> Path:
    """Where database clusters lie. Root's must be where the unprivileged database user can reach them."""
    if os.geteuid() == 0:
        name = hashlib.sha256(str(STATE).encode()).hexdigest()[:12]
        return Path("/var/lib/even-girder") / name
    return STATE / "database"


def fingerprint(*paths: Path) -> str:
    """A hash over the contents of files and folders, to see whether a step must be done again."""
    digest = hashlib.sha256()
    for path in paths:
        for file in sorted(path.rglob("*")) if path.is_dir() else [path]:
            if file.is_file() and "__pycache__" not in file.parts:
                digest.update(str(file.relative_to(ROOT)).encode())
                digest.update(file.read_bytes())
    return digest.hexdigest()


class Stamp:
    """Remembers for what contents a step was done."""

    def __init__(self, name: str, *paths: Path) -> None:
        self.file = STATE / "stamps" / name
        self.wanted = fingerprint(*paths)

    @property
    def fresh(self) -> bool:
        return self.file.exists() and self.file.read_text() == self.wanted

    def set(self) -> None:
        self.file.parent.mkdir(parents=True, exist_ok=True)
        self.file.write_text(self.wanted)
