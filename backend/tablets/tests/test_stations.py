"""Teams that test by themselves: their teacher opens it, sees all of them, stops, confirms; what is not confirmed is
marked wherever it is shown."""

from __future__ import annotations

import csv
import io
import json
import uuid
from datetime import datetime, timedelta
from typing import Any

import pdfplumber
from django.utils import timezone

from bench.models import LedgerEvent, Trial
from designs.models import Design
from girder_core.trial import UNCONFIRMED
from live.services import open_board, show_screen
from people.models import Colleague
from people.tests.support import Api, Ledger, checked_in, teacher
from records.run_file import exported
from tablets.tests.test_own_work import Own


class StationLedger(Ledger):
    """Writes to a team's own test as its tablet does."""

    def __init__(self, at: Api) -> None:
        self.api = at
        self.id, self.bench = str(uuid.uuid4()), str(uuid.uuid4())
        self.sent: list[dict[str, Any]] = []
        self.state = at.send("POST", "team/trials", {"id": self.id, "bench": self.bench})

    def event(self, kind: str, **data: Any) -> dict[str, Any]:
        return {**super().event(kind, **data), "happened_at": timezone.now().isoformat()}

    def post(self, *events: dict[str, Any], bench: str | None = None) -> tuple[int, Any]:
        body = {"bench": bench or self.bench, "events": list(events), "sent_at": timezone.now().isoformat()}
        return self.api.call("POST", f"team/trials/{self.id}/events", body)


class Stations(Own):
    """A run in which teams may test by themselves, and Tern is checked in."""

    def setUp(self) -> None:
        super().setUp()
        self.let(test=True)
        checked_in(self.tern)

    def station(self, design: Design | None = None) -> Any:
        found = (design or self.tern).pk
        return next(one for one in self.stations() if one["design"] == found)

    def stations(self) -> Any:
        return self.api.get(f"runs/{self.run_.pk}/stations")["stations"]

    def do(self, ledger: Ledger, action: str, **more: Any) -> Any:
        return self.api.send("PUT", f"trials/{ledger.id}/station", {"action": action, **more})

    def refuse(self, ledger: Ledger, action: str, **more: Any) -> str:
        code: str = self.api.refused("PUT", f"trials/{ledger.id}/station", {"action": action, **more})[1]["code"]
        return code

    def confirm(self, ledger: Ledger) -> Any:
        return self.do(ledger, "confirm", seen=self.station()["seen"])

    def over(self, mode: str = "snap") -> StationLedger:
        """A test that Tern made, and that is over."""
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        ledger.hold("nut", 20)
        ledger.add("place", item="nut", count=5)
        ledger.add("fail", mode=mode)
        return ledger


