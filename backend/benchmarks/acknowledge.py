"""How fast a placement is acknowledged with many benches at once.

    ./girder start                                      (in another terminal)
    ./girder measure acknowledge [BENCHES] [STEPS]

Signs in with the demo sign-in, makes a class and a run of its own with one team per bench, lets every bench place and
settle step after step over loopback, bounded in count, and prints median, 95th and 99th percentile, the greatest time,
errors and losses: for one bench alone, then for all at once. Before and after that it does the same with nothing but
the database: as many durable inserts a second, each with a notification, over 40 connections at most. Only ratios of
the two say much on a shared machine. What the server's processes took of the processor is read from the system. A step
is two entries with a pause of a second after each, or of GIRDER_PAUSE seconds, so 90 of them are three minutes.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import random
import statistics
import sys
import time
import uuid
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier
from typing import Any
from urllib.parse import urlsplit

import psycopg

from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD

PAUSE_S = float(os.environ.get("GIRDER_PAUSE", "1"))
"""Nobody places without a pause; an entry a second at every bench is brisk."""
BEGUN_PER_S = 8
"""Trials that are begun in a second, at most: what is measured are the entries after that."""
AT_ONE_CLASS = MOST_CONNECTIONS = 40
DRAWS = random.Random(17)  # noqa: S311 — when a bench begins is no secret


class Bench:
    """One signed-in connection that is kept open, as a browser keeps it."""

    def __init__(self, address: str, cookies: dict[str, str] | None = None) -> None:
        parts = urlsplit(address)
        if parts.hostname not in ("127.0.0.1", "localhost"):
            raise SystemExit("Only a server on this machine is measured.")
        self.connection = http.client.HTTPConnection(parts.hostname, parts.port or 80, timeout=60)
        self.cookies = dict(cookies or {})
        if not cookies:
            self.call("GET", "session")
            self.call("POST", "session", {"email": TEACHER_EMAIL, "password": TEACHER_PASSWORD})

    def call(self, method: str, path: str, body: Any = None) -> Any:
        headers = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.cookies.get("csrftoken", ""),
        }
        self.connection.request(method, f"/api/{path}", json.dumps(body) if body is not None else None, headers)
        response = self.connection.getresponse()
        text = response.read()
        for header, value in response.getheaders():
            if header.lower() == "set-cookie":
                name, _, rest = value.partition("=")
                self.cookies[name] = rest.partition(";")[0]
        if response.status >= 400:
            raise SystemExit(f"{method} {path}: {response.status} {text[:300]!r}")
        return json.loads(text)

    def work(self, design: int, steps: int, ready: Barrier) -> tuple[list[float], int]:
        """Milliseconds for each entry from sending to acknowledgement, and how many are not in the ledger after it.

        All benches go on together from the first entry of their trials, and end together.
        """
        trial, bench = str(uuid.uuid4()), str(uuid.uuid4())
        # A server does not keep a connection for long on which nobody speaks.
        self.connection.close()
        # Nor do they begin trials in the same moment.
        time.sleep(max(2 * PAUSE_S, ready.parties / BEGUN_PER_S) * DRAWS.random())
        self.call("POST", f"designs/{design}/trials", {"id": trial, "bench": bench})
        times = []
        for n in range(1, 2 * steps + 1):
            placing = n % 2 == 1
            data = {"item": "nut", "count": 1} if placing else {"waited_s": 1}
            event = {
                "id": str(uuid.uuid4()), "sequence": n, "kind": "place" if placing else "settle", "data": data,
                "happened_at": "2026-11-03T10:00:00Z",
            }  # fmt: skip
            began = time.perf_counter()
            answer = self.call("POST", f"trials/{trial}/events", {"bench": bench, "events": [event]})
            times.append((time.perf_counter() - began) * 1000)
            if answer["refused"]:
                raise SystemExit(str(answer["refused"]))
            if n == 1:
                self.connection.close()
                ready.wait()
                self.connection.connect()
                # Benches do not begin in the same moment.
                time.sleep(PAUSE_S * DRAWS.random())
            time.sleep(PAUSE_S)
        # What comes now is no entry of a bench at work.
        self.connection.close()
        ready.wait()
        time.sleep(ready.parties / BEGUN_PER_S * DRAWS.random())
        self.call("POST", f"trials/{trial}/events", {"bench": bench, "events": [
            {"id": str(uuid.uuid4()), "sequence": 2 * steps + 1, "kind": "void", "data": {"reason": "knocked"},
             "happened_at": "2026-11-03T10:00:00Z"}]})  # fmt: skip
        kept = self.call("GET", f"trials/{trial}")["result"]["next_sequence"] - 1
        return times, 2 * steps + 1 - kept


def prepare(bench: Bench, benches: int, steps: int) -> list[int]:
    """Classes with one checked-in team per bench; the ids of their designs."""
    # A server does not keep a connection for long on which nobody spoke.
    bench.connection.close()
    classes = range(0, benches, AT_ONE_CLASS)
    return [id for first in classes for id in _class(bench, min(AT_ONE_CLASS, benches - first), steps)]


def _class(bench: Bench, benches: int, steps: int) -> list[int]:
    name = f"Measuring {uuid.uuid4().hex[:8]}"
    school_class = bench.call("POST", "classes", {"name": name})
    for i in range(benches):
        bench.call("POST", f"classes/{school_class['id']}/teams", {"name": f"Bench {i + 1}"})
    recipe = bench.call("POST", "recipes", {
        "name": name, "question": "", "family": "bridge",
        "setup": {"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "400 kg"},
        "kit": [{"name": "nut", "shape": "nut", "count": 2 * steps, "batch_count": 10, "batch_mass": "170 g",
                 "scale_resolution": "1 g"}],
        "school": "most_held", "trial_rule": "best", "breach_policy": "note",
    })  # fmt: skip
    run = bench.call("POST", "runs", {"recipe": recipe["id"], "school_class": school_class["id"], "date": "2026-11-03"})
    designs = [design["id"] for design in run["designs"]]
    for design in designs:
        for key, text in {"gap": "30 cm", "overlap_left": "3 cm", "overlap_right": "3 cm"}.items():
            bench.call("POST", f"designs/{design}/readings", {"key": key, "text": text, "resolution_text": "1 mm"})
        answers = {"stands": True, "piers": False, "papered": False}
        bench.call("PUT", f"designs/{design}/answers", {"answers": answers})
        bench.call("POST", f"designs/{design}/check-in")
    return designs


BARE = """
    WITH kept AS (
        INSERT INTO girder_bare (id, sequence, kind, data, at) VALUES (%s, %s, 'place', %s::jsonb, now()) RETURNING id)
    SELECT pg_notify('girder_bare', id::text) FROM kept
