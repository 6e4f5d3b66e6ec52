"""What a team does for its own design at its tablet, and what waits for its teacher."""

from __future__ import annotations

import uuid
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from designs.models import Design, Photo, Reading, TeamReading
from designs.tests.test_photos import picture
from live.services import open_board, show_screen
from people.tests.support import Api, Ledger, checked_in
from results.models import Reflection
from tablets.models import Tablet
from tablets.tests.test_tablets import AtTablet, Tablets


class Own(Tablets):
    """A tablet of Tern's, and its teacher."""

    def setUp(self) -> None:
        super().setUp()
        self.api, self.at = Api(self.ada), self.tablet()

    def seen(self, design: Design | None = None) -> Any:
        """A design as its teacher sees it."""
        found = (design or self.tern).pk
        return next(one for one in self.api.get(f"runs/{self.run_.pk}")["designs"] if one["id"] == found)

    def measure(self, key: str, text: str, step: str = "1 mm", **more: Any) -> Any:
        return self.at.send("POST", "team/readings", {"key": key, "text": text, "resolution_text": step, **more})

    def teacher_measures(self, key: str, text: str, step: str = "1 mm") -> None:
        body = {"key": key, "text": text, "resolution_text": step}
        self.api.send("POST", f"designs/{self.tern.pk}/readings", body)

    def own(self, key: str = "gap") -> Any:
        return next(one for one in self.at.get("team")["readings"] if one["key"] == key)

    def let(self, **may: bool) -> None:
        self.api.send("PUT", f"runs/{self.run_.pk}/door", {"may": may})

    def tested(self, mode: str = "snap") -> None:
        ledger = Ledger(self.api, checked_in(self.tern))
        ledger.hold("platform")
        ledger.add("fail", mode=mode)


