"""The launcher for real, in a state folder of its own."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

ROOT = Path(__file__).resolve().parents[2]
INSTALLED = Path(settings.STATIC_ROOT).parent


class Launched(SimpleTestCase):
    """A test that starts Even Girder as whoever installs it does."""

    def setUp(self) -> None:
        self.state = Path(tempfile.mkdtemp(prefix="girder-state-"))
        self.addCleanup(shutil.rmtree, self.state, ignore_errors=True)
        # What is installed and built is lent; database, secrets and stamps of the database are its own.
        for name in ("venv", "static"):
            (self.state / name).symlink_to(INSTALLED / name)
        (self.state / "stamps").mkdir()
        for stamp in (INSTALLED / "stamps").iterdir():
            if stamp.name not in ("demo", "migrations-app"):
                shutil.copy(stamp, self.state / "stamps")
        keep = {k: v for k, v in os.environ.items() if not k.startswith(("GIRDER_", "DJANGO_", "PYTHONPATH"))}
        self.env = {**keep, "GIRDER_STATE": str(self.state)}
        self.addCleanup(self.girder, "reset", "--yes")
        self.addCleanup(self.girder, "stop")

    def girder(self, *arguments: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, str(ROOT / "launcher"), *arguments]
        return subprocess.run(command, env=self.env, capture_output=True, text=True, timeout=300)

    def start(self, *options: str) -> tuple[subprocess.Popen[str], str, str]:
        """A running start, the address it printed, and all it said until then."""
        log = self.state / "said.txt"
        with log.open("w") as out:
            process = subprocess.Popen(
                [sys.executable, str(ROOT / "launcher"), "start", *options],
                env=self.env,
                stdout=out,
                stderr=subprocess.STDOUT,
                text=True,
            )
        for _ in range(3000):
            said = log.read_text()
            if "Ctrl-C stops it" in said:
                address = re.search(r"https?://127\.0\.0\.1:\d+", said)
                assert address is not None
                return process, address[0], said
            if process.poll() is not None:
                break
            time.sleep(0.1)
        raise AssertionError(f"start did not come up:\n{log.read_text()}")
