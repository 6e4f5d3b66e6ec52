"""The quick way of an entry, raced against the long one: the same answers, the same ledger, and the same refusals."""

from __future__ import annotations

import json
import threading
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from random import Random
from typing import Any

from django.contrib.sessions.models import Session
from django.db import connection
from django.test import Client, RequestFactory, TestCase, TransactionTestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from bench import quick
from bench.models import LedgerEvent, Trial
from challenges.library import shipped, take
from designs.models import TeamPrediction
from designs.services import open_run
from girder_core.tests.anything import any_event
from girder_core.trial import Event, EventKind
from people.models import Teacher
from people.tests.support import Api, Ledger, checked_in, run, school_class, teacher


def send(api: Api, trial: str, text: str, long: bool) -> tuple[int, Any]:
    """As through the door of the server: at once where that can be, else the long way; or that way from the start."""
    path = f"/api/trials/{trial}/events"
    if not long:
        request = RequestFactory().generic("POST", path, text, content_type="application/json")
        request.COOKIES = {name: cookie.value for name, cookie in api.client.cookies.items()}
        request._dont_enforce_csrf_checks = not api.client.handler.enforce_csrf_checks  # type: ignore[attr-defined]
        at_once = quick.answer_at_once(request, trial)
        if at_once is not None:
            return 200, json.loads(at_once)
    answer = api.client.generic("POST", path, text, content_type="application/json")
    return answer.status_code, answer.json()


def post(api: Api, trial: str, bench: str, event: dict[str, Any], long: bool) -> tuple[int, Any]:
    return send(api, trial, json.dumps({"bench": bench, "events": [event]}), long)


class SameAnswers(TestCase):
    """Any entries, of every kind of challenge, in every state: two rehearsals with the same made-up structure, one
    written the quick way wherever it is open, the other the long way throughout."""

    def test_both_ways_tell_the_same_of_every_entry(self) -> None:
        ada = teacher()
        api, knot = Api(ada), school_class(ada)
        went_quickly = let_in = refused = 0
        for number, ready in enumerate(shipped()):
            played = open_run(take(ada, ready.slug), knot, date(2026, 11, 3))
            design, rules = played.designs.all()[0], played.trial_setup()
            draws = Random(number)
            bench = str(uuid.uuid4())
            # What a made-up structure does follows from the end of the trial's id.
            trials = [str(uuid.UUID(int=(uuid.uuid4().int >> 32 << 32))) for _ in range(2)]
            for trial in trials:
                body = {"id": trial, "bench": bench, "rehearsal": True}
                api.send("POST", f"designs/{design.pk}/trials", body)
            so_far: list[Event] = []
            for n in range(24):
                name = f"entry-{n}-"
                kind, data = any_event(played.core_family(), rules, so_far, draws)
                if kind is EventKind.MOVE:
                    continue
                told = []
                for trial, long in zip(trials, (False, True), strict=True):
                    ids = {each: str(uuid.uuid5(uuid.UUID(trial), each)) for each in
                           (name, *(event.id for event in so_far))}  # fmt: skip
                    entry = {
                        "id": ids[name], "sequence": len(so_far) + 1, "kind": kind.value,
                        "data": {k: ids.get(v, v) if isinstance(v, str) else v for k, v in data.items()},
                        "happened_at": "2026-11-03T10:00:00Z",
                    }  # fmt: skip
                    with CaptureQueriesContext(connection) as asked:
                        status, answer = post(api, trial, bench, entry, long)
                    went_quickly += not long and len(asked) == 2
                    text = json.dumps([status, answer])
                    for each, ident in ids.items():
                        text = text.replace(ident, each)
                    told.append(json.loads(text.replace(trial, "this trial")))
                    if isinstance(state := told[-1][1].get("state"), dict):
                        state.pop("number")
                with self.subTest(ready.slug, n=n, kind=kind):
                    self.assertEqual(told[0], told[1])
                if told[0][1].get("accepted"):
                    let_in += 1
                    so_far.append(Event(name, len(so_far) + 1, kind, data))
                else:
                    refused += 1
            rows = [list(LedgerEvent.objects.filter(trial__pk=trial).values_list("sequence", "kind", "author"))
                    for trial in trials]  # fmt: skip
            self.assertEqual(rows[0], rows[1])
        # Most of what was let in went quickly: all but the first entry of each trial, which is read first.
        self.assertGreater(let_in, 40)
        self.assertGreater(refused, 50)
        self.assertGreater(went_quickly, 0.7 * let_in)


