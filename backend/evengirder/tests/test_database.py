"""A database's connection is nobody's while its holder waits or works for long."""

from __future__ import annotations

from django.db import ProgrammingError, connection, transaction
from django.http import HttpRequest
from django.test import TransactionTestCase

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
