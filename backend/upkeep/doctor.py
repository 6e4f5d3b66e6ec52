"""Whether all is as it should be: settings, database, clock, disk, photographs, certificate, mail, sign-on, backups,
versions.

Each look says what it found in a sentence. A problem is what loses a lesson or lets somebody in; a caution is what will
become one.
"""

from __future__ import annotations

import shutil
import ssl
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path
from typing import Any
from uuid import uuid4

import django
import psycopg
import requests
from cryptography import x509
from django.conf import settings
from django.core import checks
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from evengirder import environment
from evengirder.health import waiting
from people.models import School
from upkeep.backups import last_good
from upkeep.database import connected

OLDEST_POSTGRES = 150_000
CLOCK_OFF = timedelta(seconds=2)
"""How far the clocks of server and database may be apart: waits and order of entries rest on both."""
LITTLE, ALMOST_NOTHING = 0.10, 0.03
"""Share of a disk that is free."""
BACKUP_AGE, BACKUP_TOO_OLD = timedelta(hours=26), timedelta(days=3)
CERTIFICATE_SOON = timedelta(days=21)


class Level(StrEnum):
    """How a look ended."""

    GOOD = "good"
    CAUTION = "caution"
    PROBLEM = "problem"


@dataclass(frozen=True)
class Finding:
    """What a look found."""

    level: Level
    about: str
    sentence: str


def findings() -> Iterator[Finding]:
    """What every look finds, one after the other; one that stumbles says so and stops no other."""
    for about, look in LOOKS:
        try:
            for level, sentence in look():
                yield Finding(level, about, sentence)
        except Exception as error:
            yield Finding(Level.PROBLEM, about, f"This could not be looked at: {error}")


Looked = Iterator[tuple[Level, str]]


def _settings() -> Looked:
    for name in environment.unknown():
        yield Level.CAUTION, f"{name} is none of the variables that the server reads. A slip?"
    if settings.DEBUG:
        yield Level.PROBLEM, "GIRDER_DEBUG is on: whoever asks is shown what the program does."
    if "*" in settings.ALLOWED_HOSTS:
        yield Level.PROBLEM, "GIRDER_HOSTS lets every name in. Say under which names it is reached."
    for message in checks.run_checks(include_deployment_checks=True):
        if not message.is_silenced():
            serious = message.level >= checks.ERROR
            yield Level.PROBLEM if serious else Level.CAUTION, f"{message.msg.splitlines()[0]} ({message.id})"
    outside = [name for name in settings.ALLOWED_HOSTS if name not in ("127.0.0.1", "localhost", "[::1]")]
    if outside and not (settings.BEHIND_TLS or settings.ENCRYPTS):
        yield (
            Level.PROBLEM,
            f"It answers as {outside[0]}, and nothing is encrypted: set GIRDER_TLS behind a proxy that does.",
        )
    if settings.BEHIND_TLS and not settings.PROXIES:
        yield (
            Level.CAUTION,
            "GIRDER_PROXIES names no proxy, so all callers look like one, and shut each other out.",
        )
    yield Level.GOOD, f"It answers as {', '.join(settings.ALLOWED_HOSTS)}."


def _database() -> Looked:
    with connected() as own:
        version = own.info.server_version
        wanted = "is too old; 15 or later is needed" if version < OLDEST_POSTGRES else "answers"
        level = Level.PROBLEM if version < OLDEST_POSTGRES else Level.GOOD
        yield level, f"PostgreSQL {version // 10_000}.{version % 10_000} {wanted}."
        row = own.execute("SELECT pg_is_in_recovery(), current_setting('server_encoding'), rolsuper, rolcreatedb"
                          " FROM pg_roles WHERE rolname = current_user").fetchone()  # fmt: skip
        assert row is not None
        standby, encoding, master, makes = row
        if standby:
            yield Level.PROBLEM, "This is a standby, which takes no writes. Point GIRDER_DB_HOST at the primary."
        if encoding != "UTF8":
            yield Level.PROBLEM, f"Its encoding is {encoding}; names need UTF8."
        if master:
            yield (
                Level.CAUTION,
                "The role is master of the whole server; it needs to own its database alone.",
            )
        if not makes:
            yield (
                Level.CAUTION,
                "The role may not make databases, so no backup is verified (ALTER ROLE … CREATEDB).",
            )
    plan = waiting()
    if plan:
        yield Level.PROBLEM, f"{len(plan)} migrations wait, {plan[0][0]} first: manage.py upgrade."
    else:
        yield Level.GOOD, "Its tables are as this version has them."


