"""Start and stop the application."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import account
import machine
import project
import share
from paths import BACKEND, FRONTEND, PYTHON, STATE, VENV, data_home
from postgres import Cluster, cluster_exists, free_port, port_is_free
from say import Problem, say, warn

PORT = 8360
WORKERS = int(os.environ.get("GIRDER_WORKERS", "2"))
"""Server processes: what one bench keeps busy does not keep the other benches waiting."""
RUNNING = STATE / "running.json"
DEMO_LOADED = STATE / "stamps" / "demo"
ALONE = share.Sharing()


def database_environment(cluster: Cluster) -> dict[str, str]:
    """The whole environment of a Django process on this cluster."""
    own = {"GIRDER_MEDIA_ROOT": str(cluster.media), "GIRDER_LOGS": str(cluster.home / "logs"), "GIRDER_SERIAL": "1"}
    return {**own, **os.environ, **project.base_environment(), **cluster.environment()}


def kept_environment(cluster: Cluster) -> dict[str, str]:
    """The same for the database that is kept: its backups lie beside it, where a reset leaves them alone."""
    return {"GIRDER_BACKUPS": str(data_home() / "backups"), **database_environment(cluster)}


def server_command(port: int, workers: int = 1, sharing: share.Sharing = ALONE) -> list[str]:
    """How the server is started: processes that share the port, copies of one that has read all of the application; one
    that dies is there again at once."""
    return [
        str(PYTHON), "-m", "gunicorn", "evengirder.asgi:application", "--preload",
        "--worker-class", "evengirder.process.Process", "--workers", str(workers),
        "--bind", f"{sharing.host}:{port}", "--keep-alive", "30", "--timeout", "0", "--graceful-timeout", "3",
        "--log-level", "warning", "--no-control-socket", *sharing.server_options(),
    ]  # fmt: skip


def wait_until_served(
    port: int, server: subprocess.Popen[Any], sharing: share.Sharing = ALONE, seconds: float = 150
) -> None:
    """Wait for the first answer of a server process: on a busy machine the first one takes long, and is not lost."""
    deadline = time.monotonic() + seconds
    last: Exception | None = None
    while time.monotonic() < deadline:
        if server.poll() is not None:
            raise Problem("The server ended at once. Its last words stand above.")
        try:
            # As through a proxy that encrypts, where there is to be one.
            asked = urllib.request.Request(
                f"{sharing.at('127.0.0.1', port)}/api/session",
                headers={"X-Forwarded-Proto": "https", "Host": _own_name()},
            )
            urllib.request.urlopen(asked, timeout=60, context=sharing.trusting()).close()
            return
        except (urllib.error.URLError, ConnectionError, TimeoutError) as problem:
            last = problem
            time.sleep(0.1)
    raise Problem(f"The server does not answer ({last}).")


def _own_name() -> str:
    """A name under which the server answers."""
    return os.environ.get("GIRDER_HOSTS", "127.0.0.1").split(",")[0]


def running() -> dict[str, Any] | None:
    """What a running ``start`` wrote down, if its process is alive."""
    if not RUNNING.exists():
        return None
    state: dict[str, Any] = json.loads(RUNNING.read_text())
    try:
        os.kill(state["pid"], 0)
        alive = b"launcher" in Path(f"/proc/{state['pid']}/cmdline").read_bytes()
    except (ProcessLookupError, PermissionError, FileNotFoundError):
        alive = False
    return state if alive else None


def choose_port() -> int:
    """The asked port, or the usual one, or a free one."""
    asked = os.environ.get("GIRDER_PORT")
    if asked:
        if not asked.isdigit() or not port_is_free(int(asked)):
            raise Problem(f"Port {asked} is taken or not a port. Set GIRDER_PORT to another, or leave it out.")
        return int(asked)
    if port_is_free(PORT):
        return PORT
    port = free_port()
    say(f"port {PORT} is taken, using {port}")
    return port


def demo_sign_in(env: dict[str, str], who: dict[str, Any], shared: bool = False) -> str:
    """Load the demo on the first start; returns its sign-in, or nothing where there is none."""
    if "GIRDER_HOSTS" in os.environ:
        # Behind a proxy it has none, and what was built before is shut.
        DEMO_LOADED.unlink(missing_ok=True)
    elif not DEMO_LOADED.exists():
        say("building the demo school")
    elif not shared:
        return DEMO_LOADED.read_text()
    done = subprocess.run(
        [str(PYTHON), "manage.py", "load_demo"], cwd=BACKEND, env=env, capture_output=True, text=True, **who
    )
    if done.returncode != 0:
        raise Problem(f"Building the demo school failed:\n{done.stderr[-2000:]}")
    if done.stderr:
        warn(done.stderr.strip())
    elif "GIRDER_HOSTS" not in os.environ:
        DEMO_LOADED.parent.mkdir(parents=True, exist_ok=True)
        DEMO_LOADED.write_text(done.stdout.strip())
    return str(done.stdout).strip()


def start(arguments: Sequence[str] = ()) -> int:
    """Set up what is missing, serve, and stop everything again on Ctrl-C."""
    machine.check_python()
    given = share.options(arguments)
    already = running()
    if already:
        if given.share and not already.get("shared"):
            raise Problem(f"It is running, for this machine alone ({already['address']}). Stop it first.")
        say(f"is running at {already['address']}")
        return 0
    _end_orphan()
    project.python_environment("app")
    machine.need_document_libraries()
    project.built_interface()
    cluster = Cluster("app")
    say("starting the database")
    cluster.start()
    started: list[subprocess.Popen[bytes]] = []
    try:
        port = choose_port()
        sharing = share.prepared(given, cluster.home / "certificates")
        env = {**kept_environment(cluster), **sharing.environment(port)}
        project.migrated(env, "app")
        home = cluster.home / "home"
        served = [sharing.certificate.parent] if sharing.certificate else []
        who = account.serving(env, home, cluster.media, cluster.home / "logs", *served)
        if who:
            env |= {"HOME": str(home)}
        demo = demo_sign_in(env, who, sharing.shared)
        invitation = share.first_account(env, who) if sharing.shared else ""
        say("starting the server")
        server = _begin(server_command(port, WORKERS, sharing), {**env, "GIRDER_DB_POOL": "1"}, who)
        started.append(server)
        doorstep = None
        if sharing.authority:
            doorstep = free_port() if not port_is_free(port + 1) else port + 1
            told = {**env, "GIRDER_AUTHORITY": str(sharing.authority), "GIRDER_PORT": str(port)}
            started.append(_begin(share.doorstep_command(doorstep), told, who))
        wait_until_served(port, server, sharing)
        address = sharing.at("127.0.0.1", port)
        groups = [one.pid for one in started]
        written = {"pid": os.getpid(), "server": server.pid, "groups": groups, "address": address}
        RUNNING.write_text(json.dumps({**written, "shared": sharing.shared}))
        email, _, password = demo.partition(" ")
        sign_in = f"\n  demo sign-in       {email}\n  password           {password}" if email else ""
        only = "  (the demo: on this machine alone)" if email and sharing.shared else ""
        print(f"\n  Even Girder is at  {address}{sign_in}{only}\n", flush=True)
        if sharing.shared:
            share.tell(sharing, port, doorstep, invitation)
        say("Ctrl-C stops it")
        _wait(server, cluster, env, who)
    finally:
        _end(started)
        cluster.stop()
        RUNNING.unlink(missing_ok=True)
    return 0


def _begin(command: Sequence[str], env: dict[str, str], who: dict[str, Any]) -> subprocess.Popen[bytes]:
    return subprocess.Popen(command, cwd=BACKEND, env=env, start_new_session=True, **who)


def _end(started: Sequence[subprocess.Popen[bytes]]) -> None:
    """End servers, politely first."""
    alive = [one for one in started if one.poll() is None]
    if alive:
        say("stopping")
    for one in alive:
        one.terminate()
    for one in alive:
        with contextlib.suppress(subprocess.TimeoutExpired):
            one.wait(8)
    for one in started:
        _end_group(one.pid, signal.SIGKILL)


def measure(arguments: Sequence[str]) -> int:
    """Run a script of ``backend/benchmarks`` against the application that is running."""
    served = running()
    if served is None:
        raise Problem("Nothing is running to be measured. Say ./girder start in another terminal first.")
    scripts = sorted(file.stem for file in (BACKEND / "benchmarks").glob("[a-z]*.py"))
    if not arguments or arguments[0] not in scripts:
        raise Problem(f"Say what is measured: {', '.join(scripts)}.")
    told = {"GIRDER_ADDRESS": served["address"], "GIRDER_SERVER": str(served["server"])}
    env = {**database_environment(Cluster("app")), **told}
    command = [str(PYTHON), "-m", f"benchmarks.{arguments[0]}", *arguments[1:]]
    return subprocess.run(command, cwd=BACKEND, env=env).returncode


def managed(*command: str) -> int:
    """Run a command of ``manage.py`` on the database of the application that is running."""
    if running() is None:
        raise Problem("Nothing is running. Say ./girder start in another terminal first.")
    env = database_environment(Cluster("app"))
    return subprocess.run([str(PYTHON), "manage.py", *command], cwd=BACKEND, env=env).returncode


LOOK_S = 2.0
"""How often it is looked whether the database still answers."""
TIDY_S = 6 * 3600
"""How often what is past its time is deleted for good."""


def _wait(server: subprocess.Popen[bytes], cluster: Cluster, env: dict[str, str], who: dict[str, Any]) -> None:
    def leave(number: int, frame: object) -> None:
        raise KeyboardInterrupt

    # Said outright: a shell that starts this in the background has interrupts switched off.
    for number in (signal.SIGTERM, signal.SIGINT):
        signal.signal(number, leave)
    # Not in the first minute: a start has enough to do.
    tidied = time.monotonic() - TIDY_S + 60
    try:
        while (code := server.poll()) is None:
            if not cluster.answers():
                _bring_back(cluster)
            elif time.monotonic() - tidied >= TIDY_S:
                tidied = time.monotonic()
                tidy = [str(PYTHON), "manage.py", "tidy"]
                subprocess.Popen(tidy, cwd=BACKEND, env=env, start_new_session=True, **who)
            with contextlib.suppress(subprocess.TimeoutExpired):
                server.wait(LOOK_S)
    except KeyboardInterrupt:
        return
    raise Problem(f"The server ended by itself (code {code}). Nothing that was saved is lost; start again.")


def _bring_back(cluster: Cluster) -> None:
    """Start a database that ended by itself; when it does not come, say so, and go on trying."""
    try:
        warn("the database does not answer. Nothing that was saved is lost.")
        if cluster.revive():
            say("the database was started again")
    except (Problem, OSError) as problem:
        warn(f"{problem}\nIt is tried again.")


def stop() -> int:
    """Stop what ``start`` started, from anywhere; also what a killed ``start`` left behind."""
    state = running()
    if state:
        os.kill(state["pid"], signal.SIGTERM)
        for _ in range(150):
            if running() is None:
                break
            time.sleep(0.1)
        say("stopped")
    else:
        _end_orphan()
        if cluster_exists("app"):
            Cluster("app").stop()
        say("nothing was running" if not RUNNING.exists() else "cleaned up after a killed start")
        RUNNING.unlink(missing_ok=True)
    return 0


def _end_orphan() -> None:
    """End the server processes of a launcher that was killed."""
    if RUNNING.exists():
        for group in json.loads(RUNNING.read_text())["groups"]:
            _end_group(group, signal.SIGTERM)


def _end_group(group: int, how: signal.Signals) -> None:
    """End what is left of a server and its workers, if they are really ours."""
    for folder in Path("/proc").glob("[0-9]*"):
        with contextlib.suppress(OSError):
            if os.getpgid(int(folder.name)) == group and str(VENV).encode() in (folder / "cmdline").read_bytes():
                os.kill(int(folder.name), how)


def reset(sure: bool) -> int:
    """Delete the database with everything in it, after asking."""
    if running():
        raise Problem("Even Girder is running. Stop it first (./girder stop).")
    if not sure:
        print(
            f"This deletes every class, run and result in {data_home() / 'app'}. Type yes to go on: ",
            end="",
            flush=True,
        )
        try:
            sure = input().strip() == "yes"
        except EOFError:
            sure = False
    if not sure:
        say("nothing was deleted")
        return 1
    if cluster_exists("app"):
        Cluster("app").remove()
    for stamp in ("demo", "migrations-app"):
        (STATE / "stamps" / stamp).unlink(missing_ok=True)
    say("deleted; the next start begins with the demo school")
    return 0


def dev() -> int:
    """Serve with reloading: the API under uvicorn, the interface under Vite, which passes /api on."""
    project.python_environment("app")
    machine.need_document_libraries()
    node = project.node_modules()
    cluster = Cluster("app")
    cluster.start()
    env = {**kept_environment(cluster), "GIRDER_DEBUG": "1"}
    project.migrated(env, "app")
    demo_sign_in(env, {})
    port = free_port()
    env["GIRDER_ORIGINS"] = "http://127.0.0.1:5173,http://localhost:5173"
    reloading = [str(PYTHON), "-m", "uvicorn", "evengirder.asgi:application", "--port", str(port), "--reload"]
    api = subprocess.Popen(reloading, cwd=BACKEND, env=env)
    vite = subprocess.Popen(["npx", "vite"], cwd=FRONTEND, env={**node, "GIRDER_API": f"http://127.0.0.1:{port}"})
    try:
        return vite.wait()
    except KeyboardInterrupt:
        return 0
    finally:
        for process in (vite, api):
            process.terminate()
            process.wait()
        cluster.stop()
