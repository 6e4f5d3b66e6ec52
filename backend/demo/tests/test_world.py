import json

from django.test import TestCase, tag

from bench.models import LedgerEvent
from challenges.models import Run
from demo.build import load
from girder_core.families import FAMILIES
from girder_core.measure import System
from people.accounts import sign_up
from people.models import School, Teacher
from records.run_file import exported, imported
from results.experience import experience_of
from results.selectors import compared
from runs.selectors import run_state


class Demo(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load()

    def test_every_state_can_be_seen(self) -> None:
        half, done = (Run.objects.get(school_class__name=name, family="bridge") for name in ("8 Tern", "7 Plover"))
        cards = run_state(half).designs
        self.assertEqual({card.state for card in cards}, {"broke", "ran_out", "on_bench", "checked_in", "waiting"})
        self.assertTrue(any(c.status == "breached" for card in cards for c in card.constraints))
        outcomes = [[t.result.outcome.value for t in card.trials] for card in cards]
        self.assertIn(["void", "broke"], outcomes)
        self.assertTrue(all(card.tested for card in run_state(done).designs))
        self.assertIsNotNone(compared(done, done.rules(), System.METRIC).comparison.scatter)
        # Every told event was allowed by the rules.
        self.assertFalse([r for card in cards for t in card.trials for r in t.result.refused])

    def test_drafts_can_be_seen_in_every_state(self) -> None:
        half = Run.objects.get(school_class__name="8 Tern", family="bridge")
        cards = {card.design.team.name: card for card in run_state(half).designs}
        # One on the bench by the model's range, one that waits for its team, some that were never drafted.
        kittiwake, dunlin = cards["Kittiwake"], cards["Dunlin"]
        under_way = next(card.trial for card in kittiwake.trials if not card.result.ended)
        self.assertIsNotNone(kittiwake.model)
        self.assertEqual((under_way.estimate or {})["basis"], "the model")
        self.assertTrue(kittiwake.said_first)
        self.assertTrue(dunlin.veiled and dunlin.draft is not None)
        self.assertTrue(any(card.draft is None for card in cards.values()))

    def test_two_classes_have_taught_the_model_something(self) -> None:
        for name, family, material, trials in (("8 Tern", "bridge", "manila", 2), ("7 Plover", "column", "sugar", 3)):
            (experience,) = experience_of(Run.objects.get(school_class__name=name, family=family))
            assert experience.calibration is not None
            self.assertEqual((experience.material, experience.calibration.count), (material, trials))
            # The made-up figures are what a class would find: below the model, within a factor of two.
            self.assertTrue(0.5 < experience.calibration.measured < 1.0, experience.calibration)
            self.assertIsNone(experience.applied)

    @tag("slow")
    def test_every_run_of_every_kind_goes_out_and_comes_in_whole(self) -> None:
        bea = sign_up("bea@school.example", "Bea", "tide-table-17")
        runs = list(Run.objects.select_related("school_class"))
        self.assertEqual({run.family for run in runs}, set(FAMILIES))
        for run in runs:
            with self.subTest(run.name):
                there = imported(bea, json.dumps(exported(run)))
                before, after = (compared(side, side.rules(), System.METRIC).comparison for side in (run, there))
                self.assertEqual([(p.entry.name, p.score, p.ranks) for p in after.places],
                                 [(p.entry.name, p.score, p.ranks) for p in before.places])  # fmt: skip
                self.assertEqual((after.headline, after.explanation), (before.headline, before.explanation))

    def test_loaded_again_nothing_changes(self) -> None:
        before = set(LedgerEvent.objects.values_list("id", flat=True))
        load()
        self.assertEqual(set(LedgerEvent.objects.values_list("id", flat=True)), before)

    @tag("slow")
    def test_the_same_world_each_time(self) -> None:
        first = set(LedgerEvent.objects.values_list("id", "kind", "happened_at"))
        Run.objects.all().delete()
        Teacher.objects.all().delete()
        School.objects.all().delete()
        load()
        self.assertEqual(set(LedgerEvent.objects.values_list("id", "kind", "happened_at")), first)