def _clock() -> Looked:
    with connected() as own:
        row = own.execute("SELECT clock_timestamp()").fetchone()
    assert row is not None
    off = abs(datetime.now(UTC) - row[0])
    if off > CLOCK_OFF:
        yield Level.PROBLEM, f"The clocks of server and database are {off.total_seconds():.0f} s apart."
    else:
        yield Level.GOOD, "The clocks of server and database agree."


def _disk() -> Looked:
    photographs = "" if settings.S3_BUCKET else settings.MEDIA_ROOT
    folders = {"photographs": photographs, "logs": settings.LOGS, "backups": environment.told("GIRDER_BACKUPS")}
    for what, told in folders.items():
        folder = Path(told) if told else None
        if folder is None or not folder.exists():
            continue
        usage = shutil.disk_usage(folder)
        free, gigabytes = usage.free / usage.total, usage.free / 1e9
        level = Level.PROBLEM if free < ALMOST_NOTHING else Level.CAUTION if free < LITTLE else Level.GOOD
        yield level, f"{gigabytes:.1f} GB ({100 * free:.0f} %) are free for {what}."


def _photographs() -> Looked:
    name = f"looked-at/{uuid4().hex}"
    written = default_storage.save(name, ContentFile(name.encode()))
    try:
        with default_storage.open(written, "rb") as file:
            same = file.read() == name.encode()
    finally:
        default_storage.delete(written)
    level = Level.GOOD if same else Level.PROBLEM
    yield (
        level,
        "A photograph can be written, read and taken away." if same else "What is written comes back as another thing.",
    )


def _certificate() -> Looked:
    told = environment.told("GIRDER_CERTIFICATE")
    if not told:
        yield Level.GOOD, "None to watch (GIRDER_CERTIFICATE names none)."
        return
    ends = x509.load_pem_x509_certificate(Path(told).read_bytes()).not_valid_after_utc
    left = ends - datetime.now(UTC)
    level = Level.PROBLEM if left < timedelta(0) else Level.CAUTION if left < CERTIFICATE_SOON else Level.GOOD
    yield level, f"{told} {'ended' if left < timedelta(0) else 'ends'} on {ends:%Y-%m-%d}."


def _mail() -> Looked:
    yield Level.GOOD, "None is sent: codes for invitations and new passwords are handed over (invite, reset_password)."


def _sign_on() -> Looked:
    if not settings.SIGN_ONS:
        yield Level.GOOD, "No school signs in with accounts of its own (GIRDER_SIGN_ON names no file)."
    for way in settings.SIGN_ONS:
        school, issuer = way["school"], way["issuer"]
        if not School.objects.filter(key=school).exists():
            yield Level.PROBLEM, f"{school}: there is no such school (manage.py school list)."
            continue
        try:
            answer = requests.get(f"{issuer}/.well-known/openid-configuration", timeout=5)
            answer.raise_for_status()
            says = str(answer.json()["issuer"])
        except (requests.RequestException, ValueError, KeyError) as error:
            yield Level.PROBLEM, f"{school}: {issuer} does not tell how to sign in there: {error}."
            continue
        if says.rstrip("/") != issuer.rstrip("/"):
            yield Level.PROBLEM, f"{school}: {issuer} says that it is {says}."
        else:
            yield Level.GOOD, f"{school}: {issuer} answers."


def _backups() -> Looked:
    told = environment.told("GIRDER_BACKUPS")
    if not told:
        yield Level.CAUTION, "GIRDER_BACKUPS names no folder, so nobody watches whether there are any."
        return
    made = last_good(Path(told))
    if made is None:
        yield Level.PROBLEM, f"There is no good backup in {told}."
        return
    age = datetime.now(UTC) - made
    level = Level.PROBLEM if age > BACKUP_TOO_OLD else Level.CAUTION if age > BACKUP_AGE else Level.GOOD
    yield level, f"The last good backup is {age.total_seconds() / 3600:.0f} hours old."


def _versions() -> Looked:
    python, framework = sys.version.split()[0], django.get_version()
    yield Level.GOOD, f"Python {python}, Django {framework}, psycopg {psycopg.__version__}, {ssl.OPENSSL_VERSION}."
    if not (settings.STATIC_ROOT / "index.html").is_file():
        yield Level.PROBLEM, f"The built interface is not in {settings.STATIC_ROOT} (GIRDER_STATIC_ROOT)."


LOOKS: tuple[tuple[str, Callable[[], Looked]], ...] = (
    ("settings", _settings),
    ("database", _database),
    ("clock", _clock),
    ("disk", _disk),
    ("photographs", _photographs),
    ("certificate", _certificate),
    ("mail", _mail),
    ("sign-on", _sign_on),
    ("backups", _backups),
    ("versions", _versions),
)


def told(finding: Finding) -> dict[str, Any]:
    """A finding for programs that read."""
    return {"level": finding.level.value, "about": finding.about, "sentence": finding.sentence}
