"""The database's connections, of which there are few."""

from __future__ import annotations

from typing import Any

import psycopg
from django.conf import settings
from django.db import connection
from django.db.backends.utils import CursorWrapper


def let_go() -> None:
    """Give this thread's connection to others while it works or waits for long; the next query takes one again.

    Within a transaction it is kept.
    """
    if not connection.in_atomic_block:
        connection.close()


def address() -> dict[str, Any]:
    """Where the database itself is, past a pooler, and how it is entered: for a connection of one's own."""
    database = settings.DATABASES["default"]
    host, port = settings.DB_DIRECT or (database["HOST"], database["PORT"])
    watched = {name: value for name, value in database["OPTIONS"].items() if name in NOTICED}
    return {
        "host": host, "port": port, "dbname": database["NAME"], "user": database["USER"],
        "password": database["PASSWORD"], **watched,
    }  # fmt: skip


NOTICED = ("keepalives_idle", "keepalives_interval", "keepalives_count", "tcp_user_timeout")
"""By which a connection notices that the host at its other end fell silent."""


def is_there() -> bool:
    """Whether the database answers, asked past the connections that others may all have just now."""
    try:
        psycopg.connect(**address(), connect_timeout=2).close()
    except psycopg.Error:
        return False
    return True


def prepared_cursor() -> CursorWrapper:
    """A cursor for a few statements that are asked over and over: on this thread's connection each is planned once.

    Planning takes longer than answering where several tables are joined for one row. Whatever else a cursor of the
    framework does (its errors, its count of queries) this one does too.
    """
    connection.ensure_connection()
    cursor: Any = psycopg.Cursor(connection.connection)
    return connection.make_debug_cursor(cursor) if connection.queries_logged else connection.make_cursor(cursor)
