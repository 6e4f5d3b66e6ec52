"""Metrics as a watcher reads them, from real processes; and what is written for watchers names what there is."""

from __future__ import annotations

import json
import re
import tempfile
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import yaml
from django.conf import settings
from django.db import connection
from django.test import Client, TestCase, TransactionTestCase
from prometheus_client import REGISTRY
from prometheus_client.parser import text_string_to_metric_families

from e2e.served import Server
from evengirder import metrics
from live.services import open_board
from live.tests.test_streams import Listening, Through
from people.tests.support import Ledger, checked_in, run, teacher
from upkeep.watched import Now

WORD = "a word for a watcher"
WATCH = Path(settings.BACKEND).parent / "deploy" / "watch"
ENTRIES = "api/trials/<uuid:pk>/events"


ENDS = {"counter": ("_total",), "histogram": ("_bucket", "_count", "_sum")}


def told(port: int, word: str = WORD) -> str:
    request = urllib.request.Request(f"http://127.0.0.1:{port}/metrics")
    if word:
        request.add_header("Authorization", f"Bearer {word}")
    with urllib.request.urlopen(request, timeout=30) as answer:
        return str(answer.read().decode())


def value(text: str, name: str, **labels: str) -> float:
    """The sum of a metric over all that has these labels."""
    return sum(
        sample.value for family in text_string_to_metric_families(text) for sample in family.samples
        if sample.name == name and labels.items() <= sample.labels.items()
    )  # fmt: skip


def in_time(what: Callable[[], bool]) -> bool:
    until = time.monotonic() + 60
    while time.monotonic() < until:
        if what():
            return True
        time.sleep(0.2)
    return False


class Processes(TransactionTestCase):
    """Processes that count into one folder, as the copies of one server do."""

    processes = 1

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.backups = Path(folder.name) / "backups"
        counts = Path(folder.name) / "counts"
        for made in (self.backups, counts):
            made.mkdir()
        env = {"GIRDER_METRICS": WORD, metrics.FOLDER: str(counts), "GIRDER_BACKUPS": str(self.backups)}
        name = str(connection.settings_dict["NAME"])
        self.servers = [Server(name, pool=True, **env) for _ in range(self.processes)]
        for server in self.servers:
            server.start()
            self.addCleanup(server.stop)
        self.ada = teacher()
        self.run_ = run(self.ada)
        self.client = Client()
        self.client.force_login(self.ada)
        self.cookie = f"sessionid={self.client.cookies['sessionid'].value}"


class TwoProcesses(Processes):
    processes = 2

    def test_what_both_did_is_told_by_either(self) -> None:
        through = [Through(server.port, self.cookie) for server in self.servers]
        designs = [checked_in(design) for design in self.run_.designs.all()]
        ledger, other = Ledger(through[0], designs[0]), Ledger(through[1], designs[1])  # type: ignore[arg-type]
        ledger.hold("platform")
        other.hold("platform")
        # The same again is known; another that nobody can write is refused.
        self.assertEqual(ledger.post(ledger.sent[0])[0], 200)
        self.assertIsNotNone(ledger.add("place", item="no such item", count=1)["refused"])
        for server in self.servers:
            text = told(server.port)
            with self.subTest(server.port):
                came = {came: value(text, "girder_entries_total", came=came) for came in ("kept", "known", "refused")}
                self.assertEqual(came, {"kept": 4, "known": 1, "refused": 1})
                # The quick way and the long one are one address.
                answered = {"method": "POST", "route": ENTRIES, "status": "200"}
                self.assertEqual(value(text, "girder_requests_total", **answered), 6)
                self.assertEqual(value(text, "girder_request_seconds_count", method="POST", route=ENTRIES), 6)
                self.assertGreaterEqual(value(text, "girder_pool", what="open"), 2)
                self.assertEqual(value(text, "girder_ready"), 1)
                # Nothing says which run, or whose.
                self.assertNotIn(f"/{self.run_.pk}", text)
                self.assertNotIn(ledger.id, text)

    def test_a_line_that_is_open_is_counted_till_its_end_or_that_of_its_process(self) -> None:
        token = open_board(self.run_).token
        first, second = (server.port for server in self.servers)
        lines = [Listening(port, f"/api/boards/{token}/stream") for port in (first, first, second)]
        for line in lines:
            line.next()
        self.assertEqual(value(told(second), "girder_streams"), 3)
        lines[2].response.close()
        lines[2].close()
        self.assertTrue(in_time(lambda: value(told(first), "girder_streams") == 2))
        asked = {"route": "api/boards/<slug:token>/stream", "status": "200"}
        self.servers[0].kill()
        text = told(second)
        # What was counted stays; what it had open is open no more.
        self.assertEqual((value(text, "girder_streams"), value(text, "girder_requests_total", **asked)), (0, 3))


