"""What so many teachers need: every table filled as a year of each would fill it, and the pages asked for then.

    ./girder start                                     (in another terminal)
    ./girder measure scale [TEACHERS] [TEACHERS…]      (without figures: 60 and 3,000)

Makes a database beside the one in use, with the made-up school in it, which is one teacher's year and more: fourteen
runs of every kind. That teacher is then copied, row by row of every table, as often as is asked, and at each size pages
are asked for in this process as one teacher after another: where people are many, a page should cost what it costs one.
Says what a teacher takes of the disk, table by table. Then the ledger of all of them is kept in another way, parted by
month, and it is said what an entry, a look at one trial, and leaving out a month cost in both; and how many rows a
second the database keeps, and keeps and tells of. At the end it is dropped. Photographs are no part of it; they lie in
files.
"""
# ruff: noqa: S608 — the names of tables are those of our own models

from __future__ import annotations

import os
import re
import statistics
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

SIZES = (60, 3000)
STEP = 100_000
"""Numbers of rows of one copy and of the next are so far apart."""
AT_ONCE = 50
"""Teachers that are filled in together."""
TIMES = 25
MONTHS = 12


@contextmanager
def database_beside() -> Iterator[str]:
    """An empty database of its own, with the application's tables; the framework is set up on it."""
    name = f"{os.environ['GIRDER_DB_NAME']}_scale"
    own: dict[str, Any] = {"host": os.environ["GIRDER_DB_HOST"], "port": os.environ["GIRDER_DB_PORT"],
           "user": os.environ["GIRDER_DB_USER"], "password": os.environ["GIRDER_DB_PASSWORD"]}  # fmt: skip
    import psycopg

    def say(*words: str) -> None:
        with psycopg.connect(**own, dbname="postgres", autocommit=True) as connection:
            for one in words:
                connection.execute(one.encode())

    gone = f'DROP DATABASE IF EXISTS "{name}" WITH (FORCE)'
    say(gone, f"CREATE DATABASE \"{name}\" TEMPLATE template0 ENCODING 'UTF8'")
    os.environ |= {"GIRDER_DB_NAME": name, "GIRDER_DB_POOL": "", "DJANGO_SETTINGS_MODULE": "evengirder.settings"}
    os.environ["GIRDER_MEDIA_ROOT"] = f"/tmp/{name}"  # noqa: S108 — nothing is kept there
    import django

    django.setup()
    try:
        yield name
    finally:
        from django.db import connection

        from upkeep import database

        connection.close()
        with database.maintenance() as maintenance:
            database.drop(maintenance, name)


def multiplied() -> list[Any]:
    """The models whose rows are a teacher's."""
    from django.apps import apps

    owners = ("people", "challenges", "drafting", "designs", "bench", "results", "tablets", "live")
    return [model for model in apps.get_models() if model._meta.app_label in owners and _rows(model)]


def _rows(model: Any) -> int:
    return int(model._base_manager.count())


def copying(model: Any, among: set[Any]) -> str:
    """The statement that copies all rows of the first teacher, once for each number from %s to %s."""
    from django.db import models

    def shifted(field: Any, column: str) -> str:
        if isinstance(field, models.UUIDField):
            return f"md5({column}::text || k)::uuid"
        if isinstance(field, (models.AutoField, models.IntegerField)):
            return f"{column} + k * {STEP}"
        return f"left({column}, {(field.max_length or 60) - 8}) || k"

    columns, values = [], []
    for field in model._meta.concrete_fields:
        column = f'"{field.column}"'
        columns.append(column)
        if field.remote_field is not None:
            target = field.remote_field.model
            values.append(shifted(target._meta.pk, column) if target in among else column)
        elif field.unique and not isinstance(field, models.BooleanField):
            values.append(shifted(field, column))
        else:
            values.append(column)
    key = f'"{model._meta.pk.column}"'
    # Only what was there at first, not the copies of it.
    numbered = isinstance(model._meta.pk, models.AutoField)
    first = f"{key} < {STEP}" if numbered else f"{key} IN (SELECT id FROM first_rows)"
    return (
        f"INSERT INTO {model._meta.db_table} ({', '.join(columns)}) SELECT {', '.join(values)} FROM "
        f"(SELECT * FROM {model._meta.db_table} WHERE {first}) t, generate_series(%s::int, %s::int) k"
    )


