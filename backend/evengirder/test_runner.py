"""Django's test runner, closing with one plain line of counts, and failing when no test ran."""

from __future__ import annotations

import unittest
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    """Says how many tests passed and failed; none at all is a failure."""

    def setup_test_environment(self, **kwargs: Any) -> None:
        super().setup_test_environment(**kwargs)
        # A slow hash is the point of a password hasher, and pointless where accounts last a tenth of a second.
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]

    def suite_result(self, suite: unittest.TestSuite, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        skipped = len(result.skipped)
        print(f"tests: {result.testsRun - failed - skipped} passed, {failed} failed, {skipped} skipped")
        if result.testsRun == 0:
            print("No test ran. That counts as a failure.")
            return 1
        return failed
