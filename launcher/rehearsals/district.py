"""A district: PostgreSQL with a synchronous standby, which Patroni and etcd make the primary when that one is gone; two
application hosts with a pooler each; a proxy; a store. Benches work while one after the other dies."""

from __future__ import annotations

import os
import pwd
import signal
import subprocess
import urllib.request
from pathlib import Path
from typing import Any

import machine
from postgres import USER
from rehearsals import work
from rehearsals.application import Application, Setting, all_served, balancer, entries, needed, pooler, prepared, store
from rehearsals.hosts import Host, Network
from rehearsals.one_school import Told
from rehearsals.several_schools import MAKE, each_dies, longest_after
from rehearsals.units import DEPLOY, Moved, until
from say import Problem

FILES = DEPLOY / "district"
FEWEST = 300
LONGEST_S = {"database": 30.0, "host": 3.0}
"""How long an entry may wait at most when the primary is gone, and when an application host is."""
COMES_S = 120.0
MASTERS = {"change-me-superuser": "postgres", "change-me-replication": "replicator", "change-me-rewind": "rewinder"}


def rehearse(told: Told) -> None:
    """All of it, in four minutes; ``told`` hears what came of each part."""
    needed("haproxy", "pgbouncer", "patroni", "etcd")
    machine.need_browser()
    with prepared(proxy=10, app1=11, app2=12, db1=21, db2=22, witness=23, store=30) as (setting, network):
        _rehearse(setting, network, told)


class Databases:
    """Two databases, and three that agree which of them is the primary."""

    def __init__(self, setting: Setting, network: Network) -> None:
        self._setting, self._network = setting, network
        self._agreeing: dict[str, subprocess.Popen[Any]] = {}
        self._words = {word: os.urandom(18).hex() for word in MASTERS}
        for name in ("app1", "app2", "witness"):
            self.agree(network[name])
        for name in ("db1", "db2"):
            self.keep(network[name])
            # The first that comes makes the database; the other copies it.
            until(lambda: self.primary() is not None, "there is a primary", COMES_S)
        until(self.both, "the standby has all that the primary has", COMES_S)
        create = f"CREATE ROLE {USER} LOGIN CREATEDB PASSWORD '{setting.password}'"
        primary = self.primary()
        assert primary is not None
        psql = [str(machine.postgres_bin() / "psql"), "-h", primary.address, "-U", "postgres", "-qc"]
        for said in (create, MAKE):
            primary.done([*psql, said], {**os.environ, "PGPASSWORD": self._words["change-me-superuser"]})

    def _own(self, host: Host, user: str, written: str) -> tuple[Path, Moved]:
        """A folder of a user's on a host, and the files of ``deploy`` with it, and with the host's name instead of the
        one that is written there."""
        own, owner = self._setting.folder / f"{host.name}-{user}", pwd.getpwnam(user)
        own.mkdir(exist_ok=True)
        os.chown(own, owner.pw_uid, owner.pw_gid)
        places = ("/var/lib/etcd", "/var/lib/postgresql/15", "/var/lib/postgresql", "/var/run/postgresql")
        named = ("name: ", "NAME=", "connect_address: ", "ADVERTISE_PEER_URLS=http://", "ADVERTISE_CLIENT_URLS=http://")
        return own, Moved([
            *((place, str(own)) for place in places), *((f"{what}{written}", f"{what}{host.name}") for what in named),
            ("/usr/lib/postgresql/15/bin", str(machine.postgres_bin())), *self._words.items(),
        ])  # fmt: skip

    def agree(self, host: Host) -> None:
        """Start etcd on a host, where it does not run."""
        if host.name in self._agreeing and self._agreeing[host.name].poll() is None:
            return
        _, moved = self._own(host, "etcd", "app1")
        lines = moved.text(FILES / "etcd").splitlines()
        env = dict(line.split("=", 1) for line in lines if line.startswith("ETCD_"))
        quiet = (self._setting.folder / f"etcd-{host.name}.log").open("a")
        began = host.start(["etcd"], {**os.environ, **env}, "etcd", stdout=quiet, stderr=quiet, cwd="/")
        self._agreeing[host.name] = began

    def keep(self, host: Host) -> None:
        """Start Patroni on a host, which starts PostgreSQL."""
        own, moved = self._own(host, "postgres", "db1")
        laid = moved.laid(FILES / "patroni.yml", own)
        owner = pwd.getpwnam("postgres")
        os.chown(laid, owner.pw_uid, owner.pw_gid)
        laid.chmod(0o600)
        quiet = (self._setting.folder / f"patroni-{host.name}.log").open("a")
        host.start(["patroni", str(laid)], {**os.environ, "HOME": str(own)}, "postgres", stdout=quiet, stderr=quiet,
                   cwd="/")  # fmt: skip

    def come_back(self, host: Host) -> None:
        """After a host died: what ran there is started."""
        host.come_back()
        self.keep(host)

    def _is(self, what: str) -> list[Host]:
        return [host for host in (self._network["db1"], self._network["db2"]) if _says(host, what)]

    def primary(self) -> Host | None:
        """The one that takes writes."""
        found = self._is("primary")
        if len(found) > 1:
            raise Problem("Both databases say that they are the primary.")
        return found[0] if found else None

    def both(self) -> bool:
        """Whether there is a primary, and a standby that has every entry that it acknowledges."""
        return len(self._is("primary")) == len(self._is("sync")) == 1

    def switch(self) -> None:
        """Let the standby be the primary, as before work on a host."""
        primary = self.primary()
        assert primary is not None
        config = str(self._own(primary, "postgres", "db1")[0] / "patroni.yml")
        primary.done(["patronictl", "-c", config, "switchover", "--master", primary.name, "--force", "even-girder"],
                     user="postgres", cwd="/")  # fmt: skip


