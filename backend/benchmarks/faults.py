"""Nothing that was acknowledged is lost, nothing is there twice: a drill with faults on purpose.

    ./girder start                        (in another terminal, with nothing in it that you need)
    ./girder measure faults [SECONDS]

Benches place and settle as fast as they are answered; each sends an entry until it is acknowledged, as the page does.
Meanwhile connections are cut before the answer is read, entries are sent twice and out of order, clocks jump, server
processes are killed and held still, the database's connections are ended, and the database itself is killed; the
launcher brings it back. Where the database lies on a small file system of its own, that is filled to the last byte too.
At the end the ledgers in the database are held against what was acknowledged.
"""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import random
import shutil
import signal
import sys
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import Any

import psycopg

from benchmarks.acknowledge import Bench, database, prepare

BENCHES, MOST_S = 12, 60.0
SMALL = 2 * 1024**3
"""Bytes of a file system that may be filled."""
FULL_S = 4.0
GONE = (OSError, http.client.HTTPException, json.JSONDecodeError)


class Unsteady:
    """A bench behind a bad line, with a clock that jumps."""

    def __init__(self, bench: Bench, design: int, chance: random.Random) -> None:
        self.bench, self.design, self.chance = bench, design, chance
        self.trial, self.at = str(uuid.uuid4()), str(uuid.uuid4())
        self.acknowledged: set[tuple[int, str]] = set()
        self.seen: Counter[str] = Counter()
        self.made: dict[int, dict[str, Any]] = {}
        self.refused: Any = None

    def post(self, path: str, body: Any, cut: bool = False) -> Any:
        """An answer, or None where none came."""
        connection = self.bench.connection
        headers = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.bench.cookies.items()),
            "X-CSRFToken": self.bench.cookies.get("csrftoken", ""),
        }
        try:
            connection.timeout = 8
            connection.request("POST", f"/api/{path}", json.dumps(body), headers)
            if cut:
                self.seen["connection cut before the answer"] += 1
                connection.close()
                return None
            answer = connection.getresponse()
            text = answer.read()
            if answer.status >= 500:
                self.seen[f"answered {answer.status}"] += 1
                return None
            return json.loads(text) | {"status": answer.status}
        except GONE:
            self.seen["no answer"] += 1
            connection.close()
            return None

    def event(self, n: int) -> dict[str, Any]:
        """The entry of this place, the same each time it is asked for."""
        if n not in self.made:
            self.made[n] = self._made(n)
        return self.made[n]

    def _made(self, n: int) -> dict[str, Any]:
        placing = n % 2 == 1
        year = self.chance.choice((2026, 2026, 2026, 1999, 2031))
        self.seen["clock years off"] += year != 2026
        data = {"item": "nut", "count": 1} if placing else {"waited_s": 1}
        return {
            "id": str(uuid.uuid4()), "sequence": n, "kind": "place" if placing else "settle", "data": data,
            "happened_at": f"{year}-11-03T10:00:00Z",
        }  # fmt: skip

    def work(self, until: float) -> None:
        while self.post(f"designs/{self.design}/trials", {"id": self.trial, "bench": self.at}) is None:
            time.sleep(0.3)
        n = 1
        while time.monotonic() < until:
            event = self.event(n)
            body = {"bench": self.at, "events": [event]}
            if self.chance.random() < 0.1:
                # One that comes before its turn waits in the ledger, and is sent again when it is.
                self.seen["sent out of order"] += 1
                early = self.event(n + 2)
                answer = self.post(f"trials/{self.trial}/events", {"bench": self.at, "events": [early]})
                if answer is not None and early["id"] in answer.get("accepted", ()):
                    self.acknowledged.add((n + 2, early["id"]))
            answer = None
            while answer is None or event["id"] not in answer.get("accepted", ()):
                answer = self.post(f"trials/{self.trial}/events", body, cut=self.chance.random() < 0.05)
                if answer is None:
                    time.sleep(0.2)
                elif answer["status"] >= 400 or answer.get("refused"):
                    self.refused = answer
                    return
            self.acknowledged.add((n, event["id"]))
            if self.chance.random() < 0.1:
                self.seen["sent twice"] += 1
                self.post(f"trials/{self.trial}/events", body)
            n += 1


def workers() -> list[int]:
    served = int(os.environ["GIRDER_SERVER"])
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            fields = (folder / "stat").read_text().rpartition(")")[2].split()
            if int(fields[1]) == served:
                found.append(int(folder.name))
    return found


