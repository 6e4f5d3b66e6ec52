from django.test import TestCase

from bench.models import LedgerEvent
from bench.selectors import compared, run_state
from challenges.models import Run
from demo.build import load
from girder_core.units import System
from people.models import Teacher


class Demo(TestCase):
    def test_every_state_can_be_seen(self) -> None:
        load()
        half, done = (Run.objects.get(school_class__name=name, family="bridge") for name in ("8 Tern", "7 Plover"))
        cards = run_state(half).designs
        self.assertEqual({card.state for card in cards}, {"broke", "ran_out", "on_bench", "checked_in", "waiting"})
        self.assertTrue(any(c.status == "breached" for card in cards for c in card.constraints))
        outcomes = [[t.result.outcome.value for t in card.trials] for card in cards]
        self.assertIn(["void", "broke"], outcomes)
        self.assertTrue(all(card.scored for card in run_state(done).designs))
        self.assertIsNotNone(compared(done, done.rules(), System.METRIC).comparison.scatter)
        # Every told event was allowed by the rules.
        self.assertFalse([r for card in cards for t in card.trials for r in t.result.refused])

    def test_loaded_again_nothing_changes(self) -> None:
        load()
        before = set(LedgerEvent.objects.values_list("id", flat=True))
        load()
        self.assertEqual(set(LedgerEvent.objects.values_list("id", flat=True)), before)

    def test_the_same_world_each_time(self) -> None:
        load()
        first = set(LedgerEvent.objects.values_list("id", "kind", "happened_at"))
        Run.objects.all().delete()
        Teacher.objects.all().delete()
        load()
        self.assertEqual(set(LedgerEvent.objects.values_list("id", "kind", "happened_at")), first)
