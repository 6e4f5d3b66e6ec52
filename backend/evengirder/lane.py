"""Long work in a lane of its own: little of it at once, telling how far it is, ended when nobody waits for it.

Paper and files that are brought in take seconds. Whoever asks with ``follow=1`` gets a line of JSON for each thing that
is done and at the end what came of it, and may go away before that: then the work ends at the next thing it would have
told, and what it had changed is taken back with its transaction. Without ``follow`` the answer is the plain one.
"""

from __future__ import annotations

import asyncio
import base64
import json
import logging
import threading
import time
from collections.abc import AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from contextvars import Context, copy_context
from email.message import Message
from typing import Any

from django.db import connections
from django.http import HttpResponse, HttpResponseBase, StreamingHttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.utils.encoders import JSONEncoder

from evengirder import metrics
from evengirder.errors import body, handle, server_error

AT_ONCE = 2
"""So much long work runs at once in a server process; more of it waits, and nothing else waits for it."""
PAUSE_S = 0.1
"""Nobody reads faster than this."""
NDJSON = "application/x-ndjson"
FOLLOW = OpenApiParameter("follow", OpenApiTypes.STR, enum=["1"], description="Tell how far the work is, line by line.")

Told = Callable[[int, int, str], None]
"""Called by the work with how many things are done, of how many (0: nobody knows), and what comes now."""

_lane = ThreadPoolExecutor(AT_ONCE, thread_name_prefix="lane")
_log = logging.getLogger(__name__)


class Stopped(Exception):
    """Nobody waits for this work any more."""


def quietly(done: int, of: int, doing: str) -> None:
    """For work that nobody follows."""


def followed(request: Request, work: Callable[[Told], HttpResponse]) -> HttpResponseBase:
    """The answer of long work: as it is, or with how far it is before it.

    Args:
        request: ``follow=1`` in its address asks for lines: ``{"done", "of", "doing"}`` as often as there is news, then
            one of ``{"made": …}``, what a plain answer would hold; ``{"file": {"name", "kind", "base64"}}``;
            ``{"refused": …}``, an error body.
        work: makes the answer, in another thread where it is followed.
    """
    if request.query_params.get("follow") != "1":
        return work(quietly)
    # Whose units its sentences are in goes along into the other thread.
    context = copy_context()
    response = StreamingHttpResponse(_lines(work, context), content_type=NDJSON)
    response["Cache-Control"] = "no-store"
    # A proxy in front must not hold lines back.
    response["X-Accel-Buffering"] = "no"
    return response


async def _lines(work: Callable[[Told], HttpResponse], context: Context) -> AsyncIterator[bytes]:
    loop = asyncio.get_running_loop()
    news: asyncio.Queue[dict[str, Any] | None] = asyncio.Queue()
    gone = threading.Event()
    told_at = 0.0

    def told(done: int, of: int, doing: str) -> None:
        nonlocal told_at
        if gone.is_set():
            raise Stopped
        now = time.monotonic()
        if now - told_at >= PAUSE_S:
            told_at = now
            loop.call_soon_threadsafe(news.put_nowait, {"done": done, "of": of, "doing": doing})

    with metrics.counted(metrics.lane.labels("asked")), metrics.lane_seconds.time():
        yield _line({"done": 0, "of": 0, "doing": "It waits for its turn"})
        ended = loop.run_in_executor(_lane, context.run, _done, work, told)
        ended.add_done_callback(lambda _: news.put_nowait(None))
        try:
            while (line := await news.get()) is not None:
                yield _line(line)
            yield _line(ended.result())
        finally:
            gone.set()
            ended.cancel()


def _done(work: Callable[[Told], HttpResponse], told: Told) -> dict[str, Any]:
    """The last line: what came of the work."""
    try:
        with metrics.counted(metrics.lane.labels("running")):
            response = work(told)
        if isinstance(response, Response):
            return {"made": response.data}
        content = base64.b64encode(response.content).decode()
        kind = response["Content-Type"]
        return {"file": {"name": _name(response), "kind": kind, "base64": content}}
    except Stopped:
        return {"refused": body("stopped", "It was stopped. Nothing was changed.")}
    except Exception as error:
        refused = handle(error, {})
        if refused is None:
            _log.exception("Long work went wrong")
            return {"refused": server_error()}
        return {"refused": refused.data}
    finally:
        connections.close_all()


def _name(response: HttpResponse) -> str:
    message = Message()
    message["Content-Disposition"] = response["Content-Disposition"]
    return message.get_filename() or "file"


def _line(line: dict[str, Any]) -> bytes:
    return json.dumps(line, cls=JSONEncoder).encode() + b"\n"
