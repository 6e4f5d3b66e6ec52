"""The launcher for real: start, use, start again, Ctrl-C, kill -9, reset. In a state folder of its own."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

ROOT = Path(__file__).resolve().parents[2]
INSTALLED = Path(settings.STATIC_ROOT).parent


class StartAndStop(SimpleTestCase):
    takes_s = 120

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

    def start(self) -> tuple[subprocess.Popen[str], str, str]:
        """A running start, the address it printed, and all it said until then."""
        log = self.state / "said.txt"
        with log.open("w") as out:
            process = subprocess.Popen(
                [sys.executable, str(ROOT / "launcher"), "start"],
                env=self.env,
                stdout=out,
                stderr=subprocess.STDOUT,
                text=True,
            )
        for _ in range(3000):
            said = log.read_text()
            if "Ctrl-C stops it" in said:
                address = re.search(r"http://127\.0\.0\.1:\d+", said)
                assert address is not None
                return process, address[0], said
            if process.poll() is not None:
                break
            time.sleep(0.1)
        raise AssertionError(f"start did not come up:\n{log.read_text()}")

    def answers(self, address: str) -> bool:
        try:
            with urllib.request.urlopen(f"{address}/api/session", timeout=60) as answer:
                return bool(json.load(answer)["teacher"] is None)
        except (urllib.error.URLError, ConnectionError):
            return False

    def asks_the_database(self, address: str) -> bool:
        """Whether a board that does not exist is said not to: the server has to look."""
        try:
            urllib.request.urlopen(f"{address}/api/boards/there-is-no-such-board", timeout=60).close()
        except urllib.error.HTTPError as error:
            return error.code == 404
        return False

    def kill_the_database(self) -> None:
        """As in a crash: no goodbye to anybody."""
        asked = [sys.executable, "-c", "from paths import data_home; print(data_home())"]
        ran = subprocess.run(asked, cwd=ROOT / "launcher", env=self.env, capture_output=True, text=True, check=True)
        data = Path(ran.stdout.strip()) / "app" / "data"
        os.kill(int((data / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)

    def until(self, what: Callable[[], bool], words: str) -> None:
        for _ in range(600):
            if what():
                return
            time.sleep(0.1)
        raise AssertionError(f"waited in vain until {words}")

    def test_start_again_and_again(self) -> None:
        process, address, said = self.start()
        self.assertIn("building the demo school", said)
        self.assertRegex(said, r"demo sign-in +\S+@\S+")
        self.assertTrue(self.answers(address))

        beside = self.girder("start")
        self.assertEqual((beside.returncode, beside.stdout.strip()), (0, f"girder: is running at {address}"))
        self.assertIn("Stop it first", self.girder("reset", "--yes").stderr)

        process.send_signal(signal.SIGINT)
        self.assertEqual(process.wait(90), 0)
        self.assertFalse(self.answers(address))

        process, address, said = self.start()
        self.assertNotIn("building the demo school", said)
        self.assertTrue(self.answers(address))

        # Both server processes get connections that they keep.
        for _ in range(20):
            self.assertTrue(self.asks_the_database(address))
        log = self.state / "said.txt"
        self.kill_the_database()
        self.until(lambda: "the database does not answer" in log.read_text(), "it was noticed")
        self.until(lambda: "was started again" in log.read_text(), "it was brought back")
        # All connections from before are dead now; nobody is to notice.
        for _ in range(20):
            self.assertTrue(self.asks_the_database(address))

        process.kill()
        process.wait()
        self.assertTrue(self.answers(address), "the server outlives a killed launcher until it is stopped")
        self.assertIn("cleaned up after a killed start", self.girder("stop").stdout)
        self.assertFalse(self.answers(address))
        self.assertIn("nothing was running", self.girder("stop").stdout)

        self.assertIn("deleted", self.girder("reset", "--yes").stdout)
        process, address, said = self.start()
        self.assertIn("building the demo school", said)
        self.assertEqual(self.girder("stop").stdout.strip(), "girder: stopped")
        process.wait(90)
        self.assertFalse(self.answers(address))
