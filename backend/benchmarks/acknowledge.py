"""How fast a placement is acknowledged with many benches at once.

    ./girder start                                   (in another terminal)
    python -m benchmarks.acknowledge ADDRESS [BENCHES] [STEPS]     (in backend/, with the environment of .girder/venv)

Signs in with the demo sign-in, makes a class and a run of its own with one team per bench, lets every bench place and
settle step after step over loopback, bounded in count, and prints median, 95th and 99th percentile, the greatest time,
errors and losses: first for one bench alone, then for all at once, because only the ratio of the two says much on a
shared machine. A step takes two seconds, so 90 of them are three minutes.
"""

from __future__ import annotations

import http.client
import json
import statistics
import sys
import time
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from urllib.parse import urlsplit

from demo.world import TEACHER_EMAIL, TEACHER_PASSWORD

PAUSE_S = 1.0


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

    def work(self, design: int, steps: int) -> tuple[list[float], int]:
        """Milliseconds for each entry from sending to acknowledgement, and how many are not in the ledger after it."""
        trial, bench = str(uuid.uuid4()), str(uuid.uuid4())
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
            # Nobody places without a pause; an entry a second at every bench is brisk.
            time.sleep(PAUSE_S)
        self.call("POST", f"trials/{trial}/events", {"bench": bench, "events": [
            {"id": str(uuid.uuid4()), "sequence": 2 * steps + 1, "kind": "void", "data": {"reason": "knocked"},
             "happened_at": "2026-11-03T10:00:00Z"}]})  # fmt: skip
        kept = self.call("GET", f"trials/{trial}")["result"]["next_sequence"] - 1
        return times, 2 * steps + 1 - kept


def prepare(bench: Bench, benches: int, steps: int) -> list[int]:
    """A class with one checked-in team per bench; the ids of their designs."""
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


def tell(name: str, times: list[float]) -> float:
    p95 = statistics.quantiles(times, n=20)[-1]
    p99 = statistics.quantiles(times, n=100)[-1]
    print(f"{name:>12}: median {statistics.median(times):6.1f} ms, 95 % {p95:6.1f} ms, 99 % {p99:6.1f} ms, "
          f"most {max(times):6.1f} ms, {len(times)} entries")  # fmt: skip
    return p95


def main() -> None:
    address = sys.argv[1]
    benches = int(sys.argv[2]) if len(sys.argv) > 2 else 40
    steps = int(sys.argv[3]) if len(sys.argv) > 3 else 8
    bench = Bench(address)
    designs = prepare(bench, benches, steps)
    alone = tell("one bench", bench.work(designs[0], min(steps, 20))[0])
    connections = [Bench(address, bench.cookies) for _ in range(benches)]
    with ThreadPoolExecutor(benches) as pool:
        done = list(pool.map(lambda pair: pair[0].work(pair[1], steps), zip(connections, designs, strict=True)))
    together = tell(f"{benches} benches", [t for times, _ in done for t in times])
    # An answer other than 200 ends the script, so whoever reads this line had none.
    print(f"errors: 0, lost: {sum(lost for _, lost in done)}")
    print(f"ratio of the 95 % values: {together / alone:.1f}")


if __name__ == "__main__":
    main()
