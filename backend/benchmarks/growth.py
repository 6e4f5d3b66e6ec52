"""What a database that has grown for years does to an entry and to a comparison, and what an entry takes of the disk.

    ./girder start                                     (in another terminal, with nothing in it that you need)
    ./girder measure growth [MILLION_EVENTS]

Times entries and a comparison, fills in trials of a made-up school with about 33 events each (300,000 trials for ten
million events), times the same again, prints sizes for each event, and takes out what it filled in.
"""

from __future__ import annotations

import os
import statistics
import sys
import time
from threading import Barrier

import psycopg

from benchmarks.acknowledge import Bench, database, prepare

EACH = 33
"""Events of a trial."""
AT_ONCE = 3000
"""Trials that are filled in together."""

FILL = """
    WITH made AS (
        INSERT INTO bench_trial (id, design_id, number, wet_reason, arrangement, rehearsal, started_at)
        SELECT gen_random_uuid(), %(design)s, n %% 30000, 'filled in', '', true, now() - n * interval '1 hour'
        FROM generate_series(%(first)s::int, %(last)s::int) n RETURNING id)
    INSERT INTO bench_ledgerevent (id, trial_id, sequence, kind, data, happened_at, received_at, author)
    SELECT gen_random_uuid(), made.id, s, CASE WHEN s %% 2 = 1 THEN 'place' ELSE 'settle' END,
        CASE WHEN s %% 2 = 1 THEN '{"item": "nut", "count": 1}'::jsonb ELSE '{"waited_s": 5}'::jsonb END,
        now(), now(), 'Marit'
    FROM made, generate_series(1, %(each)s::int) s
"""


def times(bench: Bench, designs: list[int], run: int) -> tuple[float, float]:
    """Median of an entry and of a comparison [ms]."""
    entries = [t for design in designs for t in bench.work(design, 5, Barrier(1))[0][1:]]
    compared = []
    bench.connection.close()
    for _ in range(7):
        began = time.perf_counter()
        bench.call("GET", f"runs/{run}/comparison")
        compared.append((time.perf_counter() - began) * 1000)
    return statistics.median(entries), statistics.median(compared)


def size(connection: psycopg.Connection[tuple[int]], table: str) -> int:
    found = connection.execute("SELECT pg_total_relation_size(%s::regclass)", [table]).fetchone()
    assert found is not None
    return int(found[0])


def main() -> None:
    events = float(sys.argv[1]) * 1e6 if len(sys.argv) > 1 else 1e7
    trials = int(events / EACH)
    bench = Bench(os.environ["GIRDER_ADDRESS"])
    designs = prepare(bench, 8, 50)
    run = run_of(designs[0])
    connection = database()
    before = times(bench, designs[:4], run)
    empty = size(connection, "bench_ledgerevent"), size(connection, "bench_trial")
    # A design has numbers for 30,000 trials at most.
    homes = prepare(bench, trials // 30_000 + 1, 2)
    marks = [connection.execute("SELECT count(*) FROM bench_ledgerevent").fetchone()]
    began = time.monotonic()
    with connection.transaction():
        # What nobody listens to need not be told.
        for table in ("bench_trial", "bench_ledgerevent"):
            connection.execute(f"ALTER TABLE {table} DISABLE TRIGGER USER")
        for first in range(1, trials + 1, AT_ONCE):
            last = min(trials, first + AT_ONCE - 1)
            home = homes[first // 30_000]
            connection.execute(FILL, {"design": home, "first": first, "last": last, "each": EACH})
        connection.execute("SET CONSTRAINTS ALL IMMEDIATE")
        for table in ("bench_trial", "bench_ledgerevent"):
            connection.execute(f"ALTER TABLE {table} ENABLE TRIGGER USER")
    took_s = time.monotonic() - began
    connection.execute("ANALYZE bench_trial, bench_ledgerevent")
    marks.append(connection.execute("SELECT count(*) FROM bench_ledgerevent").fetchone())
    print(f"filled in {trials} trials, {trials * EACH} events in {took_s:.0f} s; there were {marks[0]}, are {marks[1]}")
    grown = size(connection, "bench_ledgerevent") - empty[0], size(connection, "bench_trial") - empty[1]
    print(f"an event takes {grown[0] / (trials * EACH):.0f} bytes with its indexes, a trial {grown[1] / trials:.0f}")
    after = times(bench, designs[4:], run)
    for name, was, now in zip(("entry", "comparison"), before, after, strict=True):
        print(f"{name}: median {was:.1f} ms before, {now:.1f} ms after, {now / was:.2f} times")
    connection.execute("DELETE FROM bench_ledgerevent WHERE trial_id IN "
                       "(SELECT id FROM bench_trial WHERE wet_reason = 'filled in')")  # fmt: skip
    connection.execute("DELETE FROM bench_trial WHERE wet_reason = 'filled in'")


def run_of(design: int) -> int:
    """The run of a design."""
    with database() as connection:
        found = connection.execute("SELECT run_id FROM designs_design WHERE id = %s", [design]).fetchone()
        assert found is not None
        return int(found[0])


if __name__ == "__main__":
    main()