class Measured(Own):
    def test_it_counts_for_nothing_until_the_teacher_takes_it_over(self) -> None:
        self.measure("gap", "30 cm")
        self.measure("self_mass", "38.4 g", "0.1 g")
        self.assertEqual((self.seen()["readings"], Reading.objects.count()), ([], 0))
        self.assertEqual([one["key"] for one in self.seen()["offered"]], ["gap", "self_mass"])
        taken = self.api.send("POST", f"designs/{self.tern.pk}/team-readings", {"keys": ["gap", "self_mass"]})
        self.assertEqual(
            {one["key"]: one["text"] for one in taken["readings"]}, {"gap": "30 cm", "self_mass": "38.4 g"}
        )
        self.assertEqual([one["taken"] for one in taken["offered"]], [True, True])
        self.assertTrue(self.own()["own"]["taken"])
        # Once more takes nothing twice.
        self.api.send("POST", f"designs/{self.tern.pk}/team-readings", {"keys": ["gap"]})
        self.assertEqual(Reading.objects.count(), 2)

    def test_the_teachers_own_wins_and_both_are_told_how_far_apart_they_are(self) -> None:
        self.measure("gap", "31 cm")
        self.teacher_measures("gap", "30 cm")
        (offered,) = self.seen()["offered"]
        self.assertEqual((offered["taken"], offered["agree"]), (False, False))
        self.assertEqual(offered["apart"], "10 mm more; the instruments explain 1 mm at most")
        self.assertEqual(self.own()["counts_si"], 0.3)
        self.assertEqual(self.own()["own"]["apart"], offered["apart"])
        # A second look at the ruler: now they agree, and the teacher's still counts.
        self.measure("gap", "30.1 cm")
        self.assertTrue(self.own()["own"]["agree"])
        self.assertEqual([one["text"] for one in self.seen()["readings"]], ["30 cm"])

    def test_the_teachers_figure_is_kept_from_who_has_not_measured(self) -> None:
        self.teacher_measures("gap", "30 cm")
        self.assertEqual((self.own()["measured"], self.own()["counts_si"]), (True, None))
        self.measure("gap", "30.1 cm")
        self.assertEqual(self.own()["counts_si"], 0.3)

    def test_what_the_teacher_measures_after_taking_over_counts_instead(self) -> None:
        self.measure("gap", "31 cm")
        self.api.send("POST", f"designs/{self.tern.pk}/team-readings", {"keys": ["gap"]})
        self.teacher_measures("gap", "30 cm")
        self.assertEqual((self.own()["own"]["taken"], self.own()["counts_si"]), (False, 0.3))

    def test_the_same_sent_twice_is_one(self) -> None:
        self.measure("gap", "30 cm")
        self.measure("gap", "30 cm")
        self.assertEqual(TeamReading.objects.count(), 1)

    def test_what_is_no_reading_is_said_and_what_is_unlikely_is_asked(self) -> None:
        body = {"key": "self_mass", "text": "5 kg", "resolution_text": "1 g"}
        status, answer = self.at.refused("POST", "team/readings", body)
        self.assertEqual((status, answer["code"], answer["confirm"]), (422, "unlikely_reading", True))
        self.measure("self_mass", "5 kg", "1 g", confirmed=True)
        for typed, code in (("long", "not_a_number"), ("36", "unit_missing"), ("0 cm", "not_positive")):
            sent = {"key": "gap", "text": typed, "resolution_text": "1 mm"}
            answer = self.at.refused("POST", "team/readings", sent)[1]
            self.assertEqual(answer["code"], code)
        answer = self.at.refused("POST", "team/readings", {**body, "key": "secret"})[1]
        self.assertEqual(answer["code"], "unknown_reading")

    def test_only_where_the_teacher_lets_teams_measure(self) -> None:
        self.let(measure=False)
        self.assertEqual(self.at.get("team")["readings"], [])
        body = {"key": "gap", "text": "30 cm", "resolution_text": "1 mm"}
        status, answer = self.at.refused("POST", "team/readings", body)
        self.assertEqual((status, answer["code"]), (403, "not_open_to_teams"))
        self.assertEqual(TeamReading.objects.count(), 0)

    def test_what_was_not_measured_cannot_be_taken_over(self) -> None:
        path = f"designs/{self.tern.pk}/team-readings"
        self.assertEqual(self.api.refused("POST", path, {"keys": ["gap"]})[1]["code"], "unknown_reading")

    def test_after_the_test_only_what_may_follow_is_asked_for(self) -> None:
        self.assertIn("gap", [one["key"] for one in self.at.get("team")["readings"]])
        self.tested()
        asked = {one["key"] for one in self.at.get("team")["readings"]}
        self.assertNotIn("gap", asked)


class Photographed(Own):
    def send(self, sent_as: uuid.UUID | None = None, data: bytes | None = None, at: AtTablet | None = None) -> Any:
        upload = SimpleUploadedFile("a.jpg", picture() if data is None else data)
        body = {"photo": upload, "what": "design", "sent_as": str(sent_as or uuid.uuid4())}
        return (at or self.at).client.post("/api/team/photos", body)

    def on_the_board(self) -> int:
        board = open_board(self.run_)
        show_screen(self.run_, "photos")
        return len(Api().get(f"boards/{board.token}")["photos"])

    def test_it_waits_for_the_teachers_nod(self) -> None:
        self.assertEqual(self.send().status_code, 200)
        photo = Photo.objects.get()
        self.assertEqual(self.seen()["photos"][0]["waits"], True)
        self.assertEqual(self.on_the_board(), 0)
        token = open_board(self.run_).token
        self.assertEqual(Api().call("GET", f"boards/{token}/photos/{photo.pk}")[0], 404)
        self.assertEqual(self.tern.seen_photos(), [])
        self.assertFalse(self.api.send("PUT", f"photos/{photo.pk}")["photos"][0]["waits"])
        self.assertEqual((self.on_the_board(), len(self.tern.seen_photos())), (1, 1))

    def test_the_same_sent_twice_is_one(self) -> None:
        name = uuid.uuid4()
        self.assertEqual([self.send(name).status_code for _ in range(2)], [200, 200])
        self.assertEqual(Photo.objects.count(), 1)

    def test_a_team_sees_and_takes_away_its_own_and_nobody_elses(self) -> None:
        self.send()
        photo = Photo.objects.get()
        rivals = self.tablet(self.auk)
        self.assertEqual(self.at.client.get(f"/api/team/photos/{photo.pk}").status_code, 200)
        self.assertEqual(rivals.call("GET", f"team/photos/{photo.pk}")[0], 404)
        self.assertEqual(rivals.call("DELETE", f"team/photos/{photo.pk}")[0], 404)
        self.api.send("PUT", f"photos/{photo.pk}")
        self.assertEqual(self.at.call("DELETE", f"team/photos/{photo.pk}")[0], 404, "what others see is the teacher's")
        Photo.objects.update(waits=True)
        self.assertEqual(self.at.send("DELETE", f"team/photos/{photo.pk}")["photos"], [])

    def test_what_is_no_photograph_is_refused(self) -> None:
        answer = self.send(data=b"%PDF-1.7")
        self.assertEqual((answer.status_code, answer.json()["code"]), (400, "bad_photo"))


