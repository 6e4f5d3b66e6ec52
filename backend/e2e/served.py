"""A real server process on the test database, for a browser to use and for a test to kill."""

from __future__ import annotations

import ctypes
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import unittest
import urllib.error
import urllib.request
from multiprocessing.util import Finalize
from pathlib import Path
from typing import Any, ClassVar

from django.conf import settings
from django.core.management import CommandError
from django.db import connection
from django.test import Client, TransactionTestCase
from selenium.common.exceptions import WebDriverException

from e2e.browser import Browser
from evengirder.test_runner import before_databases_go
from people.models import Teacher

BACKEND = Path(__file__).resolve().parent.parent


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Server:
    """One server process; killed, it can be started again on the same port."""

    def __init__(self, database: str, pool: bool = False, **env: str) -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self._env = {**os.environ, "GIRDER_DB_NAME": database, **env}
        self._env["GIRDER_DB_POOL"] = "1" if pool else ""
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [
            sys.executable, "-m", "uvicorn", "evengirder.asgi:application", "--host", "127.0.0.1", "--port",
            str(self.port), "--log-level", "warning", "--timeout-graceful-shutdown", "1",
        ]  # fmt: skip
        # It must not outlive the process that tests: its database is about to be dropped then.
        self.process = subprocess.Popen(command, cwd=BACKEND, env=self._env, preexec_fn=_die_with_parent)
        # To load all of it takes seconds, and many times that while others do the same.
        for _ in range(1500):
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
            self.process.wait(60)


PR_SET_PDEATHSIG = 1
EMPTYING_TRIES = 5


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)


_servers: list[Server] = []


def shared_servers(count: int = 1) -> list[Server]:
    """Server processes on this test process's database, kept from one test to the next, started when they are not."""
    name = str(connection.settings_dict["NAME"])
    while len(_servers) < count:
        # A connection a request would be a sign-in to the database a request.
        _servers.append(Server(name, pool=True))
        before_databases_go.append(_servers[-1].stop)
    for server in _servers[:count]:
        server.start_if_killed()
    return _servers[:count]


_browser: list[Browser] = []


def shared_browser(address: str) -> Browser:
    """The browser of this test process, as if it were new: nothing stored, nobody signed in, no page open."""
    if _browser:
        try:
            _browser[0].begin_anew()
            return _browser[0]
        except WebDriverException:
            # It was killed, or died by itself.
            _browser.pop().close()
    _browser.append(Browser(address))
    # This process may be one of several that test side by side, or the one that started them.
    Finalize(None, _browser[0].close, exitpriority=1)
    before_databases_go.append(_browser[0].close)
    return _browser[0]


def session_of(email: str) -> str:
    """A session of this teacher, as signing in makes one; how signing in itself works has its own tests."""
    client = Client()
    client.force_login(Teacher.objects.get(email=email))
    return client.cookies["sessionid"].value


class ServedTest(TransactionTestCase):
    """Tests on a database that a server process uses too. Each begins with it empty."""

    def _fixture_teardown(self) -> None:
        # A request may be under way still, such as a page that fetches what it was told has changed. Where it and the
        # emptying of the tables wait for each other, the database gives one of the two up, and it is tried again.
        for still in reversed(range(EMPTYING_TRIES)):
            try:
                super()._fixture_teardown()  # type: ignore[misc]
                return
            except CommandError:
                if not still:
                    raise
                time.sleep(0.5)


TABLET_IN_PORTRAIT, PHONE = (820, 1180), (390, 844)
AXE = Path(__file__).resolve().parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


class InterfaceTest(ServedTest):
    """Tests that use the application as a person does. Each begins with an empty database.

    Server and browser are kept from test to test; what is stored in the browser is not. A test that wants more than one
    browser, or one to kill, gets others of its own.
    """

    server: ClassVar[Server]
    takes_s = 60
    """About how long the tests of a class take [s]; the longest begin first."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        if not (Path(settings.STATIC_ROOT) / "assets").is_dir():
            raise AssertionError("The interface is not built. Run these tests with ./girder test.")
        if shutil.which("chromedriver") is None:
            raise AssertionError("ChromeDriver is missing. Run these tests with ./girder test, which installs it.")

    def run(self, result: unittest.TestResult | None = None) -> unittest.TestResult | None:
        # A test before this one may have killed it.
        type(self).server = shared_servers()[0]
        self._browsers = 0
        return super().run(result)

    def __getstate__(self) -> dict[str, Any]:
        """What goes from process to process: what every test has from the start, and no browser or server."""
        own = {name: value for name, value in vars(self).items() if name.startswith("_")}
        return {**own, "_outcome": None, "_cleanups": []}

    def browser(self, **options: Any) -> Browser:
        self._browsers += 1
        if self._browsers == 1 and not options:
            browser = shared_browser(self.server.address)
        else:
            browser = Browser(self.server.address, **options)
            self.addCleanup(browser.close)
        browser.session_of = session_of
        return browser

    def with_axe(self, browser: Browser) -> None:
        """Hand the checker of accessibility to every page of a browser as it begins."""
        self.assertTrue(AXE.exists(), "axe-core is not installed")
        browser.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": AXE.read_text("utf-8")})

    def accessible(self, browser: Browser, where: str) -> None:
        """That the checker finds nothing on the page as it stands once what fades or slides in has come to rest."""
        problems = browser.driver.execute_async_script(
            "const done = arguments[0];"
            "const once = a => Number.isFinite(a.effect?.getComputedTiming().endTime ?? 0);"
            "const ends = a => a.playState === 'running' && once(a);"
            "const rest = () => Promise.allSettled(document.getAnimations().filter(ends).map(a => a.finished));"
            "const rules = ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa', 'best-practice'];"
            "const told = n => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '');"
            "rest().then(() => axe.run(document, {runOnly: rules}))"
            ".then(r => done(r.violations.map(v => v.id + ': ' + v.nodes.map(told).slice(0, 3).join('; '))))"
        )
        self.assertEqual(problems, [], where)

    def browser_of_its_own(self) -> Browser:
        """One that may be killed."""
        self._browsers += 1
        return self.browser()
