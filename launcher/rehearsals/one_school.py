"""One school: one server with units, nginx, which encrypts, PostgreSQL and a backup; killed, deleted and restored."""

from __future__ import annotations

import contextlib
import http.client
import os
import shutil
import signal
import subprocess
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import account
import machine
import project
from paths import BACKEND, PYTHON, ROOT, VENV
from postgres import Cluster, free_port
from rehearsals import work
from rehearsals.units import DEPLOY, PATIENCE_S, Kept, Moved, ended, laid_out, unit, until
from say import Problem

FILES = DEPLOY / "one-school"
NGINX = Path("/usr/sbin/nginx")
WORK_S = 30.0
"""How long a bench works."""
FEWEST = 40
"""So many entries at least, or nothing was tried."""
ENTRIES = "SELECT trial_id || ' ' || id FROM bench_ledgerevent ORDER BY 1"
"""The entries of all trials, each with its trial."""
Told = Callable[[str, str], None]


def certificate(etc: Path) -> Path:
    """A certificate for the name of the rehearsal, and its key beside it."""
    curve = ["-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "30"]
    named = ["-subj", f"/CN={work.NAME}", "-addext", f"subjectAltName=DNS:{work.NAME}"]
    made = etc / "certificate.pem"
    into = ["-keyout", str(etc / "key.pem"), "-out", str(made)]
    machine.run(["openssl", "req", "-x509", *curve, *named, *into], "Making a certificate")
    return made


def rehearse(told: Told) -> None:
    """All of it, in a minute and a half; ``told`` hears what came of each part."""
    if not NGINX.exists():
        machine.apt_install(["nginx-light"])
    project.python_environment("app")
    machine.need_document_libraries()
    project.built_interface()
    cluster = Cluster("rehearsal")
    folder = Path(tempfile.mkdtemp(prefix="girder-rehearsal-"))
    try:
        folder.chmod(0o755)
        cluster.start()
        with contextlib.ExitStack() as running:
            _rehearse(folder, cluster, running, told)
    finally:
        cluster.remove()
        shutil.rmtree(folder, ignore_errors=True)


def _laid_out(folder: Path, cluster: Cluster, port: int, proxy: int, plain: int) -> Moved:
    """The files of ``deploy`` where this rehearsal has them, secrets and a certificate beside them."""
    etc, credentials = folder / "etc", folder / "credentials"
    for made in (etc, credentials, folder / "lib", folder / "log", folder / "backups", folder / "home"):
        made.mkdir()
    reached = cluster.environment()
    moved = Moved([
        ("/opt/even-girder/venv", str(VENV)), ("/opt/even-girder/static", str(project.static_root())),
        ("/opt/even-girder", str(ROOT)), ("/etc/even-girder", str(etc)), ("/var/lib/even-girder", str(folder / "lib")),
        ("/var/log/even-girder", str(folder / "log")), ("/var/backups/even-girder", str(folder / "backups")),
        ("127.0.0.1:8360", f"127.0.0.1:{port}"), ("listen 443", f"listen {proxy}"),
        ("listen 80", f"listen {plain}"), ("GIRDER_DB_PORT=5432", f"GIRDER_DB_PORT={reached['GIRDER_DB_PORT']}"),
        ("GIRDER_ORIGINS=https://" + work.NAME, f"GIRDER_ORIGINS=https://{work.NAME}:{proxy}"),
        ("%d", str(credentials)),
    ])  # fmt: skip
    (credentials / "secret-key").write_text(os.urandom(40).hex() + "\n")
    (credentials / "db-password").write_text(reached["GIRDER_DB_PASSWORD"] + "\n")
    moved.laid(FILES / "environment", etc)
    moved.laid(FILES / "nginx.conf", etc)
    certificate(etc)
    (folder / "main.conf").write_text(
        f"daemon off; pid {folder}/nginx.pid; error_log {folder}/log/nginx.log;\nevents {{}}\n"
        f"http {{ include /etc/nginx/mime.types; access_log off; include {etc}/nginx.conf; }}\n"
    )
    return moved


def _rehearse(folder: Path, cluster: Cluster, running: contextlib.ExitStack, told: Told) -> None:
    proxy_port, plain = free_port(), free_port()
    moved = _laid_out(folder, cluster, free_port(), proxy_port, plain)
    told("units", laid_out(moved, [FILES], folder / "units"))
    home = folder / "home"
    served, backup = (unit(folder / "units" / f"even-girder{one}.service", home) for one in ("", "-backup"))
    lent = [folder / name for name in ("lib", "log", "backups", "credentials")]
    who = account.serving(served.env, home, *lent)

    def managed(*words: str) -> str:
        command = [str(PYTHON), "manage.py", *words]
        done = subprocess.run(command, cwd=BACKEND, env=served.env, capture_output=True, text=True, **who)
        if done.returncode != 0:
            raise Problem(f"manage.py {words[0]} failed: {done.stdout[-1000:]}{done.stderr[-1000:]}")
        return str(done.stdout).strip()

    managed("upgrade")
    server = running.enter_context(
        Kept(served, lambda command, env: subprocess.Popen(command, cwd=BACKEND, env=dict(env), **who))
    )
    proxy = subprocess.Popen([str(NGINX), "-c", str(folder / "main.conf")])
    running.callback(ended, proxy)
    door = work.Door("127.0.0.1", proxy_port, folder / "etc" / "certificate.pem", f"{work.NAME}:{proxy_port}")
    line = work.Line(door)
    until(line.ready, "the server is ready behind the proxy")
    user = "a user of its own" if who else "root"
    told("served", f"over TLS, as {user}; http goes to https: {_moved(plain)}")

    run, designs = work.prepared(line, managed("invite").split()[-1])
    photo = work.photograph(line, designs[0], picture())
    benches = work.Benches(door, line.cookies, designs[:1])
    watched = work.Watched(door, line.good("PUT", f"/api/runs/{run}/board", {"action": "open"})["token"])
    benches.begin()
    time.sleep(WORK_S / 4)
    os.kill(server.processes()[0], signal.SIGKILL)
    time.sleep(WORK_S / 4)
    proxy.send_signal(signal.SIGHUP)
    time.sleep(WORK_S / 4)
    server.again()
    time.sleep(WORK_S / 4)
    longest = benches.longest()
    benches.stop()
    came = benches.came_to(cluster.rows(ENTRIES), FEWEST)
    broken = "a process killed, the proxy reloaded, the server started anew"
    told("a bench at work", f"{broken}: {came}, longest wait {longest:.1f} s")
    until(lambda: watched.seen > 0, "the board is told")
    watched.end()
    told("a board", f"told {watched.seen} times through the proxy")

    made = subprocess.run(backup.command, cwd=BACKEND, env=backup.env, capture_output=True, text=True, **who)
    if made.returncode != 0:
        raise Problem(f"The backup failed: {made.stderr[-1000:]}")
    path = str(made.stdout).split("  ")[0]
    told("backup", managed("verify_backup", path))

    before, shown = cluster.rows(ENTRIES), line.good("GET", f"/api/photos/{photo}")
    server.stop()
    cluster.empty()
    shutil.rmtree(folder / "lib")
    (folder / "lib").mkdir()
    account.serving(served.env, folder / "lib")
    told("deleted, and", managed("restore", path))
    server.start()
    until(line.ready, "it is ready again")
    line.good("GET", "/api/classes")
    if cluster.rows(ENTRIES) != before or line.good("GET", f"/api/photos/{photo}") != shown:
        raise Problem("After the restore there are other entries, or another photograph, than before.")
    told("after that", f"signed in as before; all {len(before)} entries and the photograph are there")
    amiss = [one for one in managed("doctor").splitlines() if not one.startswith("✓")]
    told("doctor", "; ".join(amiss) or "nothing amiss")


def picture() -> bytes:
    """A photograph, made up."""
    paint = "import sys; from PIL import Image; Image.effect_noise((640, 480), 60).save(sys.stdout.buffer, 'JPEG')"
    return subprocess.run([str(PYTHON), "-c", paint], capture_output=True, check=True).stdout


def _moved(plain: int) -> str:
    """Where somebody is sent who does not encrypt."""
    connection = http.client.HTTPConnection("127.0.0.1", plain, timeout=PATIENCE_S)
    connection.request("GET", "/", headers={"Host": work.NAME})
    answer: Any = connection.getresponse()
    return f"{answer.status} {answer.headers['Location']}"
