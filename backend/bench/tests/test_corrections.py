"""What is put right after the fact: who wrote it stands with it, nothing that was written goes."""

import uuid
from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.test import TestCase

from bench.models import LedgerEvent, Trial
from designs.services import open_run
from people.tests.support import Api, Ledger, checked_in, run, teacher


class PutRight(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.tern, self.auk = (checked_in(design) for design in self.run_.designs.all())
        self.ledger = Ledger(self.api, self.tern)
        self.ledger.hold("platform")
        self.ledger.hold("nut", 10)
        self.ledger.add("place", item="nut", count=2)
        self.ledger.add("fail", mode="crimp")

    def record(self) -> list[Any]:
        lines: list[Any] = self.api.get(f"trials/{self.ledger.id}/record")
        return lines

    def design(self, number: int) -> Any:
        return self.api.get(f"runs/{self.run_.pk}")["designs"][number]

    def move(self, to: int, **more: Any) -> tuple[int, Any]:
        body = {"id": str(uuid.uuid4()), "design": to, "why": "Auk was on the bench", **more}
        return self.api.call("POST", f"trials/{self.ledger.id}/move", body)

    def test_a_count_that_was_wrong_is_put_right_and_both_stand_in_the_record(self) -> None:
        wrong = self.ledger.sent[2]["id"]
        answer = self.ledger.add("correct", event=wrong, count=9, why="counted again")
        # The tray of 40 g and 9 nuts of 15 g.
        self.assertAlmostEqual(answer["state"]["result"]["held_kg"], 0.175)
        line = self.record()[2]
        self.assertEqual((line["data"]["count"], line["says"]["count"], line["fate"]), (10, 9, "corrected"))
        self.assertEqual(line["by"], self.ledger.sent[-1]["id"])
        self.assertEqual({line["author"] for line in self.record()}, {"Ada"})
        (change,) = self.api.get(f"runs/{self.run_.pk}/changes")
        self.assertEqual((change["team"], change["line"]["kind"]), ("Tern", "correct"))
        self.assertEqual(change["about"]["id"], wrong)
        self.assertEqual(LedgerEvent.objects.get(pk=wrong).data["count"], 10)

    def test_another_bench_may_put_right_what_has_ended_but_not_what_is_under_way(self) -> None:
        other = str(uuid.uuid4())
        void = self.ledger.event("void", reason="pile_toppled", note="seen on the film")
        status, answer = self.ledger.post(void, bench=other)
        self.assertEqual((status, answer["state"]["result"]["outcome"]), (200, "void"))
        self.assertEqual(answer["state"]["bench"], other)
        open_again = Ledger(self.api, self.auk)
        open_again.add("place", item="platform", count=1)
        self.assertEqual(open_again.post(open_again.event("settle", waited_s=5), bench=other)[0], 409)

    def test_who_changed_what_is_told_the_latest_first(self) -> None:
        end = self.ledger.sent[-1]["id"]
        self.ledger.add("note", text="The left support had moved.")
        self.ledger.add("undo", event=end)
        self.ledger.add("fail", mode="snap")
        self.ledger.add("void", reason="pile_toppled")
        told = self.api.get(f"runs/{self.run_.pk}/changes")
        self.assertEqual([change["line"]["kind"] for change in told], ["void", "undo", "note"])
        self.assertEqual(self.design(0)["trials"][0]["result"]["notes"], ["The left support had moved."])
        self.assertEqual(self.design(0)["trials"][0]["line"], "void, pile or platform tipped")
        self.assertEqual(self.design(0)["trials"][0]["how"], "Void: pile or platform tipped")

    def test_the_wrong_team_was_on_the_bench(self) -> None:
        status, state = self.move(self.auk.pk)
        self.assertEqual((status, state["design"], state["number"]), (200, self.auk.pk, 1))
        self.assertEqual(self.design(0)["state"], "checked_in")
        self.assertEqual(self.design(1)["trials"][0]["line"], "190 g, crimped")
        line = self.record()[-1]
        self.assertEqual((line["kind"], line["data"]["from"], line["data"]["to"]), ("move", "Tern", "Auk"))
        # And back again.
        self.assertEqual(self.move(self.tern.pk)[0], 200)
        self.assertEqual(self.design(0)["trials"][0]["number"], 1)

    def test_moved_twice_with_one_id_it_moved_once(self) -> None:
        ident = str(uuid.uuid4())
        self.assertEqual(self.move(self.auk.pk, id=ident)[0], 200)
        self.assertEqual(self.move(self.auk.pk, id=ident)[0], 200)
        self.assertEqual(LedgerEvent.objects.filter(kind="move").count(), 1)

    def test_trials_of_both_teams_are_numbered_in_the_order_in_which_they_began(self) -> None:
        again = Ledger(self.api, self.tern)
        own = Ledger(self.api, self.auk)
        began = datetime(2026, 11, 3, 9, tzinfo=UTC)
        for minutes, ledger in ((0, self.ledger), (5, own), (10, again)):
            Trial.objects.filter(pk=ledger.id).update(started_at=began + timedelta(minutes=minutes))
        own.hold("platform")
        own.add("place", item="nut", count=1)
        own.add("fail", mode="snap")
        self.move(self.auk.pk)
        numbers = {str(trial.pk): (trial.design_id, trial.number) for trial in Trial.objects.all()}
        self.assertEqual(numbers[self.ledger.id], (self.auk.pk, 1))
        self.assertEqual(numbers[own.id], (self.auk.pk, 2))
        self.assertEqual(numbers[again.id], (self.tern.pk, 1))

    def test_a_trial_goes_to_no_other_run_and_not_to_the_team_that_has_it(self) -> None:
        self.assertEqual(self.move(self.tern.pk)[1]["code"], "same_design")
        assert self.run_.recipe is not None
        tomorrow = open_run(self.run_.recipe, self.run_.school_class, date(2026, 11, 4))
        self.assertEqual(self.move(checked_in(tomorrow.designs.all()[0]).pk)[1]["code"], "other_run")

    def test_one_that_has_ended_may_go_to_a_team_that_is_being_tested(self) -> None:
        Ledger(self.api, self.auk).add("place", item="platform", count=1)
        self.assertEqual(self.move(self.auk.pk)[0], 200)

    def test_two_trials_that_are_both_open_cannot_be_one_teams(self) -> None:
        self.ledger.add("undo", event=self.ledger.sent[-1]["id"])
        Ledger(self.api, self.auk).add("place", item="platform", count=1)
        status, answer = self.move(self.auk.pk)
        self.assertEqual((status, answer["code"]), (409, "trial_open"))
        self.assertIn("Auk has a trial open too", answer["sentence"])
        self.assertEqual(self.design(0)["state"], "on_bench")

    def test_a_team_that_is_not_checked_in_is_checked_in_first(self) -> None:
        self.auk.checked_in_at = None
        self.auk.save()
        status, answer = self.move(self.auk.pk)
        self.assertEqual((status, answer["code"]), (400, "not_checked_in"))

    def test_a_move_comes_by_its_own_address_only(self) -> None:
        event = self.ledger.event("move", **{"from": "Tern", "to": "Auk"})
        self.assertEqual(self.ledger.post(event)[0], 400)
