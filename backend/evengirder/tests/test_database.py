"""A database's connection is nobody's while its holder waits or works for long."""

from __future__ import annotations

from django.db import connection, transaction
from django.http import HttpRequest
from django.test import TransactionTestCase

from designs.photo_services import TOO_MUCH
from designs.tests.test_photos import picture
from evengirder.aside import read_aside
from evengirder.database import let_go
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