class OneTrial(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.run_ = run(self.ada)
        self.design = checked_in(self.run_.designs.all()[0])
        self.ledger = Ledger(self.api, self.design)
        self.ledger.hold("platform")

    def place(self, api: Api | None = None) -> tuple[int, Any]:
        event = self.ledger.event("place", item="nut", count=1)
        status, answer = post(api or self.api, self.ledger.id, self.ledger.bench, event, long=False)
        if status == 200 and not answer["refused"]:
            self.ledger.sent.append(event)
        return status, answer

    def test_an_entry_takes_two_queries_however_long_the_ledger_is(self) -> None:
        # The first is read, and remembered from then on.
        self.place()
        for _ in range(3):
            with self.assertNumQueries(2):
                self.assertEqual(self.place()[0], 200)
        for _ in range(15):
            self.ledger.hold("nut")
        self.place()
        with self.assertNumQueries(2):
            self.assertEqual(self.place()[0], 200)

    def test_what_changes_beside_the_ledger_is_in_the_next_answer(self) -> None:
        self.place()
        self.design.predictions.create(text="300 g", load_kg=0.3)
        self.assertEqual(self.place()[1]["state"]["prediction_kg"], 0.3)
        self.assertAlmostEqual(self.place()[1]["state"]["self_mass"]["value"], 0.030)
        reading = {"key": "self_mass", "text": "45 g", "resolution_text": "0.1 g"}
        self.api.send("POST", f"designs/{self.design.pk}/readings", reading)
        self.assertAlmostEqual(self.place()[1]["state"]["self_mass"]["value"], 0.045)
        self.run_.setup["bench_limit_kg"] = 0.1
        self.run_.save()
        refused = self.place()[1]["refused"]
        self.assertEqual(refused["code"], "over_bench_limit")
        Teacher.objects.filter(pk=self.ada.pk).update(name="Ada Tern")
        self.ledger.add("note", text="The left support had moved.")
        self.assertEqual(LedgerEvent.objects.latest("received_at").author, "Ada Tern")
        self.assertEqual(TeamPrediction.objects.count(), 1)

    def test_words_are_in_the_units_of_the_moment(self) -> None:
        self.place()
        self.api.send("PATCH", "session", {"units": "us"})
        long = post(self.api, self.ledger.id, self.ledger.bench, self.ledger.event("settle", waited_s=5), long=True)
        self.ledger.sent.append({})
        _, answer = self.place()
        self.assertEqual(answer["state"]["plan"]["warnings"], long[1]["state"]["plan"]["warnings"])
        self.assertNotRegex(json.dumps(answer["state"]["plan"]["says"]), r"\d m?m\b")

    def test_what_another_way_wrote_is_continued(self) -> None:
        self.place()
        event = self.ledger.event("settle", waited_s=5)
        post(self.api, self.ledger.id, self.ledger.bench, event, long=True)
        self.ledger.sent.append(event)
        result = self.place()[1]["state"]["result"]
        self.assertAlmostEqual(result["held_kg"], 0.055)
        self.assertAlmostEqual(result["load_on_kg"], 0.070)

    def test_who_has_no_business_here_is_sent_away_as_ever(self) -> None:
        self.place()
        signed_out, stranger = Api(), Api(teacher("Bea"))
        self.assertEqual((self.place(signed_out)[0], self.place(stranger)[0]), (403, 404))
        forged = Api(self.ada)
        forged.client = Client(enforce_csrf_checks=True)
        forged.client.force_login(self.ada)
        self.assertEqual(self.place(forged)[0], 403)
        held = LedgerEvent.objects.count()
        for change, status in (
            (lambda: Teacher.objects.filter(pk=self.ada.pk).update(is_active=False), 403),
            (lambda: Session.objects.all().delete(), 403),
        ):
            change()
            self.assertEqual(self.place()[0], status)
            Teacher.objects.filter(pk=self.ada.pk).update(is_active=True)
        self.assertEqual(LedgerEvent.objects.count(), held)

    def test_a_new_password_ends_other_sessions_at_once(self) -> None:
        self.place()
        self.ada.set_password("another-tide-table-4")
        self.ada.save()
        self.assertEqual(self.place()[0], 403)

    def test_what_was_deleted_is_not_there(self) -> None:
        self.place()
        self.design.removed_at = timezone.now()
        self.design.save()
        self.assertEqual(self.place()[0], 404)

    def test_bodies_of_every_sort_are_answered_as_the_long_way_does(self) -> None:
        good = self.ledger.event("place", item="nut", count=1)
        anything: list[Any] = [None, [], {}, "x", 0, -1, 10**30, True, 1.5, "9999-99-99", "2026-11-03T10:00:00"]
        odd: list[Any] = [
            [], "x", 5, None, {}, {"events": 3}, {"bench": self.ledger.bench}, {"bench": "x", "events": [good]},
            {"bench": self.ledger.bench, "events": []}, {"bench": self.ledger.bench, "events": [good, good]},
            *({"bench": self.ledger.bench, "events": [{**good, part: value}]} for part in good
              for value in anything),
            *({"bench": self.ledger.bench, "events": [good], "sent_at": at} for at in (None, "x", 5, "0001-01-01")),
        ]  # fmt: skip
        for body in odd:
            told = [send(self.api, self.ledger.id, json.dumps(body), long) for long in (False, True)]
            with self.subTest(str(body)[:120]):
                # Sent twice: where it is taken, the second time it is known.
                self.assertEqual(told[0], told[1])

    def test_no_more_trials_are_remembered_than_may_be(self) -> None:
        self.addCleanup(setattr, quick, "MOST", quick.MOST)
        quick.MOST = 1
        other = Ledger(self.api, checked_in(self.run_.designs.all()[1]))
        for _ in range(3):
            self.assertEqual(self.place()[0], 200)
            self.assertEqual(list(quick._REMEMBERED), [uuid.UUID(self.ledger.id)])
            event = other.event("note", text="One is forgotten for the other, and goes on all the same.")
            self.assertEqual(post(self.api, other.id, other.bench, event, long=False)[0], 200)
            self.assertEqual(list(quick._REMEMBERED), [uuid.UUID(other.id)])
            other.sent.append(event)


class AtOnce(TransactionTestCase):
    """Real transactions: many benches' threads, one trial."""

    def setUp(self) -> None:
        self.ada = teacher()
        self.ledger = Ledger(Api(self.ada), checked_in(run(self.ada).designs.all()[0]))
        self.ledger.hold("platform")

    def sent(self, event: dict[str, Any], bench: str, long: bool) -> tuple[int, Any]:
        try:
            return post(Api(self.ada), self.ledger.id, bench, event, long)
        finally:
            connection.close()

    def test_for_one_place_one_entry_whichever_way_it_comes(self) -> None:
        for _ in range(12):
            place = len(self.ledger.sent) + 1
            events = [{**self.ledger.event("note", text=f"by {n}"), "sequence": place} for n in range(6)]
            with ThreadPoolExecutor(6) as pool:
                told = list(pool.map(self.sent, events, [self.ledger.bench] * 6, [n % 2 == 0 for n in range(6)]))
            kept = [ident for status, answer in told if status == 200 for ident in answer["accepted"]]
            self.assertEqual(len(kept), 1)
            row = LedgerEvent.objects.get(trial__pk=self.ledger.id, sequence=place)
            self.assertEqual(str(row.pk), kept[0])
            self.ledger.sent.append({})

    def test_one_entry_sent_many_times_stands_once_and_is_acknowledged_each_time(self) -> None:
        for _ in range(12):
            event = self.ledger.event("note", text="once")
            with ThreadPoolExecutor(6) as pool:
                told = list(pool.map(self.sent, [event] * 6, [self.ledger.bench] * 6, [n % 2 == 0 for n in range(6)]))
            self.assertEqual({(status, tuple(answer["accepted"])) for status, answer in told}, {(200, (event["id"],))})
            self.ledger.sent.append(event)
        self.assertEqual(LedgerEvent.objects.filter(kind="note").count(), 12)

    def test_after_a_take_over_nothing_of_the_old_bench_is_kept(self) -> None:
        """The old bench writes as fast as it can while benches take over; each entry that was acknowledged stands, and
        none was written for a bench that had lost the trial before."""
        stop = threading.Event()
        acknowledged: list[str] = []

        def old_bench() -> None:
            api = Api(self.ada)
            try:
                while not stop.is_set():
                    event = self.ledger.event("note", text="old")
                    status, answer = post(api, self.ledger.id, self.ledger.bench, event, long=False)
                    if status == 409:
                        return
                    if answer["accepted"]:
                        acknowledged.append(event["id"])
                        self.ledger.sent.append(event)
            finally:
                connection.close()

        writer = threading.Thread(target=old_bench)
        writer.start()
        while len(acknowledged) < 20:
            pass
        new = str(uuid.uuid4())
        Api(self.ada).send("POST", f"trials/{self.ledger.id}/take-over", {"bench": new})
        held_then = LedgerEvent.objects.filter(trial__pk=self.ledger.id).count()
        writer.join(20)
        stop.set()
        self.assertFalse(writer.is_alive(), "the old bench was not told")
        self.assertEqual(LedgerEvent.objects.filter(trial__pk=self.ledger.id).count(), held_then)
        self.assertEqual(LedgerEvent.objects.filter(pk__in=acknowledged).count(), len(acknowledged))
        self.assertEqual(str(Trial.objects.get(pk=self.ledger.id).bench), new)
