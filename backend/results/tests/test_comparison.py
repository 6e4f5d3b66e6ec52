"""The comparison of a small run through the API, against numbers worked by hand."""

import uuid
from datetime import date
from typing import Any

from django.test import TestCase
from django.utils import timezone

from bench import remembered
from bench.history import scatter_belief
from bench.models import Trial
from bench.services import append_events, start_trial
from challenges.models import Run
from designs import services as designing
from girder_core.measure import TypedReading
from people.tests.support import Api, Ledger, checked_in, run, teacher


class ByHand(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Skua", "Knot"))
        tern, auk, skua, _ = self.run_.designs.all()
        # Tern: 40 g + 30 * 15 g = 490 g held, broke at 505 g, own weight 30 g.
        ledger = Ledger(self.api, checked_in(tern, "30 g"))
        ledger.hold("platform")
        ledger.hold("nut", 30)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="crimp")
        # Auk: all 50 nuts held, 790 g; own weight 60 g.
        two = Ledger(self.api, checked_in(auk, "60 g"))
        two.hold("platform")
        two.hold("nut", 50)
        two.add("run_out", reason="no_more_load", confirmed=True)
        # Skua: a void trial, then 340 g held, broke at 355 g; own weight 40 g.
        spoiled = Ledger(self.api, checked_in(skua, "40 g"))
        spoiled.hold("platform")
        spoiled.add("void", reason="pile_toppled")
        three = Ledger(self.api, skua)
        three.hold("platform")
        three.hold("nut", 20)
        three.add("place", item="nut", count=1)
        three.add("fail", mode="joint")

    def compare(self, query: str = "") -> Any:
        return self.api.get(f"runs/{self.run_.pk}/comparison{query}")

    def test_by_strength_to_weight(self) -> None:
        comparison = self.compare()
        rows = [(r["team"]["name"], round(r["score"]["value"], 3), r["ranks"]) for r in comparison["ranked"]]
        self.assertEqual(
            rows,
            [
                # 490 / 30, 790 / 60 and above, 340 / 40.
                ("Tern", 16.333, {"best": 1, "worst": 2}),
                ("Auk", 13.167, {"best": 1, "worst": 2}),
                ("Skua", 8.5, {"best": 3, "worst": 3}),
            ],
        )
        self.assertEqual(comparison["headline"], "Tern leads. Only Auk could still pass.")
        # 16.333 * 60 g - 790 g.
        self.assertIn("190 g more would settle it", str(comparison["explanation"]))
        self.assertIn("One team is still to be tested.", str(comparison["explanation"]))

    def test_by_most_held(self) -> None:
        comparison = self.compare("?school=most_held")
        self.assertFalse(comparison["official"])
        self.assertEqual([r["team"]["name"] for r in comparison["ranked"]], ["Auk", "Tern", "Skua"])
        self.assertIsNone(comparison["ranked"][0]["score"]["interval"]["high"])
        self.assertEqual([r["ranks"]["best"] for r in comparison["ranked"]], [1, 2, 3])

    def test_void_trials_are_listed_not_scored(self) -> None:
        comparison = self.compare()
        (void,) = comparison["voids"]
        self.assertEqual((void["team"]["name"], void["number"]), ("Skua", 1))
        skua = next(r for r in comparison["ranked"] if r["team"]["name"] == "Skua")
        self.assertEqual(skua["score"]["trials"], 1)

    def test_the_untested_are_named_with_the_reason(self) -> None:
        (knot,) = self.compare()["unranked"]
        self.assertEqual((knot["team"]["name"], knot["code"]), ("Knot", "untested"))

    def test_units_of_the_sentences_follow_the_teacher(self) -> None:
        self.api.send("PATCH", "session", {"units": "us"})
        # 190 g is 6.70 oz.
        self.assertIn("6.70 oz more would settle it", str(self.compare()["explanation"]))

    def test_unknown_ways_of_scoring(self) -> None:
        for query in ("?school=luck", "?trial_rule=worst"):
            self.assertEqual(self.api.refused("GET", f"runs/{self.run_.pk}/comparison{query}")[0], 400)

    def test_whether_they_would_win_again_stands_beside_the_places(self) -> None:
        comparison = self.compare()
        prospects = [row["prospect"] for row in comparison["ranked"]]
        self.assertAlmostEqual(sum(prospect["first"] for prospect in prospects), 1.0)
        self.assertTrue(all(0 <= prospect["first"] <= 1 for prospect in prospects))
        self.assertIsNone(prospects[-1]["ahead"])
        # Auk outlasted its load, so it may well be the better one: it is said, and changes no place.
        self.assertGreater(prospects[1]["first"], prospects[0]["first"])
        self.assertIn("Auk would win", comparison["again"])

    def test_earlier_repeats_of_the_teacher_say_how_much_trials_scatter(self) -> None:
        usual = scatter_belief(self.run_)
        assert self.run_.recipe is not None
        earlier = designing.open_run(self.run_.recipe, self.run_.school_class, date(2026, 10, 6))
        for design in earlier.designs.all()[:2]:
            checked_in(design, "30 g")
            for nuts in (30, 31, 30):
                ledger = Ledger(self.api, design)
                ledger.hold("platform")
                ledger.hold("nut", nuts)
                ledger.add("place", item="nut", count=1)
                ledger.add("fail", mode="crimp")
        told = scatter_belief(self.run_)
        self.assertLess(told.typical, 0.7 * usual.typical)
        self.assertIn("this kind of challenge", told.basis)
        # A run's own repeats are no belief beforehand, and another teacher's say nothing.
        self.assertEqual(scatter_belief(earlier).typical, usual.typical)
        self.assertEqual(scatter_belief(run(teacher("Bea"))).typical, usual.typical)

    def test_a_constant_number_of_queries(self) -> None:
        # Session, teacher and run; the class's corrections; designs, readings, predictions, drafts, photographs,
        # answers, trials; earlier repeats; events, which are not read again as long as no ledger has grown.
        remembered._KNOWN.clear()
        with self.assertNumQueries(11):
            first = self.compare()
        with self.assertNumQueries(10):
            self.assertEqual(self.compare(), first)

    def test_a_ledger_that_grew_is_read_again(self) -> None:
        before = self.compare()
        trial = Trial.objects.exclude(events__kind="void").order_by("started_at").last()
        assert trial is not None
        ended = trial.events.order_by("sequence").last()
        assert ended is not None
        event = {
            "id": str(uuid.uuid4()), "sequence": ended.sequence + 1, "kind": "undo", "data": {"event": str(ended.pk)},
            "happened_at": "2026-11-03T10:00:00Z",
        }  # fmt: skip
        self.api.send("POST", f"trials/{trial.pk}/events", {"bench": str(trial.bench), "events": [event]})
        after = self.compare()
        self.assertEqual(len(after["ranked"]), len(before["ranked"]) - 1)
        # Other terms give other results of the same ledger.
        kit = [{**item, "mass_kg": 2 * item["mass_kg"]} for item in self.run_.kit]
        Run.objects.filter(pk=self.run_.pk).update(kit=kit)
        heavier = self.compare()
        self.assertAlmostEqual(heavier["ranked"][0]["score"]["held_kg"], 2 * after["ranked"][0]["score"]["held_kg"])


