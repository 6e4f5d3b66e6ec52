"""How soon a placement is on a hundred boards, and what they cost the benches.

    ./girder start                               (in another terminal)
    ./girder measure boards [SCREENS] [BENCHES] [STEPS]

Benches of one run work as in ``acknowledge``: first alone, then with so many screens on the run's board. For each
placement that the board shows, each screen's time from sending it to seeing it is taken.
"""

from __future__ import annotations

import asyncio
import json
import os
import statistics
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from multiprocessing import get_context
from multiprocessing.connection import Connection
from threading import Barrier
from typing import Any
from urllib.parse import urlsplit

from benchmarks.acknowledge import Bench, prepare, tell
from benchmarks.growth import run_of

MOST_LINE = 2**22


class Timed(Bench):
    """A bench that notes when it sent which entry of its trial."""

    def __init__(self, address: str, cookies: dict[str, str], sent: dict[tuple[str, int], float]) -> None:
        super().__init__(address, cookies)
        self.sent = sent

    def call(self, method: str, path: str, body: Any = None) -> Any:
        if path.endswith("/events"):
            self.sent[path.split("/")[1], body["events"][0]["sequence"]] = time.perf_counter()
        return super().call(method, path, body)


class Screen:
    """A projector's page: it takes what the stream brings, and notes when it first saw which entry."""

    def __init__(self) -> None:
        self.seen: dict[tuple[str, int], float] = {}
        self.length = 0

    async def watch(self, address: str, token: str) -> None:
        parts = urlsplit(address)
        reader, writer = await asyncio.open_connection(parts.hostname, parts.port, limit=MOST_LINE)
        writer.write(f"GET /api/boards/{token}/stream HTTP/1.1\r\nHost: {parts.netloc}\r\n\r\n".encode())
        while line := await reader.readline():
            if line.startswith(b"data: "):
                self.take(line)

    def take(self, line: bytes) -> None:
        at, self.length = time.perf_counter(), len(line)
        for entry in latest_entries(line):
            self.seen.setdefault(entry, at)


@lru_cache(32)
def latest_entries(line: bytes) -> list[tuple[str, int]]:
    """Each trial that a board shows, and the place of its latest entry; read once for all screens, which a projector
    would do on a processor of its own."""
    states = [bench["state"] for bench in json.loads(line[6:]).get("benches", ())]
    return [(state["id"], state["result"]["next_sequence"] - 1) for state in states]


def hall(address: str, token: str, count: int, door: Connection) -> None:
    """So many screens in a process of their own, until the door is knocked at; then what they saw goes out."""
    screens = [Screen() for _ in range(count)]

    async def look() -> None:
        watching = [asyncio.create_task(screen.watch(address, token)) for screen in screens]
        door.send("here")
        await asyncio.to_thread(door.recv)
        for one in watching:
            one.cancel()

    asyncio.run(look())
    door.send([(screen.length, screen.seen) for screen in screens])


def main() -> None:
    address = os.environ["GIRDER_ADDRESS"]
    count, benches, steps = (
        int(sys.argv[n]) if len(sys.argv) > n else usual for n, usual in ((1, 100), (2, 10), (3, 8))
    )
    first = Bench(address)

    def worked(name: str, sent: dict[tuple[str, int], float]) -> float:
        designs = prepare(first, benches, steps)
        if name != "alone":
            token = first.call("PUT", f"runs/{run_of(designs[0])}/board", {"action": "open"})["token"]
            spawn.Process(target=hall, args=(address, token, count, inside), daemon=True).start()
            outside.recv()
            time.sleep(3)
        hands = [Timed(address, first.cookies, sent) for _ in range(benches)]
        ready = Barrier(benches)
        with ThreadPoolExecutor(benches) as pool:
            done = list(pool.map(lambda pair: pair[0].work(pair[1], steps, ready), zip(hands, designs, strict=True)))
        return tell(name, [t for times, _ in done for t in times[1:]])

    spawn = get_context("spawn")
    outside, inside = spawn.Pipe()
    alone = worked("alone", {})
    sent: dict[tuple[str, int], float] = {}
    beside = worked(f"{count} screens", sent)
    time.sleep(1)
    outside.send("that was all")
    screens: list[tuple[int, dict[tuple[str, int], float]]] = outside.recv()
    # When trials end, others come back to the board with entries that nobody was waiting to see there.
    over = min(at for (_, place), at in sent.items() if place > 2 * steps)
    tell("on screen", [1000 * (at - sent[entry]) for _, seen in screens for entry, at in seen.items()
                       if entry in sent and at < over])  # fmt: skip
    print(f"a state is {statistics.median(length for length, _ in screens) / 1024:.0f} KiB long; entries at 95 %: "
          f"{beside / alone:.2f} times as long with {count} screens")  # fmt: skip


if __name__ == "__main__":
    main()
