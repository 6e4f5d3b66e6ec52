import json
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.db import InternalError, ProgrammingError, connection, transaction
from django.test import TestCase, TransactionTestCase

from bench.models import LedgerEvent, Trial
from bench.remembered import _LEDGERS
from people.tests.support import Api, Ledger, checked_in, run, teacher
from runs.selectors import run_state


class AtTheBench(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.design = checked_in(self.run_.designs.all()[0])
        self.ledger = Ledger(self.api, self.design)

    def result(self) -> Any:
        return self.api.get(f"trials/{self.ledger.id}")["result"]

    def test_held_grows_with_each_step_that_stays_up(self) -> None:
        self.ledger.hold("platform")
        self.ledger.hold("nut", 20)
        answer = self.ledger.add("place", item="nut", count=2)
        # Tray of 40 g and 20 nuts of 15 g; the last two have not settled.
        self.assertAlmostEqual(answer["state"]["result"]["held_kg"], 0.340)
        self.assertAlmostEqual(answer["state"]["result"]["load_on_kg"], 0.370)
        self.assertAlmostEqual(answer["state"]["ratio"]["value"], 0.340 / 0.030)
        self.assertEqual(answer["state"]["remaining"], {"platform": 0, "nut": 28})

    def test_every_kind_of_event_that_a_bridge_needs(self) -> None:
        self.ledger.hold("platform")
        self.ledger.hold("nut", 10)
        self.ledger.add("observe", sign="crack")
        self.ledger.add("measure", sag="4 mm")
        self.ledger.add("remove", item="nut", count=1)
        self.ledger.add("place", item="nut", count=3)
        self.ledger.add("undo", event=self.ledger.sent[-1]["id"])
        self.ledger.add("place", item="nut", count=2)
        self.ledger.add("fail", mode="crimp", note="left ridge")
        answer = self.ledger.add("pile_reading", mass="205 g", resolution="1 g", covers="all")
        result = answer["state"]["result"]
        self.assertIsNone(answer["refused"])
        self.assertEqual((result["outcome"], result["mode"], result["note"]), ("broke", "crimp", "left ridge"))
        self.assertTrue(result["pile_weighed"])
        self.assertAlmostEqual(result["last_sag_m"], 0.004)
        self.assertAlmostEqual(result["broke_kg"], 0.205)

    def test_refused_events_leave_no_trace(self) -> None:
        refusals: list[tuple[str, dict[str, Any], str]] = [
            ("fail", {"mode": "snap"}, "fail_before_load"),
            ("settle", {"waited_s": 5}, "nothing_to_settle"),
            ("place", {"item": "nut", "count": 1}, "platform_first"),
            ("place", {"item": "brick", "count": 1}, "unknown_item"),
        ]
        for kind, data, code in refusals:
            with self.subTest(code):
                answer = self.ledger.add(kind, **data)
                self.assertEqual(answer["refused"]["code"], code)
        self.ledger.hold("platform")
        self.assertEqual(self.ledger.add("place", item="nut", count=51)["refused"]["code"], "kit_exceeded")
        self.assertEqual(self.ledger.add("settle", waited_s=5)["refused"]["code"], "nothing_to_settle")
        self.assertEqual(LedgerEvent.objects.count(), 2)

    def test_undo_of_an_undone_event(self) -> None:
        self.ledger.hold("platform")
        self.ledger.add("place", item="nut", count=1)
        target = self.ledger.sent[-1]["id"]
        self.ledger.add("undo", event=target)
        self.assertEqual(self.ledger.add("undo", event=target)["refused"]["code"], "already_undone")

    def test_sent_twice_it_stands_once(self) -> None:
        event = self.ledger.event("place", item="platform", count=1)
        for _ in range(3):
            status, answer = self.ledger.post(event)
            self.assertEqual((status, answer["accepted"]), (200, [event["id"]]))
        self.assertEqual(LedgerEvent.objects.count(), 1)

    def test_a_known_event_is_accepted_whatever_number_it_comes_with(self) -> None:
        # Its answer was lost, and at take-over it was numbered anew.
        event = self.ledger.event("place", item="platform", count=1)
        self.ledger.post(event)
        follows = {**self.ledger.event("settle", waited_s=5), "sequence": 2}
        status, answer = self.ledger.post({**event, "sequence": 7}, follows)
        self.assertEqual((status, answer["accepted"], answer["refused"]), (200, [event["id"], follows["id"]], None))
        self.assertEqual(
            list(LedgerEvent.objects.order_by("sequence").values_list("sequence", "kind")),
            [(1, "place"), (2, "settle")],
        )

    def test_what_is_known_can_be_asked_without_adding_anything(self) -> None:
        known, new = self.ledger.event("place", item="platform", count=1), self.ledger.event("settle", waited_s=5)
        self.ledger.post(known)
        body = {"bench": self.ledger.bench, "only_known": True, "events": [known, {**new, "sequence": 2}]}
        answer = self.api.send("POST", f"trials/{self.ledger.id}/events", body)
        self.assertEqual((answer["accepted"], answer["refused"]["code"]), ([known["id"]], "not_written"))
        self.assertEqual(LedgerEvent.objects.count(), 1)

    def test_what_cannot_be_written_down_is_refused_by_name_and_never_a_stumble(self) -> None:
        self.ledger.hold("platform")
        for data in ({"item": "nut", "count": 10**400}, {"item": "n\x00t", "count": 1}, {"item": ["nut"], "count": 1},
                     {"item": "nut", "count": 1, "note": "x" * 5000}):  # fmt: skip
            answer = self.ledger.add("place", **data)
            self.assertEqual(answer["refused"]["code"], "entry_not_plain")
        # Those that came with it are kept.
        good, bad = self.ledger.event("place", item="nut", count=1), self.ledger.event("observe", sign="\ud800")
        bad["sequence"] += 1
        status, answer = self.ledger.post(good, bad)
        self.assertEqual((status, answer["accepted"], answer["refused"]["event_id"]), (200, [good["id"]], bad["id"]))
        huge = '{"bench": "%s", "events": [{"id": "%s", "sequence": 3, "kind": "settle", "data": {"waited_s": 1e400}, "happened_at": "2026-11-03T10:00:00Z"}]}'  # noqa: E501
        body = huge % (self.ledger.bench, uuid.uuid4())
        response = self.api.client.post(f"/api/trials/{self.ledger.id}/events", body, content_type="application/json")
        self.assertLess(response.status_code, 500)
        far = {**self.ledger.event("settle", waited_s=5), "happened_at": "9999-12-31T23:59:59Z"}
        body = json.dumps({"bench": self.ledger.bench, "events": [far], "sent_at": "2001-01-01T00:00:00Z"})
        response = self.api.client.post(f"/api/trials/{self.ledger.id}/events", body, content_type="application/json")
        self.assertLess(response.status_code, 500)

    def test_everything_is_on_it_is_asked_about_while_there_is_load_left(self) -> None:
        self.ledger.hold("platform")
        self.ledger.hold("nut", 49)
        answer = self.ledger.add("run_out", reason="no_more_load")
        self.assertEqual((answer["refused"]["code"], answer["refused"]["confirm"]), ("load_left", True))
        self.assertIn("1 × nut", answer["refused"]["sentence"])
        self.assertEqual(answer["state"]["result"]["outcome"], "running")
        answer = self.ledger.add("run_out", reason="no_more_load", confirmed=True)
        self.assertEqual(answer["state"]["result"]["outcome"], "ran_out")

    def test_the_plan_goes_on_past_what_was_expected(self) -> None:
        # The target of nothing, and two that held little: then the third has 101 of its load left.
        self.ledger.hold("platform")
        state = self.ledger.hold("nut", 30)["state"]
        self.assertEqual(sum(step["count"] for step in state["plan"]["steps"]), 20)
        self.assertEqual(state["plan"]["end"], "kit")

    def test_an_id_with_other_contents_is_refused(self) -> None:
        event = self.ledger.event("place", item="platform", count=1)
        self.ledger.post(event)
        status, answer = self.ledger.post({**event, "data": {"item": "platform", "count": 2}})
        self.assertEqual((status, answer["code"]), (409, "event_changed"))

    def test_an_id_of_another_trial_is_refused(self) -> None:
        self.ledger.hold("platform")
        other = Ledger(self.api, checked_in(self.run_.designs.all()[1]))
        status, answer = other.post({**self.ledger.sent[0]})
        self.assertEqual((status, answer["code"]), (409, "event_changed"))

    def test_out_of_order_arrival_is_put_right(self) -> None:
        first = self.ledger.event("place", item="platform", count=1)
        second = {**self.ledger.event("settle", waited_s=5), "sequence": 2}
        _, early = self.ledger.post(second)
        self.assertEqual(early["state"]["result"]["late"], [second["id"]])
        self.assertEqual(early["state"]["result"]["held_kg"], 0)
        _, late = self.ledger.post(first)
        self.assertAlmostEqual(late["state"]["result"]["held_kg"], 0.040)
        self.assertEqual(late["state"]["result"]["late"], [])

    def test_a_place_in_the_ledger_is_given_once_even_ahead_of_its_turn(self) -> None:
        ahead = {**self.ledger.event("settle", waited_s=5), "sequence": 4}
        self.ledger.post(ahead)
        _, answer = self.ledger.post({**self.ledger.event("settle", waited_s=5), "sequence": 4})
        self.assertEqual(answer["refused"]["code"], "sequence_taken")

    def test_a_batch_is_taken_up_to_the_first_refusal(self) -> None:
        batch = [
            {**self.ledger.event("place", item="platform", count=1), "sequence": 1},
            {**self.ledger.event("run_out", reason="bench_limit"), "sequence": 2},
            {**self.ledger.event("settle", waited_s=5), "sequence": 3},
        ]
        _, answer = self.ledger.post(*batch)
        self.assertEqual(answer["accepted"], [batch[0]["id"]])
        self.assertEqual(
            (answer["refused"]["event_id"], answer["refused"]["code"]), (batch[1]["id"], "step_not_settled")
        )
        self.assertEqual(answer["state"]["result"]["next_sequence"], 2)

    def test_a_second_bench_is_refused_until_it_takes_over(self) -> None:
        self.ledger.hold("platform")
        second = str(uuid.uuid4())
        event = self.ledger.event("place", item="nut", count=1)
        status, answer = self.ledger.post(event, bench=second)
        self.assertEqual((status, answer["code"]), (409, "bench_busy"))
        self.assertIn("open at another bench", answer["sentence"])
        self.api.send("POST", f"trials/{self.ledger.id}/take-over", {"bench": second})
        self.assertEqual(self.ledger.post(event, bench=second)[0], 200)
        self.assertEqual(self.ledger.post(event)[0], 409)

    def test_a_trial_is_started_once_and_not_beside_an_open_one(self) -> None:
        again = self.api.send(
            "POST", f"designs/{self.design.pk}/trials", {"id": self.ledger.id, "bench": self.ledger.bench}
        )
        self.assertEqual(again["number"], 1)
        body = {"id": str(uuid.uuid4()), "bench": self.ledger.bench}
        status, answer = self.api.refused("POST", f"designs/{self.design.pk}/trials", body)
        self.assertEqual((status, answer["code"]), (409, "trial_open"))
        self.ledger.add("void", reason="knocked")
        self.assertEqual(Ledger(self.api, self.design).state["number"], 2)

    def test_a_malformed_event_is_told_at_its_field(self) -> None:
        event = {**self.ledger.event("explode"), "sequence": 0}
        status, answer = self.ledger.post(event)
        self.assertEqual(status, 400)
        self.assertEqual(set(answer["fields"]), {"events.0.kind", "events.0.sequence"})

    def test_the_database_refuses_to_change_an_event(self) -> None:
        self.ledger.hold("platform")
        with self.assertRaises((InternalError, ProgrammingError)) as caught, transaction.atomic():
            LedgerEvent.objects.update(kind="void")
        self.assertIn("cannot be changed", str(caught.exception))

    def test_the_plan_names_the_platform_first_and_never_more_than_is_left(self) -> None:
        self.assertEqual(self.ledger.state["plan"]["steps"][0]["item"], "platform")
        state = self.ledger.hold("platform")["state"]
        self.assertLessEqual(sum(step["count"] for step in state["plan"]["steps"]), 50)

    def test_next_version_needs_a_tested_one_and_says_what_changes(self) -> None:
        path = f"designs/{self.design.pk}/next-version"
        self.assertEqual(self.api.refused("POST", path, {"changed": "lips"})[1]["code"], "not_tested")
        self.ledger.hold("platform")
        self.ledger.add("place", item="nut", count=10)
        self.ledger.add("fail", mode="crimp")
        self.assertEqual(self.api.refused("POST", path, {"changed": " "})[1]["code"], "change_missing")
        second = self.api.send("POST", path, {"changed": "lips at both edges"})
        self.assertEqual((second["version"], second["changed"]), (2, "lips at both edges"))
        self.assertEqual(self.api.refused("POST", path, {"changed": "again"})[1]["code"], "not_latest")
        design = self.run_.designs.get(version=2)
        ledger = Ledger(self.api, checked_in(design))
        ledger.hold("platform")
        ledger.hold("nut", 10)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="joint")
        states = {
            d["version"]: d for d in self.api.get(f"runs/{self.run_.pk}")["designs"] if d["team"]["name"] == "Tern"
        }
        # 40 g, then 190 g, at the same own weight.
        self.assertAlmostEqual(states[2]["gain"]["value"], 190 / 40 - 1)

    def test_the_state_of_a_run_takes_the_same_queries_for_two_teams_and_for_eight(self) -> None:
        def queries(teams: int) -> int:
            owner = teacher(f"T{teams}")
            big = run(owner, teams=tuple(f"Team {i}" for i in range(teams)))
            for design in big.designs.all():
                ledger = Ledger(Api(owner), checked_in(design))
                ledger.hold("platform")
                ledger.add("place", item="nut", count=3)
                ledger.add("fail", mode="crimp")
            # Designs, readings, those of the teams themselves, predictions, drafts, trials, events; the class's
            # corrections; changes of the goal; teams that came later.
            with self.assertNumQueries(12) as counted:
                run_state(big)
            return len(counted)

        self.assertEqual(queries(2), queries(8))

    def test_a_trial_begins_without_reading_what_is_remembered_of_others(self) -> None:
        self.ledger.add("void", reason="knocked")
        ended = []
        for design in self.run_.designs.all():
            ledger = Ledger(self.api, checked_in(design))
            ledger.hold("platform")
            ledger.hold("nut", 4)
            ledger.add("fail", mode="crimp")
            ended.append(ledger.id)
        read: list[str] = []

        def noted(execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
            if sql == _LEDGERS:
                read.extend(map(str, params[0]))
            return execute(sql, params, many, context)

        estimates = []
        for _ in range(2):
            read.clear()
            with connection.execute_wrapper(noted):
                ledger = Ledger(self.api, self.design)
            estimates.append(Trial.objects.get(pk=ledger.id).estimate)
            ledger.add("void", reason="knocked")
        self.assertEqual(estimates[0], estimates[1])
        self.assertIsNotNone(estimates[0])
        # Only what came since: the one that was voided in between.
        self.assertEqual(len(read), 1)
        self.assertNotIn(read[0], ended)


class AtOnce(TransactionTestCase):
    """Real transactions on real connections: two requests at the same moment."""

    def test_the_same_event_sent_by_many_threads_stands_once(self) -> None:
        ada = teacher()
        ledger = Ledger(Api(ada), checked_in(run(ada).designs.all()[0]))
        event = ledger.event("place", item="platform", count=1)

        apis = [Api(ada) for _ in range(6)]

        def send_as(api: Api) -> int:
            try:
                body = {"bench": ledger.bench, "events": [event]}
                return api.call("POST", f"trials/{ledger.id}/events", body)[0]
            finally:
                connection.close()

        with ThreadPoolExecutor(6) as pool:
            self.assertEqual(set(pool.map(send_as, apis)), {200})
        self.assertEqual(LedgerEvent.objects.count(), 1)

    def test_of_different_events_for_one_place_exactly_one_gets_it(self) -> None:
        ada = teacher()
        ledger = Ledger(Api(ada), checked_in(run(ada).designs.all()[0]))
        events = [ledger.event("place", item="platform", count=1) for _ in range(6)]

        def send(event: dict[str, Any]) -> bool:
            try:
                body = {"bench": ledger.bench, "events": [event]}
                _, answer = Api(ada).call("POST", f"trials/{ledger.id}/events", body)
                return bool(answer["accepted"])
            finally:
                connection.close()

        with ThreadPoolExecutor(6) as pool:
            self.assertEqual(sum(pool.map(send, events)), 1)
        self.assertEqual(LedgerEvent.objects.count(), 1)
