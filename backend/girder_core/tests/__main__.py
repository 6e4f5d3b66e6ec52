"""The core's tests alone: ``python -m girder_core.tests [NAME ...]``; all of them, or packages, modules and tests by
name. Fails when none ran."""

from __future__ import annotations

import sys
import unittest
from pathlib import Path

BACKEND = Path(__file__).resolve().parents[2]


def suite(names: list[str]) -> unittest.TestSuite:
    """The tests of these names; a package stands for all that is in it."""
    loader, found = unittest.TestLoader(), unittest.TestSuite()
    for name in names:
        folder = BACKEND.joinpath(*name.split("."))
        if folder.is_dir():
            inside = folder if name != "girder_core" else folder / "tests"
            found.addTest(loader.discover(str(inside), top_level_dir=str(BACKEND)))
        else:
            found.addTest(loader.loadTestsFromName(name))
    return found


if __name__ == "__main__":
    result = unittest.TextTestRunner().run(suite(sys.argv[1:] or ["girder_core.tests"]))
    if result.testsRun == 0:
        print("No test ran. That counts as a failure.")
    sys.exit(0 if result.wasSuccessful() and result.testsRun else 1)
