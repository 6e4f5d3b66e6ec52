"""What a test would begin with is what it begins with, so that one that begins without a server is no other."""

from __future__ import annotations

import uuid
from typing import Any

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from bench.models import Trial
from demo.build import load
from designs.models import Design
from designs.services import predict
from people.tests.support import Api, Ledger, checked_in, run, teacher


class Ahead(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Rail"))
        self.designs = list(self.run_.designs.select_related("team"))
        self.api = Api(self.ada)

    def ahead(self) -> dict[int, Any]:
        return {one["design"]: one for one in self.api.get(f"runs/{self.run_.pk}/ahead")}

    def same(self, design: Design) -> None:
        before = self.ahead()[design.pk]
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "arrangement": before["arrangement"]}
        there = self.api.send("POST", f"designs/{design.pk}/trials", body)
        aside = {"id", "bench", "arrangement"}
        for key in there.keys() - aside:
            self.assertEqual(before[key], there[key], key)
        Trial.objects.filter(pk=there["id"]).delete()

    def test_whatever_is_known_of_a_design(self) -> None:
        tern, auk, rail = (checked_in(design) for design in self.designs)
        self.same(tern)
        predict(auk, "900 g")
        self.same(auk)
        for design in (tern, rail):
            ledger = Ledger(self.api, design)
            ledger.hold("platform")
            ledger.hold("nut", 20)
            ledger.add("fail", mode="snap")
        self.same(auk)
        self.same(tern)
        self.assertEqual(self.ahead()[tern.pk]["number"], 2)

    def test_one_whose_test_is_on_has_none_ahead_and_one_that_is_to_be_checked_in_has(self) -> None:
        tern = checked_in(self.designs[0])
        Ledger(self.api, tern)
        self.assertEqual(set(self.ahead()), {design.pk for design in self.designs[1:]})

    def test_as_many_questions_to_the_database_for_two_teams_as_for_eight(self) -> None:
        counted = []
        for number in (2, 8):
            made = run(teacher(f"T{number}"), teams=tuple(f"Team {n}" for n in range(number)))
            for design in made.designs.all():
                checked_in(design)
            api = Api(made.school_class.owner)
            api.get(f"runs/{made.pk}/ahead")
            with CaptureQueriesContext(
                connection,
            ) as asked:
                self.assertEqual(len(api.get(f"runs/{made.pk}/ahead")), number)
            counted.append(len(asked))
        self.assertEqual(counted[0], counted[1])


class EveryKind(TestCase):
    def test_in_every_run_of_the_demo(self) -> None:
        api = Api(load())
        tried = 0
        for listed in api.get("runs"):
            ready = {
                design.pk: design for design in Design.objects.filter(run=listed["id"], checked_in_at__isnull=False)
            }
            # One of each run: they differ by what was measured, which the other tests vary.
            for before in [one for one in api.get(f"runs/{listed['id']}/ahead") if one["design"] in ready][:1]:
                design = ready[before["design"]]
                body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "wet_reason": "for this test"}
                there = api.send("POST", f"designs/{design.pk}/trials", body)
                for key in there.keys() - {"id", "bench", "arrangement"}:
                    self.assertEqual(before[key], there[key], (listed["family"], key))
                Trial.objects.filter(pk=there["id"]).delete()
                tried += 1
        self.assertGreater(tried, 12)
