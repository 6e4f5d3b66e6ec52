"""A database's connection is nobody's while its holder waits or works for long."""

from __future__ import annotations

import contextlib
import socket
import threading
import time
from itertools import pairwise

from django.conf import settings
from django.db import ProgrammingError, connection, transaction
from django.http import HttpRequest
from django.test import SimpleTestCase, TransactionTestCase, tag
from psycopg_pool import ConnectionPool, PoolTimeout

from designs.photo_services import TOO_MUCH
from designs.tests.test_photos import picture
from evengirder.aside import read_aside
from evengirder.database import let_go, prepared_cursor
from girder_core.ground import GirderError
from girder_core.measure import Kind
from instruments.services import read_instrument
from people.accounts import sign_in
from people.models import Teacher
from people.tests.support import teacher


class LetGo(TransactionTestCase):
    def held(self) -> bool:
        return connection.connection is not None

    def test_it_is_given_back_but_not_within_a_transaction(self) -> None:
        Teacher.objects.count()
        self.assertTrue(self.held())
        let_go()
        self.assertFalse(self.held())
        with transaction.atomic():
            Teacher.objects.count()
            let_go()
            self.assertTrue(self.held())

    def test_none_is_held_while_listening_reading_a_picture_or_hashing(self) -> None:
        Teacher.objects.count()
        read_instrument("stand-in:scale", Kind.MASS, "20 g")
        self.assertFalse(self.held())
        Teacher.objects.count()
        read_aside("designs.picture_file", picture(), too_much=TOO_MUCH)
        self.assertFalse(self.held())
        teacher("Ada")
        with self.assertRaises(GirderError):
            # Nobody of that address: the last that is done is to hash.
            sign_in(HttpRequest(), "nobody@school.example", "wrong-wrong-wrong")
        self.assertFalse(self.held())


class Prepared(TransactionTestCase):
    def planned(self, text: str) -> list[int]:
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT generic_plans + custom_plans FROM pg_prepared_statements WHERE statement LIKE %s", [f"%{text}%"]
            )
            return [times for (times,) in cursor.fetchall()]

    def test_a_statement_is_kept_by_the_database_for_the_next_time(self) -> None:
        for number in range(3):
            with prepared_cursor() as cursor:
                cursor.execute("SELECT %s::int + 17 AS seventeen_more", [number])
                self.assertEqual(cursor.fetchone(), (number + 17,))
        self.assertEqual(self.planned("seventeen_more"), [3])
        # The framework's own statements are not.
        Teacher.objects.count()
        self.assertEqual(self.planned("people_teacher"), [])

    def test_what_goes_wrong_is_told_as_the_framework_tells_it(self) -> None:
        with self.assertRaises(ProgrammingError), prepared_cursor() as cursor:
            cursor.execute("SELECT * FROM no_such_table")
        with self.assertNumQueries(1), prepared_cursor() as cursor:
            cursor.execute("SELECT 1")


class Nobody(threading.Thread):
    """A place where a database should be: whoever comes is sent away, and when is noted."""

    def __init__(self) -> None:
        super().__init__(daemon=True)
        self._socket = socket.create_server(("127.0.0.1", 0))
        self.port = self._socket.getsockname()[1]
        self.came: list[float] = []

    def run(self) -> None:
        with contextlib.suppress(OSError):
            while True:
                line, _ = self._socket.accept()
                self.came.append(time.monotonic())
                line.close()

    def close(self) -> None:
        self._socket.close()


@tag("slow")
class Returning(SimpleTestCase):
    def test_a_database_that_comes_back_is_found_soon_however_long_it_was_away(self) -> None:
        """Kept connections are sought again while somebody asks, and not ever more seldom the longer nobody answers."""
        nobody = Nobody()
        nobody.start()
        self.addCleanup(nobody.close)
        away = {"host": "127.0.0.1", "port": nobody.port, "dbname": "girder", "user": "girder", "connect_timeout": 2}
        with ConnectionPool(kwargs=away, open=False, **settings.POOL) as pool:
            pool.open()
            began = time.monotonic()
            while time.monotonic() - began < 20:
                with contextlib.suppress(PoolTimeout):
                    pool.getconn(timeout=0.5)
        late = [at for at in nobody.came if at - began > 6]
        gaps = [after - before for before, after in pairwise(late)]
        self.assertGreater(len(late), 3)
        # The library's own way is at 1, 3, 7, 15 and 31 s: a bench would wait for 16 s after the last of them.
        self.assertLess(max(gaps), 5)
