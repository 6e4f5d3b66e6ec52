"""Backups: an archive of database and photographs as they were at one moment, read back before it counts as good.

An archive is a tar file. ``database.dump`` in it is PostgreSQL's own custom format, ``photos/`` has every photograph
that the database knew at that moment, and ``manifest.json`` says what there is of everything, with a hash of each part.
With a recipient the whole is encrypted in the open format ``age``: whoever makes backups then cannot read them.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import tarfile
import tempfile
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import psycopg
import pyrage
from django.core.files.storage import default_storage

from upkeep.database import connected, counted, program, run

FORMAT, VERSION = "even-girder-backup", 1
NAME = "even-girder-{:%Y-%m-%dT%H%M%SZ}.tar"
PATTERN = "even-girder-*.tar*"
AGE = ".age"
MANIFEST, DUMP, PHOTOS = "manifest.json", "database.dump", "photos/"
GOOD = "last-good.json"
"""Beside the backups: which was the last that was read back whole, and when it was made."""
TRIES = 3
"""How often a moment is looked for in which nobody takes a photograph away meanwhile."""
BLOCK = 1024 * 1024


class BackupProblem(Exception):
    """What is wrong with a backup, or keeps one from being made: in a sentence."""


@dataclass(frozen=True)
class Manifest:
    """What an archive says of itself.

    Attributes:
        made_at: the moment, in UTC as ISO 8601.
        postgres: the server's version, such as 150018.
        migrations: the latest migration of each app.
        tables: how many rows each table had.
        parts: of each part its size [bytes] and SHA-256, by its name in the archive.
        missing: photographs that the database names and nobody has any more.
    """

    made_at: str
    postgres: int
    migrations: dict[str, str]
    tables: dict[str, int]
    parts: dict[str, dict[str, Any]]
    missing: list[str]

    def text(self) -> bytes:
        """As it stands in the archive."""
        return json.dumps({"format": FORMAT, "version": VERSION, **asdict(self)}, indent=1).encode()


def make(folder: Path, recipients: Sequence[str] = (), keep: int = 0) -> Path:
    """Make a backup in a folder, read it back, and say where it is.

    Args:
        folder: where backups lie; made where it is not there.
        recipients: public keys (``age1…``) of those who can read it; none for one that is not encrypted.
        keep: how many to keep in the folder, the newest first; 0 for all.
    Errors:
        ``BackupProblem`` and ``ToolProblem``; nothing is left behind then, and older backups stay.
    """
    keys = [_recipient(text) for text in recipients]
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    at = datetime.now(UTC)
    path = folder / NAME.format(at)
    with tempfile.TemporaryDirectory(dir=folder, prefix=".making-") as place:
        plain = Path(place) / "plain"
        manifest = _write(plain, Path(place), at)
        # Before it is encrypted: whoever makes backups has no key to look into them.
        check(plain)
        whole = plain
        if keys:
            whole, path = Path(place) / "sealed", path.with_name(path.name + AGE)
            pyrage.encrypt_file(str(plain), str(whole), keys)
        whole.chmod(0o600)
        with whole.open("rb") as file:
            os.fsync(file.fileno())
        whole.rename(path)
    good = {"name": path.name, "made_at": manifest.made_at, "bytes": path.stat().st_size}
    beside = folder / (GOOD + ".part")
    beside.write_text(json.dumps(good))
    beside.rename(folder / GOOD)
    _drop_old(folder, keep)
    return path


def _recipient(text: str) -> Any:
    try:
        return pyrage.x25519.Recipient.from_str(text.strip())
    except pyrage.RecipientError:
        raise BackupProblem(f"“{text}” is no public key of age; one begins with age1.") from None


def _drop_old(folder: Path, keep: int) -> None:
    for old in sorted(folder.glob(PATTERN))[:-keep] if keep else ():
        old.unlink()


def _write(path: Path, place: Path, at: datetime) -> Manifest:
    """Write the archive of a moment in which every photograph that the database names is there."""
    gone: list[str] = []
    for _ in range(TRIES):
        manifest = _write_once(path, place, at)
        if manifest.missing == gone:
            return manifest
        # Somebody took a photograph away meanwhile: another moment. What is missing then too was missing before.
        gone = manifest.missing
    raise BackupProblem("Photographs go faster than they can be written down. Try again later.")


def _write_once(path: Path, place: Path, at: datetime) -> Manifest:
    parts: dict[str, dict[str, Any]] = {}
    missing: list[str] = []
    with connected() as connection, tarfile.open(path, "w") as archive:
        connection.isolation_level = psycopg.IsolationLevel.REPEATABLE_READ
        connection.read_only = True
        snapshot = connection.execute("SELECT pg_export_snapshot()").fetchone()
        assert snapshot is not None
        dump = place / DUMP
        version = connection.info.server_version
        command = [program("pg_dump", version), "--format=custom", "--no-owner", "--no-privileges",
                   f"--snapshot={snapshot[0]}", f"--file={dump}"]  # fmt: skip
        run(command)
        with dump.open("rb") as file:
            parts[DUMP] = _add(archive, DUMP, file, dump.stat().st_size)
        dump.unlink()
        for (name,) in connection.execute("SELECT file FROM designs_photo ORDER BY id").fetchall():
            try:
                with default_storage.open(name, "rb") as photo:
                    parts[PHOTOS + name] = _add(archive, PHOTOS + name, photo, photo.size)
            except FileNotFoundError:
                missing.append(name)
        manifest = Manifest(
            at.isoformat(timespec="seconds"), version, _migrations(connection), counted(connection), parts, missing
        )
        text = manifest.text()
        _add(archive, MANIFEST, io.BytesIO(text), len(text))
    return manifest


def _add(archive: tarfile.TarFile, name: str, file: Any, size: int) -> dict[str, Any]:
    info = tarfile.TarInfo(name)
    info.size, info.mode, info.mtime = size, 0o600, int(datetime.now(UTC).timestamp())
    reading = _Hashing(file)
    archive.addfile(info, reading)
    return {"bytes": size, "sha256": reading.digest.hexdigest()}


class _Hashing:
    """Reads on, and keeps the hash of what was read."""

    def __init__(self, file: Any) -> None:
        self._file, self.digest = file, hashlib.sha256()

    def read(self, size: int = -1) -> bytes:
        block: bytes = self._file.read(size)
        self.digest.update(block)
        return block


def _migrations(connection: psycopg.Connection[Any]) -> dict[str, str]:
    rows = connection.execute("SELECT app, max(name) FROM django_migrations GROUP BY app ORDER BY app").fetchall()
    return {str(app): str(name) for app, name in rows}


def check(path: Path) -> Manifest:
    """Read an archive from end to end: every part is there, whole, and nothing else is.

    Errors: ``BackupProblem`` with what is wrong.
    """
    found: dict[str, dict[str, Any]] = {}
    said: bytes | None = None
    try:
        with tarfile.open(path, "r:") as archive:
            for member in archive:
                content = archive.extractfile(member)
                if content is None:
                    raise BackupProblem(f"{path.name}: {member.name} is no file.")
                if member.name == MANIFEST:
                    said = content.read()
                    continue
                digest = hashlib.sha256()
                while block := content.read(BLOCK):
                    digest.update(block)
                found[member.name] = {"bytes": member.size, "sha256": digest.hexdigest()}
    except (tarfile.TarError, EOFError) as error:
        raise BackupProblem(f"{path.name} is no backup, or not a whole one: {error}.") from None
    if said is None:
        raise BackupProblem(f"{path.name} is no backup, or not a whole one: it does not say what is in it.")
    manifest = _manifest(path, said)
    for name in sorted({*manifest.parts, *found}):
        if found.get(name) != manifest.parts.get(name):
            raise BackupProblem(f"{path.name} is damaged: {name} is not as it was written.")
    return manifest


def _manifest(path: Path, said: bytes) -> Manifest:
    try:
        told = json.loads(said)
        if told.pop("format") != FORMAT:
            raise BackupProblem(f"{path.name} is no backup of Even Girder.")
        if told.pop("version") > VERSION:
            raise BackupProblem(f"{path.name} was made by a later version of Even Girder. Restore it with that one.")
        return Manifest(**told)
    except (ValueError, KeyError, TypeError, AttributeError):
        raise BackupProblem(f"{path.name} does not say soundly what is in it.") from None


@contextmanager
def opened(path: Path, identity: Path | None = None) -> Iterator[Path]:
    """A backup as a plain archive: as it is, or decrypted beside it with the private key in a file.

    Errors: ``BackupProblem`` where it is encrypted and there is no key, or not the right one.
    """
    if not path.is_file():
        raise BackupProblem(f"There is no file {path}.")
    if not _is_sealed(path):
        yield path
        return
    if identity is None:
        raise BackupProblem(f"{path.name} is encrypted. Say with --identity where the private key lies.")
    try:
        lines = [line.strip() for line in identity.read_text().splitlines()]
        keys = [pyrage.x25519.Identity.from_str(line) for line in lines if line and not line.startswith("#")]
    except (OSError, UnicodeDecodeError, pyrage.IdentityError) as error:
        raise BackupProblem(f"{identity} holds no private key of age: {error}.") from None
    with tempfile.TemporaryDirectory(dir=path.parent, prefix=".reading-") as place:
        plain = Path(place) / path.name.removesuffix(AGE)
        try:
            pyrage.decrypt_file(str(path), str(plain), keys)
        except (pyrage.DecryptError, OSError) as error:
            raise BackupProblem(
                f"{path.name} does not open with the key in {identity}, or is damaged: {error}."
            ) from None
        yield plain


def _is_sealed(path: Path) -> bool:
    with path.open("rb") as file:
        return file.read(len(b"age-encryption.org/")) == b"age-encryption.org/"


def last_good(folder: Path) -> datetime | None:
    """When the last good backup in a folder was made; None for none, or where its file is not there any more."""
    try:
        told = json.loads((folder / GOOD).read_text())
        return datetime.fromisoformat(told["made_at"]) if (folder / told["name"]).is_file() else None
    except (OSError, ValueError, KeyError, TypeError):
        return None
