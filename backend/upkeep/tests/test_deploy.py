"""The files of ``deploy`` say what the program says: variables, the server's command, how much may come."""

from __future__ import annotations

import json
import re
import shlex
import subprocess
import sys
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

from evengirder.doors import LARGER, MIB
from evengirder.environment import VARIABLES, told, unknown

ROOT = Path(settings.BACKEND).parent
SCHOOL = ROOT / "deploy" / "one-school"


def lines(key: str, *files: Path) -> list[str]:
    """What files say for a key, in order."""
    return [
        value for file in files for name, _, value in (line.partition("=") for line in file.read_text().splitlines())
        if name == key
    ]  # fmt: skip


class OneSchool(SimpleTestCase):
    def test_every_variable_is_one_that_the_server_reads_and_says_what_it_can(self) -> None:
        text = (SCHOOL / "environment").read_text()
        given = dict(line.split("=", 1) for line in text.splitlines() if line and not line.startswith("#"))
        for said in lines("Environment", *SCHOOL.glob("*.service")):
            given |= dict(one.split("=", 1) for one in shlex.split(said))
        self.assertEqual(unknown(given), [])
        for variable in VARIABLES:
            if variable.name in given:
                told(variable.name, given)
        self.assertLessEqual({"GIRDER_HOSTS", "GIRDER_TLS", "GIRDER_SECRET_KEY_FILE", "GIRDER_BACKUPS"}, set(given))

    def test_the_server_is_started_as_the_start_command_starts_it(self) -> None:
        asked = [sys.executable, "-c", "import json, serve; print(json.dumps(serve.server_command(8360, 2)))"]
        ran = subprocess.run(asked, cwd=ROOT / "launcher", capture_output=True, text=True, check=True)
        command = shlex.split(lines("ExecStart", SCHOOL / "even-girder.service")[0])
        self.assertEqual(command[1:], json.loads(ran.stdout)[1:])

    def test_whatever_the_server_takes_comes_through_the_proxy(self) -> None:
        taken = re.search(r"client_max_body_size (\d+)m;", (SCHOOL / "nginx.conf").read_text())
        assert taken is not None
        self.assertGreaterEqual(int(taken[1]) * MIB, max(most for _, most, _ in LARGER))
