"""How it is served: a role without powers, files that nobody else reads, the demo on loopback alone, errors that can be
found again."""

from __future__ import annotations

import io
import json
import logging
import os
import re
import sys
import tempfile
from pathlib import Path

from django.core.management import call_command
from django.db import connection
from django.http import HttpRequest
from django.test import SimpleTestCase, TestCase, override_settings

from demo.world import TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD
from evengirder.errors import server_error
from evengirder.reached import is_loopback
from evengirder.trace import Lines, begin_request, logging_settings
from evengirder.urls import stumbled
from people.accounts import sign_up
from people.models import Teacher


class Role(TestCase):
    def test_the_database_role_is_master_of_nothing(self) -> None:
        with connection.cursor() as cursor:
            cursor.execute("SELECT rolsuper, rolcreaterole, rolbypassrls FROM pg_roles WHERE rolname = current_user")
            self.assertEqual(cursor.fetchone(), (False, False, False))


class Demo(TestCase):
    def test_reached_from_elsewhere_there_is_no_demo_and_an_old_one_is_shut(self) -> None:
        said = io.StringIO()
        with override_settings(ALLOWED_HOSTS=["127.0.0.1", "girder.school.example"]):
            call_command("load_demo", stderr=said)
            self.assertIn("girder.school.example", said.getvalue())
            self.assertEqual(Teacher.objects.count(), 0)
            sign_up(TEACHER_EMAIL, TEACHER_NAME, TEACHER_PASSWORD)
            call_command("load_demo", stderr=said)
        body = {"email": TEACHER_EMAIL, "password": TEACHER_PASSWORD}
        answer = self.client.post("/api/session", body, content_type="application/json")
        self.assertEqual(answer.json()["code"], "wrong_sign_in")

    def test_loopback_by_its_names(self) -> None:
        for host in ("127.0.0.1", "localhost", "[::1]", "127.1.2.3"):
            self.assertTrue(is_loopback(host), host)
        for host in ("*", "0.0.0.0", "192.168.1.4", "girder.school.example", ".localhost", "127.0.0.1.nip.example"):
            self.assertFalse(is_loopback(host), host)


class Written(SimpleTestCase):
    def test_a_line_and_an_answer_have_the_same_number(self) -> None:
        number = begin_request()
        try:
            raise KeyError("somewhere")
        except KeyError:
            record = logging.getLogger("x").makeRecord("x", logging.ERROR, "f", 1, "went wrong", (), _info())
        line = json.loads(Lines().format(record))
        self.assertEqual((line["request"], line["level"], line["said"]), (number, "error", "went wrong"))
        self.assertIn("KeyError", line["error"])
        self.assertIn(number, server_error()["sentence"])

    def test_what_stumbles_answers_in_the_shape_of_the_address(self) -> None:
        request = HttpRequest()
        request.path = "/api/runs"
        number = begin_request()
        self.assertEqual(json.loads(stumbled(request).content)["data"], {"request": number})
        request.path = "/runs/1"
        self.assertTrue(re.search(number, stumbled(request).content.decode()))

    def test_files_are_begun_anew_and_go_after_their_time(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            old = Path(folder) / "girder-1.log"
            old.write_text("{}")
            os.utime(old, (0, 0))
            (Path(folder) / "mine.txt").write_text("stays")
            made = logging_settings(folder)["handlers"]["file"]
            self.assertEqual([path.name for path in Path(folder).iterdir()], ["mine.txt"])
            self.assertLessEqual(made["maxBytes"] * (made["backupCount"] + 1), 30_000_000)


def _info() -> tuple[type[BaseException], BaseException, None]:
    kind, error, _ = sys.exc_info()
    assert kind is not None
    assert error is not None
    return kind, error, None