class Around(Own):
    def test_who_is_there_is_said_at_the_tablet_and_the_tasks_go_round(self) -> None:
        self.at.send("PUT", "team/who", {"who": "Sunniva, Aksel"})
        second = self.tablet()
        page = second.send("PUT", "team/who", {"who": "Ronja and Aksel"})
        self.assertEqual([task["name"] for task in page["tasks"]], ["Sunniva", "Aksel", "Ronja", "Sunniva"])
        door = self.api.get(f"runs/{self.run_.pk}/door")
        self.assertEqual([tablet["who"] for tablet in door["tablets"]], ["Sunniva, Aksel", "Ronja, Aksel"])
        self.assertNotIn("Ronja", str(self.tablet(self.auk).get("team")), "no other team is told")
        self.tested()
        self.assertEqual(self.at.get("team")["tasks"][0]["name"], "Aksel", "after a test the next has it")
        # The lesson is over, and no name is left.
        self.api.send("PUT", f"runs/{self.run_.pk}/door", {"action": "close"})
        self.assertEqual(Tablet.objects.count(), 0)

    def test_ideas_are_shown_where_the_teacher_says_so(self) -> None:
        self.assertEqual(self.at.get("team")["ideas"], [])
        self.let(ideas=True)
        self.assertIn("Turn up two edges.", self.at.get("team")["ideas"])
        self.assertEqual(
            self.api.get(f"runs/{self.run_.pk}/door")["may"],
            {"measure": True, "draft": True, "ideas": True, "test": False},
        )

    def test_pieces_used_are_counted(self) -> None:
        self.assertEqual(self.at.send("PUT", "team/practice", {"used": 2})["practice_used"], 2)
        self.assertEqual(self.seen()["practice_used"], 2)
        self.assertEqual(self.at.refused("PUT", "team/practice", {"used": -1})[1]["code"], "bad_count")