def fill(models: list[Any], first: int, last: int) -> float:
    """Copies of the first teacher with these numbers; how long that took [s]."""
    from django.db import connection, transaction

    among, began = set(models), time.monotonic()
    statements = [copying(model, among) for model in models]
    for low in range(first, last + 1, AT_ONCE):
        with transaction.atomic(), connection.cursor() as cursor:
            for model in models:
                # What nobody listens to need not be told.
                cursor.execute(f"ALTER TABLE {model._meta.db_table} DISABLE TRIGGER USER")
            for statement in statements:
                cursor.execute(statement, [low, min(last, low + AT_ONCE - 1)])
            cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
            for model in models:
                cursor.execute(f"ALTER TABLE {model._meta.db_table} ENABLE TRIGGER USER")
    with connection.cursor() as cursor:
        cursor.execute("ANALYZE")
    return time.monotonic() - began


def sizes(models: list[Any]) -> dict[str, int]:
    """What each table takes of the disk with its indexes [bytes]."""
    from django.db import connection

    found = {}
    with connection.cursor() as cursor:
        for model in models:
            cursor.execute("SELECT pg_total_relation_size(%s::regclass)", [model._meta.db_table])
            found[model._meta.db_table] = int(cursor.fetchone()[0])
    return found


def median_ms(once: Callable[[int], object], times: int = TIMES) -> float:
    """The median of how long something takes [ms], after one time that does not count."""
    once(0)
    taken = []
    for n in range(1, times + 1):
        began = time.perf_counter()
        once(n)
        taken.append((time.perf_counter() - began) * 1000)
    return statistics.median(taken)


def pages(teachers: int) -> dict[str, float]:
    """What pages take, asked for as one teacher after another [ms]."""
    from django.test import Client

    from challenges.models import Run
    from people.models import Teacher

    run = Run.objects.filter(pk__lt=STEP, family="bridge").order_by("pk")[0].pk
    one = Teacher.objects.get(pk__lt=STEP).pk

    def asked(path: Callable[[int], str]) -> Callable[[int], None]:
        def once(n: int) -> None:
            k = n * 37 % (teachers + 1)
            client = Client(SERVER_NAME="127.0.0.1")
            client.force_login(Teacher.objects.get(pk=one + k * STEP))
            began = time.perf_counter()
            answer = client.get(path(k))
            took.append((time.perf_counter() - began) * 1000)
            assert answer.status_code == 200, (path(k), answer.content[:300])

        return once

    found = {}
    for what, path in {
        "Home": lambda k: "/api/home",
        "a run": lambda k: f"/api/runs/{run + k * STEP}",
        "its comparison": lambda k: f"/api/runs/{run + k * STEP}/comparison",
        "the classes": lambda k: "/api/classes",
    }.items():
        took: list[float] = []
        median_ms(asked(path))
        found[what] = statistics.median(took[1:])
    return found


BY_MONTH = f"""
    CREATE VIEW dated AS SELECT t.*, (lpad(to_hex(get_byte(uuid_send(t.trial_id), 15) % {MONTHS}), 2, '0')
        || substr(t.trial_id::text, 3))::uuid AS dated_id FROM bench_ledgerevent t;
    CREATE TABLE whole (LIKE bench_ledgerevent INCLUDING DEFAULTS);
    CREATE TABLE parted (LIKE bench_ledgerevent INCLUDING DEFAULTS) PARTITION BY RANGE (trial_id)
"""
"""As if the id of a trial began with its month: so all entries of a trial lie in one part, and a place in its ledger is
still taken once."""
COPIED = "INSERT INTO {0} ({1}) SELECT {2} FROM dated"
AGAIN = """
    INSERT INTO {0} ({1}) SELECT {2} FROM {0} WHERE trial_id = %s ORDER BY sequence LIMIT 1
"""


def parted() -> None:
    """The ledger by month: trials whose ids begin with their time lie in one part, and a part goes at once."""
    from django.db import connection

    from bench.models import LedgerEvent

    names = [str(field.column) for field in LedgerEvent._meta.concrete_fields]
    columns, bounds = (
        ", ".join(names),
        [f"{month:02x}000000-0000-0000-0000-000000000000" for month in range(MONTHS + 1)],
    )
    dated = ", ".join("dated_id" if name == "trial_id" else name for name in names)
    other = {"id": "gen_random_uuid()", "sequence": "100000 + %s"}
    again = ", ".join(other.get(name, name) for name in names)
    with connection.cursor() as cursor:
        cursor.execute(BY_MONTH)
        for month in range(MONTHS):
            between = f"FROM ('{bounds[month]}') TO ('{bounds[month + 1]}')"
            cursor.execute(f"CREATE TABLE parted_{month} PARTITION OF parted FOR VALUES {between}")
        for table in ("whole", "parted"):
            cursor.execute(COPIED.format(table, columns, dated))
            cursor.execute(f"CREATE UNIQUE INDEX ON {table} (trial_id, sequence); CREATE INDEX ON {table} (id)")
        cursor.execute("ANALYZE whole, parted")
        cursor.execute(
            "SELECT trial_id FROM (SELECT DISTINCT trial_id FROM whole) t ORDER BY md5(trial_id::text) LIMIT 200"
        )
        trials = [row[0] for row in cursor.fetchall()] * 4

        def entered(table: str) -> Callable[[int], None]:
            return lambda n: cursor.execute(AGAIN.format(table, columns, again), [n, trials[n]])

        def looked(table: str) -> Callable[[int], None]:
            def once(n: int) -> None:
                cursor.execute(f"SELECT * FROM {table} WHERE trial_id = %s ORDER BY sequence", [trials[n]])
                cursor.fetchall()

            return once

        for table in ("whole", "parted"):
            entry, look = median_ms(entered(table), 150), median_ms(looked(table), 150)
            print(f"the ledger {table}: an entry {entry:.2f} ms, a look at a trial {look:.2f} ms")
        began = time.perf_counter()
        cursor.execute("ALTER TABLE parted DETACH PARTITION parted_0; DROP TABLE parted_0")
        dropped, began = time.perf_counter() - began, time.perf_counter()
        cursor.execute(f"DELETE FROM whole WHERE trial_id < '{bounds[1]}'")
        deleted = time.perf_counter() - began
        print(f"a month, {cursor.rowcount} entries, is left out in {dropped:.2f} s parted, {deleted:.2f} s whole")


