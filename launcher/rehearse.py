"""Rehearsals of docs/deploy.md: a size set up here from Debian's packages, worked with, broken, and brought back."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import shlex
import shutil
import signal
import socket
import ssl
import subprocess
import tempfile
import threading
import time
import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import account
import machine
import project
from paths import PYTHON, ROOT, VENV
from postgres import Cluster, free_port
from say import Problem, say

FILES = ROOT / "deploy" / "one-school"
NAME = "girder.school.example"
NGINX = Path("/usr/sbin/nginx")
WORK_S, ENTRY_S, PATIENCE_S = 30.0, 0.1, 60.0
"""How long the bench works, how often it enters something, and how long anything is waited for."""
FEWEST = 40
"""So many entries at least, or nothing was tried."""
PASSWORD = "a rehearsal, not a lesson"  # noqa: S105 — of an account that is gone in a minute


LEDGER = "bench_ledgerevent"


@dataclass
class Unit:
    """What a unit of systemd's starts, and with what environment."""

    command: list[str]
    env: dict[str, str]


@dataclass
class Place:
    """Where everything of a rehearsal lies, instead of where the files of ``deploy`` say."""

    folder: Path
    port: int
    proxy: int
    plain: int
    instead: list[tuple[str, str]] = field(default_factory=list)

    def moved(self, text: str) -> str:
        """Text of a file of ``deploy``, with this rehearsal's places and ports."""
        for written, here in self.instead:
            text = text.replace(written, here)
        return text


def one_school() -> int:
    """One server: units, nginx with TLS, PostgreSQL, a backup; killed, reloaded, deleted and restored."""
    if os.geteuid() != 0:
        raise Problem("A rehearsal installs packages and serves as another user. Run it as root.")
    if not NGINX.exists():
        machine.apt_install(["nginx-light"])
    project.python_environment("app")
    machine.need_document_libraries()
    project.built_interface()
    cluster = Cluster("rehearsal")
    folder = Path(tempfile.mkdtemp(prefix="girder-rehearsal-"))
    told: list[tuple[str, str]] = []
    try:
        folder.chmod(0o755)
        cluster.start()
        place = _laid_out(folder, cluster)
        told.append(("units", _units(place)))
        with contextlib.ExitStack() as running:
            _rehearse(place, cluster, running, told)
    finally:
        cluster.remove()
        shutil.rmtree(folder, ignore_errors=True)
    wide = max(len(what) for what, _ in told)
    print("\n".join(f"  {what.ljust(wide)}  {came}" for what, came in told), flush=True)
    return 0


