"""Addresses against the machine's own tool, codes against a reader that is not ours, the page as it is served."""

from __future__ import annotations

import asyncio
import json
import subprocess
import tempfile
import unittest
from collections.abc import MutableMapping
from pathlib import Path
from typing import Any

import numpy as np
import zxingcpp

from doorstep.addresses import INSIDE, ordered, reached_at
from doorstep.authority import certificate_for
from doorstep.codes import for_terminal, rows_of
from doorstep.page import AUTHORITY, Doorstep

ADDRESS = "https://192.168.7.20:8360/board/vGLNx4_eNuAQrWsdtrFHYg"


def read_off(pixels: np.ndarray[Any, np.dtype[np.uint8]]) -> str:
    """What a camera's reader finds in a picture of these pixels, each six times as wide."""
    found = zxingcpp.read_barcodes(pixels.repeat(6, axis=0).repeat(6, axis=1))
    return str(found[0].text) if found else ""


class Addresses(unittest.TestCase):
    def test_they_are_what_the_machine_says(self) -> None:
        said = json.loads(subprocess.run(["ip", "-4", "-j", "address"], capture_output=True, text=True).stdout)
        there = {
            one["local"]
            for adapter in said
            if not adapter["ifname"].startswith(INSIDE)
            for one in adapter["addr_info"]
            if not one["local"].startswith(("127.", "169.254."))
        }
        self.assertEqual(set(reached_at()), there)

    def test_the_way_out_comes_first_and_what_leads_nowhere_is_left_out(self) -> None:
        found = [
            ("lo", "127.0.0.1"), ("docker0", "172.17.0.1"), ("eth0", "10.1.2.3"), ("wlan0", "192.168.7.20"),
            ("wlan0", "169.254.3.4"), ("wlan0", "192.168.7.20"),
        ]  # fmt: skip
        self.assertEqual(ordered(found, "192.168.7.20"), ["192.168.7.20", "10.1.2.3"])
        self.assertEqual(ordered(found, ""), ["10.1.2.3", "192.168.7.20"])


class Codes(unittest.TestCase):
    def test_a_reader_reads_the_address(self) -> None:
        rows = np.array([[255 * (module == "0") for module in row] for row in rows_of(ADDRESS)], np.uint8)
        self.assertEqual(read_off(np.pad(rows, 4, constant_values=255)), ADDRESS)

    def test_so_it_does_from_the_terminal(self) -> None:
        lit = {"█": (255, 255), "▀": (255, 0), "▄": (0, 255), " ": (0, 0)}
        lines = [[lit[character] for character in line] for line in for_terminal(ADDRESS).splitlines()]
        rows = np.array(lines, np.uint8).transpose(0, 2, 1).reshape(2 * len(lines), -1)
        self.assertEqual(read_off(rows), ADDRESS)


class Page(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.made = certificate_for(Path(folder.name), ("192.168.7.20",), ())
        self.doorstep = Doorstep(self.made.authority, 8360)

    def asked(self, path: str, method: str = "GET", host: str = "192.168.7.20") -> tuple[int, dict[str, str], str]:
        said: list[MutableMapping[str, Any]] = []

        async def send(message: MutableMapping[str, Any]) -> None:
            said.append(message)

        async def receive() -> MutableMapping[str, Any]:
            return {"type": "http.request", "body": b""}

        headers = [(b"host", b"<script>evil</script>")]
        scope = {"type": "http", "method": method, "path": path, "server": (host, 8361), "headers": headers}
        asyncio.run(self.doorstep(scope, receive, send))
        told = {name.decode(): value.decode() for name, value in said[0]["headers"]}
        return said[0]["status"], told, said[1]["body"].decode()

    def test_it_leads_to_the_certificate_and_then_to_the_server_by_the_same_address(self) -> None:
        status, told, page = self.asked("/")
        self.assertEqual(status, 200)
        self.assertIn(f'href="{AUTHORITY}"', page)
        self.assertIn('href="https://192.168.7.20:8360"', page)
        self.assertIn(self.made.fingerprint, page)
        self.assertNotIn("evil", page)
        self.assertIn("default-src 'none'", told["content-security-policy"])

    def test_it_hands_over_the_certificate_and_never_a_key(self) -> None:
        status, told, file = self.asked(AUTHORITY)
        self.assertEqual((status, told["content-type"]), (200, "application/x-x509-ca-cert"))
        self.assertEqual(file, self.made.authority.read_text())
        self.assertNotIn("PRIVATE", file)

    def test_it_has_nothing_else_and_takes_nothing(self) -> None:
        for path in ("/server.key", "/../authority/authority.key", "/api/session"):
            self.assertEqual(self.asked(path)[0], 404)
        self.assertEqual(self.asked("/", "POST")[0], 405)