class OneProcess(Processes):
    def test_what_browsers_keep_refusals_and_addresses_that_there_are_not(self) -> None:
        port = self.servers[0].port
        for said in ("7", "4000", "-3", "soon", "9" * 40, "٣"):
            request = urllib.request.Request(f"http://127.0.0.1:{port}/api/session")
            request.add_header("X-Girder-Unsent", said.encode().decode("latin-1"))
            urllib.request.urlopen(request, timeout=30).close()
        text = told(port)
        self.assertEqual(value(text, "girder_unsent_seconds_count"), 2)
        self.assertEqual(value(text, "girder_unsent_seconds_bucket", le="60.0"), 1)
        nobody = Through(port, "")
        self.assertEqual(nobody.call("POST", "session", {"email": "ada@school.example", "password": "not it"})[0], 400)
        self.assertEqual(value(told(port), "girder_refusals_total", code="wrong_sign_in"), 1)
        # However many addresses somebody makes up, they are few.
        before = len(told(port).splitlines())
        for made_up in range(30):
            nobody.call("GET", f"made-up/{made_up}")
        self.assertLess(len(told(port).splitlines()) - before, 30)

    def test_the_age_of_the_last_good_backup(self) -> None:
        port = self.servers[0].port
        self.assertNotIn("girder_backup_age_seconds", told(port))
        made = datetime.now(UTC) - timedelta(hours=30)
        (self.backups / "one.tar").write_text("")
        (self.backups / "last-good.json").write_text(json.dumps({"name": "one.tar", "made_at": made.isoformat()}))
        self.assertAlmostEqual(value(told(port), "girder_backup_age_seconds"), 30 * 3600, delta=300)

    def test_without_the_word_nothing_is_told(self) -> None:
        port = self.servers[0].port
        for word in ("", "another word for it"):
            with self.subTest(word), self.assertRaises(urllib.error.HTTPError) as refused:
                told(port, word)
            self.assertEqual(refused.exception.code, 401)
        self.assertEqual(Client().get("/metrics").status_code, 404)


def expressions() -> list[str]:
    """What the alerts and the dashboard ask for."""
    rules: list[dict[str, Any]] = yaml.safe_load((WATCH / "alerts.yml").read_text())["groups"][0]["rules"]
    panels = json.loads((WATCH / "dashboard.json").read_text())["panels"]
    return [rule["expr"] for rule in rules] + [one["expr"] for panel in panels for one in panel["targets"]]


class Written(TestCase):
    def test_what_is_written_for_watchers_names_what_there_is(self) -> None:
        there = {
            name for collector in (REGISTRY, Now()) for family in collector.collect()
            for name in (family.name, *(family.name + end for end in ENDS.get(family.type, ())))
        } | {"girder_backup_age_seconds"}  # fmt: skip
        asked = {name for expression in expressions() for name in re.findall(r"\bgirder_\w+", expression)}
        self.assertGreater(len(asked), 8)
        self.assertEqual(asked - there, set())
        routes = {route for expression in expressions() for route in re.findall(r'route="([^"]+)"', expression)}
        self.assertEqual(routes, {ENTRIES})

    def test_every_alert_is_tried(self) -> None:
        rules = yaml.safe_load((WATCH / "alerts.yml").read_text())["groups"][0]["rules"]
        tried = {
            test["alertname"] for one in yaml.safe_load((WATCH / "alerts_test.yml").read_text())["tests"]
            for test in one["alert_rule_test"] if test["exp_alerts"]
        }  # fmt: skip
        self.assertEqual({rule["alert"] for rule in rules}, tried)
