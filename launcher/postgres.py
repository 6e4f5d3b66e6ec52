"""A private PostgreSQL cluster on loopback: made, started, asked, stopped."""

from __future__ import annotations

import contextlib
import json
import os
import pwd
import secrets
import shutil
import socket
import subprocess
import time

import machine
from paths import data_home
from say import Problem, say

USER = "evengirder"
"""The role of the application: it may make and change its own databases, and nothing else of the server."""
ADMIN = "evengirder_admin"
DATABASE = "evengirder"


_ALL_IS_THEIRS = f"""
DO $$ DECLARE one record; BEGIN
    ALTER SCHEMA public OWNER TO {USER};
    FOR one IN SELECT c.oid::regclass AS name FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
        WHERE n.nspname = 'public' AND (c.relkind IN ('r', 'v', 'p') OR c.relkind = 'S' AND NOT EXISTS (
            SELECT 1 FROM pg_depend d WHERE d.objid = c.oid AND d.deptype IN ('a', 'i')))
    LOOP EXECUTE format('ALTER TABLE %s OWNER TO {USER}', one.name); END LOOP;
    FOR one IN SELECT p.oid::regprocedure AS name FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace
        WHERE n.nspname = 'public'
    LOOP EXECUTE format('ALTER ROUTINE %s OWNER TO {USER}', one.name); END LOOP;
END $$
"""


def free_port() -> int:
    """A port on loopback that nobody listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def port_is_free(port: int) -> bool:
    """Whether one could listen on this port."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
        return True


