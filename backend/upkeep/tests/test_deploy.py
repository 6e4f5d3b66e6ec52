"""The files of ``deploy`` say what the program says: variables, the server's command, how much may come."""

from __future__ import annotations

import json
import re
import shlex
import subprocess
import sys
from pathlib import Path

import yaml
from django.conf import settings
from django.core.management import get_commands
from django.test import SimpleTestCase

from evengirder.doors import LARGER, MIB
from evengirder.environment import VARIABLES, told, unknown

ROOT = Path(settings.BACKEND).parent
DEPLOY = ROOT / "deploy"
SCHOOL, CONTAINERS = DEPLOY / "one-school", DEPLOY / "containers"


def lines(key: str, *files: Path) -> list[str]:
    """What files say for a key, in order."""
    return [
        value for file in files for name, _, value in (line.partition("=") for line in file.read_text().splitlines())
        if name == key
    ]  # fmt: skip


def environment(*files: Path) -> dict[str, str]:
    """What files of variables say."""
    return dict(
        line.split("=", 1) for file in files for line in file.read_text().splitlines() if re.match(r"\w+=", line)
    )


def started(workers: int, bind: str) -> list[str]:
    """How the start command starts the server, after the Python that it starts it with."""
    asked = f"import json, serve; print(json.dumps(serve.server_command(8360, {workers})))"
    command = [sys.executable, "-c", asked]
    ran = subprocess.run(command, cwd=ROOT / "launcher", capture_output=True, text=True, check=True)
    return [bind if word == "127.0.0.1:8360" else word for word in json.loads(ran.stdout)[1:]]


class Every(SimpleTestCase):
    """What is said to the server anywhere is what it reads, and what it can mean."""

    def sound(self, given: dict[str, str]) -> None:
        self.assertEqual(unknown(given), [])
        for variable in VARIABLES:
            if variable.name in given:
                told(variable.name, given)

    def test_one_school(self) -> None:
        given = environment(SCHOOL / "environment")
        for said in lines("Environment", *SCHOOL.glob("*.service")):
            given |= dict(one.split("=", 1) for one in shlex.split(said))
        self.sound(given)
        self.assertLessEqual({"GIRDER_HOSTS", "GIRDER_TLS", "GIRDER_SECRET_KEY_FILE", "GIRDER_BACKUPS"}, set(given))

    def test_several_schools_and_a_district(self) -> None:
        needed = {"GIRDER_DB_DIRECT", "GIRDER_S3_BUCKET", "GIRDER_S3_SECRET_FILE", "GIRDER_METRICS_FILE"}
        for size in ("several-schools", "district"):
            with self.subTest(size):
                given = environment(DEPLOY / size / "environment")
                for said in lines("Environment", *(DEPLOY / "several-schools").glob("*.d/*.conf")):
                    given |= dict(one.split("=", 1) for one in shlex.split(said))
                self.sound(given)
                self.assertLessEqual(needed, set(given))

    def test_containers(self) -> None:
        given = yaml.safe_load((CONTAINERS / "compose.yml").read_text())["x-girder"]["environment"]
        lasts = re.search(r"^ENV (.+)$", (CONTAINERS / "Dockerfile").read_text().replace("\\\n", " "), re.M)
        assert lasts is not None
        said = re.findall(r"(GIRDER_\w+)=(\S+)", lasts[1])
        self.assertGreater(len(said), 3)
        self.sound({**dict(said), **given})


class OneSchool(SimpleTestCase):
    def test_the_server_is_started_as_the_start_command_starts_it(self) -> None:
        command = shlex.split(lines("ExecStart", SCHOOL / "even-girder.service")[0])
        self.assertEqual(command[1:], started(2, "${GIRDER_BIND}"))

    def test_whatever_the_server_takes_comes_through_the_proxy(self) -> None:
        taken = re.search(r"client_max_body_size (\d+)m;", (SCHOOL / "nginx.conf").read_text())
        assert taken is not None
        self.assertGreaterEqual(int(taken[1]) * MIB, max(most for _, most, _ in LARGER))