def postmaster() -> int:
    with database() as connection:
        found = connection.execute("SELECT pg_postmaster_start_time(), pg_backend_pid()").fetchone()
        assert found is not None
        return int(Path(f"/proc/{found[1]}/stat").read_text().rpartition(")")[2].split()[1])


def kill_a_worker(chance: random.Random) -> None:
    os.kill(chance.choice(workers()), signal.SIGKILL)


def hold_a_worker(chance: random.Random) -> None:
    held = chance.choice(workers())
    os.kill(held, signal.SIGSTOP)
    time.sleep(3)
    os.kill(held, signal.SIGCONT)


def end_connections(chance: random.Random) -> None:
    with contextlib.suppress(psycopg.Error), database() as connection:
        connection.execute("SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE usename = current_user "
                           "AND pid <> pg_backend_pid()")  # fmt: skip


def kill_the_database(chance: random.Random) -> None:
    os.kill(postmaster(), signal.SIGKILL)


def fill_the_disk(chance: random.Random) -> None:
    ballast = database_folder() / "ballast"
    try:
        with ballast.open("wb", buffering=0) as file, contextlib.suppress(OSError):
            while file.tell() < SMALL:
                # The last bytes, too: less is written than was given where no more is left.
                file.write(bytes(1024 * 1024))
        time.sleep(FULL_S)
    finally:
        ballast.unlink(missing_ok=True)


def database_folder() -> Path:
    return Path(f"/proc/{postmaster()}/cwd").resolve()


FAULTS: dict[str, Callable[[random.Random], None]] = {
    "a server process killed": kill_a_worker,
    "a server process held still for 3 s": hold_a_worker,
    "all the database's connections ended": end_connections,
    "the database killed": kill_the_database,
}


def database_again() -> psycopg.Connection[Any]:
    """A connection to the database, which may just be coming back."""
    for _ in range(60):
        with contextlib.suppress(psycopg.Error):
            return database()
        time.sleep(0.5)
    return database()


def main() -> None:
    seconds = min(float(sys.argv[1]) if len(sys.argv) > 1 else MOST_S, 600.0)
    chance = random.Random(17)  # noqa: S311 — which fault comes when is no secret
    first = Bench(os.environ["GIRDER_ADDRESS"])
    designs = prepare(first, BENCHES, 50_000)
    until = time.monotonic() + seconds
    benches = [
        Unsteady(Bench(os.environ["GIRDER_ADDRESS"], first.cookies), design, random.Random(n))  # noqa: S311
        for n, design in enumerate(designs)
    ]
    threads = [threading.Thread(target=bench.work, args=(until,), daemon=True) for bench in benches]
    for thread in threads:
        thread.start()
    done: Counter[str] = Counter()
    faults = dict(FAULTS)
    if shutil.disk_usage(database_folder()).total < SMALL:
        faults[f"the disk full for {FULL_S:.0f} s"] = fill_the_disk
    order = list(faults)
    while time.monotonic() < until - 12:
        time.sleep(4)
        name = order[sum(done.values()) % len(order)]
        with contextlib.suppress(IndexError, OSError, psycopg.Error):
            faults[name](chance)
            done[name] += 1
    for thread in threads:
        thread.join(60)
    for name, count in (done + sum((bench.seen for bench in benches), Counter())).items():
        print(f"{count:6}  {name}")
    lost = doubled = acknowledged = 0
    with database_again() as connection:
        for bench in benches:
            rows = connection.execute(
                "SELECT sequence, id::text FROM bench_ledgerevent WHERE trial_id = %s ORDER BY sequence", [bench.trial]
            ).fetchall()
            acknowledged += len(bench.acknowledged)
            lost += len(bench.acknowledged - set(rows))
            doubled += len(rows) - len({ident for _, ident in rows}) + len(rows) - len({place for place, _ in rows})
    still = sum(thread.is_alive() for thread in threads)
    refused = [bench.refused for bench in benches if bench.refused]
    for answer in refused:
        print(f"refused: {answer}")
    print(f"acknowledged {acknowledged}, lost {lost}, doubled {doubled}, benches that hang {still}, "
          f"that were refused {len(refused)}")  # fmt: skip
    raise SystemExit(1 if lost or doubled or still or refused else 0)


if __name__ == "__main__":
    main()
