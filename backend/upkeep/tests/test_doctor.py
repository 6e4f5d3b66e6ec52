"""The doctor: silent where all is well, and each fault that is put in is found and named."""

from __future__ import annotations

import json
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from django.core.management import call_command
from django.db import connection
from django.test import TransactionTestCase, override_settings

from people.schools import add_school
from people.tests.provider import Provider
from people.tests.test_sign_on import signs_on
from upkeep.backups import GOOD
from upkeep.doctor import Level, findings
from upkeep.tests.test_backups import told_of_it


@contextmanager
def told(**env: str) -> Iterator[None]:
    """An environment that says more."""
    before = {name: os.environ.get(name) for name in env}
    os.environ.update(env)
    try:
        yield
    finally:
        for name, text in before.items():
            if text is None:
                os.environ.pop(name)
            else:
                os.environ[name] = text


def certificate(path: Path, ends: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "girder.school.example")])
    made = (
        x509.CertificateBuilder().subject_name(name).issuer_name(name).public_key(key.public_key()).serial_number(7)
        .not_valid_before(ends - timedelta(days=90)).not_valid_after(ends).sign(key, hashes.SHA256())
    )  # fmt: skip
    path.write_bytes(made.public_bytes(serialization.Encoding.PEM))


class Doctor(TransactionTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (self.folder / "photographs").mkdir()
        (self.folder / "static").mkdir()
        (self.folder / "static" / "index.html").touch()
        self.enterContext(override_settings(MEDIA_ROOT=self.folder / "photographs", STATIC_ROOT=self.folder / "static"))
        self.good_backup(datetime.now(UTC))

    def good_backup(self, made: datetime) -> None:
        (self.folder / "one.tar").touch()
        said = {"name": "one.tar", "made_at": made.isoformat(), "bytes": 0}
        (self.folder / GOOD).write_text(json.dumps(said))

    def found(self, about: str, **env: str) -> list[tuple[Level, str]]:
        """What is found amiss about something."""
        with told(**{"GIRDER_BACKUPS": str(self.folder), **env}):
            every = list(findings())
        return [(one.level, one.sentence) for one in every if one.about == about and one.level is not Level.GOOD]

    def assertFound(self, level: Level, words: str, about: str, **env: str) -> None:
        found = self.found(about, **env)
        self.assertTrue([sentence for is_, sentence in found if is_ is level and words in sentence], found)

    def test_a_school_s_sign_on(self) -> None:
        self.assertEqual(self.found("sign-on"), [])
        provider = Provider()
        self.addCleanup(provider.end)
        with signs_on(skerry=provider):
            self.assertIn("there is no such school", self.found("sign-on")[0][1])
            add_school("Skerry")
            self.assertEqual(self.found("sign-on"), [])
            provider.wrong = "down"
            self.assertIn("does not tell how to sign in there", self.found("sign-on")[0][1])
        with (
            signs_on(skerry=provider) as _,
            override_settings(
                SIGN_ONS=[{"school": "skerry", "issuer": provider.issuer.replace("127.0.0.1", "localhost")}]
            ),
        ):
            provider.wrong = ""
            self.assertIn(f"says that it is {provider.issuer}", self.found("sign-on")[0][1])

    def test_where_all_is_well_nothing_is_amiss(self) -> None:
        for about in ("database", "clock", "photographs", "certificate", "mail", "backups", "versions"):
            self.assertEqual(self.found(about), [], about)

    def test_settings(self) -> None:
        self.assertFound(Level.CAUTION, "GIRDER_DB_PASSWORT is none", "settings", GIRDER_DB_PASSWORT="x")
        with override_settings(DEBUG=True):
            self.assertFound(Level.PROBLEM, "GIRDER_DEBUG is on", "settings")
        with override_settings(ALLOWED_HOSTS=["*"]):
            self.assertFound(Level.PROBLEM, "lets every name in", "settings")
        with override_settings(ALLOWED_HOSTS=["girder.school.example"]):
            self.assertFound(Level.PROBLEM, "nothing is encrypted", "settings")
            with override_settings(BEHIND_TLS=True, PROXIES=[]):
                self.assertFound(Level.CAUTION, "names no proxy", "settings")

    def test_a_migration_that_waits(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("DELETE FROM django_migrations WHERE app = 'designs' AND name LIKE '0008%'")
        try:
            self.assertFound(Level.PROBLEM, "1 migrations wait, designs.0008", "database")
        finally:
            with connection.cursor() as cursor:
                cursor.execute("INSERT INTO django_migrations (app, name, applied)"
                               " VALUES ('designs', '0008_measured_in_pictures', now())")  # fmt: skip

    def test_a_database_that_does_not_answer_stops_no_other_look(self) -> None:
        with told_of_it(PORT="1"):
            self.assertFound(Level.PROBLEM, "could not be looked at", "clock")
            self.assertEqual(self.found("photographs"), [])

    def test_photographs_that_cannot_be_kept(self) -> None:
        (self.folder / "a-file").touch()
        with override_settings(MEDIA_ROOT=self.folder / "a-file" / "photographs"):
            self.assertFound(Level.PROBLEM, "could not be looked at", "photographs")

    def test_backups_by_their_age(self) -> None:
        now = datetime.now(UTC)
        for age, level, words in (
            (timedelta(hours=30), Level.CAUTION, "30 hours old"),
            (timedelta(days=4), Level.PROBLEM, "96 hours old"),
        ):
            self.good_backup(now - age)
            self.assertFound(level, words, "backups")
        (self.folder / "one.tar").unlink()
        self.assertFound(Level.PROBLEM, "There is no good backup", "backups")

    def test_a_certificate_that_ends(self) -> None:
        path, now = self.folder / "certificate.pem", datetime.now(UTC)
        for days, level, words in ((5, Level.CAUTION, "ends on"), (-1, Level.PROBLEM, "ended on")):
            certificate(path, now + timedelta(days=days))
            self.assertFound(level, words, "certificate", GIRDER_CERTIFICATE=str(path))
        certificate(path, now + timedelta(days=60))
        self.assertEqual(self.found("certificate", GIRDER_CERTIFICATE=str(path)), [])

    def test_the_command_ends_with_1_where_something_is_a_problem(self) -> None:
        (self.folder / "one.tar").unlink()
        said = StringIO()
        with told(GIRDER_BACKUPS=str(self.folder)), self.assertRaises(SystemExit) as ended:
            call_command("doctor", stdout=said)
        self.assertEqual(ended.exception.code, 1)
        self.assertIn("✗ backups: There is no good backup", said.getvalue())
        said = StringIO()
        with told(GIRDER_BACKUPS=str(self.folder)), self.assertRaises(SystemExit):
            call_command("doctor", json=True, stdout=said)
        none = {"level": "problem", "about": "backups", "sentence": f"There is no good backup in {self.folder}."}
        self.assertIn(none, json.loads(said.getvalue()))
