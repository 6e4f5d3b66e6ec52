"""Out of an archive again: into a database beside the one in use, looked at there, and only then in its place."""

from __future__ import annotations

import hashlib
import tarfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory

import psycopg
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage

from upkeep import database
from upkeep.backups import DUMP, PHOTOS, BackupProblem, Manifest, check, opened

SET_ASIDE = "replaced"
"""Where photographs go whose place is taken by others of the same name."""
TEACHERS = "people_teacher"


def verify(path: Path, identity: Path | None = None) -> Manifest:
    """Restore a backup beside everything else, hold it against what it says of itself, and throw it away again.

    Errors: ``BackupProblem`` with what is wrong, ``ToolProblem``.
    """
    with opened(path, identity) as archive:
        manifest = check(archive)
        name = f"{database.where()['dbname'][:40]}_verified"
        with _filled(archive, manifest, name) as connection:
            photos = {str(row[0]) for row in connection.execute("SELECT file FROM designs_photo")}
        there = {part.removeprefix(PHOTOS) for part in manifest.parts if part.startswith(PHOTOS)}
        if photos != there | set(manifest.missing):
            raise BackupProblem(f"{path.name}: its photographs are not those that its database names.")
    return manifest


def restore(path: Path, identity: Path | None = None, over: bool = False, name: str = "") -> str:
    """Restore a backup: database and photographs are then as they were when it was made.

    Args:
        path: the archive.
        identity: a file with the private key, for one that is encrypted.
        over: whether it may take the place of a database in which teachers have accounts; that one stays, under another
            name, which is said.
        name: the database; empty for the one of the settings.
    Returns:
        The name under which the database that was there is kept; empty where there was none, or nobody in it.
    Errors:
        ``BackupProblem`` and ``ToolProblem``; the database is as it was then.
    """
    target = name or database.where()["dbname"]
    with opened(path, identity) as archive:
        manifest = check(archive)
        accounts = teachers(target)
        if accounts and not over:
            way = "With --over it is set aside, and this takes its place."
            raise BackupProblem(f"The database {target} is in use: {accounts} accounts. {way}")
        fresh, kept = f"{target[:40]}_restored", ""
        with _filled(archive, manifest, fresh, keep=True):
            _photos(archive)
        with database.maintenance() as connection:
            if not accounts:
                database.drop(connection, target)
            else:
                kept = f"{target[:40]}_before_{datetime.now(UTC):%Y%m%d%H%M%S}"
                database.rename(connection, target, kept)
            database.rename(connection, fresh, target)
    return kept


def teachers(name: str) -> int:
    """How many accounts a database has; none where it, or its table of them, is not there."""
    with database.maintenance() as maintenance:
        if not database.exists(maintenance, name):
            return 0
    try:
        with database.connected(name) as connection:
            row = connection.execute(f"SELECT count(*) FROM {TEACHERS}").fetchone()  # noqa: S608 — our own name
            return int(row[0]) if row else 0
    except psycopg.errors.UndefinedTable:
        return 0


@contextmanager
def _filled(
    archive: Path, manifest: Manifest, name: str, keep: bool = False
) -> Iterator[psycopg.Connection[tuple[object, ...]]]:
    """A database of this name with what the archive holds, looked at; dropped afterwards, unless it is to stay."""
    with database.maintenance() as maintenance:
        version = maintenance.info.server_version
        try:
            database.make(maintenance, name)
        except psycopg.errors.InsufficientPrivilege:
            raise BackupProblem("The role may not make databases (ALTER ROLE … CREATEDB), which this needs.") from None
        try:
            with TemporaryDirectory(dir=archive.parent, prefix=".unpacking-") as place:
                dump = Path(place) / DUMP
                with tarfile.open(archive, "r:") as tar, dump.open("wb") as out:
                    content = tar.extractfile(DUMP)
                    assert content is not None
                    while block := content.read(1024 * 1024):
                        out.write(block)
                options = ["--no-owner", "--no-privileges", "--exit-on-error", f"--dbname={name}", str(dump)]
                database.run([database.program("pg_restore", version), *options], name)
            with database.connected(name) as connection:
                if database.counted(connection) != manifest.tables:
                    raise BackupProblem("The restored database does not have as many rows as were written.")
                yield connection
        except BaseException:
            database.drop(maintenance, name)
            raise
        if not keep:
            database.drop(maintenance, name)


def _photos(archive: Path) -> None:
    """Put every photograph of an archive in its place; another that lies there is set aside."""
    aside = f"{SET_ASIDE}/{datetime.now(UTC):%Y%m%d%H%M%S}"
    with tarfile.open(archive, "r:") as tar:
        for member in tar:
            if not member.name.startswith(PHOTOS):
                continue
            content = tar.extractfile(member)
            assert content is not None
            name, picture = member.name.removeprefix(PHOTOS), content.read()
            if default_storage.exists(name):
                with default_storage.open(name, "rb") as there:
                    other = there.read()
                if hashlib.sha256(other).digest() == hashlib.sha256(picture).digest():
                    continue
                default_storage.save(f"{aside}/{name}", ContentFile(other))
                default_storage.delete(name)
            default_storage.save(name, ContentFile(picture))
