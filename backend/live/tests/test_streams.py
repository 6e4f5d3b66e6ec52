"""Two server processes, one database: what is written through one reaches a page that listens at the other."""

from __future__ import annotations

import http.client
import io
import json
import time
from typing import Any

import psycopg
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import TransactionTestCase, tag
from django.test.client import Client
from PIL import Image

from designs.models import Photo
from designs.photo_services import keep_photo
from e2e.served import Server, shared_servers
from live.listener import CHANNEL
from live.services import close_board, open_board
from people.models import Team
from people.tests.support import Ledger, checked_in, run, teacher
from results.models import Reflection


class Listening:
    """An open stream of server-sent events."""

    def __init__(self, port: int, path: str, cookie: str = "") -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        self.connection.request("GET", path, headers={"Cookie": cookie} if cookie else {})
        self.response = self.connection.getresponse()

    def next(self) -> tuple[str, dict[str, Any]]:
        """The next event: its name and data."""
        name = ""
        while True:
            line = self.response.readline().decode().rstrip("\n")
            if line.startswith("event: "):
                name = line.removeprefix("event: ")
            elif line.startswith("data: "):
                return name, json.loads(line.removeprefix("data: "))
            elif not line and self.response.closed:
                raise AssertionError("the stream has ended")

    def close(self) -> None:
        self.connection.close()


class Through:
    """The API through a real server process, in the shape that a test ledger uses."""

    def __init__(self, port: int, cookie: str, timeout: float = 30) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=timeout)
        self.cookie = cookie

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        headers = {"Content-Type": "application/json", "Cookie": f"{self.cookie}; csrftoken={'x' * 32}",
                   "X-CSRFToken": "x" * 32}  # fmt: skip
        self.connection.request(method, f"/api/{path}", json.dumps(body, default=str), headers)
        response = self.connection.getresponse()
        return response.status, json.loads(response.read())

    def send(self, method: str, path: str, body: Any = None) -> Any:
        status, answer = self.call(method, path, body)
        assert status in (200, 201), answer
        return answer


