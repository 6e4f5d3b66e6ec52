"""Tests that put no load on, from a shipped recipe through the bench to a ranking and its exports."""

from __future__ import annotations

import csv
import io
import uuid
from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.test import TestCase
from django.utils import timezone

from bench.models import LedgerEvent, Trial
from challenges.library import take
from challenges.models import Run
from designs import services as designing
from designs.models import Design
from girder_core.measure import TypedReading, typed_text
from people.tests.support import Api, Ledger, checked_in, run, school_class, teacher
from runs.tests.test_every_family import STEPS, good_reading

SURVIVED = ("settle", {"waited_s": 99})


class Bench(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = school_class(self.ada, teams=("Tern", "Auk", "Rail"))

    def run_of(self, slug: str) -> Run:
        return designing.open_run(take(self.ada, slug), self.knot, date(2026, 12, 1))

    def check_in(self, design: Design) -> Design:
        family, setup = design.run.core_family(), design.run.setup
        for spec in (spec for spec in family.readings if spec.needed and not spec.may_follow):
            text = typed_text(good_reading(family, spec, setup), spec.kind)
            designing.take_reading(design, spec.key, TypedReading(text, STEPS[spec.kind]), True)
        designing.answer(design, {question.key: question.good for question in family.questions})
        return designing.check_in(design)

    def play(self, design: Design, entries: list[tuple[str, dict[str, Any]]], **start: Any) -> dict[str, Any]:
        """Start a trial, add the events one by one, and give its last state."""
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), **start}
        state = self.api.send("POST", f"designs/{design.pk}/trials", body)
        for sequence, (kind, data) in enumerate(entries, start=1):
            event = {"id": str(uuid.uuid4()), "sequence": sequence, "kind": kind, "data": data,
                     "happened_at": "2026-12-01T10:00:00Z"}  # fmt: skip
            answer = self.api.send("POST", f"trials/{body['id']}/events", {"bench": body["bench"], "events": [event]})
            self.assertIsNone(answer["refused"], answer["refused"])
            state = answer["state"]
        return dict(state)

    def designs(self, run: Run) -> list[Design]:
        return [self.check_in(design) for design in run.designs.select_related("run", "team")]

    def results(self, run: Run) -> dict[str, dict[str, str]]:
        text = self.api.call("GET", f"runs/{run.pk}/results.csv")[1].content.decode("utf-8-sig")
        return {row["team"]: row for row in csv.DictReader(io.StringIO(text))}

    def test_levels_of_shaking(self) -> None:
        run = self.run_of("harbour-watchtower")
        tern, auk, rail = self.designs(run)
        levels = round(run.setup["levels"])
        state = self.play(tern, [("round", {}), SURVIVED, ("round", {}), SURVIVED])
        first = run.setup["frequency_hz"]
        third = state["round_plan"]["planned"][2]
        self.assertAlmostEqual(third["frequency_hz"], first + 2 * run.setup["frequency_step_hz"])
        self.assertIn("Hands off", state["caution"])
        Trial.objects.all().delete()
        down = ("fail", {"mode": "joint", "after_s": 3})
        self.play(tern, [*2 * [("round", {}), SURVIVED], ("round", {}), down], arrangement="isolated")
        self.play(auk, [("round", {}), SURVIVED, ("round", {}), down])
        self.play(rail, [*levels * [("round", {}), SURVIVED], ("run_out", {"reason": "all_levels"})])
        comparison = self.api.get(f"runs/{run.pk}/comparison")
        self.assertEqual([row["team"]["name"] for row in comparison["ranked"]], ["Rail", "Tern", "Auk"])
        self.assertEqual(comparison["ranked"][1]["score"]["interval"], {"low": 2.0, "high": 3.0})
        self.assertTrue(comparison["ranked"][0]["score"]["at_least"])
        self.assertIn("Tern: tested on an isolating layer, most others fixed to the base.",
                      [difference["says"] for difference in comparison["differences"]])  # fmt: skip
        rows = self.results(run)
        self.assertEqual((rows["Tern"]["survived_low"], rows["Tern"]["survived_high"]), ("2.0", "3.0"))
        self.assertEqual((rows["Rail"]["survived_high"], rows["Rail"]["held_kg"]), ("", ""))
        self.assertEqual(rows["Tern"]["arrangement"], "On an isolating layer")

    def test_drops(self) -> None:
        run = self.run_of("boathouse-drop")
        tern, auk, _ = self.designs(run)
        apart = ("measure", {"key": "apart", "text": "2", "resolution": "1"})
        self.play(tern, [*3 * [("round", {}), SURVIVED], ("round", {}), apart, ("fail", {"mode": "roof"})])
        self.play(auk, [("round", {}), ("fail", {"mode": "joint"})])
        comparison = self.api.get(f"runs/{run.pk}/comparison")
        first, step = run.setup["first_drop_m"], run.setup["drop_step_m"]
        self.assertAlmostEqual(comparison["ranked"][0]["score"]["interval"]["low"], first + 2 * step)
        self.assertAlmostEqual(comparison["ranked"][0]["score"]["interval"]["high"], first + 3 * step)
        self.assertEqual(comparison["ranked"][1]["score"]["value"], 0)
        self.assertEqual(self.results(run)["Tern"]["measured_at_bench"], "apart 2")

    def test_an_attack_is_scored_for_both_sides(self) -> None:
        run = self.run_of("storm-wall")
        (tern, *_) = self.designs(run)
        before = tern.quantities()["pieces"].value
        throws = [("round", {"hit": n % 2 == 0}) for n in range(round(run.setup["throws"]))]
        left = ("measure", {"key": "left", "text": f"{before - 2:g}", "resolution": "1"})
        state = self.play(tern, [*throws, left, ("finish", {})])
        self.assertEqual((state["result"]["outcome"], state["result"]["hits"]), ("done", (len(throws) + 1) // 2))
        (ranked,) = self.api.get(f"runs/{run.pk}/comparison")["ranked"]
        self.assertAlmostEqual(ranked["score"]["value"], (before - 2) / before)
        bays = {bay["key"]: bay["note"] for bay in self.api.get(f"runs/{run.pk}")["deck"]}
        self.assertEqual(bays["bench"], "1 of 3")
        listed = next(listed for listed in self.api.get("runs") if listed["id"] == run.pk)
        self.assertEqual(listed["tested"], 1)

    def test_a_mast_stands_and_is_measured(self) -> None:
        run = self.run_of("leading-light-mast")
        tern, auk, _ = self.designs(run)
        height = ("measure", {"key": "height", "text": "81 cm", "zero": "1 cm", "resolution": "1 mm"})
        self.play(tern, [("round", {}), SURVIVED, height, ("finish", {})])
        self.play(auk, [("round", {}), ("fail", {"mode": "toppled"})])
        comparison = self.api.get(f"runs/{run.pk}/comparison")
        self.assertEqual([row["words"] for row in comparison["ranked"]], ["800 mm"])
        self.assertIn("fell", {row["code"] for row in comparison["unranked"]})

    def test_a_trial_begins_in_the_readers_units(self) -> None:
        self.api.send("PATCH", "session", {"units": "us"})
        for key in ("boathouse-drop", "storm-wall"):
            with self.subTest(key):
                (tern, *_) = self.designs(self.run_of(key))
                body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4())}
                begun = self.api.send("POST", f"designs/{tern.pk}/trials", body)
                self.assertEqual(begun, self.api.get(f"trials/{body['id']}"))
                taken = self.api.send("POST", f"trials/{body['id']}/take-over", {"bench": str(uuid.uuid4())})
                self.assertEqual(taken["round_plan"], begun["round_plan"])


