"""What the environment says: read as it is meant, refused with its name and why, and told in full in the documents."""

from __future__ import annotations

import ipaddress
import re
import subprocess
import sys
import tempfile
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

from evengirder.environment import VARIABLES, Unreadable, told, unknown

KEY = "k" * 40


class Told(SimpleTestCase):
    def test_each_kind_is_read(self) -> None:
        for name, text, meant in (
            ("GIRDER_TLS", "1", True),
            ("GIRDER_TLS", "yes", True),
            ("GIRDER_TLS", "no", False),
            ("GIRDER_TLS", "", False),
            ("GIRDER_HOSTS", "girder.school.example, 10.0.0.7", ["girder.school.example", "10.0.0.7"]),
            ("GIRDER_ORIGINS", "https://girder.school.example", ["https://girder.school.example"]),
            ("GIRDER_PROXIES", "10.0.0.0/24,::1", [ipaddress.ip_network("10.0.0.0/24"), ipaddress.ip_network("::1")]),
            ("GIRDER_DB_PORT", "6432", 6432),
            ("GIRDER_SIGN_UP", "invited", "invited"),
            ("GIRDER_SECRET_KEY", KEY, KEY),
        ):
            self.assertEqual(told(name, {name: text}), meant, name)

    def test_without_it_the_default_holds_and_what_has_to_be_is_asked_for(self) -> None:
        self.assertEqual(told("GIRDER_DB_PORT", {}), 5432)
        with self.assertRaisesMessage(Unreadable, "GIRDER_SECRET_KEY: It has to be given"):
            told("GIRDER_SECRET_KEY", {})

    def test_what_cannot_be_meant_says_which_and_why(self) -> None:
        for name, text, words in (
            ("GIRDER_TLS", "maybe", "neither yes"),
            ("GIRDER_ORIGINS", "girder.school.example", "is no origin"),
            ("GIRDER_ORIGINS", "https://girder.school.example/app", "is no origin"),
            ("GIRDER_PROXIES", "10.0.0.1/24", "a network is like"),
            ("GIRDER_DB_PORT", "0", "no number from 1 to 65535"),
            ("GIRDER_DB_PORT", "５４３２", "no number"),
            ("GIRDER_SIGN_UP", "all", "none of: open, invited, closed"),
            ("GIRDER_SECRET_KEY", "short", "openssl rand"),
            ("GIRDER_MEDIA_ROOT", "photos", "no absolute path"),
        ):
            with self.subTest(name, text=text), self.assertRaises(Unreadable) as refused:
                told(name, {name: text})
            self.assertEqual(refused.exception.name, name)
            self.assertIn(words, refused.exception.sentence)

    def test_a_secret_may_lie_in_a_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "password"
            file.write_text("  opens the slip \n")
            given = {"GIRDER_DB_PASSWORD_FILE": str(file)}
            self.assertEqual(told("GIRDER_DB_PASSWORD", given), "  opens the slip ")
            with self.assertRaisesMessage(Unreadable, "given twice"):
                told("GIRDER_DB_PASSWORD", {**given, "GIRDER_DB_PASSWORD": "other"})
            file.unlink()
            with self.assertRaisesMessage(Unreadable, "GIRDER_DB_PASSWORD_FILE"):
                told("GIRDER_DB_PASSWORD", given)
        # What is no secret is not looked for in files: that would be a way to have any file shown.
        self.assertEqual(told("GIRDER_DB_HOST", {"GIRDER_DB_HOST_FILE": "/etc/hostname"}), "127.0.0.1")

    def test_slips_in_names_are_noticed(self) -> None:
        slips, known = ["GIRDER_DB_HOST_FILE", "GIRDER_DB_PASSWORT"], ["GIRDER_DB_PASSWORD_FILE", "GIRDER_PORT", "HOME"]
        self.assertEqual(unknown(dict.fromkeys([*known, *slips], "x")), slips)

    def test_a_server_that_is_told_nonsense_ends_and_says_which_variable(self) -> None:
        env = {"GIRDER_SECRET_KEY": KEY, "GIRDER_DB_PORT": "many", "PYTHONPATH": str(settings.BACKEND)}
        ended = subprocess.run(
            [sys.executable, "-c", "import evengirder.settings"], env=env, capture_output=True, text=True, timeout=300
        )
        self.assertNotEqual(ended.returncode, 0)
        self.assertIn("GIRDER_DB_PORT: “many” is no number from 1 to 65535.", ended.stderr)

    def test_the_table_of_the_documents_has_every_variable(self) -> None:
        page = (settings.BACKEND.parent / "docs" / "deploy.md").read_text("utf-8")
        rows = dict(re.findall(r"^\| `(GIRDER_\w+)` +\| (.+?) +\|", page, re.M))
        self.assertEqual(rows, {one.name: one.means for one in VARIABLES})
