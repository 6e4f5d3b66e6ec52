"""Long work: told line by line, ended when nobody waits, refused in the one shape, little of it at once."""

from __future__ import annotations

import asyncio
import base64
import json
import threading
import time
from collections.abc import Callable
from typing import Any

from django.http import HttpResponse, StreamingHttpResponse
from django.test import SimpleTestCase
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.test import APIRequestFactory

from evengirder import lane
from evengirder.lane import Stopped, Told, followed
from girder_core.ground import GirderError

Work = Callable[[Told], HttpResponse]


def stream(work: Work) -> Any:
    answer = followed(Request(APIRequestFactory().get("/?follow=1")), work)
    assert isinstance(answer, StreamingHttpResponse)
    return answer.streaming_content


async def lines(work: Work) -> list[dict[str, Any]]:
    return [json.loads(line) async for line in stream(work)]


class Followed(SimpleTestCase):
    async def test_steps_come_first_and_then_what_was_made(self) -> None:
        def work(told: Told) -> Response:
            for step in range(3):
                told(step, 3, f"Step {step}")
                time.sleep(lane.PAUSE_S * 1.5)
            return Response({"run": 7})

        waits, *steps, last = await lines(work)
        self.assertEqual((waits["done"], waits["of"]), (0, 0))
        self.assertEqual([(step["done"], step["of"], step["doing"]) for step in steps],
                         [(0, 3, "Step 0"), (1, 3, "Step 1"), (2, 3, "Step 2")])  # fmt: skip
        self.assertEqual(last, {"made": {"run": 7}})

    async def test_ten_thousand_steps_are_a_few_lines(self) -> None:
        def work(told: Told) -> Response:
            for step in range(10_000):
                told(step, 10_000, "Counting")
            return Response({})

        self.assertLess(len(await lines(work)), 100)

    async def test_a_file_comes_whole_and_under_its_name(self) -> None:
        content = bytes(range(256)) * 999

        def work(told: Told) -> HttpResponse:
            made = HttpResponse(content, content_type="application/pdf")
            made["Content-Disposition"] = 'inline; filename="puffin-pack.pdf"'
            return made

        file = (await lines(work))[-1]["file"]
        self.assertEqual((file["name"], file["kind"]), ("puffin-pack.pdf", "application/pdf"))
        self.assertEqual(base64.b64decode(file["base64"]), content)

    async def test_a_refusal_has_the_one_shape_and_an_unknown_fault_tells_no_secrets(self) -> None:
        def refuses(told: Told) -> Response:
            raise GirderError("not_a_run", "This file is no run.", fields={"designs.0": "Missing."})

        self.assertEqual(
            (await lines(refuses))[-1]["refused"],
            {"code": "not_a_run", "sentence": "This file is no run.", "fields": {"designs.0": "Missing."}, "data": {},
             "confirm": False},
        )  # fmt: skip

        def falls(told: Told) -> Response:
            raise KeyError("the password of the database")

        with self.assertLogs("evengirder.lane", "ERROR"):
            refused = (await lines(falls))[-1]["refused"]
        self.assertEqual(refused["code"], "server_error")
        self.assertNotIn("password", refused["sentence"])

    async def test_who_goes_away_ends_the_work(self) -> None:
        ended, came = threading.Event(), []

        def work(told: Told) -> Response:
            try:
                for step in range(10_000):
                    told(step, 10_000, "Counting")
                    time.sleep(0.01)
            except Stopped:
                came.append("stopped")
                raise
            finally:
                ended.set()
            return Response({})

        following = stream(work)
        async for line in following:
            if json.loads(line)["of"]:
                break
        await following.aclose()
        self.assertTrue(await asyncio.to_thread(ended.wait, 5))
        self.assertEqual(came, ["stopped"])

    async def test_no_more_than_so_much_at_once(self) -> None:
        lock, now, most = threading.Lock(), 0, 0

        def work(told: Told) -> Response:
            nonlocal now, most
            with lock:
                now += 1
                most = max(most, now)
            time.sleep(0.05)
            with lock:
                now -= 1
            return Response({})

        done = await asyncio.gather(*(lines(work) for _ in range(3 * lane.AT_ONCE)))
        self.assertEqual([last["made"] for *_, last in done], [{}] * (3 * lane.AT_ONCE))
        self.assertEqual(most, lane.AT_ONCE)

    def test_unasked_it_is_the_plain_answer(self) -> None:
        made = Response({"run": 7})
        self.assertIs(followed(Request(APIRequestFactory().get("/")), lambda told: made), made)