class Containers(SimpleTestCase):
    """No containers run where tests do, so what stands in their files is held against what there is."""

    def test_the_server_is_started_as_the_start_command_starts_it(self) -> None:
        text = (CONTAINERS / "Dockerfile").read_text()
        command = json.loads(text.rpartition("\nCMD ")[2].replace("\\\n", ""))
        self.assertEqual(command[1:], started(2, "0.0.0.0:8360"))

    def test_what_is_copied_is_there_and_what_is_installed_is_locked(self) -> None:
        text = (CONTAINERS / "Dockerfile").read_text().replace("\\\n", " ")
        copied = [words for line in re.findall(r"^COPY (?!--from)(.+)$", text, re.M) for words in line.split()[:-1]]
        self.assertGreater(len(copied), 4)
        for name in copied:
            self.assertTrue((ROOT / name).exists(), name)
        self.assertIn("--require-hashes -r /opt/even-girder/backend/requirements/app.txt", text)
        ignored = (CONTAINERS / "Dockerfile.dockerignore").read_text().split()
        self.assertLessEqual({"**/.girder", "**/.git", "**/node_modules"}, set(ignored))

    def test_each_service_runs_a_command_that_there_is(self) -> None:
        compose = yaml.safe_load((CONTAINERS / "compose.yml").read_text())
        said = " ".join(str(word) for one in compose["services"].values() for word in one.get("command", []))
        commands = set(re.findall(r"manage\.py (\w+)", said)) | {compose["services"]["upgrade"]["command"][2]}
        self.assertEqual(commands, {"upgrade", "tidy", "backup"})
        self.assertLessEqual(commands, set(get_commands()))
        for one in compose["services"].values():
            for name in one.get("depends_on", {}):
                self.assertIn(name, compose["services"])
            for secret in one.get("secrets", []):
                self.assertIn(secret, compose["secrets"])


class District(SimpleTestCase):
    def test_hosts_that_agree_are_the_same_everywhere_and_none_has_a_database(self) -> None:
        cluster = environment(DEPLOY / "district" / "etcd")["ETCD_INITIAL_CLUSTER"]
        agree = {one.partition("=")[0] for one in cluster.split(",")}
        patroni = yaml.safe_load((DEPLOY / "district" / "patroni.yml").read_text())
        asked = {one.partition(".")[0] for one in patroni["etcd3"]["hosts"].split(",")}
        databases = set(re.findall(r"^\s+server (\w+)", (DEPLOY / "district" / "haproxy.cfg").read_text(), re.M))
        self.assertEqual(agree, asked)
        self.assertEqual(len(agree) % 2, 1)
        self.assertEqual((len(databases), agree & databases), (2, set()))
        # Patroni's own rule for these times.
        times = patroni["bootstrap"]["dcs"]
        self.assertLessEqual(times["loop_wait"] + 2 * times["retry_timeout"], times["ttl"])
        self.assertTrue(times["synchronous_mode"])

    def test_what_the_server_is_told_leads_to_what_is_there(self) -> None:
        for size, host in (("several-schools", "db.girder.internal"), ("district", "127.0.0.1")):
            with self.subTest(size):
                given = environment(DEPLOY / size / "environment")
                pooler = (DEPLOY / size / "pgbouncer.ini").read_text()
                self.assertEqual(given["GIRDER_DB_HOST"], host)
                self.assertIn(f"listen_port = {given['GIRDER_DB_PORT']}\n", pooler)
                self.assertIn("pool_mode = transaction\n", pooler)
        direct = environment(DEPLOY / "district" / "environment")["GIRDER_DB_DIRECT"]
        self.assertIn(f"bind {direct}\n", (DEPLOY / "district" / "haproxy.cfg").read_text())