class Penalised(TestCase):
    def test_the_penalty_stands_beside_what_was_carried_with_its_reason(self) -> None:
        made = run(teacher("Bo"), teams=("Tern", "Auk"), school="most_held", breach_policy="penalty", penalty=0.1)
        api = Api(made.school_class.owner)
        tern, _ = made.designs.all()
        # 30 mm more of tape than the 20 cm that are allowed.
        designing.take_reading(tern, "tape", TypedReading("23 cm", "1 mm"), False)
        ledger = Ledger(api, checked_in(tern))
        ledger.hold("platform")
        ledger.hold("nut", 50)
        ledger.add("run_out", reason="no_more_load", confirmed=True)
        comparison = api.get(f"runs/{made.pk}/comparison")
        (row,) = comparison["ranked"]
        # The tray of 40 g and 50 nuts of 15 g; nine tenths of it count.
        self.assertEqual(row["words"], "at least 790 g")
        self.assertEqual(row["counts_as"], "counts as 711 g, 10 % off")
        self.assertIn("10 % off for a broken rule", row["penalty"])
        self.assertIn("230 mm", row["penalty"])
        self.assertIn("Tern carried at least 790 g. It counts as 711 g", comparison["explanation"])
        self.assertNotIn("carried at least 711 g", str(comparison))


class VariedOnPurpose(TestCase):
    def test_a_set_up_that_is_the_factor_is_not_called_unfair(self) -> None:
        owner = teacher()
        api = Api(owner)
        factor = {"name": "load", "levels": ["hung", "spread over the deck"]}
        made = run(owner, teams=("Tern", "Auk", "Skua", "Knot"), factor=factor)
        for design in made.designs.all():
            way = "hung" if design.level == "hung" else "spread"
            trial = start_trial(checked_in(design), uuid.uuid4(), uuid.uuid4(), arrangement=way)
            events = [("place", {"item": "platform", "count": 1}), ("settle", {"waited_s": 5}),
                      ("place", {"item": "nut", "count": 9}), ("settle", {"waited_s": 5}),
                      ("place", {"item": "nut", "count": 1}), ("fail", {"mode": "crimp"})]  # fmt: skip
            append_events(trial, trial.bench or uuid.uuid4(), [
                {"id": uuid.uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": timezone.now()}
                for n, (kind, data) in enumerate(events, start=1)
            ])  # fmt: skip
        self.assertEqual(api.get(f"runs/{made.pk}/comparison")["differences"], [])
        # Had the levels said nothing of it, it would be told.
        made.factor = {"name": "card", "levels": ["thin", "thick"]}
        made.save()
        told = [line["says"] for line in api.get(f"runs/{made.pk}/comparison")["differences"]]
        self.assertEqual(len(told), 2)