KEEP = "INSERT INTO bare (v) VALUES (gen_random_uuid())"
SAID = {
    "kept alone": f"{KEEP};",
    "kept and told": f"BEGIN; {KEEP}; SELECT pg_notify('girder', '12'); COMMIT;",
}
SESSIONS, LASTS_S = (1, 16), 5


def told(name: str) -> None:
    """How many rows a second can be kept, and how many of which listeners are told: the database tells one after the
    other, each once it is on the disk."""
    from django.db import connection

    from upkeep.database import program, run

    with connection.cursor() as cursor:
        cursor.execute("CREATE TABLE bare (v uuid)")
        version = cursor.connection.info.server_version
    bench = program("pgbench", version)
    for sessions in SESSIONS:
        rates = {}
        for what, said in SAID.items():
            with tempfile.NamedTemporaryFile("w", suffix=".sql") as file:
                file.write(said)
                file.flush()
                with tempfile.TemporaryFile() as out:
                    command = [bench, "-n", "-c", str(sessions), "-j", "2", "-T", str(LASTS_S), "-f", file.name, name]
                    run(command, name, stdout=out)
                    out.seek(0)
                    found = re.search(rb"tps = ([0-9.]+)", out.read())
            assert found is not None
            rates[what] = float(found[1])
        ratio = rates["kept and told"] / rates["kept alone"]
        figures = ", ".join(f"{what} {rate:.0f}" for what, rate in rates.items())
        print(f"{sessions} sessions, rows a second: {figures} ({ratio:.2f} of it)")


def main() -> None:
    wanted = [int(one) for one in sys.argv[1:]] or list(SIZES)
    with database_beside() as name:
        from django.core.management import call_command

        call_command("migrate", verbosity=0)
        call_command("load_demo", alone=True)
        models = multiplied()
        from django.db import connection

        with connection.cursor() as cursor:
            uuids = [model for model in models if model._meta.pk.get_internal_type() == "UUIDField"]
            each = [f"SELECT {model._meta.pk.column} AS id FROM {model._meta.db_table}" for model in uuids]
            every = " UNION ALL ".join(each)
            cursor.execute(f"CREATE TABLE first_rows AS {every}")
            cursor.execute("CREATE UNIQUE INDEX ON first_rows (id)")
        rows = {model._meta.db_table: _rows(model) for model in models}
        of = f"{sum(rows.values())} rows in {len(rows)} tables, {rows['bench_ledgerevent']} of them entries"
        print(f"one teacher has {of}")
        alone = pages(0)
        print("1 teacher: " + ", ".join(f"{what} {took:.0f} ms" for what, took in alone.items()))
        empty, had = sizes(models), 0
        for teachers in sorted(wanted):
            took_s = fill(models, had + 1, teachers)
            had = teachers
            now = pages(teachers)
            print(f"{teachers} teachers, filled in within {took_s:.0f} s: " + ", ".join(
                f"{what} {took:.0f} ms ({took / alone[what]:.2f} times)" for what, took in now.items()))  # fmt: skip
        grown = {table: (size - empty[table]) / had for table, size in sizes(models).items()}
        most = sorted(grown.items(), key=lambda one: -one[1])[:8]
        named = ", ".join(f"{table} {size / 1000:.0f}" for table, size in most)
        print(f"a teacher's year takes {sum(grown.values()) / 1000:.0f} kB: {named}")
        parted()
        told(name)


if __name__ == "__main__":
    main()
