"""The doors: too much is refused unread, every answer has its headers, and a quick door leaves what it leaves."""

from __future__ import annotations

import json
import re
from collections.abc import MutableMapping
from typing import Any

from django.core.handlers.asgi import ASGIRequest
from django.test import Client, TransactionTestCase

from evengirder.doors import (
    ANYBODY,
    KIB,
    LINGER,
    MIB,
    USUAL,
    Doors,
    QuickDoor,
    Receive,
    Scope,
    Send,
    is_signed_in,
)
from evengirder.headers import HEADERS
from people.tests.support import teacher


class Inner:
    """An application that reads all there is, and says how much that was."""

    def __init__(self) -> None:
        self.read: list[bytes] = []

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        whole, more = b"", True
        while more:
            message = await receive()
            whole += message.get("body", b"")
            more = message.get("more_body", False)
        self.read.append(whole)
        await send({"type": "http.response.start", "status": 200, "headers": [(b"x-frame-options", b"SAMEORIGIN")]})
        await send({"type": "http.response.body", "body": b"long"})


def at_once(request: ASGIRequest, ident: str) -> bytes | None:
    return b'{"at": "once"}' if request.body == b"quick " + ident.encode() else None


DOOR = QuickDoor("POST", re.compile(r"/api/things/(\d+)"), at_once, 100)

PASSES = {"sessionid": is_signed_in, "tablet": lambda own: own == "in-force"}


