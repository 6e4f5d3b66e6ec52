"""Predictions of levels, heights and counts, through the API: said, told at the bench, scored after it, exported."""

from __future__ import annotations

import csv
import io
import uuid
from datetime import UTC, date, datetime
from typing import Any

from django.test import TestCase

from bench import services as bench
from challenges.library import take
from designs import services as designing
from designs.models import Design
from girder_core.measure import TypedReading
from people.tests.support import Api, school_class, teacher

TEN = datetime(2026, 12, 1, 10, tzinfo=UTC)


class Levels(TestCase):
    def setUp(self) -> None:
        ada = teacher()
        self.api = Api(ada)
        recipe, knot = take(ada, "harbour-watchtower"), school_class(ada, teams=("Tern", "Auk"))
        self.run_ = designing.open_run(recipe, knot, date(2026, 12, 1))
        self.tern, self.auk = Design.objects.filter(run=self.run_).select_related("run", "team").order_by("pk")
        for design in (self.tern, self.auk):
            for key, text in (("height", "41 cm"), ("base", "13 cm"), ("self_mass", "74 g")):
                designing.take_reading(design, key, TypedReading(text, "1 mm" if key != "self_mass" else "1 g"), True)
            designing.answer(design, {question.key: question.good for question in self.run_.core_family().questions})
            designing.check_in(design)

    def say(self, design: Design, text: str) -> tuple[int, Any]:
        return self.api.call("POST", f"designs/{design.pk}/prediction", {"text": text})

    def shake(self, design: Design, levels: int) -> None:
        device = uuid.uuid4()
        trial = bench.start_trial(design, uuid.uuid4(), device)
        story: list[tuple[str, dict[str, Any]]] = [("round", {}), ("settle", {"waited_s": 99})] * levels
        story += [("round", {}), ("fail", {"mode": "joint"})]
        events = [
            {"id": uuid.uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": TEN}
            for n, (kind, data) in enumerate(story, start=1)
        ]  # fmt: skip
        self.assertIsNone(bench.append_events(trial, device, events).refused)

    def test_from_what_was_said_to_who_foresaw_it(self) -> None:
        asked = self.api.get(f"runs/{self.run_.pk}")["foretells"]
        self.assertEqual((asked["kind"], asked["example"]), ("count", "level 3"))
        said = self.say(self.tern, "level 3")[1]["prediction"]
        self.assertEqual((said["words"], said["size"], said["load_kg"]), ("level 3", 3, None))
        self.shake(self.tern, 3)
        status, body = self.say(self.tern, "level 5")
        self.assertEqual((status, body["code"]), (400, "prediction_too_late"))
        compared = self.say(self.auk, "less than Tern")[1]["prediction"]
        self.assertEqual(compared["words"], "less than Tern, level 3")
        self.shake(self.auk, 1)
        reasons = self.api.get(f"runs/{self.run_.pk}/reasons")
        verdicts = {row["design"]: row["verdict"] for row in reasons["teams"]}
        self.assertEqual(verdicts, {self.tern.pk: "right", self.auk.pk: "right"})
        chart = reasons["charts"]["foresight"]
        self.assertIn("level 3", " ".join(" ".join(row) for row in chart["rows"]))
        file = self.api.call("GET", f"runs/{self.run_.pk}/results.csv")[1].content.decode("utf-8-sig")
        rows = {row["team"]: row for row in csv.DictReader(io.StringIO(file))}
        self.assertEqual((float(rows["Tern"]["team_prediction_size"]), rows["Tern"]["team_prediction_kg"]), (3, ""))

    def test_what_is_no_level_is_refused_and_keeps_what_was_said(self) -> None:
        self.say(self.tern, "level 3")
        for text in ("many", "less than nobody", "-2"):
            self.assertEqual(self.say(self.tern, text)[0], 400, text)
        words = {design["prediction"]["words"] for design in self.api.get(f"runs/{self.run_.pk}")["designs"][:1]}
        self.assertEqual(words, {"level 3"})
