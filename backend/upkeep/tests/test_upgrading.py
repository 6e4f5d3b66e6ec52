"""An upgrade as a claim: one at a time, nothing lost, and the version before goes on, tried with real tables."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from io import StringIO
from pathlib import Path
from typing import Any, cast

import psycopg
from django.conf import settings
from django.core.management import call_command
from django.db import IntegrityError, ProgrammingError, connection, models, transaction
from django.db.backends.base.schema import BaseDatabaseSchemaEditor
from django.db.migrations import Migration
from django.db.migrations import operations as made_by
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.operations.base import Operation
from django.db.migrations.state import ModelState, ProjectState
from django.test import SimpleTestCase, TransactionTestCase, tag

from upkeep import database
from upkeep.backups import check
from upkeep.restoring import restore
from upkeep.steps import stumbles
from upkeep.upgrading import LOCK

ADDS, TAKES = ("people", "0005_demo_account"), ("people", "0004_doors")
"""Versions before: after the one, what waits only adds; after the other, the version before could write no teacher."""


def migration(*operations: Operation, expands: str = "") -> Migration:
    made = Migration("0002_next", "girder_tried")
    made.operations = list(operations)  # type: ignore[misc]
    if expands:
        made.expands = expands  # type: ignore[attr-defined]
    return made


def nothing(apps: Any, editor: BaseDatabaseSchemaEditor) -> None:
    """Changes nothing."""


TABLE = ModelState("girder_tried", "Thing", [
    ("id", models.BigAutoField(primary_key=True)), ("name", models.CharField(max_length=20)),
    ("size", models.IntegerField(default=3)),
])  # fmt: skip
DB_DEFAULT, PLAIN = models.IntegerField(db_default=7), models.IntegerField(default=7)
TRIED: list[tuple[str, list[Operation]]] = [
    ("a column that may be empty", [made_by.AddField("thing", "more", models.IntegerField(null=True))]),
    ("a column that the database fills", [made_by.AddField("thing", "more", DB_DEFAULT)]),
    ("a column that only the new version fills", [made_by.AddField("thing", "more", PLAIN)]),
    ("a column that goes", [made_by.RemoveField("thing", "size")]),
    ("a column with another name", [made_by.RenameField("thing", "size", "extent")]),
    ("a table that goes", [made_by.DeleteModel("Thing")]),
    ("a table with another name", [made_by.RenameModel("Thing", "Object")]),
    ("an index", [made_by.AddIndex("thing", models.Index(fields=["name"], name="girder_tried_name"))]),
    ("one more table", [made_by.CreateModel("Other", [
        ("id", models.BigAutoField(primary_key=True)), ("must", models.IntegerField())])]),
    ("one more table, with a column that came later", [
        made_by.CreateModel("Other", [("id", models.BigAutoField(primary_key=True))]),
        made_by.AddField("other", "must", models.IntegerField(default=1))]),
]  # fmt: skip


class Steps(TransactionTestCase):
    """What is said of a change is what happens: the tables are changed, and the old models go on with them, or not."""

    @contextmanager
    def there(self, changed: ProjectState) -> Iterator[None]:
        with connection.schema_editor() as editor:
            editor.create_model(changed.apps.get_model("girder_tried", "Thing"))
        try:
            yield
        finally:
            with connection.cursor() as cursor:
                names = [f"girder_tried_{name}" for name in ("thing", "object", "other")]
                cursor.execute(f"DROP TABLE IF EXISTS {', '.join(names)} CASCADE")

    def goes_on(self, before: ProjectState) -> bool:
        """Whether the models of before can write, read, change and delete."""
        thing = cast(Any, before.apps.get_model("girder_tried", "Thing"))
        try:
            with transaction.atomic():
                made = thing.objects.create(name="old", size=1)
                made.size = 2
                made.save()
                same = thing.objects.get(pk=made.pk).size == 2
                made.delete()
            return bool(same)
        except (ProgrammingError, IntegrityError):
            return False

    def test_what_is_said_is_what_happens(self) -> None:
        came: set[bool] = set()
        for words, operations in TRIED:
            before = ProjectState()
            before.add_model(TABLE)
            with self.subTest(words), self.there(before):
                change = migration(*operations)
                with connection.schema_editor() as editor:
                    change.apply(before.clone(), editor)
                goes_on = self.goes_on(before)
                self.assertEqual(not stumbles(change), goes_on)
                came.add(goes_on)
        self.assertEqual(came, {True, False})

    def test_what_can_be_either_is_looked_at_by_whoever_writes_it(self) -> None:
        wider = made_by.AlterField("thing", "name", models.CharField(max_length=90))
        for each in (made_by.RunPython(nothing), made_by.RunSQL("SELECT 1"), wider):
            self.assertEqual(len(stumbles(migration(each))), 1)
            self.assertEqual(stumbles(migration(each, expands="it only counts")), [])
        # That somebody says so makes none of what takes away.
        gone = migration(made_by.RemoveField("thing", "size"), expands="nobody uses it")
        self.assertEqual(len(stumbles(gone)), 1)

    def test_of_what_is_done_beside_the_models_the_tables_part_counts(self) -> None:
        gone = made_by.RemoveField("thing", "size")
        apart = made_by.SeparateDatabaseAndState(database_operations=[], state_operations=[gone])
        self.assertEqual(stumbles(migration(apart)), [])
        self.assertEqual(len(stumbles(migration(made_by.SeparateDatabaseAndState(database_operations=[gone])))), 1)


BASELINE = {
    "bench": "0005_by_team", "challenges": "0005_who_changed_the_goal", "designs": "0007_readings_sent_later",
    "drafting": "0002_corrections", "live": "0004_tell_of_teams", "people": "0006_colleagues",
    "results": "0001_initial", "tablets": "0005_may_test",
}  # fmt: skip
"""Up to here a version was always brought in with all processes stopped. What takes something away after it says in
which version nothing used it any more."""
CONTRACTS: dict[str, str] = {}


class EveryMigration(SimpleTestCase):
    def test_since_the_baseline_the_version_before_goes_on(self) -> None:
        loader = MigrationLoader(None)
        for (app, name), each in loader.disk_migrations.items():
            if app in BASELINE and name > BASELINE[app]:
                with self.subTest(each):
                    self.assertEqual([one.sentence for one in stumbles(each) if one.migration not in CONTRACTS], [])
        self.assertEqual({name for app, name in loader.disk_migrations if name == BASELINE.get(app)},
                         set(BASELINE.values()))  # fmt: skip


@tag("slow")
class Upgrade(TransactionTestCase):
    def setUp(self) -> None:
        self.name = f"{connection.settings_dict['NAME']}_upgraded"
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        with database.maintenance() as maintenance:
            database.make(maintenance, self.name)
        self.addCleanup(self.gone)
        self.env = {**os.environ, "GIRDER_DB_NAME": self.name, "GIRDER_BACKUPS": str(self.folder), "GIRDER_DB_POOL": ""}

    def gone(self) -> None:
        with database.maintenance() as maintenance:
            rows = maintenance.execute("SELECT datname FROM pg_database WHERE starts_with(datname, %s)", [self.name])
            for (name,) in rows.fetchall():
                database.drop(maintenance, name)

    def managed(self, *words: str, **more: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "manage.py", *words]
        env = {**self.env, **more}
        return subprocess.run(command, cwd=settings.BACKEND, env=env, capture_output=True, text=True)

    def before(self, has: tuple[str, str]) -> None:
        """Tables of a version before, and somebody who has an account."""
        self.assertEqual(self.managed("migrate", "-v0").returncode, 0)
        self.assertEqual(self.managed("migrate", "-v0", *has).returncode, 0)
        with database.connected(self.name) as own:
            if has == ADDS:
                own.execute("ALTER TABLE people_teacher ALTER is_demo SET DEFAULT false")
            own.execute("INSERT INTO people_teacher (email, name, password, units, is_active, joined_at)"
                        " VALUES ('ada@school.example', 'Ada', '', 'metric', true, now())")  # fmt: skip

    def applied(self, name: str = "") -> list[Any]:
        with database.connected(name or self.name) as own:
            return own.execute("SELECT app, name FROM django_migrations ORDER BY app, name").fetchall()

    def test_two_at_once_are_one_after_the_other(self) -> None:
        came: list[subprocess.CompletedProcess[str]] = []
        both = [threading.Thread(target=lambda: came.append(self.managed("upgrade"))) for _ in range(2)]
        for one in both:
            one.start()
        for one in both:
            one.join()
        self.assertEqual([one.returncode for one in came], [0, 0], came)
        said = sorted(one.stdout.split(".")[0] for one in came)
        self.assertRegex(said[0], r"^\d+ migrations, ")
        self.assertEqual(said[1], "The tables are as this version has them")
        # Nobody has an account, so nothing was to be backed up.
        self.assertEqual(list(self.folder.iterdir()), [])

    def test_who_holds_the_lock_is_said_to_whoever_does_not_wait(self) -> None:
        beside = str(connection.settings_dict["NAME"])
        with (
            database.connected(beside, autocommit=True) as another,
            database.connected(self.name, autocommit=True) as own,
        ):
            # Whoever upgrades another database of the same server is in nobody's way.
            another.execute("SELECT pg_advisory_lock(%s)", [LOCK])
            own.execute("SELECT pg_advisory_lock(%s)", [LOCK])
            done = self.managed("upgrade", "--wait=0")
            self.assertIn(f"Somebody else upgrades just now: process {own.info.backend_pid} from", done.stderr)
        self.assertEqual(self.managed("upgrade", "--wait=0").returncode, 0)

    def test_where_others_could_not_go_on_it_says_so_and_does_it_only_alone(self) -> None:
        self.before(TAKES)
        there = self.applied()
        done = self.managed("upgrade")
        self.assertEqual((done.returncode, self.applied()), (1, there))
        self.assertIn("cannot go on with this", done.stderr)
        with database.connected(self.name) as other:
            done = self.managed("upgrade", "--alone")
            self.assertIn(f"Somebody is still connected: process {other.info.backend_pid} from", done.stderr)
            self.assertEqual(self.applied(), there)
        without = self.managed("upgrade", "--alone", GIRDER_BACKUPS="")
        self.assertIn("Say with GIRDER_BACKUPS where the backup goes", without.stderr)
        self.assertEqual(self.applied(), there)
        done = self.managed("upgrade", "--alone")
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertGreater(len(self.applied()), len(there))
        # The way back, as it says.
        [path] = self.folder.glob("*.tar")
        self.assertIn(str(path), done.stdout)
        self.assertEqual(check(path).tables["people_teacher"], 1)
        back = f"{self.name}_back"
        restore(path, name=back)
        self.assertEqual(self.applied(back), there)

    def test_one_that_stops_in_the_middle_says_where_and_keeps_what_was(self) -> None:
        self.before(ADDS)
        with database.connected(self.name) as own:
            # In the way of what comes next.
            own.execute("CREATE TABLE people_deed (id integer)")
        there = self.applied()
        done = self.managed("upgrade")
        self.assertEqual(done.returncode, 1)
        self.assertIn("It stopped at people.0006_colleagues: ", done.stderr)
        self.assertIn("restore it with --over", done.stderr)
        self.assertEqual(self.applied(), there)
        with database.connected(self.name) as own:
            own.execute("DROP TABLE people_deed")
        self.assertEqual(self.managed("upgrade").returncode, 0)

    def test_it_waits_for_whoever_is_in_the_middle_of_something(self) -> None:
        self.assertEqual(self.managed("migrate", "-v0").returncode, 0)
        self.assertEqual(self.managed("migrate", "-v0", "designs", "0006").returncode, 0)
        done: list[subprocess.CompletedProcess[str]] = []
        with database.connected(self.name) as other:
            # A reader in the middle of something: a table that is read cannot be changed.
            other.execute("SELECT * FROM designs_reading").fetchall()
            upgrading = threading.Thread(target=lambda: done.append(self.managed("upgrade")))
            upgrading.start()
            self.wait_for_lock(other)
            # Meanwhile others read and write, though one waits to change the table.
            with database.connected(self.name, autocommit=True) as third:
                third.execute("SET statement_timeout = '20s'")
                for _ in range(3):
                    third.execute("SELECT count(*) FROM designs_reading").fetchone()
            other.commit()
            upgrading.join()
        self.assertEqual(done[0].returncode, 0, done[0].stderr)

    def wait_for_lock(self, own: psycopg.Connection[Any]) -> None:
        for _ in range(600):
            with database.connected(self.name) as asks:
                row = asks.execute(
                    "SELECT count(*) FROM pg_locks JOIN pg_database ON pg_database.oid = database"
                    " WHERE NOT granted AND datname = current_database()"
                ).fetchone()
            if row and row[0]:
                return
            threading.Event().wait(0.1)
        raise AssertionError("nobody waited for the table")


class Command(TransactionTestCase):
    def test_there_is_nothing_to_do(self) -> None:
        said = StringIO()
        call_command("upgrade", stdout=said)
        self.assertEqual(said.getvalue().strip(), "The tables are as this version has them.")
        # The connection is the framework's own again.
        self.assertNotIn("application_name", connection.settings_dict["OPTIONS"])