"""


def database() -> psycopg.Connection[Any]:
    """A connection of its own to the application's database."""
    told = {part: os.environ[f"GIRDER_DB_{part}"] for part in ("HOST", "PORT", "NAME", "USER", "PASSWORD")}
    return psycopg.connect(
        host=told["HOST"], port=told["PORT"], dbname=told["NAME"], user=told["USER"], password=told["PASSWORD"],
        autocommit=True,
    )  # fmt: skip


def bare(connection: psycopg.Connection[Any], inserts: int, pause_s: float) -> list[float]:
    """Milliseconds for each insert, with a pause after each."""
    times = []
    time.sleep(pause_s * DRAWS.random())
    for n in range(inserts):
        row = (uuid.uuid4(), n, json.dumps({"item": "nut", "count": 1}))
        began = time.perf_counter()
        connection.execute(BARE, row)
        times.append((time.perf_counter() - began) * 1000)
        time.sleep(pause_s)
    return times


def bare_together(connections: Sequence[psycopg.Connection[Any]], benches: int, inserts: int) -> list[float]:
    """As many inserts a second as so many benches make."""
    each = len(connections) / benches
    with ThreadPoolExecutor(len(connections)) as pool:
        done = pool.map(lambda one: bare(one, round(inserts / each), PAUSE_S * each), connections)
        return [t for times in done for t in times]


def processor_s() -> float:
    """Seconds of processor time that the server's processes, which are one group, have had."""
    served = int(os.environ["GIRDER_SERVER"])
    return had_s(lambda _, __, group: group == served)


def had_s(meant: Callable[[int, int, int], bool]) -> float:
    """Seconds of processor time that processes have had, chosen by number, parent and group; each with those of its
    children that ended."""
    ticks = 0
    for stat in Path("/proc").glob("[0-9]*/stat"):
        with contextlib.suppress(OSError):
            fields = stat.read_text().rpartition(")")[2].split()
            if meant(int(stat.parent.name), int(fields[1]), int(fields[2])):
                ticks += sum(int(field) for field in fields[11:15])
    return ticks / os.sysconf("SC_CLK_TCK")


def tell(name: str, times: list[float]) -> float:
    p95 = statistics.quantiles(times, n=20)[-1]
    p99 = statistics.quantiles(times, n=100)[-1]
    print(f"{name:>12}: median {statistics.median(times):6.1f} ms, 95 % {p95:6.1f} ms, 99 % {p99:6.1f} ms, "
          f"most {max(times):6.1f} ms, {len(times)} entries")  # fmt: skip
    return p95


def main() -> None:
    address = os.environ["GIRDER_ADDRESS"]
    benches = int(sys.argv[1]) if len(sys.argv) > 1 else 40
    steps = int(sys.argv[2]) if len(sys.argv) > 2 else 8
    bench = Bench(address)
    designs = prepare(bench, benches, steps)
    raw = [database() for _ in range(min(benches, MOST_CONNECTIONS))]
    columns = "id uuid PRIMARY KEY, sequence int, kind text, data jsonb, at timestamptz"
    raw[0].execute(f"CREATE TABLE IF NOT EXISTS girder_bare ({columns})")
    connections = [Bench(address, bench.cookies) for _ in range(benches)]
    try:
        least = [tell("bare inserts", bare_together(raw, benches, 2 * steps))]
        alone = tell("one bench", bench.work(designs[0], min(steps, 20), Barrier(1))[0][1:])
        marks: list[float] = []
        ready = Barrier(benches, action=lambda: marks.append(processor_s()))
        with ThreadPoolExecutor(benches) as pool:
            done = list(
                pool.map(lambda pair: pair[0].work(pair[1], steps, ready), zip(connections, designs, strict=True))
            )
        took_s = marks[1] - marks[0]
        tell("first entries", [times[0] for times, _ in done])
        together = tell(f"{benches} benches", [t for times, _ in done for t in times[1:]])
        least.append(tell("bare again", bare_together(raw, benches, 2 * steps)))
    finally:
        raw[0].execute("DROP TABLE girder_bare")
    # An answer other than 200 ends the script, so whoever reads this line had none.
    print(f"errors: 0, lost: {sum(lost for _, lost in done)}")
    # From the first entry to the last.
    entries = sum(len(times) - 1 for times, _ in done)
    print(f"processor time of the server: {1000 * took_s / entries:.1f} ms for each of {entries} entries")
    print(f"95 % of {benches} benches, over one bench: {together / alone:.1f}")
    print(f"95 % of {benches} benches, over that of bare inserts before and after: "
          f"{together / least[0]:.1f}, {together / least[1]:.1f}")  # fmt: skip


if __name__ == "__main__":
    main()
