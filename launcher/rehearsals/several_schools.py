"""Several schools: two hosts behind HAProxy, PgBouncer before PostgreSQL, photographs in a store; each on a host of its
own. A host is killed, the proxy reloaded, the pooler ended; then all is deleted and restored."""

from __future__ import annotations

import os
import pwd
import shutil
import signal
import time
from collections.abc import Callable

import machine
from paths import BACKEND
from postgres import DATABASE, USER
from rehearsals import work
from rehearsals.application import SEVERAL, Application, Setting, all_served, entries, needed, pooler, prepared, store
from rehearsals.hosts import Host, Network
from rehearsals.one_school import ENTRIES, Told, picture
from rehearsals.units import Moved, until
from say import Problem

WORK_S = 8.0
"""How long benches work between one thing that happens and the next."""
FEWEST = 200


def rehearse(told: Told) -> None:
    """All of it, in three minutes; ``told`` hears what came of each part."""
    needed("haproxy", "pgbouncer")
    with prepared(proxy=10, app1=11, app2=12, db=20, store=30) as (setting, network):
        _rehearse(setting, network, told)


def _database(setting: Setting, host: Host) -> None:
    """PostgreSQL on a host, with the application's role and an empty database."""
    home, owner = setting.folder / "postgresql", pwd.getpwnam("postgres")
    home.mkdir()
    os.chown(home, owner.pw_uid, owner.pw_gid)
    data, programs = home / "data", machine.postgres_bin()
    host.done([str(programs / "initdb"), "-D", str(data), "-U", "postgres", "-A", "peer", "-E", "UTF8", "--no-locale"],
              user="postgres", cwd="/")  # fmt: skip
    archive = home / "archive" / "wal"
    archive.mkdir(parents=True)
    for one in (archive, archive.parent):
        os.chown(one, owner.pw_uid, owner.pw_gid)
    archived = Moved([("/var/backups/postgresql", str(archive.parent))])
    with (data / "postgresql.conf").open("a") as own:
        own.write(f"unix_socket_directories = '{home}'\n" + archived.text(SEVERAL / "postgresql.conf"))
    (data / "pg_hba.conf").write_text(setting.moved.text(SEVERAL / "pg_hba.conf"))
    start = [str(programs / "pg_ctl"), "-D", str(data), "-l", str(home / "log"), "-w", "start"]
    host.done(start, user="postgres", cwd="/")
    _say(setting, host, f"CREATE ROLE {USER} LOGIN CREATEDB PASSWORD '{setting.password}'", MAKE)


MAKE = f"CREATE DATABASE {DATABASE} OWNER {USER} ENCODING 'UTF8' TEMPLATE template0"


def _say(setting: Setting, host: Host, *said: str, port: int = 5432, database: str = "postgres") -> str:
    psql = [str(machine.postgres_bin() / "psql"), "-h", str(setting.folder / "postgresql"), "-p", str(port), "-Atq"]
    return host.done([*psql, "-d", database, *(f"-c{one}" for one in said)], user="postgres", cwd="/")


def _copied(setting: Setting, host: Host) -> None:
    """A copy of all that the database has, while it is served: from here on it can be brought to any minute."""
    home, programs = setting.folder / "postgresql", machine.postgres_bin()
    command = [str(programs / "pg_basebackup"), "-h", str(home), "-D", str(home / "copy"), "-c", "fast", "-X", "none"]
    host.done(command, user="postgres", cwd="/")


def _brought_to(setting: Setting, host: Host, moment: str) -> list[str]:
    """The entries that the database had at a moment, out of the copy and what was archived since, in another place."""
    home, programs = setting.folder / "postgresql", machine.postgres_bin()
    with (home / "copy" / "postgresql.auto.conf").open("a") as own:
        own.write(f"restore_command = 'cp {home}/archive/wal/%f %p'\nrecovery_target_time = '{moment}'\n"
                  "recovery_target_action = promote\narchive_mode = off\nport = 5433\n")  # fmt: skip
    (home / "copy" / "recovery.signal").touch()
    start = [str(programs / "pg_ctl"), "-D", str(home / "copy"), "-l", str(home / "copy.log"), "-w", "start"]
    host.done(start, user="postgres", cwd="/")
    until(lambda: _say(setting, host, "SELECT pg_is_in_recovery()", port=5433) == "f", "the copy is at that moment")
    return _say(setting, host, ENTRIES, port=5433, database=DATABASE).splitlines()


def _emptied(setting: Setting, host: Host) -> None:
    """The database is gone with all that was in it, and an empty one is there."""
    _say(setting, host, f"DROP DATABASE {DATABASE} WITH (FORCE)", MAKE)


def longest_after(benches: work.Benches, told: Told, what: str, happens: Callable[[], object]) -> float:
    """Something happens while benches work: how long the longest of their entries then took [s]."""
    benches.longest()
    happens()
    time.sleep(WORK_S)
    longest = benches.longest()
    told(what, f"longest wait of an entry {longest:.1f} s")
    return longest


def each_dies(benches: work.Benches, told: Told, *hosts: Application) -> list[float]:
    """One application host after the other dies while benches work, and comes back. So whichever of them had the work,
    it was taken from it once. How long the longest entry waited each time [s]."""
    longest = []
    for host in hosts:
        had = host.entries()
        if not had:
            raise Problem(f"{host.host.name} had no entry, so it says nothing that it dies.")
        longest.append(longest_after(benches, told, f"{host.host.name} dies, which kept {had} entries", host.host.die))
        longest_after(benches, told, f"{host.host.name} comes back", host.come_back)
        until(work.Line(host.door).ready, "the host that died is ready again")
    return longest


