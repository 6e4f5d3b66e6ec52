"""Application hosts as two sizes have them: the units of one school, photographs in a store, a pooler, a proxy."""

from __future__ import annotations

import contextlib
import os
import pwd
import re
import shutil
import subprocess
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import account
import machine
import project
from paths import BACKEND, PYTHON, ROOT, VENV
from postgres import DATABASE, USER
from rehearsals import work
from rehearsals.hosts import INSIDE, Host, Network
from rehearsals.one_school import ENTRIES, certificate
from rehearsals.units import DEPLOY, Kept, Moved, Unit, ended, laid_out, unit, until
from say import Problem

SEVERAL = DEPLOY / "several-schools"
PACKAGES = {"haproxy": "haproxy", "pgbouncer": "pgbouncer", "patroni": "patroni", "etcd": "etcd-server"}
"""Programs, and the packages of Debian's that have them."""
BUCKET = "photographs"


class Setting:
    """What all hosts of a rehearsal share: folders, secrets, and the files of ``deploy`` with these places."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.etc, self.credentials, self.home = folder / "etc", folder / "credentials", folder / "home"
        folder.chmod(0o755)
        for made in (self.etc, self.credentials, self.home):
            made.mkdir()
        self.moved = Moved([
            ("/opt/even-girder/venv", str(VENV)), ("/opt/even-girder/static", str(project.static_root())),
            ("/opt/even-girder", str(ROOT)), ("/etc/even-girder", str(self.etc)),
            ("/etc/pgbouncer", str(self.etc)), ("/etc/patroni", str(self.etc)),
            ("/var/lib/even-girder", str(folder / "lib")), ("/var/log/even-girder", str(folder / "log")),
            ("/var/backups/even-girder", str(folder / "backups")), ("%d", str(self.credentials)),
        ])  # fmt: skip
        self.password = os.urandom(18).hex()
        (self.credentials / "db-password").write_text(self.password + "\n")
        for name in ("secret-key", "s3-secret", "metrics-word"):
            (self.credentials / name).write_text(os.urandom(40).hex() + "\n")

    def word(self, name: str) -> str:
        """A secret."""
        return (self.credentials / name).read_text().strip()


@contextlib.contextmanager
def prepared(**numbers: int) -> Iterator[tuple[Setting, Network]]:
    """A network of hosts, and a folder for what they have; where it goes wrong, the last words of all that ran."""
    folder = Path(tempfile.mkdtemp(prefix="girder-rehearsal-"))
    try:
        with Network(**numbers) as network:
            yield Setting(folder), network
    except Problem as problem:
        words = [f"{log.name}: {line}" for log in sorted(folder.rglob("*.log"))
                 for line in log.read_text(errors="replace").splitlines()[-12:]]  # fmt: skip
        raise Problem("\n".join([str(problem), *words])) from None
    finally:
        shutil.rmtree(folder, ignore_errors=True)


def needed(*programs: str) -> None:
    """What both sizes need of the machine, and these programs."""
    missing = [PACKAGES[program] for program in programs if shutil.which(program) is None]
    if missing:
        machine.apt_install(missing)
    # The store is a stand-in, which comes with what tests need.
    project.python_environment("test")
    machine.need_document_libraries()
    project.built_interface()


def store(setting: Setting, host: Host) -> None:
    """A store for photographs on a host, with an empty bucket: a stand-in of one that speaks S3."""
    command = [str(PYTHON), "-m", "moto.server", "-H", "0.0.0.0", "-p", "9000"]
    quiet = (setting.folder / "store.log").open("w")
    # Buckets are named by paths, and not by the first part of a host's name.
    host.start(command, {**os.environ, "S3_IGNORE_SUBDOMAIN_BUCKETNAME": "1"}, stdout=quiet, stderr=quiet)
    own = f"aws_access_key_id='even-girder', aws_secret_access_key='{setting.word('s3-secret')}'"
    asked = f"boto3.client('s3', endpoint_url='http://127.0.0.1:9000', region_name='us-east-1', {own})"
    make = f"import boto3; {asked}.create_bucket(Bucket='{BUCKET}')"

    def made() -> bool:
        try:
            host.done([str(PYTHON), "-c", make])
        except Problem:
            return False
        return True

    until(made, "the store of photographs answers")


def pooler(setting: Setting, host: Host, config: Path) -> subprocess.Popen[Any]:
    """PgBouncer on a host, as Debian's user of the database."""
    own = setting.folder / f"pooler-{host.name}"
    laid = setting.moved.laid(config, own)
    users = setting.etc / "userlist.txt"
    users.write_text(f'"{USER}" "{setting.password}"\n')
    account_of_database = pwd.getpwnam("postgres")
    for file in (laid, users):
        os.chown(file, account_of_database.pw_uid, account_of_database.pw_gid)
        file.chmod(0o600)
    quiet = (own / "pooler.log").open("a")
    return host.start(["pgbouncer", str(laid)], user="postgres", stdout=quiet, stderr=quiet)


