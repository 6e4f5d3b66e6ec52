"""A real server process on the test database, for a browser to use and for a test to kill."""

from __future__ import annotations

import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any, ClassVar

from django.conf import global_settings, settings
from django.db import connection
from django.test import TransactionTestCase, override_settings

from e2e.browser import Browser

BACKEND = Path(__file__).resolve().parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Server:
    """One server process; killed, it can be started again on the same port."""

    def __init__(self, database: str, pool: bool = False) -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self._env = {**os.environ, "GIRDER_DB_NAME": database, "GIRDER_SIGN_IN_RATE": "10000/min"}
        # A pool would hold connections to a database that the test is about to drop.
        self._env["GIRDER_DB_POOL"] = "1" if pool else ""
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [
            sys.executable, "-m", "uvicorn", "evengirder.asgi:application", "--host", "127.0.0.1", "--port",
            str(self.port), "--log-level", "warning", "--timeout-graceful-shutdown", "1",
        ]  # fmt: skip
        self.process = subprocess.Popen(command, cwd=BACKEND, env=self._env)
        for _ in range(300):
            try:
                urllib.request.urlopen(f"{self.address}/api/session", timeout=5).close()
                return
            except (urllib.error.URLError, ConnectionError, TimeoutError):
                if self.process.poll() is not None:
                    raise AssertionError("the server did not start") from None
                time.sleep(0.1)
        raise AssertionError("the server does not answer")

    def kill(self) -> None:
        """kill -9: no chance to tidy up."""
        assert self.process is not None
        self.process.send_signal(signal.SIGKILL)
        self.process.wait()

    def start_if_killed(self) -> None:
        """For the tests that come after one that killed it."""
        if self.process is None or self.process.poll() is not None:
            self.start()

    def stop(self) -> None:
        if self.process is not None and self.process.poll() is None:
            self.process.terminate()
            self.process.wait(10)


# The server process knows nothing of the test runner's quick password hash.
@override_settings(PASSWORD_HASHERS=global_settings.PASSWORD_HASHERS)
class InterfaceTest(TransactionTestCase):
    """Tests that use the application as a person does. Each begins with an empty database."""

    server: ClassVar[Server]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        if not (Path(settings.STATIC_ROOT) / "assets").is_dir():
            raise AssertionError("The interface is not built. Run these tests with ./girder test.")
        if shutil.which("chromedriver") is None:
            raise AssertionError("ChromeDriver is missing. Run these tests with ./girder test, which installs it.")
        cls.server = Server(str(connection.settings_dict["NAME"]))
        cls.server.start()

    @classmethod
    def tearDownClass(cls) -> None:
        cls.server.stop()
        super().tearDownClass()

    def browser(self, **options: Any) -> Browser:
        browser = Browser(self.server.address, **options)
        self.addCleanup(browser.close)
        return browser