class Begun(Stations):
    def test_a_team_tests_by_itself_and_its_teacher_confirms(self) -> None:
        self.assertEqual((self.station()["state"], self.at.get("team")["own_test"]["may_begin"]), ("ready", True))
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        self.assertEqual((self.station()["state"], self.station()["live"]["state"]["id"]), ("testing", ledger.id))
        self.assertEqual(self.at.get("team")["own_test"], {"may_begin": False, "trial": ledger.id, "stopped": False})
        ledger.hold("nut", 20)
        ledger.add("fail", mode="snap")
        self.assertEqual(self.station()["state"], "to_confirm")
        self.confirm(ledger)
        trial = Trial.objects.get()
        self.assertEqual((trial.by_team, trial.unconfirmed, trial.confirmed_by), (True, False, "Ada"))
        self.assertEqual((self.station()["state"], self.station()["confirmed_by"]), ("done", "Ada"))
        self.assertEqual(self.at.get("team")["own_test"], {"may_begin": True, "trial": None, "stopped": False})

    def test_the_ledger_says_that_the_team_wrote_and_names_no_child(self) -> None:
        self.at.send("PUT", "team/who", {"who": "Sunniva, Ravn"})
        self.over()
        self.assertEqual(set(LedgerEvent.objects.values_list("author", flat=True)), {"Tern, at its station"})

    def test_who_does_what_goes_round_and_the_teacher_sees_it(self) -> None:
        self.at.send("PUT", "team/who", {"who": "Sunniva, Ravn"})
        first = self.station()["tasks"][0]["name"]
        self.confirm(self.over())
        StationLedger(self.at)
        self.assertEqual({first, self.station()["tasks"][0]["name"]}, {"Sunniva", "Ravn"})

    def test_only_where_it_is_opened_and_checked_in_and_dry(self) -> None:
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4())}
        self.let(test=False)
        self.assertEqual(self.at.refused("POST", "team/trials", body)[1]["code"], "not_open_to_teams")
        self.assertFalse(self.at.get("team")["own_test"]["may_begin"])
        self.let(test=True)
        auk = self.tablet(self.auk)
        self.assertFalse(auk.get("team")["own_test"]["may_begin"])
        self.assertEqual(auk.refused("POST", "team/trials", body)[1]["code"], "not_checked_in")
        self.run_.drying_minutes = 30
        self.run_.save()
        Design.objects.filter(pk=self.tern.pk).update(glued_at=timezone.now())
        # A team has no reason to give that would do.
        answer = self.at.refused("POST", "team/trials", {**body, "wet_reason": "we want to"})[1]
        self.assertEqual(answer["code"], "still_drying")
        self.assertIn("Test it then.", answer["sentence"])
        self.assertEqual(Trial.objects.count(), 0)

    def test_a_rehearsal_is_not_a_way_round(self) -> None:
        auk = self.tablet(self.auk)
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "rehearsal": True}
        self.assertEqual(auk.refused("POST", "team/trials", body)[1]["code"], "not_checked_in")

    def test_pressed_twice_it_begins_once(self) -> None:
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4())}
        self.at.send("POST", "team/trials", body)
        self.at.send("POST", "team/trials", body)
        self.assertEqual(Trial.objects.count(), 1)
        again = self.at.refused("POST", "team/trials", {**body, "id": str(uuid.uuid4())})[1]
        self.assertEqual(again["code"], "trial_open")

    def test_the_next_test_waits_till_the_last_is_confirmed(self) -> None:
        ledger = self.over()
        body = {"id": str(uuid.uuid4()), "bench": ledger.bench}
        status, answer = self.at.refused("POST", "team/trials", body)
        self.assertEqual((status, answer["code"]), (409, "not_confirmed"))
        # The teacher may test it again at any time.
        Ledger(self.api, self.tern)
        self.assertEqual(self.station()["state"], "at_bench")

    def test_many_stations_at_once_and_none_waits_for_another(self) -> None:
        checked_in(self.auk)
        both = StationLedger(self.at), StationLedger(self.tablet(self.auk))
        for ledger in both:
            ledger.hold("platform")
            self.assertEqual(ledger.hold("nut", 5)["refused"], None)
        self.assertEqual({one["state"] for one in self.stations()}, {"testing"})


class Theirs(Stations):
    def test_nothing_of_another_teams_test_can_be_had_or_touched(self) -> None:
        checked_in(self.auk)
        ledger, auk = StationLedger(self.at), self.tablet(self.auk)
        teachers = Ledger(self.api, self.auk)
        event = ledger.event("place", item="platform", count=1)
        body = {"bench": str(uuid.uuid4()), "events": [event]}
        for at, trial in ((auk, ledger.id), (self.at, teachers.id), (auk, teachers.id)):
            for method, path, sent in (
                ("GET", f"team/trials/{trial}", None),
                ("POST", f"team/trials/{trial}/events", body),
                ("POST", f"team/trials/{trial}/take-over", {"bench": body["bench"]}),
            ):
                self.assertEqual(at.refused(method, path, sent)[0], 404, (method, path))
        self.assertEqual(LedgerEvent.objects.count(), 0)

    def test_the_terms_of_its_bench_hold_its_own_design_and_no_figure_of_the_teachers(self) -> None:
        checked_in(self.auk)
        Ledger(self.api, self.auk).hold("platform")
        terms = self.at.get("team/bench")
        (own,) = terms["state"]["designs"]
        self.assertEqual((own["team"]["name"], own["readings"], own["team"]["members"]), ("Tern", [], []))
        self.assertNotIn("Auk", json.dumps(terms))
        self.assertIsNone(terms["state"]["best_held"])

    def test_a_test_of_its_former_version_is_still_its_own(self) -> None:
        ledger = self.over()
        self.confirm(ledger)
        self.at.send("POST", "team/next-version", {"changed": "Two layers"})
        self.assertEqual(self.at.get(f"team/trials/{ledger.id}")["id"], ledger.id)


