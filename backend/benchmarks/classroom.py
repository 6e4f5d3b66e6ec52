"""A classroom of devices: how soon a team's page is there, and whether anything typed or counted is lost.

    ./girder start                               (in another terminal)
    ./girder measure classroom [SECONDS] [TABLETS] [BENCHES] [BOARDS]

Ten teams have three tablets each, which ask for their page as the page itself does; one of each team writes what the
team tries every few seconds. Benches of the run place and settle, one entry a second, and begin anew after sixty,
which is a long trial; boards look on; a helper reads the run. A third and two thirds of the way a server process is
killed. At the end the database is held against what was acknowledged. Beside it a thread does nothing but sleep and
wake: where that is late, the machine was busy otherwise.
"""

from __future__ import annotations

import os
import random
import sys
import threading
import time
import uuid
from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import Any

from benchmarks.acknowledge import Bench, had_s, prepare, processor_s, tell
from benchmarks.boards import hall
from benchmarks.faults import GONE, Unsteady, database_again, kill_a_worker, postmaster
from benchmarks.growth import run_of

TEAMS = 10
PAGE_S, TESTING_S, NOTE_S, ENTRY_S, READ_S = 6.0, 1.5, 9.0, 1.0, 4.0
"""How often a page is asked for, one whose team is tested, how often a team writes, a bench enters, a helper reads."""
BETWEEN_TRIES_S = 0.5
ENTRIES = 60
"""Entries of a trial, the last of which says how it went."""


class Steady(Unsteady):
    """A bench at an ordinary pace, whose line is good but for what is done to the server."""

    def work(self, until: float) -> None:
        """Entry after entry, each sent until it is acknowledged, however often that has to be."""
        self.times: list[float] = []
        self.written: set[tuple[str, int, str]] = set()
        while time.monotonic() < until and self.refused is None:
            self.trial = str(uuid.uuid4())
            while self.post(f"designs/{self.design}/trials", {"id": self.trial, "bench": self.at}) is None:
                time.sleep(BETWEEN_TRIES_S)
            self.test(until)

    def test(self, until: float) -> None:
        """One trial from its first entry to the one that says how it went."""
        self.made.clear()
        for n in range(1, ENTRIES + 1):
            event, began = self.event(n), time.perf_counter()
            if n == ENTRIES:
                event |= {"kind": "fail", "data": {"mode": "snap"}}
            body = {"bench": self.at, "events": [event]}
            while (answer := self.post(f"trials/{self.trial}/events", body)) is None:
                time.sleep(BETWEEN_TRIES_S)
            if event["id"] not in answer.get("accepted", ()):
                self.refused = answer
                return
            self.times.append(1000 * (time.perf_counter() - began))
            self.written.add((self.trial, n, event["id"]))
            if time.monotonic() >= until:
                return
            time.sleep(ENTRY_S)


class TeamTablet(Unsteady):
    """A tablet of a team; one that ``writes`` sends what the team tries until it is acknowledged."""

    def __init__(self, address: str, code: str, team: int, writes: bool, chance: random.Random) -> None:
        super().__init__(Bench(address, {"none": ""}), 0, chance)
        self.bench.call("GET", "session")
        self.bench.call("POST", "join", {"code": code})
        self.bench.call("PUT", "team", {"team": team, "confirmed": True})
        self.team, self.writes = team, writes
        self.times: list[float] = []
        self.note: str = self.bench.call("GET", "team")["note"]

    def work(self, until: float) -> None:
        """Ask for the page, and write, until the lesson is over."""
        time.sleep(PAGE_S * self.chance.random())
        written = time.monotonic()
        while time.monotonic() < until:
            pause = PAGE_S
            began = time.perf_counter()
            try:
                page = self.bench.call("GET", "team")
                self.times.append(1000 * (time.perf_counter() - began))
                pause = TESTING_S if page["stage"] == "testing" else PAGE_S
            except (*GONE, SystemExit):
                self.seen["page without an answer"] += 1
                self.bench.connection.close()
                pause = BETWEEN_TRIES_S
            if self.writes and time.monotonic() - written > NOTE_S:
                self.write(f"{self.team} tries {len(self.times)} {self.chance.random()}")
                written = time.monotonic()
            time.sleep(pause)

    def write(self, text: str) -> None:
        """Send a text until it is acknowledged."""
        while True:
            try:
                self.bench.call("PUT", "team/note", {"note": text, "before": self.note})
            except (*GONE, SystemExit):
                self.seen["note without an answer"] += 1
                self.bench.connection.close()
                time.sleep(BETWEEN_TRIES_S)
                continue
            self.note = text
            self.seen["notes"] += 1
            return