class Rehearsals(TestCase):
    def setUp(self) -> None:
        ada = teacher()
        self.api = Api(ada)
        self.run_ = run(ada)
        self.design = self.run_.designs.all()[0]

    def rehearse(self) -> tuple[str, dict[str, Any]]:
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "rehearsal": True}
        state = self.api.send("POST", f"designs/{self.design.pk}/trials", body)
        n, outcome = 0, "running"
        while outcome == "running":
            nothing = state["rehearsal"]["broke"]
            place = {"item": "platform" if n == 0 else "nut", "count": 1}
            step = ("fail", {"mode": state["rehearsal"]["mode"]}) if nothing else ("place", place)
            n += 1
            event = {"id": str(uuid.uuid4()), "sequence": n, "kind": step[0], "data": step[1],
                     "happened_at": "2026-12-01T10:00:00Z"}  # fmt: skip
            answer = self.api.send("POST", f"trials/{body['id']}/events", {"bench": body["bench"], "events": [event]})
            state = answer["state"]
            outcome = "out" if answer["refused"] else state["result"]["outcome"]
        return str(body["id"]), state

    def test_it_is_no_result_and_leaves_no_trace_in_any(self) -> None:
        before = self.api.get(f"runs/{self.run_.pk}")
        trial, state = self.rehearse()
        self.assertTrue(LedgerEvent.objects.filter(trial_id=trial).exists())
        self.assertIsNotNone(state["rehearsal"])
        after = self.api.get(f"runs/{self.run_.pk}")
        for answer in (before, after):
            answer.pop("clock")
        self.assertEqual(after, before)
        self.assertEqual(self.api.get(f"runs/{self.run_.pk}/comparison")["ranked"], [])
        self.assertNotIn(trial, self.api.call("GET", f"runs/{self.run_.pk}/ledger.csv")[1].content.decode())
        self.assertEqual(self.api.get("runs")[0]["tested"], 0)
        # The prediction is still free, and the first real trial is number 1.
        self.api.send("POST", f"designs/{self.design.pk}/prediction", {"text": "1 kg"})
        self.assertEqual(Ledger(self.api, checked_in(self.design)).state["number"], 1)

    def test_it_can_be_had_before_check_in_and_over_and_over(self) -> None:
        self.rehearse()
        self.rehearse()
        self.assertEqual(Trial.objects.count(), 0)
        self.assertEqual(Trial.with_rehearsals.count(), 2)