class Afterwards(Own):
    def test_questions_for_the_next_version_unless_hints_are_hidden(self) -> None:
        self.tested("snap")
        asked = self.at.get("team")["ways_on"]
        self.assertTrue(asked)
        self.assertEqual(asked, self.seen()["ways_on"])
        self.api.send("PUT", f"runs/{self.run_.pk}/hints", {"hidden": True})
        self.assertEqual(self.at.get("team")["ways_on"], [])

    def test_answers_stay_with_the_version_they_were_given_for(self) -> None:
        self.assertEqual(self.at.get("team")["questions"], [], "nothing is asked before the test")
        self.tested()
        question = self.at.get("team")["questions"][0]["question"]
        body = {"question": question, "text": "At the fold.", "before": ""}
        page = self.at.send("PUT", "team/answers", body)
        self.assertEqual(page["questions"][0]["text"], "At the fold.")
        second = self.tablet()
        status, answer = second.refused("PUT", "team/answers", {**body, "text": "In the middle."})
        self.assertEqual((status, answer["data"]["stands"]), (409, "At the fold."))
        self.at.send("POST", "team/next-version", {"changed": "one more layer"})
        later = Design.objects.get(run=self.run_, team=self.tern.team, version=2)
        Ledger(self.api, checked_in(later)).hold("platform")
        second.send("PUT", "team/answers", {**body, "text": "In the middle.", "before": "At the fold."})
        self.assertEqual(Reflection.objects.get().design, self.tern)
        self.assertEqual(
            self.at.refused("PUT", "team/answers", {**body, "question": "Who won?"})[1]["code"], "unknown_question"
        )

    def test_the_next_version_is_opened_once(self) -> None:
        body = {"changed": "one more  layer"}
        self.assertEqual(self.at.refused("POST", "team/next-version", body)[1]["code"], "not_tested")
        self.tested()
        for _ in range(2):
            page = self.at.send("POST", "team/next-version", body)
            self.assertEqual((page["version"], page["stage"], page["changed"]), (2, "build", "one more layer"))
        self.assertEqual(Design.objects.filter(team=self.tern.team).count(), 2)
        self.assertEqual(self.at.refused("POST", "team/next-version", {"changed": "a rib"})[1]["code"], "not_tested")


class Drafted(Own):
    def begun(self) -> tuple[dict[str, Any], dict[str, Any]]:
        table = self.at.get("team/draft")
        kind = table["kinds"][0]
        return table, {"kind": kind["key"], "typed": kind["start"], "moves": {}}

    def test_the_team_speaks_before_the_model(self) -> None:
        table, body = self.begun()
        self.assertTrue(table["veiled"])
        kept_back = self.at.send("POST", "team/draft", body)
        self.assertEqual((kept_back["prediction"], kept_back["facts"], kept_back["curves"]), (None, [], []))
        self.at.send("POST", "team/prediction", {"text": "1 kg"})
        shown = self.at.send("POST", "team/draft", body)
        self.assertGreater(shown["prediction"]["typical_n"], 0)
        self.assertTrue(shown["prediction"]["what_helps"])
        self.assertTrue(self.seen()["said_first"])
        self.api.send("PUT", f"runs/{self.run_.pk}/hints", {"hidden": True})
        self.assertEqual(self.at.send("POST", "team/draft", body)["prediction"]["what_helps"], [])

    def test_it_is_kept_with_the_teams_own_design_until_its_test(self) -> None:
        _, body = self.begun()
        self.assertEqual(self.at.send("PUT", "team/draft", body)["kept"]["kind"], body["kind"])
        self.assertIsNotNone(self.seen()["draft"])
        self.assertIsNone(self.seen(self.auk)["draft"])
        self.tested()
        self.assertTrue(self.at.get("team/draft")["begun"])
        self.assertEqual(self.at.refused("PUT", "team/draft", body)[1]["code"], "draft_too_late")

    def test_only_where_the_teacher_lets_teams_draft(self) -> None:
        _, body = self.begun()
        self.let(draft=False)
        self.assertFalse(self.at.get("team")["can_draft"])
        for method, sent in (("GET", None), ("POST", body), ("PUT", body)):
            self.assertEqual(self.at.refused(method, "team/draft", sent)[1]["code"], "not_open_to_teams")

    def test_what_cannot_be_built_is_said_at_its_parameter(self) -> None:
        _, body = self.begun()
        key = next(iter(body["typed"]))
        status, answer = self.at.refused("POST", "team/draft", {**body, "typed": {**body["typed"], "depth_m": "long"}})
        self.assertEqual((status, list(answer["fields"])), (400, ["depth_m"]), key)