def tablets(address: str, code: str, teams: list[int], count: int, seconds: float, door: Connection) -> None:
    """So many tablets in a process of their own; what they saw goes out."""
    each = [
        TeamTablet(address, code, teams[n % len(teams)], n < len(teams), random.Random(n))  # noqa: S311
        for n in range(count)
    ]
    door.send("here")
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=one.work, args=(until,), daemon=True) for one in each]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(seconds + 60)
    hang = sum(thread.is_alive() for thread in threads)
    notes = {one.team: one.note for one in each if one.writes}
    seen = sum((one.seen for one in each), each[0].seen.__class__())
    door.send(([time_ for one in each for time_ in one.times], notes, dict(seen), hang))


def helper(bench: Bench, run: int, until: float, times: list[float]) -> None:
    """Somebody who reads the run now and then."""
    while time.monotonic() < until:
        began = time.perf_counter()
        try:
            bench.call("GET", f"runs/{run}")
            times.append(1000 * (time.perf_counter() - began))
        except (*GONE, SystemExit):
            bench.connection.close()
        time.sleep(READ_S)


def sleeper(until: float, late: list[float]) -> None:
    """Wakes a hundred times a second and notes how late [ms]: what the machine itself keeps everybody waiting."""
    while (now := time.monotonic()) < until:
        time.sleep(0.01)
        late.append(1000 * max(0.0, time.monotonic() - now - 0.01))


def main() -> None:
    address = os.environ["GIRDER_ADDRESS"]
    seconds, count, benches, boards = (
        int(sys.argv[n]) if len(sys.argv) > n else usual for n, usual in ((1, 300), (2, 30), (3, 3), (4, 2))
    )
    first = Bench(address)
    designs = prepare(first, TEAMS, seconds)
    run = run_of(designs[0])
    teams = [design["team"]["id"] for design in first.call("GET", f"runs/{run}")["designs"]]
    code = first.call("PUT", f"runs/{run}/door", {"action": "open"})["code"]
    token = first.call("PUT", f"runs/{run}/board", {"action": "open"})["token"]
    spawn = get_context("spawn")
    (outside, inside), (looking, screens) = spawn.Pipe(), spawn.Pipe()
    spawn.Process(target=hall, args=(address, token, boards, screens), daemon=True).start()
    spawn.Process(target=tablets, args=(address, code, teams, count, seconds, inside), daemon=True).start()
    looking.recv()
    outside.recv()
    until = time.monotonic() + seconds
    hands = [Steady(Bench(address, first.cookies), design, random.Random(n))  # noqa: S311
             for n, design in enumerate(designs[:benches])]  # fmt: skip
    read: list[float] = []
    late: list[float] = []
    working = [threading.Thread(target=hand.work, args=(until,), daemon=True) for hand in hands]
    working.append(threading.Thread(target=helper, args=(Bench(address, first.cookies), run, until, read), daemon=True))
    working.append(threading.Thread(target=sleeper, args=(until, late), daemon=True))
    for thread in working:
        thread.start()
    keeper = postmaster()
    had = processor_s(), had_s(lambda pid, parent, _: keeper in (pid, parent))
    for _ in range(2):
        time.sleep(seconds / 3)
        kill_a_worker(random.Random(seconds))  # noqa: S311
    pages, notes, seen, hang = outside.recv()
    took = processor_s() - had[0], had_s(lambda pid, parent, _: keeper in (pid, parent)) - had[1]
    for thread in working:
        thread.join(60)
    print(f"processor time: server {took[0] / seconds:.2f} of a core, database {took[1] / seconds:.2f}")
    tell("team pages", pages)
    tell("entries", [time_ for hand in hands for time_ in hand.times])
    tell("helper", read)
    tell("a sleeper was late", late)
    print(", ".join(f"{number} {name}" for name, number in seen.items()))
    told = lost(hands, designs, notes)
    print(f"{told}, tablets that hang: {hang}, benches refused: {sum(hand.refused is not None for hand in hands)}")
    looking.send("that was all")
    looking.recv()
    raise SystemExit(0 if told.startswith("lost: 0 entries, 0 notes") and not hang else 1)


def lost(hands: list[Steady], designs: list[int], notes: dict[int, str]) -> str:
    """What was acknowledged and is not in the database, in words."""
    with database_again() as connection:
        entries = 0
        for hand in hands:
            rows: set[Any] = set(connection.execute(
                "SELECT event.trial_id::text, event.sequence, event.id::text FROM bench_ledgerevent event"
                " JOIN bench_trial trial ON trial.id = event.trial_id WHERE trial.design_id = %s", [hand.design]
            ))  # fmt: skip
            entries += len(hand.written - rows)
        kept = dict(connection.execute("SELECT team_id, note FROM designs_design WHERE id = ANY(%s)", [designs]))
    missing = sum(kept[team] != note for team, note in notes.items())
    acknowledged = sum(len(hand.written) for hand in hands)
    return f"lost: {entries} entries, {missing} notes (of {acknowledged} and of {len(notes)} teams)"


if __name__ == "__main__":
    main()
