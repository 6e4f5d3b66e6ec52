"""People at work in a rehearsal: a teacher who prepares, benches that enter something, a board that is told."""

from __future__ import annotations

import contextlib
import http.client
import json
import socket
import ssl
import subprocess
import threading
import time
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from paths import BACKEND, PYTHON
from rehearsals.units import PATIENCE_S
from say import Problem

NAME = "girder.school.example"
ENTRY_S = 0.1
"""How often a bench enters something [s]."""
ANSWER_S = 5.0
"""How long a bench waits for an answer before it sends the same again [s]."""
PASSWORD = "a rehearsal, not a lesson"  # noqa: S105 — of an account that is gone in a minute
TEAMS = ("Tern", "Auk", "Rail", "Skua", "Coot")


@dataclass(frozen=True)
class Door:
    """Where somebody knocks: a proxy that encrypts with a certificate, or a host behind it that does not."""

    address: str
    port: int
    certificate: Path | None = None
    at: str = NAME
    """The name, and port, under which pages know it."""


class Line:
    """Somebody's browser: with cookies, and a connection that is kept."""

    def __init__(self, door: Door, cookies: Mapping[str, str] | None = None, answer_s: float = PATIENCE_S) -> None:
        self._door, self.cookies, self._answer_s = door, dict(cookies or {}), answer_s
        self._trusting = ssl.create_default_context(cafile=str(door.certificate)) if door.certificate else None
        self._connection: http.client.HTTPConnection | None = None
        self.word = ""

    def opened(self) -> http.client.HTTPConnection:
        """A connection, the one that is there if there is one."""
        if self._connection is None or self._connection.sock is None:
            plain = socket.create_connection((self._door.address, self._door.port), timeout=self._answer_s)
            self._connection = http.client.HTTPConnection(NAME, self._door.port, timeout=self._answer_s)
            self._connection.sock = self._trusting.wrap_socket(plain, server_hostname=NAME) if self._trusting else plain
        return self._connection

    def headers(self, kind: str = "application/json") -> dict[str, str]:
        at = self._door.at
        # Past the proxy one says oneself that it was encrypted before.
        past = {} if self._trusting else {"X-Forwarded-Proto": "https"}
        if self.word:
            past["Authorization"] = f"Bearer {self.word}"
        return {"Host": at, "Referer": f"https://{at}/", "Content-Type": kind,
                "X-CSRFToken": self.cookies.get("csrftoken", ""), **past,
                "Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}  # fmt: skip

    def asked(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """Status and answer; status 0 where there was none."""
        return self.said(method, path, None if body is None else json.dumps(body).encode())

    def said(self, method: str, path: str, body: bytes | None, kind: str = "application/json") -> tuple[int, Any]:
        """The same for a body as it goes over the line."""
        try:
            connection = self.opened()
            connection.request(method, path, body, self.headers(kind))
            answer = connection.getresponse()
            text = answer.read()
        except (OSError, http.client.HTTPException):
            self.close()
            return 0, None
        for header in answer.headers.get_all("Set-Cookie") or ():
            name, _, value = header.partition(";")[0].partition("=")
            self.cookies[name] = value
        with contextlib.suppress(ValueError):
            return answer.status, json.loads(text)
        return answer.status, text

    def close(self) -> None:
        """Hang up; what is asked next is asked over another connection."""
        if self._connection is not None:
            self._connection.close()
        self._connection = None

    def good(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, which has to be a good one."""
        status, answer = self.asked(method, path, body)
        if status == 0:
            # A proxy that is reloaded ends the connections that were open.
            status, answer = self.asked(method, path, body)
        if status not in (200, 201, 202):
            raise Problem(f"{method} {path} answered {status}: {answer}")
        return answer

    def ready(self) -> bool:
        """Whether what is behind the door can do its work."""
        return self.asked("GET", "/readyz")[0] == 200


def prepared(line: Line, code: str) -> tuple[int, list[int]]:
    """A teacher by invitation, a class, a challenge and bridges that are checked in: the run, and its designs."""
    line.good("GET", "/api/session")
    who = {"email": "rehearsal@school.example", "password": PASSWORD}
    line.good("POST", "/api/teachers", {**who, "name": "Rehearsal", "code": code})
    line.good("POST", "/api/session", who)
    school_class = line.good("POST", "/api/classes", {"name": "Rehearsal"})
    for team in TEAMS:
        line.good("POST", f"/api/classes/{school_class['id']}/teams", {"name": team})
    kit = {"name": "nut", "shape": "nut", "count": 9000, "batch_count": 10, "batch_mass": "170 g",
           "scale_resolution": "1 g"}  # fmt: skip
    recipe = line.good("POST", "/api/recipes", {
        "name": "Rehearsal", "question": "", "family": "bridge", "kit": [kit], "school": "most_held",
        "trial_rule": "best", "breach_policy": "note",
        "setup": {"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "400 kg"},
    })  # fmt: skip
    day = {"recipe": recipe["id"], "school_class": school_class["id"], "date": "2026-11-03"}
    run = line.good("POST", "/api/runs", day)
    designs = [one["id"] for one in run["designs"]]
    for design in designs:
        for key, text in {"gap": "30 cm", "overlap_left": "3 cm", "overlap_right": "3 cm"}.items():
            line.good("POST", f"/api/designs/{design}/readings", {"key": key, "text": text, "resolution_text": "1 mm"})
        answers = {"stands": True, "piers": False, "papered": False}
        line.good("PUT", f"/api/designs/{design}/answers", {"answers": answers})
        line.good("POST", f"/api/designs/{design}/check-in")
    return run["run"]["id"], designs


def photograph(line: Line, design: int, picture: bytes) -> int:
    """Keep a photograph of a design; says its number."""
    edge = uuid.uuid4().hex
    head = f'--{edge}\r\nContent-Disposition: form-data; name="what"\r\n\r\ndesign\r\n--{edge}\r\n'
    named = 'Content-Disposition: form-data; name="photo"; filename="photo.jpg"\r\nContent-Type: image/jpeg\r\n\r\n'
    body = f"{head}{named}".encode() + picture + f"\r\n--{edge}--\r\n".encode()
    path = f"/api/designs/{design}/photos"
    status, answer = line.said("POST", path, body, f"multipart/form-data; boundary={edge}")
    if status != 201:
        raise Problem(f"A photograph was not kept: {status} {answer}")
    return int(answer["id"])


@dataclass
class Bench:
    """A bench that enters something ten times a second, and sends each entry until it is acknowledged."""

    line: Line
    design: int
    trial: str = field(default_factory=lambda: str(uuid.uuid4()))
    at: str = field(default_factory=lambda: str(uuid.uuid4()))
    acknowledged: list[str] = field(default_factory=list)
    waits: list[tuple[float, float]] = field(default_factory=list)
    """When each entry was acknowledged, and how long that took [s]."""
    trouble: Exception | None = None

    def begin(self) -> None:
        self.line.good("POST", f"/api/designs/{self.design}/trials", {"id": self.trial, "bench": self.at})

    def work(self, over: threading.Event) -> None:
        """Enter something until it is over."""
        try:
            while not over.is_set():
                self.enter()
                time.sleep(ENTRY_S)
        except Exception as trouble:  # told by whoever counts
            self.trouble = trouble

    def enter(self) -> None:
        """Enter the next thing, and send it until it is acknowledged."""
        number = len(self.acknowledged) + 1
        kind, data = (("place", {"item": "nut", "count": 1}), ("settle", {"waited_s": 1}))[(number - 1) % 2]
        at = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime())
        event = {"id": str(uuid.uuid4()), "sequence": number, "kind": kind, "data": data, "happened_at": at}
        body = {"bench": self.at, "events": [event]}
        began = time.monotonic()
        while True:
            status, answer = self.line.asked("POST", f"/api/trials/{self.trial}/events", body)
            if status == 200:
                if answer.get("refused"):
                    raise Problem(f"An entry was refused: {answer['refused']}")
                break
            if status not in (0, 500, 502, 503, 504):
                raise Problem(f"An entry was answered {status}: {answer}")
            time.sleep(0.05)
        self.acknowledged.append(str(event["id"]))
        self.waits.append((time.monotonic(), time.monotonic() - began))


class Benches:
    """Several at work at the same time, and what came of it."""

    def __init__(self, door: Door, cookies: Mapping[str, str], designs: Sequence[int]) -> None:
        self.all = [Bench(Line(door, cookies, ANSWER_S), design) for design in designs]
        self._over = threading.Event()
        self._since = 0.0

    def begin(self) -> None:
        for bench in self.all:
            bench.begin()
        self._threads = [threading.Thread(target=bench.work, args=[self._over], daemon=True) for bench in self.all]
        for thread in self._threads:
            thread.start()
        self._since = time.monotonic()

    def longest(self) -> float:
        """The longest that an entry took to be acknowledged since this was asked last [s]."""
        since, self._since = self._since, time.monotonic()
        # What is on its way just now is waited for.
        for bench in self.all:
            had = len(bench.acknowledged)
            last = time.monotonic() + PATIENCE_S
            while len(bench.acknowledged) == had and bench.trouble is None and time.monotonic() < last:
                time.sleep(0.05)
        return max((wait for bench in self.all for at, wait in bench.waits if at >= since), default=0.0)

    def stop(self) -> None:
        """Enter nothing more; what is on its way is waited for."""
        self._over.set()
        for thread in self._threads:
            thread.join(PATIENCE_S)
        for bench in self.all:
            if bench.trouble is not None:
                raise Problem(f"A bench could not go on: {bench.trouble}")

    def came_to(self, kept: Sequence[str], fewest: int) -> str:
        """How it went for somebody who counts, given the entries that the ledger has, each with its trial."""
        acknowledged = {f"{bench.trial} {one}" for bench in self.all for one in bench.acknowledged}
        own = {bench.trial for bench in self.all}
        kept = [one for one in kept if one.split()[0] in own]
        if len(acknowledged) < fewest:
            raise Problem(f"Only {len(acknowledged)} entries: that says nothing.")
        lost, more = acknowledged - set(kept), len(kept) - len(acknowledged & set(kept))
        told = f"{len(acknowledged)} acknowledged, lost {len(lost)}, doubled {more}"
        if lost or more:
            raise Problem(told)
        return told


class Page:
    """A bench's own page in a real browser, which enters something twice a second."""

    def __init__(self, door: Door, cookies: Mapping[str, str], run: int, design: int) -> None:
        command = [str(PYTHON), "-m", "e2e.bench_page", f"https://{NAME}", door.address, f"/runs/{run}/bench/{design}"]
        pipes = {"stdin": subprocess.PIPE, "stdout": subprocess.PIPE, "text": True}
        self._process: subprocess.Popen[str] = subprocess.Popen(command, cwd=BACKEND, **pipes)  # type: ignore[call-overload]
        self._say(cookies["sessionid"])

    def _say(self, words: str) -> None:
        assert self._process.stdin is not None
        self._process.stdin.write(words + "\n")
        self._process.stdin.flush()

    def stop(self) -> dict[str, Any]:
        """Enter nothing more, wait until all is saved, and say what it did."""
        self._say("over")
        said, _ = self._process.communicate(timeout=300)
        if self._process.returncode != 0:
            raise Problem("The bench's page in a browser could not go on.")
        told: dict[str, Any] = json.loads(said)
        return told


class Watched:
    """A board that is told what changes, over a line that stays open."""

    def __init__(self, door: Door, token: str) -> None:
        self._door, self._path, self.seen = door, f"/api/boards/{token}/stream", 0
        self._over = threading.Event()
        threading.Thread(target=self._look, daemon=True).start()

    def _look(self) -> None:
        while not self._over.is_set():
            line = Line(self._door, answer_s=20)
            with contextlib.suppress(OSError, http.client.HTTPException):
                connection = line.opened()
                connection.request("GET", self._path, headers=line.headers())
                stream = connection.getresponse()
                while stream.status == 200 and not self._over.is_set() and (text := stream.readline()):
                    self.seen += text.startswith(b"data:")
            time.sleep(0.2)

    def end(self) -> None:
        """Look no more."""
        self._over.set()