class Lesson(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada, teams=("Tern", "Auk", "Rail"))
        self.ids = [design.pk for design in self.run_.designs.all()]

    def put(self, path: str, body: dict[str, Any]) -> dict[str, Any]:
        return dict(self.api.send("PUT", f"runs/{self.run_.pk}/{path}", body))

    def test_the_order_can_be_set(self) -> None:
        self.assertEqual(self.api.get(f"runs/{self.run_.pk}")["queue"], self.ids)
        turned = [self.ids[2], self.ids[0], self.ids[1]]
        self.assertEqual(self.put("queue", {"order": turned})["queue"], turned)
        status, answer = self.api.refused("PUT", f"runs/{self.run_.pk}/queue", {"order": self.ids[:2]})
        self.assertEqual((status, answer["code"]), (400, "unknown_design"))

    def test_the_last_of_last_time_is_first(self) -> None:
        for design in self.run_.designs.all():
            Ledger(self.api, checked_in(design))
        later = designing.open_run(self.run_.recipe, self.run_.school_class, date(2026, 12, 8))  # type: ignore[arg-type]
        self.api.send("PUT", f"runs/{later.pk}/queue", {"fair": True})
        queue = self.api.get(f"runs/{later.pk}")["queue"]
        names = {design.pk: design.team.name for design in later.designs.select_related("team")}
        self.assertEqual([names[pk] for pk in queue], ["Rail", "Auk", "Tern"])

    def test_minutes_left_and_who_still_fits(self) -> None:
        state = self.put("bench-end", {"minutes": 5})
        self.assertAlmostEqual(state["bench_left_s"], 300, delta=5)
        self.assertEqual(state["bench_fit"]["waiting"], 3)
        self.assertLess(state["bench_fit"]["fit"], 3)
        self.assertTrue(state["bench_fit"]["gives"])
        self.assertIsNone(self.put("bench-end", {"minutes": None})["bench_fit"])
        self.assertEqual(self.api.refused("PUT", f"runs/{self.run_.pk}/bench-end", {"minutes": -4})[1]["code"],
                         "bad_minutes")  # fmt: skip

    def test_lengths_counted_in_cubes(self) -> None:
        state = self.put("young", {"young": True, "unit": "Cube", "size": "20 mm"})
        self.assertEqual(state["run"]["counted_unit"], {"name": "cube", "text": "20 mm", "size_m": 0.02})
        body = {"key": "gap", "text": "15 cubes", "resolution_text": "1 cube"}
        (reading,) = self.api.send("POST", f"designs/{self.ids[0]}/readings", body)["readings"]
        self.assertAlmostEqual(reading["value_si"], 0.3)
        # Half a cube either way, evenly: 20 mm over the root of twelve.
        self.assertAlmostEqual(reading["standard_uncertainty_si"], 0.02 / 12**0.5)
        for bad in ({"unit": "cm", "size": "1 cm"}, {"unit": "cube", "size": "20"}, {"unit": "cube", "size": "3 m"},
                    {"unit": "c2", "size": "2 cm"}):  # fmt: skip
            answer = self.api.refused("PUT", f"runs/{self.run_.pk}/young", {"young": True, **bad})[1]
            self.assertEqual(answer["code"], "bad_unit", bad)

    def test_the_youngest_begin_in_young_class_mode(self) -> None:
        self.assertFalse(self.run_.young)
        small = run(teacher("Bea"), age_band="5-7")
        self.assertTrue(small.young)

    def test_repeats_count_together(self) -> None:
        for text, again in (("30.0 cm", False), ("30.4 cm", True), ("30.2 cm", True)):
            body = {"key": "gap", "text": text, "resolution_text": "1 mm", "again": again}
            design = self.api.send("POST", f"designs/{self.ids[0]}/readings", body)
        (reading,) = design["readings"]
        self.assertAlmostEqual(reading["value_si"], 0.302)
        # Standard error of 300, 304, 302 mm: 2 mm over the root of three; with 1 mm / root 12 of the tape.
        self.assertAlmostEqual(reading["standard_uncertainty_si"], (2e-3**2 / 3 + 1e-3**2 / 12) ** 0.5)
        self.assertEqual([repeat["text"] for repeat in reading["repeats"]], ["30.0 cm", "30.4 cm"])
        self.assertAlmostEqual(reading["spread_si"], 0.004)
        # One that is not a repeat stands alone again.
        body = {"key": "gap", "text": "31 cm", "resolution_text": "1 mm"}
        (fresh,) = self.api.send("POST", f"designs/{self.ids[0]}/readings", body)["readings"]
        self.assertEqual((fresh["value_si"], fresh["repeats"]), (0.31, []))


