"""What a proxy or a watcher asks: whether this process lives, and whether it can do its work."""

from __future__ import annotations

from django.db import connection
from django.db.migrations import Migration
from django.db.migrations.executor import MigrationExecutor
from django.http import HttpRequest, HttpResponse

from evengirder.errors import AWAY

_known: set[str] = set()
"""What was found once and cannot change while a process lives: that its tables are there."""
TABLES = "tables"


def _said(words: str, status: int = 200) -> HttpResponse:
    return HttpResponse(f"{words}\n", status=status, content_type="text/plain", headers={"Cache-Control": "no-store"})


def lives(request: HttpRequest) -> HttpResponse:
    """Whether the process answers; it asks nobody else. One that does not is to be started again."""
    return _said("lives")


def waiting() -> list[tuple[Migration, bool]]:
    """The migrations that the database has not had yet, in their order."""
    executor = MigrationExecutor(connection)
    return executor.migration_plan(executor.loader.graph.leaf_nodes())


def unready() -> str:
    """Why it cannot do its work: the database is away, takes no writes, or lacks tables of this version; empty if it
    can."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT pg_is_in_recovery()")
            if cursor.fetchone()[0]:
                return "the database is a standby"
        if TABLES not in _known:
            if waiting():
                return "migrations wait"
            _known.add(TABLES)
    except AWAY:
        return "the database is away"
    return ""


def ready(request: HttpRequest) -> HttpResponse:
    """Whether it can do its work. Where not, a proxy sends people elsewhere; 503 with the reason."""
    why = unready()
    return _said(why, 503) if why else _said("ready")
