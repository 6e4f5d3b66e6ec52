"""Bringing tables to the version of this program: one at a time, with a backup before, while others go on working."""

from __future__ import annotations

import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.db import DatabaseError, OperationalError, connection

from evengirder.health import waiting
from upkeep.backups import make
from upkeep.database import connected
from upkeep.restoring import teachers
from upkeep.steps import all_stumbles

NAME = "even-girder upgrade"
LOCK = 0x67697264
"""A lock of the database's, which whoever upgrades holds; it goes with its connection, whatever becomes of the process.
"""
ASKED_S = 1.0
LONGEST_BLOCK_S, TRIES = 3, 20
"""A table is changed once nobody is in the middle of something with it. Others wait behind whoever waits for that, so
it is given up after this time [s], and tried again a little later, this often."""


class UpgradeProblem(Exception):
    """Why it was not done, or not to its end: in a sentence."""


@dataclass(frozen=True)
class Upgraded:
    """What was done: the migrations, and the backup that was made before, where there was anything to lose."""

    ran: list[str]
    backup: Path | None


def upgrade(folder: Path | None, recipients: Sequence[str] = (), alone: bool = False, wait_s: float = 600) -> Upgraded:
    """Bring the tables to this version.

    Args:
        folder: where the backup goes that is made before; none has to be given where nobody has an account yet.
        recipients: public keys of those who can read that backup; none for one that is not encrypted.
        alone: said to be alone, for changes with which a process of the version before cannot go on; it is looked
            whether that is so.
        wait_s: how long to wait for somebody else who upgrades just now [s].
    Errors:
        ``UpgradeProblem``; ``BackupProblem`` and ``ToolProblem`` of the backup, and nothing was changed then.
    """
    with _one_at_a_time(wait_s), _past_the_pooler():
        plan = waiting()
        if not plan:
            return Upgraded([], None)
        in_use = teachers(str(connection.settings_dict["NAME"]))
        if in_use:
            _let_go_on(plan, alone)
        backup = _backup(folder, recipients) if in_use else None
        ran = [f"{migration.app_label}.{migration.name}" for migration, _ in plan]
        try:
            _migrate()
        except (DatabaseError, ValueError) as error:
            raise UpgradeProblem(_stopped(error, backup)) from error
        return Upgraded(ran, backup)


def _let_go_on(plan: Sequence[tuple[Any, bool]], alone: bool) -> None:
    """Whether it may be done while others work, or they are gone."""
    found = all_stumbles(plan)
    if not found:
        return
    if not alone:
        said = "\n".join(f"  {one.migration}: {one.sentence}" for one in found[:5])
        raise UpgradeProblem(
            "Processes of the version before cannot go on with this:\n"
            f"{said}\nStop them on all hosts, and say --alone. Nothing was changed."
        )
    others = _others()
    if others:
        raise UpgradeProblem(f"Somebody is still connected: {'; '.join(others[:5])}. Nothing was changed.")


def _others() -> list[str]:
    """Who else is connected to the database."""
    with connected(application_name=NAME) as own:
        rows = own.execute(
            "SELECT pid, coalesce(host(client_addr), 'this machine'), backend_start FROM pg_stat_activity"
            " WHERE datname = current_database() AND backend_type = 'client backend' AND application_name <> %s",
            [NAME],
        ).fetchall()
    return [f"process {pid} from {where}, since {since:%H:%M:%S}" for pid, where, since in rows]


def _backup(folder: Path | None, recipients: Sequence[str]) -> Path:
    if folder is None:
        raise UpgradeProblem("Teachers have accounts here. Say with GIRDER_BACKUPS where the backup goes before it.")
    return make(folder, recipients)


def _migrate() -> None:
    for left in reversed(range(TRIES)):
        try:
            with connection.cursor() as cursor:
                cursor.execute("SELECT set_config('lock_timeout', %s, false)", [f"{LONGEST_BLOCK_S}s"])
            call_command("migrate", interactive=False, verbosity=0)
            return
        except OperationalError as error:
            if not isinstance(error.__cause__, psycopg.errors.LockNotAvailable) or not left:
                raise
            time.sleep(ASKED_S)


def _stopped(error: Exception, backup: Path | None) -> str:
    plan = waiting()
    at = f"{plan[0][0].app_label}.{plan[0][0].name}" if plan else "the end"
    said = f"It stopped at {at}: {str(error).strip().splitlines()[0]}. What came before that is kept, and the version "
    said += "before goes on with it."
    if backup is not None:
        said += f" As all was before, it is in {backup}: restore it with --over."
    return said


@contextmanager
def _one_at_a_time(wait_s: float) -> Iterator[None]:
    """Nobody else upgrades meanwhile; whoever does now is waited for."""
    last = time.monotonic() + wait_s
    with connected(application_name=NAME, autocommit=True) as own:
        while not _taken(own):
            if time.monotonic() > last:
                raise UpgradeProblem(f"Somebody else upgrades just now: {_holder(own)}. Nothing was changed.")
            time.sleep(ASKED_S)
        yield


def _taken(own: psycopg.Connection[Any]) -> bool:
    row = own.execute("SELECT pg_try_advisory_lock(%s)", [LOCK]).fetchone()
    return bool(row and row[0])


def _holder(own: psycopg.Connection[Any]) -> str:
    row = own.execute(
        "SELECT pid, coalesce(host(client_addr), 'this machine'), backend_start FROM pg_locks JOIN pg_stat_activity"
        " USING (pid) WHERE locktype = 'advisory' AND objid = %s AND granted AND datname = current_database()", [LOCK],
    ).fetchone()  # fmt: skip
    return f"process {row[0]} from {row[1]}, since {row[2]:%H:%M:%S}" if row else "it has just ended, try again"


@contextmanager
def _past_the_pooler() -> Iterator[None]:
    """The framework's own connection is to the database itself, and a connection of its own."""
    told = connection.settings_dict
    before = {part: told[part] for part in ("HOST", "PORT", "OPTIONS")}
    connection.close()
    if settings.DB_DIRECT:
        told["HOST"], told["PORT"] = settings.DB_DIRECT
    options = {name: value for name, value in told["OPTIONS"].items() if name != "pool"}
    told["OPTIONS"] = {**options, "application_name": NAME}
    try:
        yield
    finally:
        connection.close()
        told.update(before)