def _laid_out(folder: Path, cluster: Cluster) -> Place:
    """The files of ``deploy`` where this rehearsal has them, secrets and a certificate beside them."""
    etc, credentials = folder / "etc", folder / "credentials"
    for made in (etc, credentials, folder / "lib", folder / "log", folder / "backups", folder / "home"):
        made.mkdir()
    place = Place(folder, free_port(), free_port(), free_port())
    reached = cluster.environment()
    place.instead = [
        ("/opt/even-girder/venv", str(VENV)), ("/opt/even-girder/static", str(project.static_root())),
        ("/opt/even-girder", str(ROOT)), ("/etc/even-girder", str(etc)), ("/var/lib/even-girder", str(folder / "lib")),
        ("/var/log/even-girder", str(folder / "log")), ("/var/backups/even-girder", str(folder / "backups")),
        ("127.0.0.1:8360", f"127.0.0.1:{place.port}"), ("listen 443", f"listen {place.proxy}"),
        ("listen 80", f"listen {place.plain}"), ("GIRDER_DB_PORT=5432", f"GIRDER_DB_PORT={reached['GIRDER_DB_PORT']}"),
        ("GIRDER_ORIGINS=https://" + NAME, f"GIRDER_ORIGINS=https://{NAME}:{place.proxy}"), ("%d", str(credentials)),
    ]  # fmt: skip
    (credentials / "secret-key").write_text(os.urandom(40).hex() + "\n")
    (credentials / "db-password").write_text(reached["GIRDER_DB_PASSWORD"] + "\n")
    (etc / "environment").write_text(place.moved((FILES / "environment").read_text()))
    (etc / "nginx.conf").write_text(place.moved((FILES / "nginx.conf").read_text()))
    curve = ["-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "30"]
    named = ["-subj", f"/CN={NAME}", "-addext", f"subjectAltName=DNS:{NAME}"]
    into = ["-keyout", str(etc / "key.pem"), "-out", str(etc / "certificate.pem")]
    machine.run(["openssl", "req", "-x509", *curve, *named, *into], "Making a certificate")
    (folder / "main.conf").write_text(
        f"daemon off; pid {folder}/nginx.pid; error_log {folder}/log/nginx.log;\nevents {{}}\n"
        f"http {{ include /etc/nginx/mime.types; access_log off; include {etc}/nginx.conf; }}\n"
    )
    return place


def _units(place: Place) -> str:
    """What systemd itself says of the units, as they are moved here."""
    folder = place.folder / "units"
    folder.mkdir()
    for file in (*FILES.glob("*.service"), *FILES.glob("*.timer")):
        (folder / file.name).write_text(place.moved(file.read_text()))
    said = subprocess.run(
        ["systemd-analyze", "verify", *(str(file) for file in sorted(folder.iterdir()))], capture_output=True, text=True
    )
    if said.returncode != 0 or "even-girder" in said.stderr:
        raise Problem(f"systemd does not take the units:\n{said.stderr}")
    return f"{len(list(folder.iterdir()))}, taken by systemd"


def _unit(place: Place, name: str) -> Unit:
    """A unit as systemd would start it: its command, its environment and that of its files."""
    env: dict[str, str] = {}
    command: list[str] = []
    for line in (place.folder / "units" / name).read_text().splitlines():
        key, _, value = line.partition("=")
        if key == "Environment":
            env |= dict(one.split("=", 1) for one in shlex.split(value))
        elif key == "EnvironmentFile":
            lines = Path(value).read_text().splitlines()
            env |= dict(one.split("=", 1) for one in lines if one and not one.startswith("#"))
        elif key == "ExecStart":
            command = shlex.split(value)
    return Unit(command, {**env, "PATH": os.environ["PATH"], "HOME": str(place.folder / "home")})


def _rehearse(place: Place, cluster: Cluster, running: contextlib.ExitStack, told: list[tuple[str, str]]) -> None:
    served, backup = _unit(place, "even-girder.service"), _unit(place, "even-girder-backup.service")
    lent = [place.folder / name for name in ("lib", "log", "backups", "credentials")]
    who = account.serving(served.env, place.folder / "home", *lent)
    manage = [str(PYTHON), "manage.py"]

    def managed(*words: str) -> str:
        done = subprocess.run(
            [*manage, *words], cwd=ROOT / "backend", env=served.env, capture_output=True, text=True, **who
        )
        if done.returncode != 0:
            raise Problem(f"manage.py {words[0]} failed: {done.stdout[-1000:]}{done.stderr[-1000:]}")
        return str(done.stdout).strip()

    managed("migrate", "-v0")
    server = running.enter_context(_Kept(served, who))
    proxy = subprocess.Popen([str(NGINX), "-c", str(place.folder / "main.conf")])
    running.callback(_ended, proxy)
    line = Line(place)
    _until(lambda: line.asked("GET", "/readyz")[0] == 200, "the server is ready behind the proxy")
    user = "a user of its own" if who else "root"
    told.append(("served", f"over TLS, as {user}; http goes to https: {_moved(place)}"))

    design = _prepared(line, managed("invite").split()[-1])
    bench = Bench(place, line, design)
    bench.begin()
    watched = Watched(place, line.asked("PUT", f"/api/runs/{design['run']}/board", {"action": "open"})[1]["token"])
    threads = [threading.Thread(target=one, daemon=True) for one in (bench.work, watched.look)]
    for thread in threads:
        thread.start()
    time.sleep(WORK_S / 4)
    os.kill(server.processes()[0], signal.SIGKILL)
    time.sleep(WORK_S / 4)
    proxy.send_signal(signal.SIGHUP)
    time.sleep(WORK_S / 4)
    server.again()
    threads[0].join(WORK_S + PATIENCE_S)
    came = bench.came_to(cluster.count(LEDGER))
    told.append(("a bench at work", f"a process killed, the proxy reloaded, the server started anew: {came}"))
    _until(lambda: watched.seen > 0, "the board is told")
    told.append(("a board", f"told {watched.seen} times through the proxy"))

    made = subprocess.run(backup.command, cwd=ROOT / "backend", env=backup.env, capture_output=True, text=True, **who)
    if made.returncode != 0:
        raise Problem(f"The backup failed: {made.stderr[-1000:]}")
    path = str(made.stdout).split("  ")[0]
    told.append(("backup", managed("verify_backup", path)))

    before = cluster.count(LEDGER)
    server.stop()
    cluster.empty()
    shutil.rmtree(place.folder / "lib")
    (place.folder / "lib").mkdir()
    account.serving(served.env, place.folder / "lib")
    told.append(("deleted, and", managed("restore", path)))
    server.start()
    _until(lambda: line.asked("GET", "/readyz")[0] == 200, "it is ready again")
    line.good("GET", "/api/classes")
    after = cluster.count(LEDGER)
    if after != before:
        raise Problem(f"The bench had {before} entries before, {after} after the restore.")
    told.append(("after that", f"signed in as before, all {after} entries are there"))
    amiss = [one for one in managed("doctor").splitlines() if not one.startswith("✓")]
    told.append(("doctor", "; ".join(amiss) or "nothing amiss"))


class _Kept(contextlib.AbstractContextManager["_Kept"]):
    """A unit that is kept running, as systemd would."""

    def __init__(self, unit: Unit, who: Mapping[str, Any]) -> None:
        self._unit, self._who = unit, who

    def __enter__(self) -> _Kept:
        self.start()
        return self

    def __exit__(self, *error: object) -> None:
        self.stop()

    def start(self) -> None:
        backend = ROOT / "backend"
        self._process = subprocess.Popen(self._unit.command, cwd=backend, env=self._unit.env, **self._who)

    def stop(self) -> None:
        _ended(self._process)

    def again(self) -> None:
        """Ended, and started as ``Restart=always`` does, a second later."""
        self._process.terminate()
        self._process.wait(PATIENCE_S)
        time.sleep(1)
        self.start()

    def processes(self) -> list[int]:
        """Those that serve."""
        pid = self._process.pid
        return [int(one) for one in Path(f"/proc/{pid}/task/{pid}/children").read_text().split()]


class Line:
    """Somebody's browser: over TLS, to the proxy, with cookies."""

    def __init__(self, place: Place, cookies: Mapping[str, str] | None = None) -> None:
        self._place, self.cookies = place, dict(cookies or {})
        self._trusting = ssl.create_default_context(cafile=str(place.folder / "etc" / "certificate.pem"))
        self._connection: http.client.HTTPConnection | None = None

    def opened(self) -> http.client.HTTPConnection:
        """A connection, the one that is there if there is one."""
        if self._connection is None or self._connection.sock is None:
            plain = socket.create_connection(("127.0.0.1", self._place.proxy), timeout=PATIENCE_S)
            self._connection = http.client.HTTPConnection(NAME, self._place.proxy, timeout=PATIENCE_S)
            self._connection.sock = self._trusting.wrap_socket(plain, server_hostname=NAME)
        return self._connection

    def headers(self) -> dict[str, str]:
        at = f"{NAME}:{self._place.proxy}"
        return {"Host": at, "Referer": f"https://{at}/", "Content-Type": "application/json",
                "X-CSRFToken": self.cookies.get("csrftoken", ""),
                "Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}  # fmt: skip

    def asked(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        """Status and answer; status 0 where there was none."""
        try:
            connection = self.opened()
            connection.request(method, path, None if body is None else json.dumps(body), self.headers())
            answer = connection.getresponse()
            text = answer.read()
        except (OSError, http.client.HTTPException):
            if self._connection is not None:
                self._connection.close()
            self._connection = None
            return 0, None
        for header in answer.headers.get_all("Set-Cookie") or ():
            name, _, value = header.partition(";")[0].partition("=")
            self.cookies[name] = value
        with contextlib.suppress(ValueError):
            return answer.status, json.loads(text)
        return answer.status, text

    def good(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, which has to be a good one."""
        status, answer = self.asked(method, path, body)
        if status == 0:
            # A proxy that is reloaded ends the connections that were open.
            status, answer = self.asked(method, path, body)
        if status not in (200, 201, 202):
            raise Problem(f"{method} {path} answered {status}: {answer}")
        return answer


def _prepared(line: Line, code: str) -> dict[str, Any]:
    """A teacher by invitation, a class, a challenge and a bridge that is checked in."""
    line.good("GET", "/api/session")
    who = {"email": "rehearsal@school.example", "password": PASSWORD}
    line.good("POST", "/api/teachers", {**who, "name": "Rehearsal", "code": code})
    line.good("POST", "/api/session", who)
    school_class = line.good("POST", "/api/classes", {"name": "Rehearsal"})
    line.good("POST", f"/api/classes/{school_class['id']}/teams", {"name": "Tern"})
    kit = {
        "name": "nut",
        "shape": "nut",
        "count": 4000,
        "batch_count": 10,
        "batch_mass": "170 g",
        "scale_resolution": "1 g",
    }
    recipe = line.good("POST", "/api/recipes", {
        "name": "Rehearsal", "question": "", "family": "bridge", "kit": [kit], "school": "most_held",
        "trial_rule": "best", "breach_policy": "note",
        "setup": {"gap_m": "30 cm", "hold_s": "1 s", "bench_limit_kg": "400 kg"},
    })  # fmt: skip
    day = {"recipe": recipe["id"], "school_class": school_class["id"], "date": "2026-11-03"}
    run = line.good("POST", "/api/runs", day)
    design = run["designs"][0]["id"]
    for key, text in {"gap": "30 cm", "overlap_left": "3 cm", "overlap_right": "3 cm"}.items():
        line.good("POST", f"/api/designs/{design}/readings", {"key": key, "text": text, "resolution_text": "1 mm"})
    line.good("PUT", f"/api/designs/{design}/answers", {"answers": {"stands": True, "piers": False, "papered": False}})
    line.good("POST", f"/api/designs/{design}/check-in")
    return {"run": run["run"]["id"], "design": design}


class Bench:
    """A bench that enters something ten times a second, and sends each entry until it is acknowledged."""

    def __init__(self, place: Place, line: Line, design: Mapping[str, Any]) -> None:
        self._line, self._design = Line(place, line.cookies), design
        self._trial, self._at = str(uuid.uuid4()), str(uuid.uuid4())
        self.acknowledged, self.longest = 0, 0.0

    def begin(self) -> None:
        self._line.good("POST", f"/api/designs/{self._design['design']}/trials", {"id": self._trial, "bench": self._at})

    def work(self) -> None:
        until = time.monotonic() + WORK_S
        kinds: Sequence[tuple[str, dict[str, Any]]] = (
            ("place", {"item": "nut", "count": 1}),
            ("settle", {"waited_s": 1}),
        )
        while time.monotonic() < until:
            number = self.acknowledged + 1
            kind, data = kinds[(number - 1) % 2]
            at = time.strftime("%Y-%m-%dT%H:%M:%SZ", time.gmtime())
            event = {"id": str(uuid.uuid4()), "sequence": number, "kind": kind, "data": data, "happened_at": at}
            began = time.monotonic()
            while True:
                status, answer = self._line.asked(
                    "POST", f"/api/trials/{self._trial}/events", {"bench": self._at, "events": [event]}
                )
                if status == 200:
                    if answer.get("refused"):
                        raise Problem(f"An entry was refused: {answer['refused']}")
                    break
                time.sleep(0.05)
            self.acknowledged, self.longest = number, max(self.longest, time.monotonic() - began)
            time.sleep(ENTRY_S)

    def came_to(self, rows: int) -> str:
        """How it went for somebody who counts, given what the ledger has."""
        if self.acknowledged < FEWEST:
            raise Problem(f"Only {self.acknowledged} entries in {WORK_S:.0f} s: that says nothing.")
        if rows != self.acknowledged:
            raise Problem(f"{self.acknowledged} entries were acknowledged, {rows} are in the ledger.")
        return f"{self.acknowledged} acknowledged, lost 0, doubled 0, longest wait {self.longest:.1f} s"


class Watched:
    """A board that is told what changes, over a line that stays open."""

    def __init__(self, place: Place, token: str) -> None:
        self._place, self._path, self.seen = place, f"/api/boards/{token}/stream", 0

    def look(self) -> None:
        until = time.monotonic() + WORK_S
        while time.monotonic() < until:
            line = Line(self._place)
            with contextlib.suppress(OSError, http.client.HTTPException):
                connection = line.opened()
                connection.request("GET", self._path, headers=line.headers())
                stream = connection.getresponse()
                while stream.status == 200 and time.monotonic() < until and (text := stream.readline()):
                    self.seen += text.startswith(b"data:")
            time.sleep(0.2)


def _moved(place: Place) -> str:
    """Where somebody is sent who does not encrypt."""
    connection = http.client.HTTPConnection("127.0.0.1", place.plain, timeout=PATIENCE_S)
    connection.request("GET", "/", headers={"Host": NAME})
    answer = connection.getresponse()
    return f"{answer.status} {answer.headers['Location']}"


def _until(what: Any, words: str) -> None:
    until = time.monotonic() + PATIENCE_S
    while not what():
        if time.monotonic() > until:
            raise Problem(f"Waited in vain until {words}.")
        time.sleep(0.2)


def _ended(process: subprocess.Popen[Any]) -> None:
    if process.poll() is None:
        process.terminate()
        with contextlib.suppress(subprocess.TimeoutExpired):
            process.wait(20)
    if process.poll() is None:
        process.kill()
        process.wait()


REHEARSALS: Mapping[str, Any] = {"one-school": one_school}


def rehearse(arguments: Sequence[str]) -> int:
    """Carry out a rehearsal by its name."""
    if len(arguments) != 1 or arguments[0] not in REHEARSALS:
        raise Problem(f"Say what is rehearsed: {', '.join(REHEARSALS)}.")
    say(f"rehearsing {arguments[0]}")
    came: int = REHEARSALS[arguments[0]]()
    return came