class AtTheDoor(TransactionTestCase):
    def setUp(self) -> None:
        client = Client()
        client.force_login(teacher())
        self.cookie = f"csrftoken=abc; sessionid={client.cookies['sessionid'].value}"
        self.inner = Inner()
        self.given = 0
        self.doors = Doors(self.inner, DOOR, PASSES)

    async def ask(
        self, path: str, parts: list[bytes], cookie: str = "", method: str = "POST", announced: int | None = None
    ) -> tuple[int, dict[bytes, bytes], bytes]:
        headers = [(b"cookie", cookie.encode())] if cookie else []
        if announced is not None:
            headers.append((b"content-length", str(announced).encode()))
        scope = {"type": "http", "method": method, "path": path, "headers": headers, "query_string": b"",
                 "root_path": ""}  # fmt: skip
        sent: list[MutableMapping[str, Any]] = []
        waiting = list(parts)

        async def receive() -> MutableMapping[str, Any]:
            self.given += 1
            return {"type": "http.request", "body": waiting.pop(0), "more_body": bool(waiting)}

        async def send(message: MutableMapping[str, Any]) -> None:
            sent.append(message)

        await self.doors(scope, receive, send)
        start, *rest = sent
        return start["status"], dict(start["headers"]), b"".join(message["body"] for message in rest)

    async def test_what_announces_itself_as_too_large_is_not_let_in_at_all(self) -> None:
        for path, cookie, announced, limit in (
            ("/api/recipes", "", ANYBODY + 1, ANYBODY),
            ("/api/recipes", self.cookie, USUAL + 1, USUAL),
            ("/api/designs/7/photos", self.cookie, 26 * MIB + 1, 26 * MIB),
            ("/api/designs/7/picture", self.cookie, 26 * MIB + 1, 26 * MIB),
            ("/api/designs/7/photo-readings", self.cookie, 26 * MIB + 1, 26 * MIB),
            ("/api/designs/7/picture-size", self.cookie, USUAL + 1, USUAL),
            ("/api/trials/0e9d2a0c-7c7f-4d5e-8b65-0a6a2f6b8a11/follow", self.cookie, 51 * MIB + 1, 51 * MIB),
            ("/api/runs/import", self.cookie, 300 * MIB, 160 * MIB),
            ("/api/team/photos", "tablet=in-force", 26 * MIB + 1, 26 * MIB),
            ("/api/team/note", "tablet=in-force", USUAL + 1, USUAL),
            ("/api/team/photos", "tablet=made-up", 300 * KIB, ANYBODY),
            # Nobody is let in further for a cookie that was made up.
            ("/api/runs/import", "sessionid=made-up", 300 * KIB, ANYBODY),
        ):
            with self.subTest(path, announced=announced):
                self.given = 0
                status, headers, text = await self.ask(path, [b"x" * MIB] * 40, cookie, announced=announced)
                answer = json.loads(text)
                self.assertEqual((status, answer["code"]), (413, "too_large"))
                self.assertEqual(answer["data"]["limit_bytes"], limit)
                self.assertIn(f"{limit // MIB} MB" if limit >= MIB else f"{limit // KIB} kB", answer["sentence"])
                # A little is taken off the line, so that the sender comes to listen; then it is hung up.
                self.assertEqual(headers[b"connection"], b"close")
                self.assertLessEqual(self.given, LINGER // MIB + 1)
        self.assertEqual(self.inner.read, [])

    async def test_what_comes_in_pieces_is_stopped_where_it_is_too_much(self) -> None:
        pieces = [b"x" * 16 * KIB] * 100
        status, _, text = await self.ask("/api/recipes", pieces)
        self.assertEqual((status, json.loads(text)["code"], self.inner.read), (413, "too_large", []))
        # Nor does it help to announce little, or never to come to an end.
        endless = [b"x" * 16 * KIB] * 100_000
        self.given = 0
        self.assertEqual((await self.ask("/api/recipes", endless, announced=10))[0], 413)
        self.assertEqual(self.inner.read, [])
        self.assertLess(self.given, (ANYBODY + LINGER) // (16 * KIB) + 3)

    async def test_what_may_come_comes_whole(self) -> None:
        body = [b"x" * MIB] * 20
        status, _, text = await self.ask("/api/runs/import", body, self.cookie, announced=20 * MIB)
        self.assertEqual((status, text, len(self.inner.read[0])), (200, b"long", 20 * MIB))
        self.assertEqual((await self.ask("/api/recipes", [b"x" * ANYBODY]))[0], 200)

    async def test_every_answer_has_the_headers_and_keeps_its_own(self) -> None:
        answers = [
            await self.ask("/static/assets/index.js", [b""], method="GET"),
            await self.ask("/api/recipes", [b""], announced=ANYBODY + 1),
            await self.ask("/api/things/4", [b"quick 4"], self.cookie, announced=7),
        ]
        for status, headers, _ in answers:
            for name, value in HEADERS:
                if name != b"x-frame-options":
                    self.assertEqual(headers[name], value, status)
        self.assertEqual([headers[b"x-frame-options"] for _, headers, _ in answers], [b"SAMEORIGIN", b"DENY", b"DENY"])
        # What the API says is nobody's to keep.
        kept = [headers.get(b"cache-control") for _, headers, _ in answers]
        self.assertEqual(kept, [None, b"no-store", b"no-store"])

    async def test_now_and_then_an_answer_ends_its_connection_whoever_gave_it(self) -> None:
        asked = [("/api/things/4", b"quick 4"), ("/api/things/4", b"slow"), ("/static/assets/index.js", b"")]
        ends = []
        for path, body in asked * 10:
            _, headers, _ = await self.ask(path, [body], self.cookie, announced=len(body))
            ends.append(headers.get(b"connection") == b"close")
        self.assertEqual([n for n, end in enumerate(ends, start=1) if end], [10, 20, 30])

    async def test_a_quick_door_answers_or_leaves_everything_as_it_was(self) -> None:
        for path, parts, announced, method, answer, read in (
            ("/api/things/4", [b"quick 4"], 7, "POST", b'{"at": "once"}', []),
            ("/api/things/4", [b"qui", b"ck ", b"4"], 7, "POST", b'{"at": "once"}', []),
            ("/api/things/4", [b"slow ", b"4"], 6, "POST", b"long", [b"slow 4"]),
            ("/api/things/4", [b"quick 4"], 7, "PUT", b"long", [b"quick 4"]),
            ("/api/others/4", [b"quick 4"], 7, "POST", b"long", [b"quick 4"]),
            # Longer than this door takes, as announced or not.
            ("/api/things/4", [b"x" * 120], 120, "POST", b"long", [b"x" * 120]),
            ("/api/things/4", [b"x" * 60, b"y" * 60, b"z"], 60, "POST", b"long", [b"x" * 60 + b"y" * 60 + b"z"]),
            ("/api/things/4", [b"quick 4"], None, "POST", b"long", [b"quick 4"]),
        ):
            with self.subTest(path, parts=parts, method=method):
                self.inner.read = []
                _, _, text = await self.ask(path, list(parts), self.cookie, method, announced)
                self.assertEqual((text, self.inner.read), (answer, read))