class Application:
    """One host that serves."""

    def __init__(
        self, setting: Setting, host: Host, environment: Path, beside: Callable[[Host], object] | None = None
    ) -> None:
        """``environment`` is the file that its server is told by; ``beside`` starts what runs on the host beside it."""
        self.host, self._beside, own = host, beside, setting.folder / host.name
        if beside is not None:
            beside(host)
        # Each has folders of its own; the store and the database are what they share.
        apart = [(str(setting.folder / one), str(own / one)) for one in ("lib", "log", "backups")]
        moved, etc = Moved([*setting.moved.instead, *apart]), setting.etc / host.name
        moved.laid(environment, etc)
        moved = Moved([*moved.instead, (str(setting.etc / "environment"), str(etc / "environment"))])
        self.units = laid_out(moved, [DEPLOY / "one-school", SEVERAL], own / "units")
        folders = [own / name for name in ("lib", "log", "backups")]
        for folder in folders:
            folder.mkdir()
        served = unit(own / "units" / "even-girder.service", setting.home)
        who = account.serving(served.env, setting.home, *folders, setting.credentials)
        self.user = account.NAME if who else ""
        self.program = BACKEND
        """Where the program lies that it runs when it is started next."""
        self.kept = Kept(served, lambda command, env: host.start(command, env, self.user, cwd=self.program))
        self._env = served.env
        self._backup: Unit = unit(own / "units" / "even-girder-backup.service", setting.home)
        self.door = work.Door(host.address, 8360)
        self._word = setting.word("metrics-word")

    def come_back(self) -> None:
        """After its host died: all that ran there is started, as when a machine starts."""
        self.host.come_back()
        if self._beside is not None:
            self._beside(self.host)
        self.kept.start()

    def managed(self, *words: str) -> str:
        """What a command of the application says there."""
        return self.host.done([str(PYTHON), "manage.py", *words], self._env, self.user, cwd=self.program)

    def reaches_database(self) -> bool:
        """Whether it gets an answer from the database."""
        try:
            self.managed("migrate", "--check", "--plan")
        except Problem as problem:
            return "OperationalError" not in str(problem)
        return True

    def entries(self) -> int:
        """How many entries it kept since it was started, as a watcher is told."""
        line = work.Line(work.Door(self.host.address, 8360, at=f"{self.host.name}.{INSIDE}:8360"))
        line.word = self._word
        _, text = line.asked("GET", "/metrics")
        found = re.search(rb'^girder_entries_total{came="kept"} (\d+)', text, re.M)
        return int(found[1]) if found else 0

    def backup(self) -> str:
        """Make one as the nightly unit does; says where it lies."""
        return self.host.done(self._backup.command, self._backup.env, self.user, cwd=BACKEND).split("  ")[0]


def proxy(setting: Setting, host: Host) -> tuple[subprocess.Popen[Any], work.Door]:
    """HAProxy on a host, with a certificate: its process, and its door."""
    made = certificate(setting.etc)
    (setting.etc / "site.pem").write_text(made.read_text() + (setting.etc / "key.pem").read_text())
    laid = setting.moved.laid(SEVERAL / "haproxy.cfg", setting.etc)
    return balancer(setting, host, laid), work.Door(host.address, 443, made)


@contextlib.contextmanager
def all_served(
    setting: Setting, network: Network, *hosts: Application
) -> Iterator[tuple[subprocess.Popen[Any], work.Door, work.Line]]:
    """The application on its hosts, with tables, and the proxy before them, once all of them are ready: the proxy's
    process, its door, and the line of a browser to it."""
    until(hosts[0].reaches_database, "the application reaches its database")
    hosts[0].managed("upgrade")
    with contextlib.ExitStack() as running:
        for host in hosts:
            running.enter_context(host.kept)
        process, door = proxy(setting, network["proxy"])
        running.callback(ended, process)
        line = work.Line(door)
        for each in (line, *(work.Line(host.door) for host in hosts)):
            until(each.ready, "all hosts are ready, and the proxy before them")
        yield process, door, line


def balancer(setting: Setting, host: Host, config: Path) -> subprocess.Popen[Any]:
    """HAProxy on a host."""
    host.done(["haproxy", "-c", "-f", str(config)])
    quiet = (setting.folder / f"haproxy-{host.name}.log").open("w")
    return host.start(["haproxy", "-W", "-f", str(config)], stdout=quiet, stderr=quiet)


def entries(host: Host, password: str, at: str, port: int = 5432) -> list[str]:
    """Which entries the ledger has, each with its trial, asked of the database itself."""
    psql = str(machine.postgres_bin() / "psql")
    asked = [psql, "-h", at, "-p", str(port), "-U", USER, "-d", DATABASE, "-Atqc", ENTRIES]
    return host.done(asked, {**os.environ, "PGPASSWORD": password, "PGCONNECT_TIMEOUT": "5"}).splitlines()
