"""A file that takes all there is ends its reader, and nothing else."""

from __future__ import annotations

import json
import os
import time

from django.test import SimpleTestCase

from evengirder.aside import read_aside
from girder_core.ground import GirderError

TOO_MUCH = GirderError("too_much", "It takes too much.")


def read(does: str, data: bytes = b"x", seconds: int = 20) -> bytes:
    return read_aside("evengirder.tests.greedy", data, does, too_much=TOO_MUCH, seconds=seconds)


class Aside(SimpleTestCase):
    def refused(self, does: str, seconds: int = 20) -> GirderError:
        with self.assertRaises(GirderError) as caught:
            read(does, seconds=seconds)
        return caught.exception

    def test_all_memory_and_all_time_end_in_a_sentence(self) -> None:
        self.assertIs(self.refused("memory"), TOO_MUCH)
        began = time.monotonic()
        self.assertIs(self.refused("time", seconds=1), TOO_MUCH)
        self.assertLess(time.monotonic() - began, 20)

    def test_a_refusal_comes_through_as_it_was_said(self) -> None:
        error = self.refused("refuse")
        self.assertEqual((error.code, error.sentence, error.data), ("bad", "x", {"fields": {"file": "bad"}}))

    def test_it_knows_no_secret_and_writes_nothing(self) -> None:
        known = json.loads(read("environment"))
        self.assertIn("GIRDER_SECRET_KEY", os.environ)
        self.assertEqual([name for name in known if "SECRET" in name or "DB_" in name], [])
        self.assertIs(self.refused("write"), TOO_MUCH)
