"""Teams at tablets: who comes in by which code, what is theirs, and that nothing else is."""

from __future__ import annotations

import math
from datetime import timedelta
from typing import Any

from django.core.management import call_command
from django.test import Client, TestCase
from django.utils import timezone

from bench.models import Trial
from challenges.models import Run
from designs.models import Design, TeamPrediction
from live.services import open_board, show_screen
from people.codes import LETTERS, NEVER, new_code, plain
from people.models import Teacher
from people.tests.support import Api, Ledger, checked_in, run, teacher
from tablets import services
from tablets.answers import _PAGES
from tablets.models import Door, Tablet
from tablets.services import CODE_LETTERS, MOST_TABLETS, close_door, open_door, put_out


class AtTablet(Api):
    """A tablet that came in by a lesson's code."""

    def __init__(self, code: str, team: int | None = None) -> None:
        super().__init__()
        self.send("POST", "join", {"code": code})
        if team is not None:
            self.send("PUT", "team", {"team": team, "confirmed": True})

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        if (method, path) != ("GET", "team"):
            # So that there is a page from before, and what is done here is to show.
            super().call("GET", "team")
            return super().call(method, path, body)
        answered = super().call(method, path)
        _PAGES.clear()
        assert by_itself(answered) == by_itself(super().call(method, path)), "a page that was kept is not as it is"
        return answered


def by_itself(answer: tuple[int, Any]) -> Any:
    """A page but for what goes on by itself."""
    status, page = answer
    if status != 200:
        return answer
    live = page["live"] and {**page["live"], "hold_left_s": page["live"]["hold_left_s"] is not None}
    return {**page, "clock": {**page["clock"], "left_s": None}, "live": live}


class Tablets(TestCase):
    def setUp(self) -> None:
        self.ada = teacher("Ada")
        self.run_: Run = run(self.ada, teams=("Tern", "Auk"))
        self.tern, self.auk = self.run_.designs.select_related("team")
        self.door = open_door(self.run_)

    def tablet(self, design: Design | None = None) -> AtTablet:
        return AtTablet(self.door.code, (design or self.tern).team_id)

    def lesson_ends(self) -> None:
        Door.objects.update(until=timezone.now() - timedelta(seconds=1))


class Codes(Tablets):
    def test_a_code_is_read_however_it_is_typed(self) -> None:
        code = self.door.code
        for typed in (code, code.upper(), f"{code[:3]}-{code[3:]}", f" {code[:3]} {code[3:]} "):
            self.assertEqual(AtTablet(typed).get("team")["stage"], "choose")

    def test_what_no_code_has_is_said(self) -> None:
        for typed, words in (("o23abc", "No code has O in it"), ("ab10cd", "No code has 0 or 1 in it")):
            status, answer = Api().refused("POST", "join", {"code": typed})
            self.assertEqual((status, answer["code"]), (400, "bad_code"))
            self.assertIn(words, answer["fields"]["code"])
        self.assertIn("There is no lesson", Api().refused("POST", "join", {"code": "zzzzzz"})[1]["sentence"])

    def test_a_code_of_yesterday_says_so_and_a_new_lesson_has_a_new_one(self) -> None:
        before, inside = self.door.code, self.tablet()
        self.lesson_ends()
        self.assertEqual(Api().refused("POST", "join", {"code": before})[1]["code"], "lesson_over")
        self.assertEqual(inside.call("GET", "team")[0], 403)
        after = open_door(self.run_)
        self.assertNotEqual(after.code, before)
        self.assertEqual(inside.call("GET", "team")[0], 403, "a tablet of the last lesson comes in anew")
        self.assertEqual(Api().refused("POST", "join", {"code": before})[1]["code"], "bad_code")

    def test_guessing_has_an_end_and_a_class_behind_one_address_has_not(self) -> None:
        for _ in range(60):
            AtTablet(self.door.code)
        for _ in range(40):
            self.assertEqual(Api().refused("POST", "join", {"code": "zzzzzz"})[1]["code"], "bad_code")
        status, answer = Api().refused("POST", "join", {"code": self.door.code})
        self.assertEqual((status, answer["code"]), (429, "too_many_tries"))
        # Another address is not shut out by that.
        body = {"code": self.door.code}
        answered = Client().post("/api/join", body, content_type="application/json", REMOTE_ADDR="192.168.7.30")
        self.assertEqual(answered.status_code, 200)

    def test_a_right_code_does_not_wash_wrong_ones_away(self) -> None:
        for _ in range(39):
            Api().refused("POST", "join", {"code": "zzzzzz"})
            AtTablet(self.door.code)
        Api().refused("POST", "join", {"code": "zzzzzz"})
        self.assertEqual(Api().refused("POST", "join", {"code": "zzzzzz"})[0], 429)

    def test_the_arithmetic_of_the_document(self) -> None:
        # As docs/security.md has it: forty tries in a quarter of an hour, twenty lessons open at once.
        space = len(LETTERS) ** CODE_LETTERS
        self.assertEqual(space, 887_503_681)
        chance = 1 - math.exp(-160 * 20 / space)
        self.assertAlmostEqual(chance, 3.6e-6, delta=1e-7)
        self.assertFalse(set(NEVER) & set(LETTERS))
        codes = {new_code(1, of=CODE_LETTERS) for _ in range(2000)}
        self.assertGreater(len(codes), 1995)
        # Every letter comes up about as often: 12,000 draws, 31 letters, five standard deviations.
        drawn = "".join(codes)
        for letter in LETTERS:
            usual = len(drawn) / 31
            self.assertAlmostEqual(drawn.count(letter), usual, delta=5 * math.sqrt(usual), msg=letter)
        self.assertEqual(plain(" Ab2-C\u00e93 "), "ab2c3")


