"""Every kind of challenge from a shipped recipe to a ranking, through the API: check-in, test, comparison, exports."""

from __future__ import annotations

import csv
import io
import uuid
from datetime import UTC, date, datetime
from typing import Any

from django.test import TestCase

from bench import services as bench
from challenges.library import shipped, take
from challenges.models import Run
from designs import services as designing
from designs.models import Design
from girder_core.families import FAMILIES, Family, ReadingSpec, Status
from girder_core.measure import Kind, TypedReading, typed_text
from girder_core.results import School
from people.tests.support import Api, school_class, teacher

TEN = datetime(2026, 12, 1, 10, tzinfo=UTC)
STEPS = {Kind.LENGTH: "1 mm", Kind.MASS: "0.1 g", Kind.COUNT: "1", Kind.TIME: "1 s", Kind.FREQUENCY: "0.1 Hz"}


def good_reading(family: Family, spec: ReadingSpec, setup: dict[str, Any]) -> float:
    """A plausible value that keeps every limit of the recipe, and does all that it asks for."""
    if spec.key == family.outcome.achieved:
        return float(setup[family.outcome.asked])
    bounds = [(limit.at_least, setup[limit.field]) for limit in family.limits if limit.reading == spec.key]
    plausible = family.plausible(spec, setup)
    low = max([plausible.low, *(v for least, v in bounds if least and v is not None)])
    high = min([plausible.high, *(v for least, v in bounds if not least and v is not None)])
    value = low + 0.3 * (min(high, 4 * low + 4 * (spec.kind is Kind.COUNT)) - low)
    return float(round(value)) if spec.kind is Kind.COUNT else float(f"{value:.3g}")