@tag("slow")
class TwoProcesses(TransactionTestCase):
    def setUp(self) -> None:
        self.servers = shared_servers(2)
        ada = teacher()
        self.run_ = run(ada)
        self.design = checked_in(self.run_.designs.all()[0])
        client = Client()
        client.force_login(ada)
        self.cookie = f"sessionid={client.cookies['sessionid'].value}"

    def listen(self, path: str, server: int, cookie: str = "") -> Listening:
        stream = Listening(self.servers[server].port, path, cookie)
        self.addCleanup(stream.close)
        return stream

    def test_a_placement_at_one_is_on_the_board_at_the_other(self) -> None:
        board = self.listen(f"/api/boards/{open_board(self.run_).token}/stream", server=1)
        name, first = board.next()
        self.assertEqual((name, first["benches"]), ("changed", []))
        ledger = Ledger(Through(self.servers[0].port, self.cookie), self.design)  # type: ignore[arg-type]
        board.next()
        delays = []
        for count in range(1, 6):
            began = time.perf_counter()
            ledger.add("place", item="platform" if count == 1 else "nut", count=1)
            while True:
                _, shown = board.next()
                if len(shown["benches"][0]["state"]["result"]["steps"]) == count:
                    break
            delays.append((time.perf_counter() - began) * 1000)
        print(f"placement to board, through two processes: {', '.join(f'{ms:.0f}' for ms in delays)} ms")
        self.assertEqual(len(delays), 5)
        self.assertAlmostEqual(shown["benches"][0]["state"]["result"]["load_on_kg"], 0.040 + 4 * 0.015)

    def test_many_open_streams_keep_nobody_waiting(self) -> None:
        # A server as it is started for real, whose pool has fewer connections than there are streams.
        pooled = Server(str(connection.settings_dict["NAME"]), pool=True)
        self.addCleanup(pooled.stop)
        pooled.start()
        path, streams = f"/api/boards/{open_board(self.run_).token}/stream", []
        for i in range(12):
            stream = Listening(pooled.port, path if i % 2 else f"/api/runs/{self.run_.pk}/stream", self.cookie)
            self.addCleanup(stream.close)
            stream.next()
            streams.append(stream)
        api = Through(pooled.port, self.cookie)
        began = time.monotonic()
        ledger = Ledger(api, self.design)  # type: ignore[arg-type]
        ledger.hold("platform")
        for stream in streams:
            self.assertEqual(stream.next()[0], "changed")
        # A request that waits for a connection gives up after thirty seconds.
        self.assertLess(time.monotonic() - began, 30)

    def test_a_closed_board_says_so_and_ends(self) -> None:
        board = self.listen(f"/api/boards/{open_board(self.run_).token}/stream", server=0)
        board.next()
        close_board(self.run_)
        self.assertEqual(board.next()[0], "gone")

    def test_a_teachers_page_hears_and_a_strangers_does_not(self) -> None:
        page = self.listen(f"/api/runs/{self.run_.pk}/stream", 0, self.cookie)
        self.assertEqual(page.next(), ("changed", {}))
        Ledger(Through(self.servers[1].port, self.cookie), self.design)  # type: ignore[arg-type]
        self.assertEqual(page.next(), ("changed", {}))
        self.assertEqual(self.listen(f"/api/runs/{self.run_.pk}/stream", 0).response.status, 403)
        stranger = Client()
        stranger.force_login(teacher("Mallory"))
        cookie = f"sessionid={stranger.cookies['sessionid'].value}"
        self.assertEqual(self.listen(f"/api/runs/{self.run_.pk}/stream", 0, cookie).response.status, 404)

    def test_a_teachers_stream_ends_with_the_sign_out(self) -> None:
        page = self.listen(f"/api/runs/{self.run_.pk}/stream", 0, self.cookie)
        self.assertEqual(page.next(), ("changed", {}))
        self.assertEqual(Through(self.servers[1].port, self.cookie).call("DELETE", "session")[0], 200)
        open_board(self.run_)
        # Nothing more is told, not even that something changed.
        self.assertEqual(page.response.read().strip(), b"")

    def test_it_comes_back_when_its_own_connection_to_the_database_is_cut(self) -> None:
        page = self.listen(f"/api/runs/{self.run_.pk}/stream", 0, self.cookie)
        page.next()
        with connection.cursor() as cursor:
            cursor.execute(
                "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE query LIKE 'LISTEN%%' "
                "AND datname = current_database()"
            )
            self.assertEqual(cursor.rowcount, 1)
        # It listens again by itself, and tells that something may have been missed.
        self.assertEqual(page.next(), ("changed", {}))
        Ledger(Through(self.servers[0].port, self.cookie), self.design)  # type: ignore[arg-type]
        self.assertEqual(page.next(), ("changed", {}))


class Told(TransactionTestCase):
    """What the database tells of by itself, whoever writes it."""

    def heard(self, do: Any) -> list[str]:
        settings = connection.settings_dict
        with psycopg.connect(
            host=settings["HOST"], port=settings["PORT"], user=settings["USER"], password=settings["PASSWORD"],
            dbname=settings["NAME"], autocommit=True,
        ) as listening:  # fmt: skip
            listening.execute(f"LISTEN {CHANNEL}")
            do()
            return [note.payload for note in listening.notifies(timeout=0.3)]

    def test_photographs_drafts_answers_and_names_are_told_of(self) -> None:
        ada = teacher()
        made = run(ada)
        design = made.designs.all()[0]
        picture = io.BytesIO()
        Image.new("RGB", (40, 30)).save(picture, "JPEG")
        photo = SimpleUploadedFile("bridge.jpg", picture.getvalue())
        kept: list[Any] = []
        changes: dict[str, Any] = {
            "a photograph": lambda: kept.append(keep_photo(design, photo, "design")),
            "a photograph taken away": lambda: Photo.objects.all().delete(),
            "an answer": lambda: Reflection.objects.create(design=design, question="Why?", text="So."),
            "another name": lambda: Team.objects.filter(pk=design.team_id).update(name="Sand Martin"),
        }
        for what, change in changes.items():
            with self.subTest(what):
                self.assertIn(str(made.pk), self.heard(change))
