"""The database's own tools, and databases beside the one in use, to put something into."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
from psycopg import sql

from evengirder.database import address

PROGRAMS = Path("/usr/lib/postgresql")
"""Where Debian keeps the tools of each version."""
MAINTENANCE = "postgres"
"""The database from which others are made and renamed."""


class ToolProblem(Exception):
    """A tool of the database is missing, or did not do what it should: in a sentence."""


def where() -> dict[str, str]:
    """How the database itself is reached, past a pooler, as its own library calls the parts."""
    return {name: str(part) for name, part in address().items() if part}


def connected(database: str = "", **more: Any) -> psycopg.Connection[Any]:
    """A connection of its own, outside of the framework's."""
    return psycopg.connect(**{**where(), **({"dbname": database} if database else {}), "connect_timeout": 5, **more})


def program(name: str, server_version: int) -> str:
    """The path of one of the database's tools, of the server's version or a later one.

    Args:
        name: ``pg_dump`` or ``pg_restore``.
        server_version: as the server tells it, such as 150018.
    Errors:
        ``ToolProblem`` where there is none.
    """
    wanted = server_version // 10_000
    versions = {int(found.parts[-3]): found for found in PROGRAMS.glob(f"*/bin/{name}") if found.parts[-3].isdecimal()}
    fitting = [version for version in sorted(versions) if version >= wanted]
    if fitting:
        return str(versions[fitting[0]])
    elsewhere = shutil.which(name)
    if elsewhere and _major(elsewhere) >= wanted:
        return elsewhere
    raise ToolProblem(f"{name} of version {wanted} or later is needed: apt install postgresql-client-{wanted}")


def _major(path: str) -> int:
    said = subprocess.run([path, "--version"], capture_output=True, text=True).stdout  # noqa: S603 — the database's own
    found = re.search(r"(\d+)", said)
    return int(found[1]) if found else 0


def run(command: list[str], database: str = "", **more: Any) -> None:
    """Run one of the database's tools against a database.

    The password is told in the environment, because the arguments of a process can be read by all. Errors:
    ``ToolProblem`` with what the tool said last.
    """
    told = where()
    names = {"PGHOST": "host", "PGPORT": "port", "PGUSER": "user", "PGPASSWORD": "password", "PGDATABASE": "dbname"}
    env = {**os.environ, **{variable: told[part] for variable, part in names.items() if part in told}}
    if database:
        env["PGDATABASE"] = database
    done = subprocess.run(command, env=env, stderr=subprocess.PIPE, **more)  # noqa: S603 — the database's own
    if done.returncode != 0:
        last = done.stderr.decode(errors="replace").strip().splitlines()[-3:]
        raise ToolProblem(f"{Path(command[0]).name} gave up: {' '.join(last)}")


@contextmanager
def maintenance() -> Iterator[psycopg.Connection[Any]]:
    """A connection from which databases are made, renamed and dropped."""
    with connected(MAINTENANCE, autocommit=True) as connection:
        yield connection


def make(connection: psycopg.Connection[Any], name: str) -> None:
    """An empty database of this name; one that is there already goes first."""
    drop(connection, name)
    connection.execute(sql.SQL("CREATE DATABASE {} TEMPLATE template0 ENCODING 'UTF8'").format(sql.Identifier(name)))


def drop(connection: psycopg.Connection[Any], name: str) -> None:
    """A database and all that is in it are no more; whoever is connected to it is cut off."""
    gone = sql.SQL("DROP DATABASE IF EXISTS {}").format(sql.Identifier(name))
    try:
        connection.execute(gone + sql.SQL(" WITH (FORCE)"))
    except psycopg.errors.InsufficientPrivilege:
        # The server itself sweeps there just now, and is not ours to cut off. Without force it makes room by itself.
        _cut_off(connection, name)
        connection.execute(gone)


def _cut_off(connection: psycopg.Connection[Any], name: str) -> None:
    """Whoever is connected to a database as we are is cut off; what the server itself does there is left to it."""
    connection.execute(
        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = %s AND usename = current_user", [name]
    )


def rename(connection: psycopg.Connection[Any], name: str, to: str) -> None:
    """A database has another name; whoever is connected to it is cut off."""
    _cut_off(connection, name)
    connection.execute(sql.SQL("ALTER DATABASE {} RENAME TO {}").format(sql.Identifier(name), sql.Identifier(to)))


def exists(connection: psycopg.Connection[Any], name: str) -> bool:
    """Whether there is a database of this name."""
    return connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", [name]).fetchone() is not None


def counted(connection: psycopg.Connection[Any]) -> dict[str, int]:
    """How many rows each table of the application has, by the table's name."""
    tables = connection.execute(
        "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename"
    ).fetchall()
    counts = {}
    for (table,) in tables:
        row = connection.execute(sql.SQL("SELECT count(*) FROM {}").format(sql.Identifier(table))).fetchone()
        assert row is not None
        counts[str(table)] = int(row[0])
    return counts