def _says(host: Host, what: str) -> bool:
    """Whether Patroni says that its database is something."""
    try:
        with urllib.request.urlopen(f"http://{host.address}:8008/{what}", timeout=2) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def _rehearse(setting: Setting, network: Network, told: Told) -> None:
    databases = Databases(setting, network)
    primary = databases.primary()
    assert primary is not None
    told("databases", f"{primary.name} is the primary, the other a synchronous standby")
    store(setting, network["store"])

    def beside(host: Host) -> None:
        databases.agree(host)
        balancer(setting, host, setting.moved.laid(FILES / "haproxy.cfg", setting.etc / f"database-{host.name}"))
        pooler(setting, host, FILES / "pgbouncer.ini")

    first, second = (Application(setting, network[name], FILES / "environment", beside) for name in ("app1", "app2"))
    with all_served(setting, network, first, second) as (process, door, line):
        run, designs = work.prepared(line, first.managed("invite").split()[-1])
        token = line.good("PUT", f"/api/runs/{run}/board", {"action": "open"})["token"]
        boards = [work.Watched(door, token) for _ in range(4)]
        benches = work.Benches(door, line.cookies, designs[1:])
        page = work.Page(door, line.cookies, run, designs[0])
        benches.begin()
        waits: dict[str, list[float]] = {"database": [], "host": []}
        longest_after(benches, told, "nothing happens", lambda: None)
        for _ in range(2):
            gone = databases.primary()
            assert gone is not None
            dies = f"{gone.name} dies, which is the primary"
            waits["database"].append(longest_after(benches, told, dies, gone.die))
            comes = f"{gone.name} comes back, as the standby"
            longest_after(benches, told, comes, lambda gone=gone: databases.come_back(gone))  # type: ignore[misc]
            until(databases.both, "it has all that the primary has", COMES_S)
        longest_after(benches, told, "the two change places, as before work on one", databases.switch)
        until(databases.both, "they have changed places", COMES_S)
        waits["host"] = each_dies(benches, told, first, second)
        waits["host"].append(
            longest_after(benches, told, "the proxy is reloaded", lambda: os.kill(process.pid, signal.SIGUSR2))
        )
        benches.stop()
        by_hand = page.stop()
        kept = entries(network["app1"], setting.password, "127.0.0.1", 5000)
        told("benches at work", benches.came_to(kept, FEWEST))
        trials = {bench.trial for bench in benches.all}
        there = sum(one.split()[0] not in trials for one in kept)
        if there != by_hand["entered"] or not by_hand["kept"]:
            raise Problem(f"A page in a browser says {by_hand}, and the ledger has {there} of its entries.")
        told("a bench's page in a browser", f"{there} entered, lost 0, doubled 0; it kept what it could not send")
        for name in ("db1", "db2"):
            if entries(network[name], setting.password, network[name].address) != kept:
                raise Problem(f"{name} has other entries.")
        told("both databases", "have every entry that was acknowledged")
        seen = [one.seen for one in boards]
        told("boards", f"{len(seen)}, told {min(seen)} to {max(seen)} times")
        for one in boards:
            one.end()
        path = second.backup()
        told("backup", second.managed("verify_backup", path))
        amiss = [one for one in second.managed("doctor").splitlines() if not one.startswith("✓")]
        told("doctor", "; ".join(amiss) or "nothing amiss")
    for what, most in LONGEST_S.items():
        if max(waits[what]) > most:
            told(f"longer than wanted for a {what}", f"{max(waits[what]):.1f} s, wanted {most:.0f} s")