class Stopped(Stations):
    def test_a_stop_holds_back_what_puts_more_on_and_lets_the_rest_be_said(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        ledger.add("place", item="nut", count=20)
        self.do(ledger, "stop")
        self.assertEqual((self.station()["state"], self.at.get("team")["own_test"]["stopped"]), ("stopped", True))
        ledger.add("settle", waited_s=5)
        refused = ledger.add("place", item="nut", count=5)["refused"]
        self.assertEqual(refused["code"], "stopped")
        self.assertEqual(set(self.at.get(f"team/trials/{ledger.id}")["held_back"]), {"place", "load_reading", "round"})
        ledger.add("fail", mode="snap")
        self.assertEqual(self.station()["state"], "to_confirm")
        self.assertEqual(Trial.objects.get().events.count(), 5)

    def test_what_was_on_before_the_stop_is_written_down_however_late_it_comes(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        on_before = ledger.event("place", item="nut", count=5)
        self.do(ledger, "stop")
        status, answer = ledger.post(on_before)
        self.assertEqual((status, answer["refused"]), (200, None))

    def test_a_clock_that_runs_ahead_or_behind_does_not_fool_it(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        # A clock that is off is put right by when its word came, which is a little after it was sent.
        Trial.objects.update(started_at=timezone.now() - timedelta(minutes=2))
        earlier = (timezone.now() - timedelta(seconds=20)).isoformat()
        for off in (timedelta(hours=3), timedelta(hours=-3), timedelta(seconds=20), timedelta(seconds=-20)):
            before = {**ledger.event("place", item="nut", count=1), "happened_at": earlier}
            self.do(ledger, "stop")
            after = {**ledger.event("place", item="nut", count=1), "sequence": before["sequence"] + 1}
            for event, code in ((before, None), (after, "stopped")):
                moment = datetime.fromisoformat(event["happened_at"]) + off
                body = {
                    "bench": ledger.bench, "events": [{**event, "happened_at": moment.isoformat()}],
                    "sent_at": (timezone.now() + off).isoformat(),
                }  # fmt: skip
                refused = self.at.send("POST", f"team/trials/{ledger.id}/events", body)["refused"]
                self.assertEqual(refused and refused["code"], code, off)
            ledger.sent.append(before)
            self.do(ledger, "go_on")
            ledger.add("settle", waited_s=5)

    def test_let_go_on_it_goes_on(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        self.do(ledger, "stop")
        self.do(ledger, "stop")
        self.do(ledger, "go_on")
        self.assertIsNone(ledger.hold("nut", 5)["refused"])

    def test_all_are_stopped_at_once_and_no_bench_of_the_teachers(self) -> None:
        checked_in(self.auk)
        own, teachers = StationLedger(self.at), Ledger(self.api, self.auk)
        own.hold("platform")
        answer = self.api.send("PUT", f"runs/{self.run_.pk}/stations", {"stop": True})
        self.assertEqual([one["state"] for one in answer["stations"]], ["stopped", "at_bench"])
        self.assertIsNone(teachers.hold("platform")["refused"])
        self.assertEqual(own.add("place", item="nut", count=1)["refused"]["code"], "stopped")

    def test_what_the_teacher_takes_over_the_team_cannot_take_back_till_it_is_given_back(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        bench = str(uuid.uuid4())
        self.api.send("POST", f"trials/{ledger.id}/take-over", {"bench": bench})
        self.assertEqual(ledger.post(ledger.event("place", item="nut", count=1))[1]["code"], "bench_busy")
        path = f"team/trials/{ledger.id}/take-over"
        status, answer = self.at.refused("POST", path, {"bench": ledger.bench})
        self.assertEqual((status, answer["code"]), (409, "stopped"))
        event = ledger.event("place", item="nut", count=1)
        taken = self.api.send("POST", f"trials/{ledger.id}/events", {"bench": bench, "events": [event]})
        self.assertIsNone(taken["refused"])
        ledger.sent.append(event)
        self.do(ledger, "go_on")
        self.assertIsNone(ledger.add("settle", waited_s=5)["refused"])
        self.assertEqual(set(LedgerEvent.objects.values_list("author", flat=True)), {"Ada", "Tern, at its station"})

    def test_a_second_tablet_of_the_team_takes_over_when_the_first_is_flat(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        second, bench = self.tablet(), str(uuid.uuid4())
        second.send("POST", f"team/trials/{ledger.id}/take-over", {"bench": bench})
        ledger.api, ledger.bench = second, bench
        self.assertIsNone(ledger.hold("nut", 5)["refused"])

    def test_what_is_over_or_the_teachers_own_cannot_be_stopped(self) -> None:
        checked_in(self.auk)
        self.assertEqual(self.refuse(self.over(), "stop"), "trial_over")
        self.assertEqual(self.refuse(Ledger(self.api, self.auk), "stop"), "not_by_team")


class Confirmed(Stations):
    def test_only_what_was_looked_at(self) -> None:
        ledger = self.over()
        seen = self.station()["seen"]
        ledger.add("undo", event=ledger.sent[-1]["id"])
        self.assertEqual(self.refuse(ledger, "confirm", seen=seen), "trial_open")
        ledger.add("fail", mode="crimp")
        self.assertEqual(self.refuse(ledger, "confirm", seen=seen), "changed_meanwhile")
        self.confirm(ledger)

    def test_after_that_the_team_writes_nothing_and_the_teacher_still_can(self) -> None:
        ledger = self.over()
        self.confirm(ledger)
        undo = ledger.event("undo", event=ledger.sent[-1]["id"])
        self.assertEqual(ledger.post(undo)[1]["refused"]["code"], "confirmed")
        correct = ledger.event("correct", event=ledger.sent[-1]["id"], mode="crimp", why="Looked again.")
        body = {"bench": str(uuid.uuid4()), "events": [correct]}
        self.assertIsNone(self.api.send("POST", f"trials/{ledger.id}/events", body)["refused"])
        self.assertEqual(Trial.objects.get().confirmed_by, "Ada")

    def test_a_team_puts_no_entry_right(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        correct = ledger.add("correct", event=ledger.sent[0]["id"], gone=True, why="Not so.")
        self.assertEqual(correct["refused"]["code"], "of_teachers")

    def test_who_confirmed_first_stays(self) -> None:
        hal = teacher("Hal")
        Colleague.objects.create(school_class=self.run_.school_class, teacher=hal, part="helper")
        ledger = self.over()
        body = {"action": "confirm", "seen": self.station()["seen"]}
        Api(hal).send("PUT", f"trials/{ledger.id}/station", body)
        self.api.send("PUT", f"trials/{ledger.id}/station", body)
        self.assertEqual(Trial.objects.get().confirmed_by, "Hal")

    def test_one_that_is_void_is_confirmed_too(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        ledger.add("void", reason="knocked")
        self.assertEqual(self.station()["state"], "to_confirm")
        self.confirm(ledger)
        self.assertTrue(self.at.get("team")["own_test"]["may_begin"])


class Believed(Stations):
    def expected(self) -> Any:
        """What the other team's test is expected to hold, and where that is from."""
        ahead = {one["design"]: one for one in self.api.get(f"runs/{self.run_.pk}/ahead")}
        return ahead[self.auk.pk]["estimate"]

    def test_what_nobody_has_confirmed_says_nothing_of_other_tests(self) -> None:
        checked_in(self.auk)
        self.api.send("POST", f"designs/{self.auk.pk}/prediction", {"text": "900 g"})
        said = self.expected()
        ledgers = [self.over()]
        self.assertEqual(self.expected(), said)
        self.confirm(ledgers[0])
        # Two results are asked for before others are judged by them.
        ledgers.append(self.over())
        self.assertEqual(self.expected(), said)
        self.confirm(ledgers[1])
        self.assertIn("2 tested in this run", self.expected()["basis"])
        begun = self.api.send("POST", f"designs/{self.auk.pk}/trials", {"id": uuid.uuid4(), "bench": uuid.uuid4()})
        self.assertIn("2 tested in this run", begun["estimate"]["basis"])

    def test_a_moment_before_the_test_began_does_not_slip_past_a_stop(self) -> None:
        ledger = StationLedger(self.at)
        ledger.hold("platform")
        event = {**ledger.event("place", item="nut", count=1), "happened_at": "2026-11-03T10:00:00Z"}
        self.do(ledger, "stop")
        self.assertEqual(ledger.post(event)[1]["refused"]["code"], "stopped")


class Marked(Stations):
    """Every place that shows what a test came to says whether it is confirmed."""

    def shown(self) -> dict[str, str]:
        """What each of these places says, by its name."""
        board, run_ = open_board(self.run_), f"runs/{self.run_.pk}"
        show_screen(self.run_, "ranking")
        places: dict[str, Any] = {"board, ranking": self.api.get(f"boards/{board.token}")["ranking"]["headline"]}
        show_screen(self.run_, "bench")
        bench = self.api.get(f"boards/{board.token}")
        places["board, bench"] = bench["benches"][0]["state"]["mark"]
        places["board, row beside it"] = bench["ranking"]["ranked"][0]["words"]
        comparison = self.api.get(f"{run_}/comparison")
        places["compare, headline"] = comparison["headline"]
        places["compare, row"] = comparison["ranked"][0]["words"]
        places["compare, chart"] = " ".join(shape["text"] for shape in comparison["ranking"]["drawn"])
        places["compare, like with like"] = " ".join(line["says"] for line in comparison["differences"])
        (trial,) = self.seen()["trials"]
        places["trials, line"], places["bench, headline"] = trial["line"], trial["headline"]
        places["queue"] = UNCONFIRMED if trial["unconfirmed"] else ""
        places["bench, state"] = self.api.get(f"trials/{trial['id']}")["mark"]
        places["stations"] = self.station()["line"]
        page = self.at.get("team")
        places["tablet, headline"], places["tablet, line"] = page["trials"][0]["headline"], page["trials"][0]["line"]
        for document in ("report", "board", "summaries"):
            answer = self.api.call("GET", f"{run_}/print/{document}")[1]
            with pdfplumber.open(io.BytesIO(answer.content)) as pdf:
                places[f"paper, {document}"] = " ".join(
                    (page.extract_text() or "").replace("\n", " ") for page in pdf.pages
                )
        return {name: str(text).lower() for name, text in places.items()}

    def test_until_it_is_confirmed_and_not_after(self) -> None:
        ledger = self.over()
        self.assertEqual([name for name, text in self.shown().items() if UNCONFIRMED not in text], [])
        self.assertEqual(self.in_table(), "no")
        self.assertIn("Not confirmed yet: Tern.", exported(self.run_)["came_to"]["won_today"])
        self.confirm(ledger)
        self.assertEqual([name for name, text in self.shown().items() if UNCONFIRMED in text], [])
        self.assertEqual(self.in_table(), "yes")

    def test_what_the_teacher_tested_is_marked_nowhere(self) -> None:
        self.tested()
        self.assertEqual([name for name, text in self.shown().items() if UNCONFIRMED in text], [])
        self.assertEqual(self.in_table(), "")

    def in_table(self) -> str:
        answer = self.api.call("GET", f"runs/{self.run_.pk}/results.csv")[1]
        rows = list(csv.DictReader(io.StringIO(answer.content.decode("utf-8-sig"))))
        return next(row["confirmed"] for row in rows if row["team"] == "Tern")
