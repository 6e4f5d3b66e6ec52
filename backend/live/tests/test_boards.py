"""The board: whoever has its link sees it, nobody changes anything through it, a link taken back shows nothing."""

from __future__ import annotations

import io
import json
import uuid
from datetime import timedelta
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client, TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from PIL import Image

from bench.models import LedgerEvent, Trial
from bench.remembered import _LEDGERS
from designs.photo_services import keep_photo
from live.models import SCREENS, Board
from people.models import Team
from people.tests.support import Api, Ledger, checked_in, run, teacher


class Boards(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Rail"))
        self.designs = [checked_in(design) for design in self.run_.designs.all()]
        self.path = f"runs/{self.run_.pk}/board"

    def opened(self) -> str:
        return str(self.api.send("PUT", self.path, {"action": "open"})["token"])

    def test_it_is_closed_until_it_is_opened(self) -> None:
        self.assertEqual(self.api.get(self.path), {"token": None, "screen": "bench", "address": "", "code": []})
        token = self.opened()
        self.assertGreaterEqual(len(token), 20)
        self.assertEqual(self.opened(), token)

    def test_anybody_with_the_link_sees_it_and_nothing_else(self) -> None:
        ledger = Ledger(self.api, self.designs[0])
        ledger.hold("platform")
        ledger.add("place", item="nut", count=5)
        shown = Api().get(f"boards/{self.opened()}")
        (bench,) = shown["benches"]
        self.assertEqual((bench["team"]["name"], bench["state"]["result"]["held_kg"]), ("Tern", 0.04))
        self.assertTrue(0 < bench["hold_left_s"] <= bench["hold_s"])
        self.assertEqual(shown["next_teams"], ["Auk", "Rail"])
        for method in ("POST", "PUT", "PATCH", "DELETE"):
            self.assertEqual(Api().call(method, f"boards/{self.opened()}")[0], 405)
        self.assertEqual(Api().call("GET", f"runs/{self.run_.pk}")[0], 403)

    def test_a_link_that_was_taken_back_shows_nothing(self) -> None:
        old = self.opened()
        new = self.api.send("PUT", self.path, {"action": "renew"})["token"]
        self.assertNotEqual(new, old)
        self.assertEqual(Api().call("GET", f"boards/{old}")[0], 404)
        self.assertEqual(Api().call("GET", f"boards/{new}")[0], 200)
        self.api.send("PUT", self.path, {"action": "close"})
        self.assertEqual(Api().call("GET", f"boards/{new}")[0], 404)
        self.assertEqual(Api().call("GET", f"boards/{old}/stream")[0], 404)

    def test_photographs_are_for_whoever_has_the_link_and_of_this_run_alone(self) -> None:
        data = io.BytesIO()
        Image.new("RGB", (64, 48), "#a0522d").save(data, "JPEG")
        design = self.designs[0]
        photo = keep_photo(design, SimpleUploadedFile("a.jpg", data.getvalue()), "wreck")
        self.api.send("PUT", self.path, {"action": "open", "screen": "photos"})
        token = self.opened()
        (shown,) = Api().get(f"boards/{token}")["photos"]
        self.assertEqual((shown["team"]["name"], shown["what"]), ("Tern", "wreck"))
        status, picture = Api().call("GET", shown["address"].removeprefix("/api/"))
        self.assertEqual((status, picture["Content-Type"]), (200, "image/jpeg"))
        self.assertEqual(Image.open(io.BytesIO(b"".join(picture.streaming_content))).size, (64, 48))
        other = run(teacher("Bea"))
        elsewhere = Api(other.school_class.owner).send("PUT", f"runs/{other.pk}/board", {"action": "open"})["token"]
        self.assertEqual(Api().call("GET", f"boards/{elsewhere}/photos/{photo.pk}")[0], 404)
        self.assertEqual(Api().call("GET", f"boards/guess/photos/{photo.pk}")[0], 404)
        self.assertEqual(Api().call("GET", f"photos/{photo.pk}")[0], 403)
        self.api.send("PUT", self.path, {"action": "close"})
        self.assertEqual(Api().call("GET", shown["address"].removeprefix("/api/"))[0], 404)

    def test_screens(self) -> None:
        token = self.opened()
        self.api.send("PUT", self.path, {"screen": "cautions"})
        shown = Api().get(f"boards/{token}")
        self.assertEqual(shown["screen"], "cautions")
        self.assertIn("Stand behind the line", [caution["title"] for caution in shown["cautions"]])
        self.assertEqual(self.api.refused("PUT", self.path, {"screen": "lottery"})[0], 400)

    def test_nobody_reads_who_is_in_a_team(self) -> None:
        Team.objects.update(members=["Linnea", "Odd"])
        ledger = Ledger(self.api, self.designs[0])
        ledger.hold("platform")
        token = self.opened()
        for screen, _ in SCREENS:
            self.api.send("PUT", self.path, {"screen": screen})
            self.assertNotIn("Linnea", json.dumps(Api().get(f"boards/{token}")), screen)

    def test_nothing_goes_out_but_what_the_screen_shows(self) -> None:
        ledger = Ledger(self.api, self.designs[0])
        ledger.hold("platform")
        ledger.hold("nut", 3)
        ledger.add("fail", mode="crimp")
        token = self.opened()
        head = {"screen", "name", "class_name", "family", "units", "young"}
        parts = {
            "bench": {"question", "benches", "next_teams", "kit", "ranking", "words"}, "ranking": {"ranking"},
            "brief": {"question", "brief", "drawing"}, "clock": {"clock"}, "cautions": {"cautions"}, "photos": set(),
            "motion": {"film"},
        }  # fmt: skip
        self.assertEqual(set(parts), {key for key, _ in SCREENS})
        for screen, its in parts.items():
            self.api.send("PUT", self.path, {"screen": screen})
            shown = Api().get(f"boards/{token}")
            filled = {name for name, value in shown.items() if value not in ("", [], {}, None, False)} - head
            self.assertLessEqual(its - {"question"}, filled, screen)
            self.assertLessEqual(filled, its | {"aims", "bench_left_s"}, screen)
            # Who broke what is told on the two screens that are about it.
            self.assertEqual("crimp" in json.dumps(shown) or "Tern" in json.dumps(shown),
                             screen in ("bench", "ranking"), screen)  # fmt: skip

    def test_two_benches_side_by_side_and_the_last_that_ended(self) -> None:
        first, second = (Ledger(self.api, design) for design in self.designs[:2])
        first.hold("platform")
        second.hold("platform")
        token = self.opened()
        names = {bench["team"]["name"] for bench in Api().get(f"boards/{token}")["benches"]}
        self.assertEqual(names, {"Tern", "Auk"})
        for ledger in (first, second):
            ledger.add("fail", mode="crimp")
        (last,) = Api().get(f"boards/{token}")["benches"]
        self.assertEqual((last["team"]["name"], last["state"]["result"]["outcome"]), ("Auk", "broke"))

    def test_a_trial_left_lying_leaves_the_board(self) -> None:
        old, fresh = (Ledger(self.api, design) for design in self.designs[:2])
        Trial.objects.filter(pk=old.id).update(started_at=timezone.now() - timedelta(hours=2))
        fresh.hold("platform")
        (bench,) = Api().get(f"boards/{self.opened()}")["benches"]
        self.assertEqual(bench["team"]["name"], "Auk")

    def test_a_link_that_can_be_none_is_no_address(self) -> None:
        anybody = Client(raise_request_exception=False)
        for token in ("%00", "a%00b", "%F0%9F%8C%89", "a.b"):
            for rest in ("", "/stream", "/photos/1"):
                with self.subTest(token=token, rest=rest):
                    self.assertEqual(anybody.get(f"/api/boards/{token}{rest}").status_code, 404)

    def test_a_rehearsal_is_called_one_and_is_in_no_ranking(self) -> None:
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "rehearsal": True}
        self.api.send("POST", f"designs/{self.designs[0].pk}/trials", body)
        shown = Api().get(f"boards/{self.opened()}")
        self.assertTrue(shown["benches"][0]["is_rehearsal"])
        self.assertEqual(shown["ranking"]["ranked"], [])

    def test_the_ranking_says_at_least(self) -> None:
        ledger = Ledger(self.api, self.designs[0])
        ledger.hold("platform")
        ledger.add("run_out", reason="no_more_load", confirmed=True)
        (row,) = Api().get(f"boards/{self.opened()}")["ranking"]["ranked"]
        self.assertTrue(row["score"]["at_least"])

    def test_queries_do_not_grow_with_the_class(self) -> None:
        token = self.opened()
        with CaptureQueriesContext(
            connection,
        ) as few:
            Api().get(f"boards/{token}")
        for design in self.designs:
            Ledger(self.api, design).hold("platform")
        Board.objects.all().update(screen="ranking")
        with CaptureQueriesContext(connection) as many:
            Api().get(f"boards/{token}")
        # Two benches are read with their waits, readings and predictions; the rest stays the same.
        self.assertLessEqual(len(many), len(few) + 8)
        self.assertEqual(LedgerEvent.objects.count(), 6)

    def test_ledgers_are_read_where_they_have_grown(self) -> None:
        token = self.opened()
        Board.objects.all().update(screen="ranking")
        ledgers = [Ledger(self.api, design) for design in self.designs]
        for ledger in ledgers:
            ledger.hold("platform")

        def read() -> list[str]:
            """The trials whose ledgers are read for a look."""
            asked: list[str] = []

            def noted(execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
                if sql == _LEDGERS:
                    asked.extend(map(str, params[0]))
                return execute(sql, params, many, context)

            with connection.execute_wrapper(noted):
                Api().get(f"boards/{token}")
            return asked

        self.assertCountEqual(read(), [ledger.id for ledger in ledgers])
        self.assertEqual(read(), [])
        ledgers[0].hold("nut")
        self.assertEqual(read(), [ledgers[0].id])
