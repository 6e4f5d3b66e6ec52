"""Refusals and the board speak the units of whoever reads them, also where nobody handed the units down."""

from __future__ import annotations

from django.test import TestCase

from people.tests.support import RECIPE, Api, Ledger, checked_in, run, teacher


class Readers(TestCase):
    def setUp(self) -> None:
        self.ada, self.bea = teacher("Ada"), teacher("Bea")
        self.metric, self.us = Api(self.ada), Api(self.bea)
        self.us.send("PATCH", "session", {"units": "us"})

    def test_a_refusal_from_deep_down_is_in_the_units_of_whoever_asked(self) -> None:
        body = {"kind": "column", "typed": {"height_m": "9 m"}, "moves": {}}
        for api, unit, other in ((self.metric, "mm", " in"), (self.us, " in", "mm"), (self.metric, "mm", " in")):
            status, refused = api.refused("POST", "drafts", body)
            self.assertEqual((status, refused["code"]), (400, "bad_draft"))
            self.assertIn(unit, refused["sentence"])
            self.assertNotIn(other, refused["sentence"])

    def test_so_is_what_the_bench_asks(self) -> None:
        for owner, api, words in ((self.ada, self.metric, "500 g"), (self.bea, self.us, "1.10 lb")):
            made = run(owner, setup={**RECIPE["setup"], "bench_limit_kg": "500 g"})
            ledger = Ledger(api, checked_in(made.designs.all()[0]))
            ledger.hold("platform")
            asked = ledger.add("run_out", reason="bench_limit")["refused"]
            self.assertIsNotNone(asked)
            self.assertIn(words, asked["sentence"])

    def test_a_board_is_in_the_units_of_the_run_s_teacher_for_whoever_looks(self) -> None:
        made = run(self.bea)
        token = self.us.send("PUT", f"runs/{made.pk}/board", {"action": "open"})["token"]
        self.us.send("PUT", f"runs/{made.pk}/board", {"screen": "brief"})
        told = str(self.metric.get(f"boards/{token}"))
        self.assertRegex(told, r"\d (in|oz|lb)\b")
        self.assertNotRegex(told, r"\d (mm|g|kg)\b")
