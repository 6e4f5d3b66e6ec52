"""Files that earlier versions of the program wrote, each kept as it was written: all of them still come in, with every
entry, and come to what was told then. They hold the demo of their time; every kind of challenge is in one at least.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from zipfile import ZipFile

from django.test import TestCase, tag

from girder_core.families import FAMILIES
from people.models import Teacher
from people.tests.support import teacher
from records.run_file import VERSION, exported, imported

EARLIER = sorted((Path(__file__).parent / "earlier").glob("*.zip"))


def files(archive: Path) -> Iterator[tuple[str, dict[str, Any]]]:
    with ZipFile(archive) as whole:
        for name in whole.namelist():
            yield name, json.loads(whole.read(name))


def entries(run: dict[str, Any]) -> list[Any]:
    """Every entry of every trial, in order, with when and by whom as far as the file says that."""
    return [
        [design["team"], design["version"], trial["number"], event["sequence"], event["kind"], event["data"],
         event["happened_at"]]
        for design in run["designs"] for trial in design["trials"] for event in trial["events"]
    ]  # fmt: skip


def measured(run: dict[str, Any]) -> list[Any]:
    return [
        [design["team"], design["version"], reading["key"], reading["text"], reading["value_si"]]
        for design in run["designs"] for reading in design["readings"]
    ]  # fmt: skip


def came_to(run: dict[str, Any]) -> list[Any]:
    """What each design came to, and its place."""
    return [[one["team"], one["version"], one["result"], one["places"]] for one in run["came_to"]["designs"]]


@tag("slow")
class Earlier(TestCase):
    takes_s = 20

    def test_each_comes_in_whole_and_comes_to_what_it_said(self) -> None:
        seen: set[int] = set()
        families: set[str] = set()
        told = 0
        for archive in EARLIER:
            ada: Teacher = teacher(f"Ada {archive.stem}")
            for name, then in files(archive):
                with self.subTest(archive.stem, file=name):
                    now = exported(imported(ada, json.dumps(then)))
                    self.assertEqual(entries(now), entries(then))
                    self.assertEqual(measured(now), measured(then))
                    if "came_to" in then:
                        self.assertEqual(came_to(now), came_to(then))
                        told += len(came_to(then))
                seen.add(then["version"])
                families.add(then["run"]["family"])
        self.assertEqual(seen, set(range(1, VERSION + 1)))
        self.assertEqual(families, set(FAMILIES))
        self.assertGreater(told, 25)
