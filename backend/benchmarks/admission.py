"""How fast long ledgers come in: a batch of 500 entries, and the file of a run with 10,000 of them.

    ./girder start                       (in another terminal)
    ./girder measure admission [TRIALS]

Trials of a run of its own take 500 entries in one batch each; the run's file is then brought in.
"""

from __future__ import annotations

import json
import os
import statistics
import sys
import time
import uuid
from typing import Any

from benchmarks.acknowledge import Bench, prepare
from benchmarks.growth import run_of

ENTRIES = 500


def batch() -> list[dict[str, Any]]:
    """Entries that place and settle in turn."""
    return [
        {"id": str(uuid.uuid4()), "sequence": n, "kind": "place" if n % 2 else "settle",
         "data": {"item": "nut", "count": 1} if n % 2 else {"waited_s": 1}, "happened_at": "2026-11-03T10:00:00Z"}
        for n in range(1, ENTRIES + 1)
    ]  # fmt: skip


def main() -> None:
    trials = int(sys.argv[1]) if len(sys.argv) > 1 else 20
    first = Bench(os.environ["GIRDER_ADDRESS"])
    designs = prepare(first, trials, ENTRIES // 2)
    took = []
    for design in designs:
        trial, bench = str(uuid.uuid4()), str(uuid.uuid4())
        first.call("POST", f"designs/{design}/trials", {"id": trial, "bench": bench})
        began = time.perf_counter()
        answer = first.call("POST", f"trials/{trial}/events", {"bench": bench, "events": batch()})
        took.append(time.perf_counter() - began)
        if answer["refused"] or len(answer["accepted"]) != ENTRIES:
            raise SystemExit(str(answer["refused"]))
    print(f"{ENTRIES} entries in one batch: median {statistics.median(took):.2f} s, most {max(took):.2f} s")
    text = json.dumps(first.call("GET", f"runs/{run_of(designs[0])}/run.json"))
    began = time.perf_counter()
    made = first.call("POST", "runs/import", {"text": text})
    took_s = time.perf_counter() - began
    state = first.call("GET", f"runs/{made['run']}")
    kept = sum(len(design["trials"]) for design in state["designs"])
    print(f"a file of {trials * ENTRIES} entries, {len(text) / 1e6:.1f} MB: {took_s:.2f} s, {kept} trials kept")


if __name__ == "__main__":
    main()
