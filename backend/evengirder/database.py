"""The database's connections, of which there are few."""

from __future__ import annotations

from django.db import connection


def let_go() -> None:
    """Give this thread's connection to others while it works or waits for long; the next query takes one again.

    Within a transaction it is kept.
    """
    if not connection.in_atomic_block:
        connection.close()
