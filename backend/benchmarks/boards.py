"""How soon a placement is on a hundred boards, and what they cost the benches.

    ./girder start                               (in another terminal)
    ./girder measure boards [SCREENS] [BENCHES] [STEPS]

Benches of one run work as in ``acknowledge``: first alone, then with so many screens on the run's board. For each
placement that the board shows, each screen's time from sending it to seeing it is taken.
"""

from __future__ import annotations

import http.client
import json
import os
import statistics
import sys
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier
from typing import Any
from urllib.parse import urlsplit

from benchmarks.acknowledge import Bench, prepare, tell
from benchmarks.growth import run_of


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

    def __init__(self, address: str, token: str) -> None:
        parts = urlsplit(address)
        self.connection = http.client.HTTPConnection(str(parts.hostname), parts.port or 80, timeout=60)
        self.connection.request("GET", f"/api/boards/{token}/stream")
        self.response = self.connection.getresponse()
        self.seen: dict[tuple[str, int], float] = {}
        self.length = 0
        self.on: set[str] = set()
        threading.Thread(target=self._read, daemon=True).start()

    def _read(self) -> None:
        while line := self.response.readline():
            if not line.startswith(b"data: "):
                continue
            at, self.length = time.perf_counter(), len(line)
            states = {bench["state"]["id"]: bench["state"] for bench in json.loads(line[6:]).get("benches", ())}
            # A trial that comes back to the board brings entries that nobody was waiting to see there.
            for trial in states.keys() & self.on:
                self.seen.setdefault((trial, states[trial]["result"]["next_sequence"] - 1), at)
            self.on = set(states)


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
            screens.extend(Screen(address, token) for _ in range(count))
        hands = [Timed(address, first.cookies, sent) for _ in range(benches)]
        ready = Barrier(benches)
        with ThreadPoolExecutor(benches) as pool:
            done = list(pool.map(lambda pair: pair[0].work(pair[1], steps, ready), zip(hands, designs, strict=True)))
        return tell(name, [t for times, _ in done for t in times[1:]])

    screens: list[Screen] = []
    alone = worked("alone", {})
    sent: dict[tuple[str, int], float] = {}
    beside = worked(f"{count} screens", sent)
    time.sleep(1)
    late = [1000 * (at - sent[entry]) for screen in screens for entry, at in screen.seen.items() if entry in sent]
    tell("on screen", late)
    print(f"a state is {statistics.median(screen.length for screen in screens) / 1024:.0f} KiB long; entries at 95 %: "
          f"{beside / alone:.2f} times as long with {count} screens")  # fmt: skip


if __name__ == "__main__":
    main()
