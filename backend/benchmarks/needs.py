"""What a school, a district and a country need, worked out from what was measured: the table of docs/scale.md.

    python -m benchmarks.needs

What was measured stands first, each with where; what is assumed after it. Change one, and the table changes.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

LESSON_SERVER_CORES = 0.20
"""Of a core, what the server’s processes take for a lesson (``classroom 60 10 1 1``: ten tablets, a bench, a board, a
helper)."""
LESSON_DATABASE_CORES = 0.04
"""The same for the database."""
LESSON_ENTRIES_PER_S = 1.0
"""Entries of the one bench of that lesson, at a brisk pace."""
TEACHER_KB = 165
"""What a teacher's year takes of the database without its entries (``scale``: 305 kB, of which 140 are entries)."""
ENTRY_BYTES, RUN_ENTRIES = 236, 600
"""What an entry takes (``growth``), and how many a run has: ten designs, two trials of thirty."""
PHOTOS_MB = 4.0
"""Photographs of a run: ten of 0.4 MB."""

RUNS, LESSON_H, SCHOOL_H, BUSIEST = 6, 1.5, 190 * 6, 4
"""Runs of a teacher in a year, hours of each at tablets and bench, hours of school in a year, and how many times the
average there is in the busiest of them."""
BUSY = 0.5
"""Cores are kept half busy, so that nobody waits for one."""
CORE_EURO, DISK_EURO, STORE_EURO = 360.0, 1.2, 0.24
"""A year of a core with 4 GB, of a gigabyte of fast disk, of one in a store of photographs: assumed, no offer."""
KEPT_YEARS, COPIES = 5, 2
"""How long all of it is kept, and on how many databases."""


@dataclass(frozen=True)
class Needs:
    """What so many teachers need.

    Attributes:
        lessons: at once, in the busiest hour.
        entries_s: entries a second then.
        server: cores for the application; as many processes.
        database: cores of the database, each of its two hosts.
        rows_gb: what a year adds to the database.
        photos_gb: what a year adds to the store.
        euro: for a teacher and year, once everything is there that is kept.
    """

    teachers: int
    lessons: int
    entries_s: float
    server: int
    database: int
    rows_gb: float
    photos_gb: float
    euro: float


def needs(teachers: int) -> Needs:
    """What so many teachers need."""
    lessons = max(2, ceil(teachers * RUNS * LESSON_H / SCHOOL_H * BUSIEST))
    # A host that dies is not missed.
    server = max(2, ceil(lessons * LESSON_SERVER_CORES / BUSY))
    database = max(1, ceil(lessons * LESSON_DATABASE_CORES / BUSY))
    rows_gb = teachers * (TEACHER_KB * 1e3 + RUNS * RUN_ENTRIES * ENTRY_BYTES) / 1e9
    photos_gb = teachers * RUNS * PHOTOS_MB / 1e3
    machines = (server + COPIES * database) * CORE_EURO
    kept = KEPT_YEARS * (COPIES * rows_gb * DISK_EURO + photos_gb * STORE_EURO)
    return Needs(teachers, lessons, lessons * LESSON_ENTRIES_PER_S, server, database, rows_gb, photos_gb,
                 (machines + kept) / teachers)  # fmt: skip


def _size(gb: float) -> str:
    return f"{gb / 1000:.1f} TB" if gb >= 1000 else f"{gb:.0f} GB" if gb >= 10 else f"{gb:.1f} GB"


def table() -> str:
    """The table of docs/scale.md."""
    columns = {f"{name}, {teachers:,} teachers": needs(teachers) for name, teachers in
               (("a school", 60), ("a district", 3000), ("a country", 300_000))}  # fmt: skip
    rows = {
        "lessons at once, busiest hour": [f"{one.lessons:,}" for one in columns.values()],
        "entries a second then": [f"{one.entries_s:,.0f}" for one in columns.values()],
        "cores for the application": [f"{one.server:,}" for one in columns.values()],
        "cores of each database": [f"{one.database:,}" for one in columns.values()],
        "the database grows, a year": [_size(one.rows_gb) for one in columns.values()],
        "photographs, a year": [_size(one.photos_gb) for one in columns.values()],
        "euros for a teacher and year": [f"{one.euro:.2f}" for one in columns.values()],
    }
    wide = [max(len(what) for what in rows), *(max(len(name), 8) for name in columns)]
    lines = [["", *columns], *([what, *cells] for what, cells in rows.items())]
    drawn = ["| " + " | ".join(cell.ljust(w) for cell, w in zip(line, wide, strict=True)) + " |" for line in lines]
    return "\n".join([drawn[0], "| " + " | ".join("-" * w for w in wide) + " |", *drawn[1:]])


if __name__ == "__main__":
    print(table())