def seconds_to_board(bench: work.Bench, watched: work.Watched) -> float:
    """How long it takes until a board is told of an entry of a bench."""
    time.sleep(1)
    before, began = watched.seen, time.monotonic()
    bench.enter()
    until(lambda: watched.seen > before, "the board is told")
    return time.monotonic() - began


NEXT = """from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("bench", "{before}")]
    operations = [
        migrations.AddField("trial", "rehearsed", models.TextField(null=True)),
        migrations.AddIndex("trial", models.Index(fields=["started_at"], name="rehearsed_started")),
    ]
"""


def _next_version(setting: Setting, benches: work.Benches, told: Told, first: Application, second: Application) -> None:
    """A version with other tables comes in host by host while benches work, and goes again by the same way."""
    program = setting.folder / "next" / "backend"
    shutil.copytree(BACKEND, program, ignore=shutil.ignore_patterns("__pycache__", "tests", "media", ".*"))
    before = sorted(file.stem for file in (program / "bench" / "migrations").glob("0*.py"))[-1]
    (program / "bench" / "migrations" / "9999_rehearsed.py").write_text(NEXT.format(before=before))

    def upgraded() -> None:
        first.program = program
        told("upgrade", first.managed("upgrade").splitlines()[0])

    longest_after(benches, told, "the tables are those of the next version", upgraded)
    longest_after(benches, told, f"{first.host.name} has the next version", first.kept.again)
    until(work.Line(first.door).ready, "the next version is ready")
    second.program = program
    longest_after(benches, told, f"{second.host.name} has it too", second.kept.again)
    until(work.Line(second.door).ready, "the next version is ready")
    first.program = BACKEND
    longest_after(benches, told, f"{first.host.name} goes back to the version before", first.kept.again)
    until(work.Line(first.door).ready, "the version before is ready")
    second.program = BACKEND
    longest_after(benches, told, f"{second.host.name} goes back too", second.kept.again)
    until(work.Line(second.door).ready, "the version before is ready")


def _rehearse(setting: Setting, network: Network, told: Told) -> None:
    _database(setting, network["db"])
    pooling = pooler(setting, network["db"], SEVERAL / "pgbouncer.ini")
    store(setting, network["store"])
    first, second = (Application(setting, network[name], SEVERAL / "environment") for name in ("app1", "app2"))
    told("units", first.units)
    with all_served(setting, network, first, second) as (process, door, line):
        told("served", "over TLS, by two hosts")
        run, designs = work.prepared(line, first.managed("invite").split()[-1])
        token = line.good("PUT", f"/api/runs/{run}/board", {"action": "open"})["token"]

        photo = work.photograph(work.Line(first.door, line.cookies), designs[0], picture())
        shown = work.Line(second.door, line.cookies).good("GET", f"/api/photos/{photo}")
        told("a photograph", f"kept by one host, shown by the other: {len(shown)} bytes")

        watched = work.Watched(second.door, token)
        alone = work.Bench(work.Line(first.door, line.cookies), designs[0])
        alone.begin()
        delays = sorted(seconds_to_board(alone, watched) for _ in range(9))
        told("a bench on one host, a board on the other", f"told after {1000 * delays[4]:.0f} ms, half of the time")

        _copied(setting, network["db"])
        benches = work.Benches(door, line.cookies, designs[1:])
        boards = [work.Watched(door, token) for _ in range(6)]
        benches.begin()
        longest_after(benches, told, "nothing happens", lambda: None)
        each_dies(benches, told, first, second)
        longest_after(benches, told, "the proxy is reloaded", lambda: os.kill(process.pid, signal.SIGUSR2))
        _next_version(setting, benches, told, first, second)

        def another_pooler() -> None:
            pooling.kill()
            pooling.wait()
            pooler(setting, network["db"], SEVERAL / "pgbouncer.ini")

        longest_after(benches, told, "the pooler is killed and started", another_pooler)
        benches.stop()
        kept = entries(network["app1"], setting.password, "db.girder.internal")
        benches.all.append(alone)
        told("benches at work", benches.came_to(kept, FEWEST))
        seen = [one.seen for one in boards]
        if not min(seen):
            raise Problem(f"Not every board was told: {seen}.")
        told("boards", f"{len(seen)}, told {min(seen)} to {max(seen)} times through the proxy")
        for one in (watched, *boards):
            one.end()

        path = second.backup()
        told("backup", second.managed("verify_backup", path))
        first.kept.stop()
        second.kept.stop()
        network["store"].die()
        network["store"].come_back()
        store(setting, network["store"])
        moment = _say(setting, network["db"], "SELECT now()")
        # A database is marked as going before that is final: one is brought to the end of something before it.
        _say(setting, network["db"], "SELECT txid_current()")
        _emptied(setting, network["db"])
        _say(setting, network["db"], "SELECT pg_switch_wal()")
        told("deleted, and", second.managed("restore", path))
        first.kept.start()
        second.kept.start()
        until(line.ready, "it is ready again")
        if entries(network["app1"], setting.password, "db.girder.internal") != kept:
            raise Problem("After the restore there are other entries than before.")
        if line.good("GET", f"/api/photos/{photo}") != shown:
            raise Problem("After the restore the photograph is another.")
        told("after that", f"signed in as before; all {len(kept)} entries and the photograph are there")
        if _brought_to(setting, network["db"], moment) != kept:
            raise Problem("Brought to the moment before all was deleted, the database has other entries.")
        told("to the minute", f"out of a copy and what was archived since: all {len(kept)} entries")
        amiss = [one for one in second.managed("doctor").splitlines() if not one.startswith("✓")]
        told("doctor", "; ".join(amiss) or "nothing amiss")
