"""What is looked at from outside is what runs, and what cannot be looked at is said."""

from __future__ import annotations

import subprocess
import sys
import tempfile
from io import StringIO
from pathlib import Path

from django.core.management import CommandError, call_command
from django.db import connection
from django.test import SimpleTestCase, TransactionTestCase

from e2e.served import Server
from upkeep.profiling import longest, serving

BUSY = "def spun():\n    x = 0\n    while True:\n        x += 1\n\nprint('goes', flush=True)\nspun()\n"


class Profile(SimpleTestCase):
    def test_a_function_that_takes_all_the_time_is_said_first(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            script = Path(folder) / "busy.py"
            script.write_text(BUSY)
            busy = subprocess.Popen([sys.executable, str(script)], stdout=subprocess.PIPE)
            try:
                assert busy.stdout is not None
                busy.stdout.readline()
                said = StringIO()
                call_command("profile", "--seconds=1", f"--to={folder}/out", f"--pid={busy.pid}", stdout=said)
            finally:
                busy.kill()
                busy.communicate()
            files = list((Path(folder) / "out").iterdir())
            self.assertEqual(len(files), 1)
            [(name, share), *_] = longest(files)
            self.assertIn("spun (busy.py:", name)
            self.assertGreater(share, 0.2)
            self.assertIn("spun (busy.py:", said.getvalue().splitlines()[0])

    def test_what_cannot_be_looked_at_is_said(self) -> None:
        with tempfile.TemporaryDirectory() as folder, subprocess.Popen(["/bin/sleep", "60"]) as other:
            with self.assertRaisesRegex(CommandError, f"Process {other.pid} cannot be looked at: ."):
                call_command("profile", "--seconds=1", f"--to={folder}", f"--pid={other.pid}")
            other.kill()


class Serving(TransactionTestCase):
    def test_the_processes_that_serve_are_found(self) -> None:
        server = Server(str(connection.settings_dict["NAME"]))
        server.start()
        self.addCleanup(server.stop)
        assert server.process is not None
        # Others may serve beside it: tests run side by side.
        self.assertIn(server.process.pid, serving())
        server.stop()
        self.assertNotIn(server.process.pid, serving())