class Controls(TestCase):
    def test_what_was_not_kept_is_named_when_compared(self) -> None:
        ada = teacher()
        api, made = Api(ada), run(ada, controls=["the same card", "loaded in the middle"])
        ledger = Ledger(api, checked_in(made.designs.all()[0]))
        ledger.hold("platform")
        ledger.add("fail", mode="crimp")
        path = f"designs/{made.designs.all()[0].pk}/controls"
        self.assertEqual(api.send("PUT", path, {"broken": ["the same card"]})["controls_broken"], ["the same card"])
        comparison = [difference["says"] for difference in api.get(f"runs/{made.pk}/comparison")["differences"]]
        self.assertIn("Tern: not kept as agreed: the same card.", comparison)
        self.assertEqual(api.refused("PUT", path, {"broken": ["the weather"]})[1]["code"], "unknown_control")
        self.assertEqual(api.send("PUT", path, {"broken": []})["controls_broken"], [])


class Clocks(TestCase):
    def test_a_tablet_whose_clock_is_hours_off(self) -> None:
        ada = teacher()
        ledger = Ledger(Api(ada), checked_in(run(ada).designs.all()[0]))
        wrong = timezone.now() - timedelta(hours=7)
        event = {**ledger.event("place", item="platform", count=1), "happened_at": (wrong - timedelta(seconds=20))}
        body = {"bench": ledger.bench, "events": [event], "sent_at": wrong}
        Api(ada).send("POST", f"trials/{ledger.id}/events", body)
        kept = LedgerEvent.objects.get()
        self.assertAlmostEqual((timezone.now() - kept.happened_at).total_seconds(), 20, delta=5)

    def test_a_clock_that_agrees_is_left_alone(self) -> None:
        ada = teacher()
        ledger = Ledger(Api(ada), checked_in(run(ada).designs.all()[0]))
        moment = datetime(2026, 11, 3, 10, tzinfo=UTC)
        event = {**ledger.event("place", item="platform", count=1), "happened_at": moment}
        Api(ada).send("POST", f"trials/{ledger.id}/events",
                      {"bench": ledger.bench, "events": [event], "sent_at": timezone.now()})  # fmt: skip
        self.assertEqual(LedgerEvent.objects.get().happened_at, moment)