class Own(Tablets):
    def test_a_second_tablet_of_a_team_is_asked_about_and_comes_in(self) -> None:
        self.tablet()
        second = AtTablet(self.door.code)
        status, answer = second.refused("PUT", "team", {"team": self.tern.team_id})
        self.assertEqual((status, answer["code"], answer["confirm"]), (422, "team_taken", True))
        self.assertEqual(second.get("team")["taken"], [self.tern.team_id])
        second.send("PUT", "team", {"team": self.tern.team_id, "confirmed": True})
        self.assertEqual(second.get("team")["team"]["name"], "Tern")

    def test_a_team_of_another_class_cannot_be_chosen(self) -> None:
        other = run(teacher("Bo"), teams=("Knot",)).designs.get()
        status, _ = AtTablet(self.door.code).call("PUT", "team", {"team": other.team_id})
        self.assertEqual(status, 404)

    def test_it_writes_for_its_own_team_and_its_teacher_sees_it(self) -> None:
        tablet = self.tablet()
        tablet.send("PUT", "team/note", {"note": "a folded deck", "before": ""})
        said = tablet.send("POST", "team/prediction", {"text": "700 g"})
        self.assertEqual((said["prediction"]["load_kg"], said["may_predict"]), (0.7, True))
        seen = {one["team"]["name"]: one for one in Api(self.ada).get(f"runs/{self.run_.pk}")["designs"]}
        self.assertEqual((seen["Tern"]["note"], seen["Tern"]["prediction"]["load_kg"]), ("a folded deck", 0.7))
        self.assertEqual((seen["Auk"]["note"], seen["Auk"]["prediction"]), ("", None))

    def test_two_tablets_that_write_at_once_lose_nothing(self) -> None:
        one, two = self.tablet(), self.tablet()
        one.send("PUT", "team/note", {"note": "three tubes", "before": ""})
        status, answer = two.refused("PUT", "team/note", {"note": "an arch", "before": ""})
        self.assertEqual((status, answer["code"], answer["data"]["stands"]), (409, "changed_meanwhile", "three tubes"))
        # The same once more, as after a lost answer, is no other.
        one.send("PUT", "team/note", {"note": "three tubes", "before": ""})
        two.send("PUT", "team/note", {"note": "an arch of tubes", "before": "three tubes"})
        self.assertEqual(one.get("team")["note"], "an arch of tubes")

    def test_a_prediction_is_shut_once_something_is_on(self) -> None:
        tablet = self.tablet(checked_in(self.tern))
        tablet.send("POST", "team/prediction", {"text": "700 g"})
        Ledger(Api(self.ada), self.tern).hold("platform")
        self.assertFalse(tablet.get("team")["may_predict"])
        self.assertEqual(tablet.refused("POST", "team/prediction", {"text": "1 kg"})[1]["code"], "prediction_too_late")
        self.assertEqual(TeamPrediction.objects.get().load_kg, 0.7)

    def test_what_was_typed_before_the_test_and_came_after_is_kept_and_marked(self) -> None:
        tablet = self.tablet(checked_in(self.tern))
        Ledger(Api(self.ada), self.tern).hold("platform")
        status, answer = tablet.refused("POST", "team/prediction", {"text": "700 g", "typed_ago_s": 0})
        self.assertEqual((status, answer["code"]), (400, "prediction_too_late"), "typed when something was on")
        page = tablet.send("POST", "team/prediction", {"text": "700 g", "typed_ago_s": 600})
        # Sent again, as after a lost answer, it is the same.
        tablet.send("POST", "team/prediction", {"text": "700 g", "typed_ago_s": 601})
        self.assertEqual((page["late"], page["prediction"]), (["700 g"], None))
        door = Api(self.ada).get(f"runs/{self.run_.pk}/door")
        self.assertEqual(door["late"], [{"team": "Tern", "text": "700 g"}])
        # It counts for nothing.
        self.assertEqual(TeamPrediction.objects.count(), 0)
        self.assertEqual(self.tablet(self.auk).get("team")["late"], [])

    def test_one_that_was_in_time_and_whose_answer_was_lost_is_not_late(self) -> None:
        tablet = self.tablet(checked_in(self.tern))
        tablet.send("POST", "team/prediction", {"text": "700 g"})
        Ledger(Api(self.ada), self.tern).hold("platform")
        page = tablet.send("POST", "team/prediction", {"text": "700 g", "typed_ago_s": 600})
        self.assertEqual((page["late"], page["prediction"]["load_kg"]), ([], 0.7))
        self.assertEqual(TeamPrediction.objects.count(), 1)

    def test_blanks_at_the_edge_are_no_other_text(self) -> None:
        tablet = self.tablet()
        tablet.send("PUT", "team/note", {"note": "Two tubes ", "before": ""})
        page = tablet.send("PUT", "team/note", {"note": "Two tubes under a deck", "before": "Two tubes "})
        self.assertEqual(page["note"], "Two tubes under a deck")

    def test_a_team_that_is_chosen_stays_till_the_tablet_goes(self) -> None:
        tablet = self.tablet()
        body = {"team": self.auk.team_id, "confirmed": True}
        self.assertEqual(tablet.refused("PUT", "team", body)[1]["code"], "team_chosen")
        tablet.send("PUT", "team", {"team": self.tern.team_id})
        self.assertEqual(tablet.get("team")["team"]["name"], "Tern")

    def test_its_page_follows_what_the_team_is_at(self) -> None:
        tablet, api = self.tablet(), Api(self.ada)

        def stage() -> str:
            return str(tablet.get("team")["stage"])

        self.assertEqual(stage(), "brief")
        api.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": "start"})
        self.assertEqual(stage(), "build")
        checked_in(self.tern)
        self.assertEqual(stage(), "ready")
        ledger = Ledger(api, self.tern)
        ledger.hold("platform")
        self.assertEqual(stage(), "testing")
        live = tablet.get("team")["live"]
        self.assertEqual((live["team"]["name"], live["state"]["result"]["held_kg"]), ("Tern", 0.04))
        ledger.add("fail", mode="snap")
        page = tablet.get("team")
        self.assertEqual((page["stage"], page["live"]), ("result", None))
        self.assertIn("Tern held", page["trials"][0]["headline"])
        api.send("POST", f"designs/{self.tern.pk}/next-version", {"changed": "one more layer"})
        page = tablet.get("team")
        self.assertEqual((page["stage"], page["version"], page["changed"]), ("build", 2, "one more layer"))
        self.assertEqual(self.tablet(self.auk).get("team")["stage"], "build", "the other team is where it was")

    def test_it_sees_its_own_test_and_nobody_elses(self) -> None:
        checked_in(self.tern)
        Ledger(Api(self.ada), self.tern).hold("platform")
        page = self.tablet(self.auk).get("team")
        self.assertEqual((page["live"], page["trials"]), (None, []))

    def test_who_is_in_a_team_is_told_to_no_tablet(self) -> None:
        self.tern.team.members = ["Sunniva"]
        self.tern.team.save()
        self.assertNotIn("Sunniva", str(AtTablet(self.door.code).get("team")) + str(self.tablet().get("team")))


