"""The core's tests alone: ``python -m girder_core.tests [NAME ...]``; all of them, or packages, modules and tests by
name. Modules are tested side by side, one process a core. Fails when none ran."""

from __future__ import annotations

import io
import os
import sys
import time
import unittest
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path

BACKEND = Path(__file__).resolve().parents[2]


@dataclass(frozen=True)
class Outcome:
    """What became of a module's tests: how many ran, whether all passed, what was said, how long it took [s]."""

    name: str
    ran: int
    passed: bool
    said: str
    took_s: float


def suite(names: list[str]) -> unittest.TestSuite:
    """The tests of these names; a package stands for all that is in it."""
    loader, suite = unittest.TestLoader(), unittest.TestSuite()
    for name in names:
        folder = BACKEND.joinpath(*name.split("."))
        if folder.is_dir():
            inside = folder if name != "girder_core" else folder / "tests"
            suite.addTest(loader.discover(str(inside), top_level_dir=str(BACKEND)))
        else:
            suite.addTest(loader.loadTestsFromName(name))
    return suite


def tests_in(test: unittest.TestSuite | unittest.TestCase) -> Iterator[unittest.TestCase]:
    """The single tests of a suite."""
    if isinstance(test, unittest.TestSuite):
        for inner in test:
            yield from tests_in(inner)
    else:
        yield test


def by_class(tests: unittest.TestSuite) -> dict[str, list[str]]:
    """The tests' names by their class, so that what a class prepares is prepared once."""
    groups: dict[str, list[str]] = {}
    for test in tests_in(tests):
        groups.setdefault(f"{type(test).__module__}.{type(test).__qualname__}", []).append(test.id())
    return groups


def run_class(name: str, tests: list[str]) -> Outcome:
    """Run the tests of one class."""
    began, said = time.perf_counter(), io.StringIO()
    result = unittest.TextTestRunner(stream=said).run(unittest.TestLoader().loadTestsFromNames(tests))
    return Outcome(name, result.testsRun, result.wasSuccessful(), said.getvalue(), time.perf_counter() - began)


def main(names: list[str]) -> int:
    """Run the tests of these names, say what failed, and count."""
    began = time.perf_counter()
    groups = by_class(suite(names or ["girder_core.tests"]))
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        done = list(pool.map(run_class, groups, groups.values()))
    for result in done:
        if not result.passed:
            print(result.said)
    ran, failed = sum(result.ran for result in done), [result.name for result in done if not result.passed]
    slowest = sorted(done, key=lambda result: -result.took_s)[:3]
    longest = ", ".join(f"{result.name.removeprefix('girder_core.tests.')} {result.took_s:.1f} s" for result in slowest)
    print(f"Ran {ran} tests in {time.perf_counter() - began:.1f} s; longest: {longest}")
    if ran == 0:
        print("No test ran. That counts as a failure.")
    elif ran != sum(map(len, groups.values())):
        print("Not every test that was found ran. That counts as a failure.")
        return 1
    print("FAILED: " + ", ".join(failed) if failed else "OK" if ran else "")
    return 0 if ran and not failed else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
