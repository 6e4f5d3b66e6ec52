"""Whatever a file holds: it is taken and every screen opens, or it is refused in a sentence and nothing is kept.

The suite takes a few of each; ``GIRDER_TRIES=5000 ./girder test records.tests.test_any_file`` takes thousands.
"""

from __future__ import annotations

import base64
import json
from pathlib import Path
from typing import Any

import yaml
from django.test import TestCase

from bench.models import LedgerEvent
from challenges.exchange import exported as recipe_file
from challenges.library import FOLDER
from challenges.models import Recipe, Run
from designs.models import Design
from evengirder.tests.mutants import changed, damaged, tries
from people.models import SchoolClass, Teacher
from people.tests.support import Api, Ledger, checked_in, recipe, run, teacher
from records.run_file import exported
from records.tests.test_results_import import CSV, xlsx

SCHEMA = yaml.safe_load((Path(__file__).resolve().parents[2] / "openapi.yaml").read_text("utf-8"))
HEAVY = ("/print/", "/stream", "/practice")


class AnyFile(TestCase):
    ada: Teacher
    run_: Run

    @classmethod
    def setUpTestData(cls) -> None:
        cls.ada = teacher("Ada")
        cls.run_ = run(cls.ada, controls=["the same card"], factor={"name": "layers", "levels": ["one", "two"]})
        api = Api(cls.ada)
        tern, auk = (checked_in(design) for design in cls.run_.designs.all())
        api.send("POST", f"designs/{auk.pk}/prediction", {"text": "1.2 kg"})
        for design, nuts in ((tern, 7), (auk, 4)):
            ledger = Ledger(api, design)
            ledger.hold("platform")
            ledger.hold("nut", nuts)
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode="snap")
        api.send("POST", f"designs/{tern.pk}/next-version", {"changed": "deeper pleats"})
        question = cls.run_.core_family().reflect[0]
        api.send("PUT", f"designs/{tern.pk}/reflection", {"question": question, "text": "At the fold."})
        proposed = api.get(f"runs/{cls.run_.pk}/rubric")["proposed"]
        api.send("PUT", f"runs/{cls.run_.pk}/rubric", {"criteria": proposed})
        api.send("PUT", f"runs/{cls.run_.pk}/goal", {**cls.run_.goal(), "school": "most_held", "reason": "they asked"})

    def setUp(self) -> None:
        self.api = Api(self.ada)

    def kept(self) -> tuple[int, ...]:
        return tuple(model._default_manager.count() for model in (SchoolClass, Run, Recipe, Design, LedgerEvent))

    def sent(self, method: str, path: str, body: Any, about: Any) -> tuple[int, Any]:
        """Send it as it is, also what is no JSON; an error of the server's is raised by the client."""
        text = json.dumps(body, default=str)
        response = self.api.client.generic(method, f"/api/{path}", text, content_type="application/json")
        self.assertLess(response.status_code, 500, about)
        answer = response.json()
        if response.status_code >= 400:
            self.assertGreater(len(answer["sentence"]), 8, about)
            self.assertNotIn("Error", answer["sentence"], about)
        return response.status_code, answer

    def opens(self, run: Run, about: Any) -> None:
        """Every address of the API that shows something of this run answers."""
        design = run.designs.all()[0]
        trial = design.trials.first()
        places = {"runs": run.pk, "designs": design.pk, "trials": trial.pk if trial else None}
        for path, methods in SCHEMA["paths"].items():
            kind = path.split("/")[2]
            if "get" not in methods or "{id}" not in path or any(word in path for word in HEAVY):
                continue
            if places.get(kind) is None:
                continue
            response = self.api.client.get(path.replace("{id}", str(places[kind])))
            self.assertLess(response.status_code, 500, (path, about))

    def test_run_files(self) -> None:
        whole = exported(self.run_)
        taken = 0
        for seed in tries(60):
            data = changed(whole, seed)
            before = self.kept()
            status, answer = self.sent("POST", "runs/import", {"text": json.dumps(data, default=str)}, seed)
            if status == 201:
                taken += 1
                made = Run.objects.get(pk=answer["run"])
                self.opens(made, seed)
                made.designs.all().delete()
                school_class = made.school_class
                made.delete()
                school_class.teams.all().delete()
                school_class.delete()
            else:
                self.assertEqual(self.kept(), before, seed)
        self.assertGreater(taken, 0)

    def test_run_files_that_a_disk_damaged(self) -> None:
        whole = json.dumps(exported(self.run_)).encode()
        for seed in tries(40):
            text = damaged(whole, seed).decode("utf-8", "surrogateescape" if seed % 2 else "replace")
            self.sent("POST", "runs/import", {"text": text}, seed)

    def test_recipe_files_and_plans(self) -> None:
        texts = [path.read_text("utf-8") for path in sorted(FOLDER.glob("*.json"))]
        texts.append(json.dumps(recipe_file(recipe(self.ada))))
        for seed in tries(60):
            whole = json.loads(texts[seed % len(texts)])
            data = changed(whole, seed)
            status, made = self.sent("POST", "recipes/import", {"text": json.dumps(data, default=str)}, seed)
            if status == 201:
                self.api.get(f"recipes/{made['id']}")
            asked = {**whole["recipe"], "own": {}}
            self.sent("POST", "plans", changed({**asked, "own": whole["recipe"]}, seed), seed)
            self.sent("POST", "recipes", changed(whole["recipe"], seed), seed)

    def test_tables_and_workbooks(self) -> None:
        book = xlsx(["Team", "nut", "How it ended"], ["Tern", 12, "crimped"], ["Auk", 20, "no more load"])
        path = f"runs/{self.run_.pk}/results-table"
        for seed in tries(16):
            # A workbook takes a process of its own, so there are fewer of them.
            data = damaged(book, seed) if seed % 4 == 0 else damaged(CSV.encode(), seed)
            body = {"data": base64.b64encode(data).decode(), "meaning": None, "keep": False, "sheet": ""}
            status, seen = self.sent("POST", path, body, seed)
            if status == 200:
                meaning = [column["meaning"] for column in seen["columns"]]
                self.sent("POST", path, {**body, "meaning": changed(meaning, seed)}, seed)

    def test_force_logs(self) -> None:
        practice = self.api.client.get("/api/force-logs/practice").content[:4000]
        for seed in tries(40):
            text = damaged(practice, seed).decode("utf-8", "replace")
            self.sent("POST", "force-logs", {"text": text, "speed": "2 mm/s" if seed % 3 else ""}, seed)
