"""What stands between the socket and everything else: how large a body may be, headers of every answer, and a door of
its own for what must be answered at once.

Written against ASGI itself, so that a body is refused before it is read, and files of the interface have the same
headers as answers of the API.
"""

from __future__ import annotations

import asyncio
import contextlib
import itertools
import json
import logging
import re
import time
from collections.abc import Awaitable, Callable, Mapping, MutableMapping
from concurrent.futures import ThreadPoolExecutor
from contextvars import copy_context
from dataclasses import dataclass
from functools import partial
from http.cookies import CookieError, SimpleCookie
from io import BytesIO
from typing import Any

from django.contrib.sessions.models import Session
from django.core.handlers.asgi import ASGIRequest
from django.db import connection
from django.urls import resolve
from django.utils import timezone

from evengirder import metrics
from evengirder.errors import AWAY, body, not_now, server_error
from evengirder.headers import HEADERS
from evengirder.trace import begin_request

Scope = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[MutableMapping[str, Any]]]
Send = Callable[[MutableMapping[str, Any]], Awaitable[None]]
App = Callable[[Scope, Receive, Send], Awaitable[None]]
Quick = Callable[[ASGIRequest, str], bytes | None]
"""Answers a request for the object of this id at once; None where it has to go the long way."""
Counted = Callable[[int, float], None]
Known = Callable[[str], bool]
"""Whether what a cookie holds lets somebody in."""

_log = logging.getLogger(__name__)
KIB, MIB = 1024, 1024 * 1024
ANYBODY = 64 * KIB
"""What may be sent without being signed in."""
USUAL = 2 * MIB
LINGER, LINGER_S = 4 * MIB, 5.0
"""How much of what was refused is still taken off the line, and for how long at most."""
ANSWERS_A_CONNECTION = 10
"""After so many answers, in the mean, a browser is asked to connect anew: to whichever process is free then. Otherwise
all would stay with the one that was there while another had to be started again, and that one would idle."""
LARGER: tuple[tuple[re.Pattern[str], int, str], ...] = (
    (re.compile(r"/api/runs/import"), 160 * MIB, "A run’s file"),
    (re.compile(r"/api/force-logs"), 90 * MIB, "A force log"),
    (
        re.compile(r"/api/designs/\d+/(?:photos|picture|photo-readings)|/api/team/photos|/api/lens-pictures"),
        26 * MIB,
        "A photograph",
    ),
    (re.compile(r"/api/trials/[-\da-f]+/(?:first|loose|counted|measured)-picture"), 26 * MIB, "A photograph"),
    (re.compile(r"/api/trials/[-\da-f]+/follow"), 51 * MIB, "Two photographs"),
    (re.compile(r"/api/runs/\d+/results-table|/api/instruments/table"), 16 * MIB, "A table"),
    (re.compile(r"/api/recipes/import"), 5 * MIB, "A recipe’s file"),
)
"""Addresses that take more than the usual, how much, and what it is that they take."""


@dataclass(frozen=True)
class QuickDoor:
    """Requests that are answered at once where that can be: a method, an address with an id, and who answers."""

    method: str
    address: re.Pattern[str]
    answer: Quick
    most: int


class TooLarge(Exception):
    """More came than may come."""


class Doors:
    """The application behind its doors."""

    def __init__(self, app: App, quick: QuickDoor, passes: Mapping[str, Known]) -> None:
        """``passes`` has the cookies by which somebody is let in, and of each who knows whether one is in force."""
        self._app, self._quick, self._passes = app, quick, passes
        self._at_once = ThreadPoolExecutor(4, "quick")
        self._answers = itertools.count(1)
        self._route = ""

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        answering = _Answering(
            send,
            private=scope["path"].startswith("/api/"),
            number=begin_request(),
            last=next(self._answers) % ANSWERS_A_CONNECTION == 0,
            counted=partial(metrics.answered, scope),
        )
        if unsent := _header(scope, metrics.UNSENT):
            metrics.told_unsent(unsent)
        try:
            await self._through(scope, receive, answering)
        except AWAY as error:
            if answering.began:
                raise
            await answering.json(503, json.dumps(await asyncio.to_thread(not_now, error)).encode())
        except Exception:
            if answering.began:
                raise
            _log.exception("A request went wrong before it came to a view")
            await answering.json(500, json.dumps(server_error()).encode())

    async def _through(self, scope: Scope, receive: Receive, answering: _Answering) -> None:
        limit, what = await self._limit(scope)
        if _length(scope) > limit:
            await answering.refuse(limit, what, receive)
            return
        found = self._quick.address.fullmatch(scope["path"]) if scope["method"] == self._quick.method else None
        if found is not None and 0 < _length(scope) <= self._quick.most:
            receive = await self._answered(scope, receive, answering, found[1]) or receive
            if answering.began:
                return
        try:
            await self._app(scope, _counted(receive, limit), answering)
        except TooLarge:
            if not answering.began:
                await answering.refuse(limit, what, receive)

    async def _limit(self, scope: Scope) -> tuple[int, str]:
        """How large the body may be [bytes], and what it is called."""
        shown = {name: value for name in self._passes if (value := _cookie(scope, name))}
        if not shown:
            return ANYBODY, "What is sent without being signed in"
        limit, what = next(
            ((limit, what) for address, limit, what in LARGER if address.fullmatch(scope["path"])),
            (USUAL, "What is sent here"),
        )
        # A cookie is soon made up; before much is read, it is looked at.
        if limit > USUAL and scope["method"] in ("POST", "PUT", "PATCH"):
            for name, value in shown.items():
                if await self._run(self._passes[name], value):
                    return limit, what
            return ANYBODY, "What is sent without being signed in"
        return limit, what

    async def _answered(self, scope: Scope, receive: Receive, answering: _Answering, ident: str) -> Receive | None:
        """Answer at once, if that can be; else what came is there to be read again."""
        whole, more = b"", True
        while more:
            message = await receive()
            if message["type"] != "http.request":
                return _again(message, receive)
            whole += message.get("body", b"")
            more = message.get("more_body", False)
            if len(whole) > self._quick.most:
                return _again({"type": "http.request", "body": whole, "more_body": more}, receive)
        request = ASGIRequest(dict(scope), BytesIO(whole))
        answer = await self._run(self._quick.answer, request, ident)
        if answer is None:
            return _again({"type": "http.request", "body": whole, "more_body": False}, receive)
        # The same address the long way round, so that both are counted as one.
        self._route = self._route or resolve(scope["path"]).route
        scope[metrics.ROUTE] = self._route
        await answering.json(200, answer)
        return None

    async def _run(self, work: Callable[..., Any], *given: Any) -> Any:
        def done() -> Any:
            try:
                return work(*given)
            finally:
                # The few threads here keep their connections, so that none has to be tried out before each use.
                if connection.errors_occurred:
                    connection.close()

        return await asyncio.get_running_loop().run_in_executor(self._at_once, copy_context().run, done)