class Cluster:
    """One data directory with its own server, port and password.

    As root everything runs as Debian's ``postgres`` user, because the server refuses root; otherwise as oneself.
    """

    def __init__(self, name: str, durable: bool = True) -> None:
        self.home = data_home() / name
        self.data = self.home / "data"
        self.log = self.home / "server.log"
        # Photographs lie beside the database, so that a reset takes both.
        self.media = self.home / "media"
        self.durable = durable
        self.bin = machine.postgres_bin()
        self.as_root = os.geteuid() == 0

    def _command(self, program: str, *arguments: str) -> list[str]:
        prefix = ["runuser", "-u", "postgres", "--"] if self.as_root else []
        return [*prefix, str(self.bin / program), *arguments]

    def _settings(self) -> dict[str, str]:
        return json.loads((self.home / "settings.json").read_text())  # type: ignore[no-any-return]

    def environment(self) -> dict[str, str]:
        """What Django needs to reach this cluster."""
        settings = self._settings()
        return {
            "GIRDER_DB_HOST": "127.0.0.1",
            "GIRDER_DB_PORT": settings["port"],
            "GIRDER_DB_NAME": DATABASE,
            "GIRDER_DB_USER": USER,
            "GIRDER_DB_PASSWORD": settings["password"],
        }

    def _make(self) -> None:
        say("making the database")
        self.home.mkdir(parents=True, exist_ok=True)
        password, admin = secrets.token_urlsafe(24), secrets.token_urlsafe(24)
        secret = self.home / "password"
        secret.write_text(admin)
        if self.as_root:
            user = pwd.getpwnam("postgres")
            data_home().parent.chmod(0o755)
            data_home().chmod(0o755)
            for path in (self.home, secret):
                os.chown(path, user.pw_uid, user.pw_gid)
        secret.chmod(0o600)
        command = self._command(
            "initdb", "-D", str(self.data), "-U", ADMIN, "-A", "scram-sha-256", "--pwfile", str(secret),
            "-E", "UTF8", "--no-locale",
        )  # fmt: skip
        machine.run(command, "Making the database", cwd="/")
        secret.unlink()
        self._write_settings(free_port(), password, admin)

    def _write_settings(self, port: int, password: str, admin: str) -> None:
        file = self.home / "settings.json"
        file.touch(0o600)
        file.chmod(0o600)
        file.write_text(json.dumps({"port": str(port), "password": password, "admin": admin}))

    def start(self) -> None:
        """Start the server, made first when it is not there; does nothing when it runs."""
        made = (self.data / "PG_VERSION").exists() and (self.home / "settings.json").exists()
        if not made or not (self.durable or self._settings().get("admin")):
            if made:
                self.stop()
            shutil.rmtree(self.home, ignore_errors=True)
            self._make()
        if self.answers():
            return
        settings = self._settings()
        if not port_is_free(int(settings["port"])):
            self._write_settings(free_port(), settings["password"], settings.get("admin", ""))
        self._launch()
        if not self._settings().get("admin"):
            self._take_powers_away()
        if self._ask("postgres", f"SELECT 1 FROM pg_roles WHERE rolname='{USER}'") != "1":
            password = self._settings()["password"]
            self._ask("postgres", f"CREATE ROLE {USER} LOGIN CREATEDB NOSUPERUSER NOCREATEROLE PASSWORD '{password}'")
        if self._ask("postgres", f"SELECT 1 FROM pg_database WHERE datname='{DATABASE}'") != "1":
            self._ask("postgres", f"CREATE DATABASE {DATABASE} OWNER {USER}")

    def revive(self) -> bool:
        """Start the server again where others know it to be; False where its process lives, and is only slow."""
        status = self._command("pg_ctl", "-D", str(self.data), "status")
        if subprocess.run(status, capture_output=True, cwd="/").returncode == 0:
            return False
        self._launch()
        return True

    def _launch(self) -> None:
        options = f"-p {self._settings()['port']} -k '' -c listen_addresses=127.0.0.1 -c max_connections=120"
        if not self.durable:
            options += " -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
            # Between tests tables are empty. Swept just then, they are taken for small, and the next test, whose rows
            # nobody sees till it ends, waits minutes for plans that suit a handful.
            options += " -c autovacuum=off"
        command = self._command("pg_ctl", "-D", str(self.data), "-l", str(self.log), "-o", options, "-w", "start")
        done = subprocess.run(command, capture_output=True, text=True, cwd="/")
        for _ in range(50):
            if self.answers():
                break
            time.sleep(0.2)
        else:
            tail = "\n".join(self.log.read_text().splitlines()[-10:]) if self.log.exists() else done.stderr
            full = " The disk is full." if "No space left" in tail else ""
            raise Problem(f"The database does not start.{full} Its log ends with:\n{tail}")

    def _take_powers_away(self) -> None:
        """A cluster of an earlier version, whose application was master of the server: that role becomes the admin's,
        and the application gets one of its own with all that is in its database."""
        settings, admin = self._settings(), secrets.token_urlsafe(24)
        between = "girder_meanwhile"
        say("giving the database's application a role without powers")
        steps = (
            ("postgres", USER, settings["password"], f"CREATE ROLE {between} SUPERUSER LOGIN PASSWORD '{admin}'"),
            ("postgres", between, admin, f"ALTER ROLE {USER} RENAME TO {ADMIN}"),
            ("postgres", between, admin, f"ALTER ROLE {ADMIN} PASSWORD '{admin}'"),
            ("postgres", ADMIN, admin, f"DROP ROLE {between}"),
            ("postgres", ADMIN, admin,
             f"CREATE ROLE {USER} LOGIN CREATEDB NOSUPERUSER NOCREATEROLE PASSWORD '{settings['password']}'"),
            ("postgres", ADMIN, admin, f"ALTER DATABASE {DATABASE} OWNER TO {USER}"),
            (DATABASE, ADMIN, admin, _ALL_IS_THEIRS),
        )  # fmt: skip
        for database, user, password, sql in steps:
            if self._ask(database, sql, user, password) is None:
                raise Problem(f"The database could not be brought up to date at: {sql[:60]}")
        self._write_settings(int(settings["port"]), settings["password"], admin)

    def _ask(self, database: str, sql: str, user: str = "", password: str = "") -> str | None:
        """The answer of our own server, reached with our own password, as its admin; None when it is not there."""
        settings = self._settings()
        if not user:
            user, password = (ADMIN, settings["admin"]) if settings.get("admin") else (USER, settings["password"])
        where = ["-h", "127.0.0.1", "-p", settings["port"], "-U", user, "-d", database]
        env = {**os.environ, "PGPASSWORD": password, "PGCONNECT_TIMEOUT": "3"}
        # Not as an argument: those of a process can be read by all.
        program = [str(self.bin / "psql"), *where, "-Atq", "-v", "ON_ERROR_STOP=1"]
        done = subprocess.run(program, input=sql, capture_output=True, text=True, env=env)
        return done.stdout.strip() if done.returncode == 0 else None

    def answers(self) -> bool:
        """Whether our server runs: somebody else's on that port would not take our password."""
        return (self.home / "settings.json").exists() and self._ask("postgres", "SELECT 1") == "1"

    def rows(self, sql: str) -> list[str]:
        """What the application's database answers, a line for each row."""
        return (self._ask(DATABASE, sql) or "").splitlines()

    def empty(self) -> None:
        """Delete the database, and make it anew with nothing in it."""
        self._ask("postgres", f"DROP DATABASE IF EXISTS {DATABASE} WITH (FORCE)")
        self._ask("postgres", f"CREATE DATABASE {DATABASE} OWNER {USER}")

    def stop(self) -> None:
        """Stop the server if it runs."""
        if (self.data / "postmaster.pid").exists():
            command = self._command("pg_ctl", "-D", str(self.data), "-m", "fast", "-w", "stop")
            subprocess.run(command, capture_output=True, cwd="/")

    def remove(self) -> None:
        """Stop the server and delete all it holds."""
        self.stop()
        shutil.rmtree(self.home, ignore_errors=True)
        # The folder around it too, once nothing lies in it.
        with contextlib.suppress(OSError):
            data_home().rmdir()


def cluster_exists(name: str) -> bool:
    """Whether a cluster of this name was ever made."""
    return (data_home() / name / "data" / "PG_VERSION").exists()