class Doors(Tablets):
    def test_everybody_out(self) -> None:
        tablet, api = self.tablet(), Api(self.ada)
        shown = api.get(f"runs/{self.run_.pk}/door")
        self.assertEqual([one["team"] for one in shown["tablets"]], ["Tern"])
        self.assertEqual(plain(shown["code"]), self.door.code)
        self.assertTrue(shown["address"].endswith(f"/join/{self.door.code}"))
        shut = api.send("PUT", f"runs/{self.run_.pk}/door", {"action": "close"})
        self.assertEqual((shut["code"], shut["tablets"]), ("", []))
        self.assertEqual(tablet.call("GET", "team")[0], 403)
        self.assertEqual(Api().refused("POST", "join", {"code": self.door.code})[1]["code"], "bad_code")

    def test_the_code_is_on_the_board_while_the_door_is_open(self) -> None:
        board, api = open_board(self.run_), Api(self.ada)
        for screen, shown in (("brief", self.door.code), ("clock", self.door.code), ("bench", "")):
            show_screen(self.run_, screen)
            self.assertEqual(Api().get(f"boards/{board.token}")["join"], shown)
        way = Api().get(f"boards/{board.token}/way-in")
        self.assertEqual(plain(way["code"]), self.door.code)
        self.assertTrue(way["address"].endswith(f"/join/{self.door.code}"))
        self.assertEqual(Api().call("GET", "boards/guess/way-in")[0], 404)
        show_screen(self.run_, "brief")
        api.send("PUT", f"runs/{self.run_.pk}/door", {"action": "close"})
        self.assertEqual(Api().get(f"boards/{board.token}")["join"], "")
        self.assertEqual(Api().get(f"boards/{board.token}/way-in"), {"code": "", "address": "", "picture": []})

    def test_a_lesson_has_an_end_of_tablets(self) -> None:
        Tablet.objects.bulk_create([Tablet(door=self.door, mixed=str(n)) for n in range(MOST_TABLETS)])
        self.assertEqual(Api().refused("POST", "join", {"code": self.door.code})[1]["code"], "lesson_full")
        put_out(self.run_, Tablet.objects.all()[0].pk)
        self.assertEqual(AtTablet(self.door.code).get("team")["stage"], "choose")

    def test_one_is_put_out_and_the_others_stay(self) -> None:
        one, two = self.tablet(), self.tablet(self.auk)
        out = Tablet.objects.get(team=self.tern.team_id)
        Api(self.ada).send("PUT", f"runs/{self.run_.pk}/door", {"out": out.pk})
        self.assertEqual((one.call("GET", "team")[0], two.call("GET", "team")[0]), (403, 200))

    def test_a_tablet_of_another_run_is_not_put_out(self) -> None:
        bo = teacher("Bo")
        theirs = run(bo)
        tablet = self.tablet()
        Api(bo).send("PUT", f"runs/{theirs.pk}/door", {"out": Tablet.objects.get().pk})
        self.assertEqual(tablet.call("GET", "team")[0], 200)

    def test_it_ends_with_the_lesson_and_can_be_kept_open(self) -> None:
        lasts = self.door.until - timezone.now()
        self.assertAlmostEqual(lasts.total_seconds(), (self.run_.minutes + 60) * 60, delta=30)
        Door.objects.update(until=timezone.now() + timedelta(minutes=1))
        tablet = self.tablet()
        Api(self.ada).send("PUT", f"runs/{self.run_.pk}/door", {"action": "keep"})
        self.assertGreater(Door.objects.get().until, timezone.now() + timedelta(hours=1))
        self.assertEqual(tablet.call("GET", "team")[0], 200)

    def test_a_run_that_is_deleted_or_whose_teacher_leaves_lets_nobody_in(self) -> None:
        for field, row in (("removed_at", Run.with_removed), ("leaving_at", Teacher.objects)):
            tablet = self.tablet()
            row.update(**{field: timezone.now()})
            self.assertEqual(tablet.call("GET", "team")[0], 403, field)
            self.assertEqual(Api().refused("POST", "join", {"code": self.door.code})[1]["code"], "bad_code", field)
            row.update(**{field: None})

    def test_who_goes_is_gone(self) -> None:
        tablet = self.tablet()
        stolen = tablet.client.cookies["girder-tablet"].value
        self.assertEqual(tablet.call("DELETE", "team")[0], 204)
        again = Api()
        again.client.cookies["girder-tablet"] = stolen
        self.assertEqual(again.call("GET", "team")[0], 403)

    def test_what_is_long_over_is_forgotten(self) -> None:
        self.tablet()
        Door.objects.update(until=timezone.now() - timedelta(hours=23))
        call_command("tidy")
        self.assertEqual((Door.objects.count(), Tablet.objects.count()), (1, 1))
        Door.objects.update(until=timezone.now() - timedelta(days=2))
        call_command("tidy")
        self.assertEqual((Door.objects.count(), Tablet.objects.count()), (0, 0))

    def test_a_pass_is_not_in_the_database(self) -> None:
        tablet = self.tablet()
        own = tablet.client.cookies["girder-tablet"]
        kept = Tablet.objects.get().mixed
        self.assertNotIn(own.value, kept)
        self.assertEqual((own["httponly"], own["samesite"], own["path"]), (True, "Lax", "/api/team"))

    def test_a_page_elsewhere_writes_nothing_in_a_teams_name(self) -> None:
        client: Any = Client(enforce_csrf_checks=True)
        client.cookies.load(self.tablet().client.cookies.output(header="", sep=";"))
        for path, body in (("team/note", {"note": "x", "before": ""}), ("team/prediction", {"text": "1 kg"})):
            answer = client.generic(
                "PUT" if path.endswith("note") else "POST", f"/api/{path}", str(body), content_type="application/json"
            )
            self.assertEqual(answer.status_code, 403)
        joined = client.post("/api/join", {"code": self.door.code}, content_type="application/json")
        self.assertEqual(joined.status_code, 403)
        self.assertEqual((Design.objects.exclude(note="").count(), Trial.objects.count()), (0, 0))

    def test_opening_twice_is_one_door(self) -> None:
        self.assertEqual(services.open_door(self.run_).code, self.door.code)
        close_door(self.run_)
        self.assertNotEqual(services.open_door(self.run_).code, self.door.code)