class _Answering:
    """Sends answers on, each with the headers that all have; what the API says is nobody's to keep."""

    def __init__(self, send: Send, private: bool, number: str, last: bool, counted: Counted) -> None:
        """``last`` says that the connection ends with this answer; ``counted`` is told how it began, and after what."""
        self._send, self._counted, self._came = send, counted, time.monotonic()
        self._headers = (*HEADERS, (b"x-request-id", number.encode()))
        if private:
            self._headers += ((b"cache-control", b"no-store"),)
        if last:
            self._headers += ((b"connection", b"close"),)
        self.began = False

    async def __call__(self, message: MutableMapping[str, Any]) -> None:
        if message["type"] == "http.response.start":
            self.began = True
            self._counted(message["status"], time.monotonic() - self._came)
            there = {name.lower() for name, _ in message.get("headers", ())}
            message["headers"] = [
                *message.get("headers", ()), *((name, value) for name, value in self._headers if name not in there),
            ]  # fmt: skip
        await self._send(message)

    async def json(self, status: int, text: bytes) -> None:
        headers = [(b"content-type", b"application/json"), (b"content-length", str(len(text)).encode())]
        await self({"type": "http.response.start", "status": status, "headers": headers})
        await self({"type": "http.response.body", "body": text})

    async def refuse(self, limit: int, what: str, receive: Receive) -> None:
        """Say that it is too large, and hang up; a little is still taken off the line before, unkept, because few
        senders listen while they speak."""
        size = f"{limit // MIB} MB" if limit >= MIB else f"{limit // KIB} kB"
        sentence = f"{what} can be {size} large at most. This is more, so nothing of it was kept."
        text = json.dumps(body("too_large", sentence, data={"limit_bytes": limit})).encode()
        metrics.refusals.labels("too_large").inc()
        headers = [(b"content-type", b"application/json"), (b"connection", b"close")]
        await self({"type": "http.response.start", "status": 413, "headers": headers})
        await self({"type": "http.response.body", "body": text, "more_body": True})
        with contextlib.suppress(TimeoutError):
            async with asyncio.timeout(LINGER_S):
                taken, more = 0, True
                while more and taken <= LINGER:
                    message = await receive()
                    taken += len(message.get("body", b""))
                    more = message["type"] == "http.request" and message.get("more_body", False)
        await self({"type": "http.response.body", "body": b""})


def _counted(receive: Receive, limit: int) -> Receive:
    """A way to receive that ends where more comes than may come, whatever length was announced."""
    had = 0

    async def counted() -> MutableMapping[str, Any]:
        nonlocal had
        message = await receive()
        had += len(message.get("body", b""))
        if had > limit:
            raise TooLarge
        return message

    return counted


def _again(first: MutableMapping[str, Any], receive: Receive) -> Receive:
    """A way to receive that begins with what was received already."""
    waiting = [first]

    async def again() -> MutableMapping[str, Any]:
        return waiting.pop() if waiting else await receive()

    return again


def _header(scope: Scope, name: bytes) -> str:
    return next((value.decode("latin-1") for key, value in scope["headers"] if key == name), "")


def _length(scope: Scope) -> int:
    said = _header(scope, b"content-length")
    return int(said) if said.isdigit() and len(said) < 20 else 0


def _cookie(scope: Scope, name: str) -> str:
    try:
        morsel = SimpleCookie(_header(scope, b"cookie")).get(name)
    except CookieError:
        return ""
    return morsel.value if morsel else ""


def is_signed_in(session: str) -> bool:
    """Whether there is a session of this key."""
    return Session.objects.filter(session_key=session, expire_date__gt=timezone.now()).exists()
