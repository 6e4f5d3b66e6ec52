"""Django's test runner, closing with plain lines: how many passed, and where the time went. No test is a failure."""

from __future__ import annotations

import os
import tempfile
import time
import unittest
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import connection
from django.test.runner import DiscoverRunner, ParallelTestSuite

TIMES = "GIRDER_TEST_TIMES"
"""Environment variable with the file that the processes which test side by side write how long each test took to."""
MOST_TOLD = 6
before_databases_go: list[Callable[[], None]] = []
"""What has to let go of the databases when all tests are through: servers and browsers that were kept between tests."""


class LongestFirst(ParallelTestSuite):
    """Test classes side by side, those that say that they take longest first: none is waited for at the end."""

    def __init__(self, subsuites: list[unittest.TestSuite], *arguments: Any, **options: Any) -> None:
        def takes(suite: unittest.TestSuite) -> float:
            return max((float(getattr(test, "takes_s", 0)) for test in suite), default=0.0)

        super().__init__(sorted(subsuites, key=takes, reverse=True), *arguments, **options)


class CountingRunner(DiscoverRunner):
    """Says how many tests passed and failed, and which took longest; none at all is a failure."""

    parallel_test_suite = LongestFirst

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        # A slow hash is the point of a password hasher, and pointless where accounts last a tenth of a second.
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
        # Each test client would list the built files again; what a served page is made of has its tests in a browser.
        settings.WHITENOISE_AUTOREFRESH = True

    def run_suite(self, suite: unittest.TestSuite, **kwargs: Any) -> Any:
        with tempfile.NamedTemporaryFile("r", prefix="girder-times-") as times:
            os.environ[TIMES] = times.name
            unittest.TestCase.run = _timed  # type: ignore[method-assign]
            try:
                return super().run_suite(suite, **kwargs)
            finally:
                unittest.TestCase.run = _run  # type: ignore[method-assign]
                self.told = _in_words(Path(times.name).read_text())

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        for let_go in before_databases_go:
            let_go()
        # What was killed may not have said goodbye to the database yet.
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
                " WHERE datname LIKE %s AND pid <> pg_backend_pid()",
                [f"{connection.settings_dict['NAME']}%"],
            )
        super().teardown_databases(old_config, **kwargs)

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(self.told)
        print(f"tests: {result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        if result.testsRun == 0:
            print("No test ran. That counts as a failure.")
            return 1
        return failed


_run = unittest.TestCase.run


def _timed(self: unittest.TestCase, result: Any = None) -> Any:
    began = time.perf_counter()
    try:
        return _run(self, result)
    finally:
        with Path(os.environ[TIMES]).open("a") as out:
            out.write(f"{time.perf_counter() - began:.2f} {self.id()}\n")


def _in_words(text: str) -> str:
    """Seconds by package, and the tests that took longest."""
    took = [(float(seconds), name) for seconds, name in (line.split(" ", 1) for line in text.splitlines())]
    packages: Counter[str] = Counter()
    for seconds, name in took:
        packages[name.split(".")[0]] += seconds  # type: ignore[assignment]
    shares = ", ".join(f"{name} {seconds:.0f} s" for name, seconds in packages.most_common())
    longest = "\n".join(f"  {seconds:6.1f} s  {name}" for seconds, name in sorted(took, reverse=True)[:MOST_TOLD])
    return f"time in tests, side by side: {shares}\n{longest}"