class FromRecipeToRanking(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = school_class(self.ada, teams=("Tern", "Auk", "Rail"))

    def run_of(self, slug: str) -> Run:
        return designing.open_run(take(self.ada, slug), self.knot, date(2026, 12, 1))

    def check_in(self, design: Design, factor: float = 1.0) -> None:
        """Check a design in; ``factor`` makes the reading that is ranked larger."""
        family, setup = design.run.core_family(), design.run.setup
        for spec in (spec for spec in family.readings if spec.needed):
            value = good_reading(family, spec, setup)
            if spec.key in family.result_readings[-1:] and spec.kind is not Kind.COUNT:
                value *= factor
            designing.take_reading(design, spec.key, TypedReading(typed_text(value, spec.kind), STEPS[spec.kind]), True)
        designing.answer(design, {question.key: question.good for question in family.questions})
        designing.check_in(design)

    def load(self, design: Design, steps: int) -> None:
        """Hold so many single pieces, then break on one more."""
        run = design.run
        kit, device = run.core_kit(), uuid.uuid4()
        trial = bench.start_trial(design, uuid.uuid4(), device)
        single = [item for item in kit.items if item.key != "platform" and item.roll_of == 1]
        singles = sorted(single, key=lambda item: item.order)
        entries: list[tuple[str, dict[str, Any]]] = []
        if kit.has_platform():
            entries += [("place", {"item": "platform", "count": 1}), ("settle", {"waited_s": 99})]
        for i in range(steps + 1):
            item = singles[i] if singles[0].order else singles[0]
            entries.append(("place", {"item": item.key, "count": 1}))
            entries.append(("settle", {"waited_s": 99}) if i < steps else ("fail", {"mode": self.mode(run)}))
        events = [
            {"id": uuid.uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": TEN}
            for n, (kind, data) in enumerate(entries, start=1)
        ]
        done = bench.append_events(trial, device, events)
        self.assertIsNone(done.refused)

    def mode(self, run: Run) -> str:
        return run.core_family().failure_modes[0].key

    def test_each_kind_is_checked_in_tested_and_ranked(self) -> None:
        for recipe in shipped():
            with self.subTest(recipe.slug):
                run = self.run_of(recipe.slug)
                family = run.core_family()
                designs = list(run.designs.select_related("run", "team"))
                for place, design in enumerate(designs):
                    self.check_in(design, 1 + 0.1 * place)
                    broken = [rule.sentence for rule in design.constraints() if rule.status is Status.BREACHED]
                    self.assertEqual(broken, [])
                    if family.loaded:
                        self.load(design, 3 + 3 * place)
                comparison = self.api.get(f"runs/{run.pk}/comparison")
                self.assertEqual(len(comparison["ranked"]), 3, comparison["unranked"])
                if family.loaded and run.school == School.MOST_HELD:
                    self.assertEqual(comparison["ranked"][0]["team"]["name"], designs[-1].team.name)
                self.assertTrue(all(row["words"] for row in comparison["ranked"]))
                years = self.api.get(f"runs/{run.pk}/history")
                self.assertEqual([year["designs"] for year in years["runs"]], [3])
                self.assertTrue(years["runs"][0]["best"])
                self.assertIn(" 3 designs", years["says"])
                self.assertEqual(self.bay(run, "check-in"), "3 of 3")
                self.assertEqual(self.bay(run, "bench"), "3 of 3")

    def bay(self, run: Run, key: str) -> str:
        notes = {bay["key"]: bay["note"] for bay in self.api.get(f"runs/{run.pk}")["deck"]}
        return str(notes[key])

    def test_every_school_that_is_offered_can_be_looked_at(self) -> None:
        for recipe in shipped():
            run = self.run_of(recipe.slug)
            for place, design in enumerate(run.designs.select_related("run", "team")):
                self.check_in(design, 1 + 0.1 * place)
                if run.core_family().loaded:
                    self.load(design, 4 + place)
            for choice in run.core_family().schools:
                with self.subTest(recipe.slug, school=choice.school):
                    comparison = self.api.get(f"runs/{run.pk}/comparison?school={choice.school}")
                    if choice.school is School.TALLEST and run.core_family().loaded and run.setup.get("target_kg"):
                        # The longest counts among those that hold the target, and these few pieces are less.
                        self.assertEqual({row["code"] for row in comparison["unranked"]}, {"below_minimum"})
                        continue
                    self.assertEqual(len(comparison["ranked"]), 3, comparison["unranked"])
                    values = [row["score"]["value"] for row in comparison["ranked"]]
                    self.assertEqual(values, sorted(values, reverse=True))
                    # Each result says how it came about, in the same words.
                    for row in comparison["ranked"][:1]:
                        asked = f"why?figure=result&of={row['design']}&school={choice.school}"
                        why = self.api.get(f"runs/{run.pk}/{asked}")
                        self.assertEqual(why["value"], row["words"])
                        self.assertTrue(why["inputs"] or why["how"], why)

    def test_results_name_the_readings_of_the_family(self) -> None:
        for slug, columns in (
            ("storm-wall", {"length_m", "height_m", "pieces", "left"}),
            ("boathouse-drop", {"panels", "survived_m", "apart"}),
            ("capstan-ring", {"supports", "circle_m", "inner_m", "self_mass_kg"}),
        ):
            run = self.run_of(slug)
            self.check_in(run.designs.select_related("run", "team")[0])
            text = self.api.call("GET", f"runs/{run.pk}/results.csv")[1].content.decode("utf-8-sig")
            rows = list(csv.DictReader(io.StringIO(text)))
            self.assertTrue(columns <= set(rows[0]), slug)
            self.assertTrue(all(rows[0][column] for column in columns), rows[0])

    def test_a_table_counts_pieces_and_not_grams(self) -> None:
        run = self.run_of("fish-market-table")
        for design, pieces in zip(run.designs.select_related("run", "team"), (5, 9, 7), strict=True):
            self.check_in(design)
            self.load(design, pieces)
        comparison = self.api.get(f"runs/{run.pk}/comparison")
        self.assertEqual([row["words"] for row in comparison["ranked"]], ["9 pieces", "7 pieces", "5 pieces"])
        self.assertEqual(comparison["ranked"][0]["score"]["interval"], {"low": 9.0, "high": 10.0})
        self.assertIn("took 9 pieces", comparison["explanation"])

    def test_a_stool_passes_with_its_margin(self) -> None:
        # The working load of 9 kg with a margin of 2: 18 kg. Bricks of 1.184 kg: 16 are 18.9 kg, 15 are 17.8 kg.
        run = self.run_of("harbour-stool")
        for design, bricks in zip(run.designs.select_related("run", "team"), (16, 15, 20), strict=True):
            self.check_in(design)
            self.load(design, bricks)
        held = {
            row["team"]["name"]: row["score"]["value"] for row in self.api.get(f"runs/{run.pk}/comparison")["ranked"]
        }
        self.assertAlmostEqual(held["Tern"], 16 * 1.184 / 18)
        self.assertGreater(held["Tern"], 1)
        self.assertLess(held["Auk"], 1)

    def test_a_mix_shows_what_each_share_earned(self) -> None:
        run = self.run_of("net-loft-columns")
        for design, tiles in zip(run.designs.select_related("run", "team"), (4, 6, 8), strict=True):
            self.check_in(design)
            self.load(design, tiles)
        comparison = self.api.get(f"runs/{run.pk}/comparison?school=mix")
        best = comparison["ranked"][0]
        # The heaviest load and, all own weights being equal, the best ratio too.
        self.assertAlmostEqual(best["score"]["value"], 100)
        self.assertEqual({k: round(v) for k, v in best["score"]["shares"].items()},
                         {"most_held": 60, "strength_to_weight": 40})  # fmt: skip
        self.assertEqual(best["words"], "100 of 100 points")

    def test_the_kit_list_follows_the_class(self) -> None:
        run = self.run_of("slip-gangway")
        before = {line["name"]: line["needed"] for line in self.api.get(f"runs/{run.pk}/plan")["kit_list"]}
        for name in ("Coot", "Swan", "Loon"):
            self.api.send("POST", f"classes/{self.knot.pk}/teams", {"name": name})
        after = {line["name"]: line["needed"] for line in self.api.get(f"runs/{run.pk}/plan")["kit_list"]}
        # Three more teams: six more sheets of card and one more spare; three more scissors.
        card = next(name for name in after if name.startswith("manila"))
        self.assertEqual((before[card], after[card]), (7, 14))
        self.assertEqual(after["scissors"] - before["scissors"], 3)

    def test_sheets_speak_the_teacher_s_units(self) -> None:
        self.api.send("PATCH", "session", {"units": "us"})
        for key, family in FAMILIES.items():
            asked = {"family": key, "age_band": "11-13", "minutes": 50, "teams": 6}
            sheet = self.api.send("POST", "plans", asked)
            self.assertEqual(sheet["problems"], {}, key)
            for spec in family.setup:
                text = sheet["entry"]["setup"][spec.key]
                if spec.kind is Kind.LENGTH and text:
                    self.assertTrue(text.endswith(" in"), (key, text))
                if spec.kind is Kind.MASS and text:
                    self.assertTrue(text.endswith((" lb", " oz")), (key, text))
