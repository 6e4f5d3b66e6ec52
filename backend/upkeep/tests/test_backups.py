"""Backups as a claim: all comes back as it was, a damaged one is told, and nothing falls between two moments."""

from __future__ import annotations

import json
import shutil
import tarfile
import tempfile
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from io import BytesIO, StringIO
from pathlib import Path
from random import Random
from typing import Any, cast
from uuid import uuid4

import psycopg
import pyrage
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TransactionTestCase, override_settings, tag
from django.utils import timezone
from PIL import Image
from psycopg import sql

from bench.models import LedgerEvent
from bench.services import append_events, start_trial
from designs.models import Design, Photo
from designs.photo_services import keep_photo
from people.models import Teacher
from people.tests.support import checked_in, run, teacher
from upkeep import database
from upkeep.backups import GOOD, MANIFEST, PHOTOS, BackupProblem, check, last_good, make, opened
from upkeep.restoring import restore, verify


def photo(number: int) -> SimpleUploadedFile:
    data = BytesIO()
    Image.effect_noise((60, 40), 20 + number).convert("RGB").save(data, "JPEG")
    return SimpleUploadedFile("photo.jpg", data.getvalue(), "image/jpeg")


@contextmanager
def told_of_it(**parts: str) -> Iterator[None]:
    """Something else is said of how the database is reached; connections that are there stay."""
    told = settings.DATABASES["default"]
    before = {part: told[part] for part in parts}
    told.update(parts)
    try:
        yield
    finally:
        told.update(before)


