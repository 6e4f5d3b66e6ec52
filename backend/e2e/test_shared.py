"""Shared with a network: reached from another one on this machine, by its address, with and without encryption."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import unittest
from pathlib import Path
from typing import Any

from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD
from e2e.launched import ROOT, Launched

HERE, THERE = "10.213.7.1", "10.213.7.2"
NEW = {"email": "sunniva@fennick-bay.example", "name": "Sunniva", "password": "a-lantern-in-the-fog"}
DEMO = {"email": TEACHER_EMAIL, "password": TEACHER_PASSWORD}
MAY_NOT = "networks of their own can be made by root alone"


@unittest.skipUnless(os.geteuid() == 0 and shutil.which("ip"), MAY_NOT)
class Shared(Launched):
    takes_s = 120

    def setUp(self) -> None:
        super().setUp()
        self.network = f"girder-{os.getpid()}"
        near, far = f"gn{os.getpid()}", f"gf{os.getpid()}"
        for command in (
            f"netns add {self.network}",
            f"link add {near} type veth peer name {far}",
            f"link set {far} netns {self.network}",
            f"address add {HERE}/30 dev {near}",
            f"link set {near} up",
            f"-n {self.network} address add {THERE}/30 dev {far}",
            f"-n {self.network} link set {far} up",
        ):
            subprocess.run(["ip", *command.split()], check=True)
            if command.startswith("netns"):
                self.addCleanup(subprocess.run, ["ip", "netns", "delete", self.network])

    def from_there(self, address: str, *asked: tuple[str, str, Any], authority: str = "") -> list[dict[str, Any]]:
        """What a device in the other network is told."""
        return self.asking(["ip", "netns", "exec", self.network], address, asked, authority)

    def from_here(self, address: str, *asked: tuple[str, str, Any]) -> list[dict[str, Any]]:
        """What a browser on the machine that serves is told, with the cookie that it got with the page."""
        return self.asking([], address, (("GET", "/", None), *asked), "")[1:]

    def asking(
        self, within: list[str], address: str, asked: tuple[tuple[str, str, Any], ...], authority: str
    ) -> list[dict[str, Any]]:
        command = [*within, sys.executable, "-m", "e2e.elsewhere", address, *([authority] if authority else [])]
        done = subprocess.run(
            command, cwd=ROOT / "backend", input=json.dumps(asked), capture_output=True, text=True, check=True
        )
        told: list[dict[str, Any]] = json.loads(done.stdout)
        return told

    def stopped(self, process: subprocess.Popen[str]) -> None:
        process.send_signal(signal.SIGINT)
        self.assertEqual(process.wait(90), 0)

    def test_with_and_without_encryption(self) -> None:
        account = self.open()
        self.encrypted(account)

    def open(self) -> dict[str, str]:
        """Shared without encryption: an account is made from there; the demo opens here alone."""
        process, here, said = self.start("--share")
        port = here.rpartition(":")[2]
        there = f"http://{HERE}:{port}"
        self.assertIn(there, said)
        self.assertIn("Nothing is encrypted", said)
        invitation = re.search(r"\?code=(\S+)", said)
        assert invitation is not None
        page, refused, uninvited, made, entered, added = self.from_there(
            there,
            ("GET", "/", None),
            ("POST", "/api/session", DEMO),
            ("POST", "/api/teachers", {**NEW, "email": "stranger@fennick-bay.example"}),
            ("POST", "/api/teachers", {**NEW, "code": invitation[1]}),
            ("POST", "/api/session", {"email": NEW["email"], "password": NEW["password"]}),
            ("POST", "/api/classes", {"name": "5 Gannet"}),
        )
        self.assertEqual(page["status"], 200)
        self.assertEqual(refused["said"]["code"], "demo_elsewhere")
        self.assertEqual(uninvited["said"]["code"], "bad_code")
        self.assertEqual((made["status"], entered["status"], added["status"]), (202, 200, 201))
        self.assertEqual(entered["said"]["teacher"]["name"], NEW["name"])
        # Any other name that leads here is refused: a page elsewhere cannot pass for this server.
        demo, runs = self.from_here(here, ("POST", "/api/session", DEMO), ("GET", "/api/runs", None))
        self.assertEqual((demo["status"], runs["status"]), (200, 200))
        opened = ("PUT", f"/api/runs/{runs['said'][0]['id']}/board", {"action": "open"})
        board = self.from_here(here, ("POST", "/api/session", DEMO), opened)[1]["said"]
        self.assertRegex(board["address"], rf"^http://[\d.]+:{port}/board/{board['token']}$")
        self.assertNotIn("127.0.0.1", board["address"])
        [seen] = self.from_there(there, ("GET", f"/api/boards/{board['token']}", None))
        self.assertEqual(seen["status"], 200)
        self.stopped(process)
        return {"email": NEW["email"], "password": NEW["password"]}

    def encrypted(self, account: dict[str, str]) -> None:
        """Shared with certificates of its own: whoever installed the authority gets in, and nobody is read."""
        process, here, said = self.start("--share", "--tls")
        port = here.rpartition(":")[2]
        self.assertTrue(here.startswith("https://"))
        self.assertNotIn("There is no teacher's account here yet", said)
        doorstep = re.search(r"On each tablet first, once: http://[\d.]+:(\d+)", said)
        assert doorstep is not None
        page, file = self.from_there(
            f"http://{HERE}:{doorstep[1]}", ("GET", "/", None), ("GET", "/even-girder-authority.crt", None)
        )
        self.assertIn(f"https://{HERE}:{port}", page["said"])
        fingerprint = re.search(r"(?:[0-9A-F]{2}:){31}[0-9A-F]{2}", said)
        assert fingerprint is not None
        self.assertIn(fingerprint[0], page["said"])
        authority = self.state / "installed.crt"
        authority.write_text(file["said"])
        there = f"https://{HERE}:{port}"
        [untrusted] = self.from_there(there, ("GET", "/api/session", None))
        self.assertEqual(untrusted, {"refused": "SSLCertVerificationError"})
        _, entered, classes = self.from_there(
            there, ("GET", "/", None), ("POST", "/api/session", account), ("GET", "/api/classes", None),
            authority=str(authority),
        )  # fmt: skip
        self.assertIn("Secure", entered["headers"]["set-cookie"])
        self.assertNotIn("strict-transport-security", entered["headers"])
        self.assertEqual([one["name"] for one in classes["said"]], ["5 Gannet"])
        self.stopped(process)


class Options(Launched):
    def test_what_start_does_not_understand_it_says(self) -> None:
        there = Path(self.state) / "there.pem"
        there.write_text("no certificate")
        for options, words in (
            (["--shared"], "nothing that start knows"),
            (["--tls"], "for sharing"),
            (["--share", "--cert", str(there)], "go together"),
            (["--share", "--cert", "/nowhere.pem", "--key", "/nowhere.pem"], "/nowhere.pem is not there"),
            (["--share", "--cert", str(there), "--key", str(there)], "do not go together"),
            (["--share", "--cert"], "expected one argument"),
        ):
            with self.subTest(" ".join(options)):
                done = self.girder("start", *options)
                self.assertEqual(done.returncode, 1)
                self.assertIn(words, done.stderr)
