"""The launcher for real: start, use, start again, Ctrl-C, kill -9, reset."""

from __future__ import annotations

import json
import os
import re
import signal
import socket
import subprocess
import sys
import tarfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path

from doorstep.addresses import reached_at
from e2e.launched import ROOT, Launched


class StartAndStop(Launched):
    takes_s = 120

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

    def processes(self) -> set[int]:
        """Those that serve: the children of the one that keeps them."""
        keeper = json.loads((self.state / "running.json").read_text())["server"]
        return {int(pid) for pid in Path(f"/proc/{keeper}/task/{keeper}/children").read_text().split()}

    def kill_a_process(self, address: str) -> None:
        """One that serves is killed: another is there, and both answer."""
        before = self.processes()
        self.assertEqual(len(before), 2)
        killed = before.pop()
        os.kill(killed, signal.SIGKILL)
        self.until(lambda: len(self.processes() - {killed}) == 2, "another was there")
        self.assertLess(before, self.processes())
        for _ in range(20):
            self.assertTrue(self.asks_the_database(address))

    def backup(self) -> tuple[str, dict[str, int]]:
        """A backup, and how many rows each table has in it."""
        made = self.girder("backup", "--to", str(self.state / "backups"))
        self.assertEqual(made.returncode, 0, made.stderr)
        path = re.findall(r"^(/.*\.tar)  ", made.stdout, re.M)[0]
        with tarfile.open(path) as archive:
            said = archive.extractfile("manifest.json")
            assert said is not None
            tables: dict[str, int] = json.loads(said.read())["tables"]
        self.assertGreater(tables["designs_design"], 10)
        return path, tables

    def until(self, what: Callable[[], bool], words: str) -> None:
        for _ in range(1800):
            if what():
                return
            time.sleep(0.1)
        raise AssertionError(f"waited in vain until {words}")

    def test_start_again_and_again(self) -> None:
        process, address, said = self.start()
        self.assertIn("building the demo school", said)
        self.assertRegex(said, r"demo sign-in +\S+@\S+")
        self.assertTrue(self.answers(address))

        for outside in reached_at():
            with self.assertRaises(ConnectionRefusedError):
                socket.create_connection((outside, int(address.rpartition(":")[2])), timeout=10)
        self.assertIn("for this machine alone", self.girder("start", "--share").stderr)
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
        self.kill_a_process(address)
        path, tables = self.backup()
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
        self.assertIn("There is no database yet", self.girder("backup").stderr)
        self.assertIn("restored", self.girder("restore", path).stdout)
        self.assertIn("is in use", self.girder("restore", path).stderr)
        self.assertEqual(self.backup()[1], tables)
        self.assertIn("good: of", self.girder("verify-backup", path).stdout)
        process, address, said = self.start()
        self.assertIn("building the demo school", said)
        self.assertEqual(self.girder("stop").stdout.strip(), "girder: stopped")
        process.wait(90)
        self.assertFalse(self.answers(address))