class WithBackups(TransactionTestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.photos = self.folder / "photographs"
        self.enterContext(override_settings(MEDIA_ROOT=self.photos))
        self.to = self.folder / "backups"
        self.run_ = run(teacher("Ada"))
        self.tern = checked_in(self.run_.designs.all()[0])
        bench = uuid4()
        place = {"kind": "place", "data": {"item": "platform", "count": 1}}
        rows = [{"id": uuid4(), "sequence": 1, "happened_at": timezone.now(), **place}]
        append_events(start_trial(self.tern, uuid4(), bench), bench, rows)
        keep_photo(self.tern, photo(1), "design")
        keep_photo(self.tern, photo(2), "wreck")
        self.elsewhere = f"{connection.settings_dict['NAME']}_elsewhere"
        self.addCleanup(self.drop_all)

    def named_like(self, beginning: str) -> list[str]:
        """The databases of this server whose names begin so."""
        with database.maintenance() as maintenance:
            rows = maintenance.execute("SELECT datname FROM pg_database WHERE starts_with(datname, %s)", [beginning])
            return [name for (name,) in rows.fetchall()]

    def drop_all(self) -> None:
        for name in self.named_like(self.elsewhere):
            with database.maintenance() as maintenance:
                database.drop(maintenance, name)

    def rows(self, name: str = "") -> dict[str, list[str]]:
        """Every row of every table of a database, as text."""
        with database.connected(name or str(connection.settings_dict["NAME"])) as own:
            return {
                table: sorted(str(row[0]) for row in own.execute(f'SELECT t::text FROM "{table}" t').fetchall())
                for table in database.counted(own)
            }

    def names(self) -> list[str]:
        """What lies where backups lie."""
        return sorted(file.name for file in self.to.iterdir())

    def pictures(self, folder: Path) -> dict[str, bytes]:
        return {str(file.relative_to(folder)): file.read_bytes() for file in folder.rglob("*") if file.is_file()}


class Swept:
    """A connection of somebody who may not cut off what the server itself does in a database just now."""

    def __init__(self, own: psycopg.Connection[Any]) -> None:
        self._own, self.refused = own, 0

    def execute(self, query: Any, parameters: Any = None) -> Any:
        if isinstance(query, sql.Composed) and "FORCE" in query.as_string(self._own):
            self.refused += 1
            raise psycopg.errors.InsufficientPrivilege("must be a member of the role whose process is being terminated")
        return self._own.execute(query, parameters)


class Dropped(WithBackups):
    def test_a_database_goes_also_while_the_server_sweeps_in_it(self) -> None:
        with database.maintenance() as maintenance:
            database.make(maintenance, self.elsewhere)
            swept = Swept(maintenance)
            with database.connected(self.elsewhere):
                database.drop(cast(Any, swept), self.elsewhere)
            self.assertEqual((swept.refused, database.exists(maintenance, self.elsewhere)), (1, False))


@tag("slow")
class ThereAndBack(WithBackups):
    def test_all_is_back_as_it_was_where_nothing_was(self) -> None:
        before, pictures = self.rows(), self.pictures(self.photos)
        self.assertEqual((len(pictures), LedgerEvent.objects.count()), (2, 1))
        path = make(self.to)
        self.assertEqual(path.stat().st_mode & 0o777, 0o600)
        shutil.rmtree(self.photos)
        self.assertEqual(restore(path, name=self.elsewhere), "")
        self.assertEqual(self.rows(self.elsewhere), before)
        self.assertEqual(self.pictures(self.photos), pictures)
        # Its counters too go on where they were: the next row takes no number of another.
        with database.connected(self.elsewhere) as own:
            own.execute("INSERT INTO people_schoolclass (name, owner_id, created_at)"
                        " SELECT 'Next', id, now() FROM people_teacher")  # fmt: skip

    def test_it_can_be_verified_while_all_goes_on_and_leaves_nothing_behind(self) -> None:
        path = make(self.to)
        manifest = verify(path)
        # Of other databases nothing is asked: tests beside this one make and drop theirs meanwhile.
        self.assertEqual(self.named_like(f"{connection.settings_dict['NAME']}_"), [])
        self.assertEqual(manifest.tables["designs_photo"], 2)
        self.assertEqual(self.names(), sorted([path.name, GOOD]))

    def test_a_database_in_use_is_left_alone_or_set_aside_whole(self) -> None:
        path = make(self.to)
        restore(path, name=self.elsewhere)
        with database.connected(self.elsewhere) as own:
            own.execute("UPDATE people_teacher SET name = 'Somebody else'")
        there = self.rows(self.elsewhere)
        with self.assertRaisesMessage(BackupProblem, "is in use: 1 accounts"):
            restore(path, name=self.elsewhere)
        self.assertEqual(self.rows(self.elsewhere), there)
        kept = restore(path, over=True, name=self.elsewhere)
        self.assertEqual(self.rows(kept), there)
        self.assertEqual(self.rows(self.elsewhere), self.rows())

    def test_a_database_with_nobody_in_it_gives_way(self) -> None:
        path = make(self.to)
        with database.maintenance() as maintenance:
            database.make(maintenance, self.elsewhere)
        self.assertEqual(restore(path, name=self.elsewhere), "")
        self.assertEqual(self.rows(self.elsewhere), self.rows())

    def test_where_it_cannot_be_looked_at_nothing_is_touched(self) -> None:
        path = make(self.to)
        restore(path, name=self.elsewhere)
        with database.maintenance() as maintenance:
            maintenance.execute(f'ALTER DATABASE "{self.elsewhere}" ALLOW_CONNECTIONS false')
            try:
                with self.assertRaises(psycopg.OperationalError):
                    restore(path, over=True, name=self.elsewhere)
            finally:
                maintenance.execute(f'ALTER DATABASE "{self.elsewhere}" ALLOW_CONNECTIONS true')
        self.assertEqual(self.rows(self.elsewhere), self.rows())

    def test_where_photographs_find_no_place_nothing_takes_the_databases_place(self) -> None:
        path = make(self.to)
        restore(path, name=self.elsewhere)
        (self.folder / "a-file").touch()
        with override_settings(MEDIA_ROOT=self.folder / "a-file" / "photographs"), self.assertRaises(OSError):
            restore(path, over=True, name=self.elsewhere)
        self.assertEqual(self.rows(self.elsewhere), self.rows())
        with database.maintenance() as maintenance:
            self.assertFalse(database.exists(maintenance, f"{self.elsewhere[:40]}_restored"))

    def test_a_photograph_of_the_same_name_is_set_aside(self) -> None:
        path, name = make(self.to), str(Photo.objects.all()[0].file.name)
        pictures = self.pictures(self.photos)
        default_storage.delete(name)
        default_storage.save(name, ContentFile(b"another"))
        restore(path, name=self.elsewhere)
        now = self.pictures(self.photos)
        self.assertEqual({file: now.pop(file) for file in pictures}, pictures)
        self.assertEqual(list(now.values()), [b"another"])

    def test_a_photograph_that_was_missing_before_is_told_and_keeps_no_backup_from_being_made(self) -> None:
        lost = str(Photo.objects.all()[0].file.name)
        default_storage.delete(lost)
        manifest = verify(make(self.to))
        self.assertEqual(
            (manifest.missing, len([one for one in manifest.parts if one.startswith(PHOTOS)])), ([lost], 1)
        )

    def test_what_is_written_and_taken_away_meanwhile_falls_between_no_two_moments(self) -> None:
        stop, made = threading.Event(), []

        def busy() -> None:
            chance, number = Random(4), 10
            try:
                while not stop.is_set():
                    design = Design.objects.get(pk=self.tern.pk)
                    if chance.random() < 0.5 or design.photos.count() > 4:
                        going = design.photos.order_by("?").first()
                        if going is not None:
                            going.delete()
                            default_storage.delete(str(going.file.name))
                    else:
                        number += 1
                        made.append(keep_photo(design, photo(number), "design").pk)
            finally:
                connection.close()

        thread = threading.Thread(target=busy)
        thread.start()
        try:
            paths: list[Path] = []
            while len(paths) < 6 or len(made) < 4:
                paths.append(make(self.folder / f"backups-{len(paths)}"))
        except BackupProblem as problem:
            self.assertIn("go faster", str(problem))
        finally:
            stop.set()
            thread.join(60)
        self.assertGreater(len(made), 0)
        self.assertGreater(len(paths), 0)
        for path in paths:
            verify(path)

    def test_commands(self) -> None:
        said = StringIO()
        call_command("backup", to=str(self.to), stdout=said)
        path = said.getvalue().split("  ")[0]
        call_command("verify_backup", path, stdout=said)
        self.assertIn("2 photographs", said.getvalue())
        with self.assertRaisesMessage(CommandError, "Say where to"):
            call_command("backup", stdout=said)
        with self.assertRaisesMessage(CommandError, "There is no file"):
            call_command("verify_backup", str(self.to / "nothing.tar"), stdout=said)


@tag("slow")
class Sealed(WithBackups):
    def setUp(self) -> None:
        super().setUp()
        self.key = pyrage.x25519.Identity.generate()
        self.identity = self.folder / "key.txt"
        self.identity.write_text(f"# made for a test\n{self.key}\n")

    def test_only_whoever_has_the_key_reads_it(self) -> None:
        path = make(self.to, [str(self.key.to_public())])
        whole = path.read_bytes()
        for word in (b"people_teacher", b"Ada", MANIFEST.encode(), b"\xff\xd8\xff"):
            self.assertNotIn(word, whole)
        self.assertEqual(self.names(), sorted([path.name, GOOD]))
        verify(path, self.identity)
        with self.assertRaisesMessage(BackupProblem, "is encrypted. Say with --identity"):
            verify(path)
        other = self.folder / "other.txt"
        other.write_text(str(pyrage.x25519.Identity.generate()))
        with self.assertRaisesMessage(BackupProblem, "does not open with the key"):
            verify(path, other)
        other.write_text("no key at all")
        with self.assertRaisesMessage(BackupProblem, "holds no private key"):
            verify(path, other)

    def test_what_is_no_public_key_is_said_before_anything_is_made(self) -> None:
        with self.assertRaisesMessage(BackupProblem, "is no public key of age"):
            make(self.to, ["age1nonsense"])
        self.assertFalse(self.to.exists())

    def test_one_that_was_changed_does_not_open(self) -> None:
        path = make(self.to, [str(self.key.to_public())])
        whole, chance = path.read_bytes(), Random(7)
        for _ in range(20):
            changed = bytearray(whole)
            changed[chance.randrange(len(whole))] ^= 1 << chance.randrange(8)
            path.write_bytes(changed)
            with self.assertRaises(BackupProblem), opened(path, self.identity) as plain:
                check(plain)


class Damaged(WithBackups):
    def test_a_bit_that_fell_over_or_a_file_cut_short_is_told(self) -> None:
        path = make(self.to)
        check(path)
        whole, chance = path.read_bytes(), Random(5)
        with tarfile.open(path) as archive:
            spans = [(one.offset_data, one.size) for one in archive if one.name != MANIFEST]
        for offset, size in spans:
            for _ in range(10):
                changed = bytearray(whole)
                changed[offset + chance.randrange(size)] ^= 1 << chance.randrange(8)
                path.write_bytes(changed)
                with self.assertRaisesMessage(BackupProblem, "is damaged"):
                    check(path)
        for _ in range(40):
            path.write_bytes(whole[: chance.randrange(len(whole) - 11_000)])
            with self.assertRaises(BackupProblem):
                check(path)

    def test_what_is_something_else_or_of_a_later_version_is_said(self) -> None:
        path = make(self.to)
        for change, words in (({"format": "other"}, "is no backup of Even Girder"), ({"version": 2}, "a later version"),
                              ({"tables": None, "odd": 1}, "does not say soundly")):  # fmt: skip
            with tarfile.open(path) as archive:
                said = json.loads(archive.extractfile(MANIFEST).read())  # type: ignore[union-attr]
            other = self.folder / "other.tar"
            text = self.folder / MANIFEST
            text.write_text(json.dumps(said | change))
            with tarfile.open(other, "w") as archive:
                archive.add(text, MANIFEST)
            with self.assertRaisesMessage(BackupProblem, words):
                check(other)
        (self.folder / "words.tar").write_text("words")
        with self.assertRaisesMessage(BackupProblem, "is no backup, or not a whole one"):
            check(self.folder / "words.tar")


class Kept(WithBackups):
    def test_the_newest_stay_and_the_last_good_one_is_known(self) -> None:
        self.assertIsNone(last_good(self.to))
        self.to.mkdir()
        old = [self.to / f"even-girder-2026-01-0{day}T010000Z.tar" for day in (1, 2, 3)]
        for path in old:
            path.write_text("old")
        newest = make(self.to, keep=2)
        self.assertEqual(sorted(self.to.glob("*.tar")), [old[2], newest])
        made = last_good(self.to)
        self.assertLess(datetime.now(UTC) - (made or datetime.min.replace(tzinfo=UTC)), timedelta(minutes=5))
        newest.unlink()
        self.assertIsNone(last_good(self.to), "it is not there any more")

    def test_one_that_could_not_be_made_leaves_nothing_and_the_older_ones_stay(self) -> None:
        good = make(self.to)
        with told_of_it(PASSWORD="wrong"), self.assertRaises(psycopg.OperationalError):
            make(self.to, keep=1)
        self.assertEqual(self.names(), sorted([good.name, GOOD]))
        self.assertEqual(Teacher.objects.count(), 1)