class Piles(TestCase):
    def test_a_pile_that_disagrees_is_explained(self) -> None:
        ada = teacher()
        ledger = Ledger(Api(ada), checked_in(run(ada).designs.all()[0]))
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.add("run_out", reason="no_more_load", confirmed=True)
        # 40 g and ten nuts of 15 g were counted; 175 g are one nut less.
        state = ledger.add("pile_reading", mass="175 g", resolution="1 g", covers="all")["state"]
        self.assertEqual((state["pile"]["agrees"], state["pile"]["suspect"]), (False, "count"))
        self.assertIn("1 × nut", state["pile"]["sentence"])


class AsTheBenchShowsIt(TestCase):
    def test_the_ratio_goes_by_the_mean_of_repeats(self) -> None:
        ada = teacher()
        api, design = Api(ada), run(ada).designs.all()[0]
        checked_in(design, own_weight="30 g")
        designing.take_reading(design, "self_mass", TypedReading("34 g", "0.1 g"), False, again=True)
        ledger = Ledger(api, design)
        shown = ledger.hold("platform")["state"]
        self.assertAlmostEqual(shown["self_mass"]["value"], 0.032)
        self.assertAlmostEqual(shown["ratio"]["value"], 0.040 / 0.032)
        ledger.add("fail", mode="crimp")
        (row,) = api.get(f"runs/{design.run_id}/comparison?school=strength_to_weight")["ranked"]
        self.assertAlmostEqual(row["score"]["value"], shown["ratio"]["value"])

    def test_where_cargo_sits_and_items_lie(self) -> None:
        ada = teacher()
        api, knot = Api(ada), school_class(ada)
        boats, tables = (
            designing.open_run(take(ada, slug), knot, date(2026, 12, 1))
            for slug in ("clay-lighters", "fish-market-table")
        )
        boat = boats.designs.all()[0]
        for key, text in {"length": "12 cm", "width": "11 cm", "wall": "20 mm"}.items():
            designing.take_reading(boat, key, TypedReading(text, "1 mm"), True)
        designing.answer(boat, {q.key: q.good for q in boats.core_family().questions})
        ledger = Ledger(api, designing.check_in(boat))
        item = boats.core_kit().items[0].key
        self.assertIsNone(ledger.state["cargo"])
        near = ledger.add("place", item=item, count=3, seat="mc")["state"]["cargo"]
        self.assertEqual(near, {"forward": 0, "starboard": 0, "off_centre": False})
        self.assertTrue(ledger.add("place", item=item, count=3, seat="fs")["state"]["cargo"]["off_centre"])
        table = tables.designs.all()[0]
        self.assertEqual(api.get(f"runs/{tables.pk}")["designs"][0]["deck_places"], [])
        for key, text in {"length": "28 cm", "width": "21 cm"}.items():
            designing.take_reading(table, key, TypedReading(text, "1 mm"), True)
        across = tables.core_kit().items[0].diameter_m
        places = api.get(f"runs/{tables.pk}")["designs"][0]["deck_places"]
        self.assertEqual(len(places), int(0.28 / across + 1e-9) * int(0.21 / across + 1e-9))
