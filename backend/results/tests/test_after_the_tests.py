"""Why a run came out so, what versions gained, what teams answer, and the rubric; all through the API."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.test import TestCase

import challenges.models
from bench import remembered
from designs.models import Design
from designs.services import open_run
from girder_core.results import PROPOSED
from people.models import Teacher
from people.services import add_class, add_team
from people.tests.support import Api, Ledger, checked_in, run, teacher

FACTOR = {"name": "layers", "levels": ["one", "two"]}


class Run(TestCase):
    """Four teams, two of each level, one of them tested twice; a nut weighs 15 g, the tray 40 g."""

    ada: Teacher
    run_: challenges.models.Run
    designs: dict[str, Design]

    @classmethod
    def setUpTestData(cls) -> None:
        cls.ada = teacher()
        cls.run_ = run(cls.ada, teams=("Tern", "Auk", "Rail", "Skua"), school="most_held", factor=FACTOR)
        cls.designs = {design.team.name: checked_in(design, weight) for design, weight in zip(
            cls.run_.designs.select_related("team"), ("30 g", "41 g", "31 g", "42 g"), strict=True)}  # fmt: skip

    def setUp(self) -> None:
        self.api = Api(self.ada)

    def at_bench(self, team: str | Design, nuts: int, end: str = "fail", mode: str = "snap") -> None:
        design = self.designs[team] if isinstance(team, str) else team
        ledger = Ledger(self.api, design)
        ledger.hold("platform")
        ledger.hold("nut", nuts)
        if end == "fail":
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode=mode)
        else:
            ledger.add("run_out", reason="no_more_load", confirmed=True)

    def reasons(self, query: str = "") -> Any:
        return self.api.get(f"runs/{self.run_.pk}/reasons{query}")

    def card(self, design: int) -> Any:
        cards = self.api.get(f"runs/{self.run_.pk}")["designs"]
        return next(card for card in cards if card["id"] == design)


class Why(Run):
    def test_the_factor_its_levels_and_what_went_along(self) -> None:
        levels = {name: design.level for name, design in self.designs.items()}
        for name, nuts in (("Tern", 10), ("Auk", 30), ("Rail", 11), ("Skua", 32)):
            self.at_bench(name, nuts if levels[name] == levels["Tern"] or nuts >= 30 else 12)
        answer = self.reasons()
        self.assertEqual(answer["factor_name"], "layers")
        self.assertEqual([len(level["members"]) for level in answer["factor"]["levels"]], [2, 2])
        means = [level["mean"]["mean"] for level in answer["factor"]["levels"]]
        held = {name: 0.040 + 0.015 * nuts for name, nuts in (("Tern", 10), ("Auk", 30), ("Rail", 11), ("Skua", 32))}
        for level, mean in zip(FACTOR["levels"], means, strict=True):
            own = [held[name] for name, reached in levels.items() if reached == level]
            self.assertAlmostEqual(mean, sum(own) / 2)
        self.assertIn("Own weight", " ".join(answer["factor"]["confounders"]))
        self.assertEqual(answer["ways"][0]["count"], 4)
        own_weight = next(choice for choice in answer["chosen"] if choice["key"] == "self_mass")
        self.assertEqual(len(own_weight["points"]), 4)

    def test_predictions_repeats_and_a_fitted_curve(self) -> None:
        self.api.send("POST", f"designs/{self.designs['Tern'].pk}/prediction", {"text": "400 g"})
        for name, nuts in (("Tern", 10), ("Tern", 12), ("Auk", 30), ("Rail", 20)):
            self.at_bench(name, nuts)
        self.at_bench("Skua", 40, end="run_out")
        answer = self.reasons()
        # 40 g and twelve nuts of 15 g are 220 g: 400 g was far too much.
        (said,) = answer["teams"]
        self.assertEqual((said["verdict"], round(said["error"], 3)), ("too_high", round(400 / 220 - 1, 3)))
        (tern,) = answer["repeated"]
        self.assertEqual([round(mark["value"], 3) for mark in tern["marks"]], [0.19, 0.22])
        self.assertAlmostEqual(tern["mean"]["mean"], 0.205)
        self.assertEqual((answer["fit"]["n"], answer["fit"]["ran_out"]), (4, 1))
        self.assertEqual(len(answer["survival"]), 3)
        self.assertIn("1 ran out of load", answer["fit_says"])
        by_ratio = self.reasons("?school=strength_to_weight")["repeated"][0]["marks"][0]["value"]
        self.assertAlmostEqual(by_ratio, 0.19 / 0.030)

    def test_with_one_design_all_run_outs_and_nothing(self) -> None:
        nothing = self.reasons()
        self.assertEqual((nothing["ways"], nothing["fit"], nothing["factor"]["sure"]), ([], None, "cannot_say"))
        self.at_bench("Tern", 10)
        self.assertIn("Only “", self.reasons()["factor"]["says"])
        other = run(teacher("Bea"))
        bea = Api(other.school_class.owner)
        for design in other.designs.all():
            ledger = Ledger(bea, checked_in(design))
            ledger.hold("platform")
            ledger.add("run_out", reason="no_more_load", confirmed=True)
        answer = bea.get(f"runs/{other.pk}/reasons")
        self.assertIn("All ran out of load", answer["fit_says"])
        self.assertIsNone(answer["factor"])

    def test_what_to_test_again(self) -> None:
        self.at_bench("Tern", 20)
        self.at_bench("Auk", 18, end="run_out")
        comparison = self.api.get(f"runs/{self.run_.pk}/comparison")
        self.assertIn("Auk ran out of load", comparison["retests"][0])
        self.assertIn("30 g more", comparison["retests"][0])

    def test_the_number_of_queries_does_not_grow(self) -> None:
        self.at_bench("Tern", 10)
        remembered._KNOWN.clear()
        with self.assertNumQueries(11):
            self.reasons()
        for name in ("Auk", "Rail", "Skua"):
            self.at_bench(name, 12)
        with self.assertNumQueries(11):
            self.reasons()


class NextVersions(Run):
    def second(self, team: str, changed: str, nuts: int) -> int:
        made = self.api.send("POST", f"designs/{self.designs[team].pk}/next-version", {"changed": changed})
        self.at_bench(checked_in(Design.objects.get(pk=made["id"])), nuts)
        return int(made["id"])

    def test_gain_class_gain_and_changes(self) -> None:
        for name in ("Tern", "Auk", "Rail"):
            self.at_bench(name, 10)
        self.at_bench("Rail", 11)
        better = self.second("Tern", "deeper pleats and more tape", 24)
        self.second("Auk", "a second layer", 23)
        card = self.card(better)
        # 40 g and 24 nuts over 40 g and 10: 400 over 190.
        self.assertAlmostEqual(card["gain"]["value"], 400 / 190 - 1)
        # Twice as much, from one trial each: likely, and not clear.
        self.assertEqual(card["gain"]["kind"], "likely")
        self.assertEqual(card["changes"], ["deeper pleats", "more tape"])
        overall = self.api.get(f"runs/{self.run_.pk}")["class_gain"]
        self.assertEqual((overall["n"], overall["improved"], overall["kind"]), (2, 2, "clear"))
        self.assertAlmostEqual(overall["typical"], (400 / 190 * 385 / 190) ** 0.5 - 1)

    def test_hints_can_be_hidden(self) -> None:
        path = f"runs/{self.run_.pk}"
        self.assertFalse(self.api.get(path)["run"]["hints_hidden"])
        self.api.send("PUT", f"{path}/hints", {"hidden": True})
        self.assertTrue(self.api.get(path)["run"]["hints_hidden"])


class Answers(Run):
    def test_written_changed_and_taken_back(self) -> None:
        tern, question = self.designs["Tern"], self.run_.core_family().reflect[0]
        path = f"designs/{tern.pk}/reflection"
        self.api.send("PUT", path, {"question": question, "text": "The fold at midspan."})
        self.api.send("PUT", path, {"question": question, "text": "The fold, it crimped."})
        self.assertEqual(
            [reflection["text"] for reflection in self.card(tern.pk)["reflections"]], ["The fold, it crimped."]
        )
        self.assertEqual(self.api.send("PUT", path, {"question": question, "text": " "}), [])
        status, answer = self.api.refused("PUT", path, {"question": "Who won?", "text": "we"})
        self.assertEqual((status, answer["code"]), (400, "unknown_question"))


class Rubrics(Run):
    def rubric(self) -> Any:
        return self.api.get(f"runs/{self.run_.pk}/rubric")

    def row(self, team: str) -> Any:
        return next(row for row in self.rubric()["teams"] if row["team"]["name"] == team)

    def test_from_results_and_by_hand(self) -> None:
        begin = self.rubric()
        self.assertEqual((begin["criteria"], len(begin["proposed"])), ([], len(PROPOSED)))
        self.api.send("PUT", f"runs/{self.run_.pk}/rubric", {"criteria": begin["proposed"]})
        self.at_bench("Tern", 20)
        self.at_bench("Auk", 6)
        # No target: the best held 340 g, Auk 130 g, which is 38 %: the second of four levels.
        self.assertEqual(self.row("Tern")["levels"]["works"], {"level": 3, "by_hand": False})
        self.assertEqual(self.row("Auk")["levels"]["works"]["level"], 1)
        self.assertEqual(self.row("Rail")["levels"]["works"]["level"], None)
        auk = self.designs["Auk"].pk
        self.api.send("PUT", f"designs/{auk}/rubric", {"criterion": "works", "level": 2})
        self.api.send("PUT", f"designs/{auk}/rubric", {"criterion": "explains", "level": 3})
        row = self.row("Auk")
        self.assertEqual(row["levels"]["works"], {"level": 2, "by_hand": True})
        # works 2 of 3 at 2, improves 0 at 2, foresees 0 at 1, records 1 of 3 at 1 (two of five things), explains all.
        self.assertAlmostEqual(row["points"], 100 * (2 * 2 / 3 + 1 / 3 + 2) / 8)
        self.api.send("PUT", f"designs/{auk}/rubric", {"criterion": "works", "level": None})
        self.assertFalse(self.row("Auk")["levels"]["works"]["by_hand"])

    def test_a_rubric_can_begin_from_the_last_one(self) -> None:
        mine = {"name": "Neat work", "source": "hand", "levels": ["no", "yes"], "weight": 1}
        self.assertEqual((self.rubric()["last"], self.rubric()["last_from"]), ([], ""))
        assert self.run_.recipe is not None
        reef = add_class(self.run_.school_class.owner, "8 Reef")
        add_team(reef, "Tern")
        other = open_run(self.run_.recipe, reef, date(2026, 10, 1))
        stranger = run(teacher("Bea"))
        for own_run, name, api in ((other, "Neat", self.api), (stranger, "Loud", Api(stranger.school_class.owner))):
            api.send("PUT", f"runs/{own_run.pk}/rubric", {"criteria": [{**mine, "name": name}]})
        marks = self.rubric()
        # Somebody else's is nobody's business here.
        self.assertEqual([row["name"] for row in marks["last"]], ["Neat"])
        self.assertEqual(marks["last_from"], f"{other.name}, 8 Reef")
        self.api.send("PUT", f"runs/{self.run_.pk}/rubric", {"criteria": marks["last"]})
        self.assertEqual(self.rubric()["last"], [])

    def test_a_rubric_is_changed_and_refused_in_words(self) -> None:
        path = f"runs/{self.run_.pk}/rubric"
        line = {"name": "Neat work", "source": "hand", "levels": ["no", "partly", "yes"], "weight": 1}
        made = self.api.send("PUT", path, {"criteria": [line]})["criteria"]
        self.assertEqual(made[0]["key"], "neat-work")
        tern = self.designs["Tern"].pk
        self.api.send("PUT", f"designs/{tern}/rubric", {"criterion": "neat-work", "level": 2})
        # With two levels left, the third says nothing any more.
        self.api.send("PUT", path, {"criteria": [{**made[0], "levels": ["no", "yes"]}]})
        self.assertEqual(self.row("Tern")["levels"]["neat-work"]["level"], None)
        for body, code in (
            ([line, line], "criterion_twice"), ([{**line, "weight": 0}], "weights_sum_to_zero"),
            ([{**line, "levels": ["one", " "]}], "invalid"), ([{**line, "levels": ["one"]}], "invalid"),
        ):  # fmt: skip
            status, answer = self.api.refused("PUT", path, {"criteria": body})
            self.assertEqual((status, answer["code"]), (400, code), answer)
        for criterion, level, code in (("manners", 1, "unknown_criterion"), ("neat-work", 4, "level_unknown")):
            status, answer = self.api.refused("PUT", f"designs/{tern}/rubric",
                                              {"criterion": criterion, "level": level})  # fmt: skip
            self.assertEqual((status, answer["code"]), (400, code))
        self.assertEqual(self.api.send("PUT", path, {"criteria": []})["criteria"], [])
