"""A team's page that is kept from one question to the next is the page as it is, whatever was changed meanwhile."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from bench.models import LedgerEvent, Trial
from designs.models import Photo
from designs.tests.test_photos import picture
from live.selectors import hold_left_s
from people.models import Teacher
from people.tests.support import Api, Ledger, checked_in
from tablets import answers
from tablets.models import Tablet
from tablets.tests.test_tablets import AtTablet, Tablets, by_itself


class Kept(Tablets):
    def setUp(self) -> None:
        super().setUp()
        self.api, self.at = Api(self.ada), self.tablet()
        self.second = self.tablet()

    def desk(self, path: str, body: Any, method: str = "PUT") -> Callable[[], Any]:
        return lambda: self.api.send(method, path, body)

    def test_whatever_is_changed_the_next_page_has_it(self) -> None:
        run_, tern, auk = f"runs/{self.run_.pk}", f"designs/{self.tern.pk}", f"designs/{self.auk.pk}"
        measured = {"key": "self_mass", "text": "30 g", "resolution_text": "0.1 g"}
        bench, trial = str(uuid.uuid4()), str(uuid.uuid4())

        def entry(sequence: int, kind: str, **data: Any) -> Callable[[], Any]:
            event = {"id": str(uuid.uuid4()), "sequence": sequence, "kind": kind, "data": data,
                     "happened_at": timezone.now().isoformat()}  # fmt: skip
            return lambda: self.at.send("POST", f"team/trials/{trial}/events", {"bench": bench, "events": [event]})

        changes: dict[str, Callable[[], Any]] = {
            "the class begins to build": self.desk(f"{run_}/build-clock", {"action": "start"}),
            "the clock stands": self.desk(f"{run_}/build-clock", {"action": "pause"}),
            "the clock goes on": self.desk(f"{run_}/build-clock", {"action": "resume"}),
            "the other tablet writes": lambda: self.second.send("PUT", "team/note", {"note": "Tubes", "before": ""}),
            "the other tablet foretells": lambda: self.second.send("POST", "team/prediction", {"text": "700 g"}),
            "somebody sits down at the other": lambda: self.second.send("PUT", "team/who", {"who": "Aksel, Ravn"}),
            "a piece is tried out": lambda: self.second.send("PUT", "team/practice", {"used": 1}),
            "the team measures": lambda: self.second.send("POST", "team/readings", measured),
            "the teacher measures": self.desk(f"{tern}/readings", {**measured, "text": "31 g"}, "POST"),
            "the team's measure counts": self.desk(f"{tern}/team-readings", {"keys": ["self_mass"]}, "POST"),
            "ideas are opened": self.desk(f"{run_}/door", {"may": {"ideas": True}}),
            "tests are opened": self.desk(f"{run_}/door", {"may": {"test": True}}),
            "measuring is shut": self.desk(f"{run_}/door", {"may": {"measure": False}}),
            "hints are hidden": self.desk(f"{run_}/hints", {"hidden": True}),
            "the team is called otherwise": self.desk(f"teams/{self.tern.team_id}", {"name": "Petrel"}, "PATCH"),
            "the teacher reads in inches": lambda: Teacher.objects.filter(pk=self.ada.pk).update(units="us"),
            "it is checked in": lambda: checked_in(self.tern),
            "it begins its test": lambda: self.at.send("POST", "team/trials", {"id": trial, "bench": bench}),
            "the tray goes on": entry(1, "place", item="platform", count=1),
            "it is stopped": self.desk(f"trials/{trial}/station", {"action": "stop"}),
            "it goes on": self.desk(f"trials/{trial}/station", {"action": "go_on"}),
            "the tray held": entry(2, "settle", waited_s=5),
            "it went": entry(3, "fail", mode="snap"),
            "it is confirmed": self.desk(f"trials/{trial}/station", {"action": "confirm", "seen": 4}),
            "the team answers": lambda: self.second.send(
                "PUT", "team/answers",
                {"question": self.at.get("team")["questions"][0]["question"], "text": "At the fold.", "before": ""},
            ),
            "the next version": lambda: self.second.send("POST", "team/next-version", {"changed": "More tape"}),
            "another team is tested": lambda: Ledger(self.api, checked_in(self.auk)).hold("platform"),
            "another team withdraws": self.desk(f"{auk}/away", {"away": "withdrawn"}),
        }  # fmt: skip
        changed = set()
        before = by_itself((200, self.page(self.at)))
        for what, change in changes.items():
            self.page(self.at)
            change()
            kept = by_itself((200, self.page(self.at)))
            answers._PAGES.clear()
            self.assertEqual(kept, by_itself((200, self.page(self.at))), what)
            if kept != before:
                changed.add(what)
            before = kept
        # Nearly all of it shows on the team's page; the rest is another team's business, or stands under what shows.
        self.assertGreater(len(changed), len(changes) - 5, set(changes) - changed)

    def page(self, at: AtTablet) -> Any:
        """As it comes, kept or not."""
        response = at.client.get("/api/team")
        self.assertEqual(response.status_code, 200)
        return response.json()

    def test_photographs_are_there_at_once_and_wait_no_more_at_once(self) -> None:
        self.page(self.at)
        shot = {"photo": SimpleUploadedFile("a.jpg", picture()), "what": "design", "sent_as": str(uuid.uuid4())}
        self.assertEqual(self.second.client.post("/api/team/photos", shot).status_code, 200)
        self.assertEqual([photo["waits"] for photo in self.page(self.at)["photos"]], [True])
        self.api.send("PUT", f"photos/{Photo.objects.get().pk}")
        self.assertEqual([photo["waits"] for photo in self.page(self.at)["photos"]], [False])

    def test_what_nobody_changed_costs_a_few_questions(self) -> None:
        self.page(self.at)
        with CaptureQueriesContext(connection) as asked:
            self.page(self.at)
        # Who asks, and three for what the page rests on.
        self.assertLessEqual(len(asked), 4)

    def test_clock_and_wait_go_on(self) -> None:
        self.api.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": "start"})
        first = self.page(self.at)
        self.assertLess(self.page(self.at)["clock"]["left_s"], first["clock"]["left_s"])
        Ledger(self.api, checked_in(self.tern)).add("place", item="platform", count=1)
        waits = self.page(self.at)["live"]["hold_left_s"]
        later = self.page(self.at)["live"]["hold_left_s"]
        self.assertTrue(0 < later < waits <= 5, (waits, later))
        result = Trial.objects.get().result(self.run_.trial_setup())
        left = hold_left_s(result, 5.0)
        assert left is not None
        since = (timezone.now() - LedgerEvent.objects.get().received_at).total_seconds()
        self.assertAlmostEqual(left, 5.0 - since, delta=0.5)

    def test_each_team_has_its_own_and_whoever_was_put_out_has_none(self) -> None:
        other = self.tablet(self.auk)
        self.assertEqual((self.page(self.at)["team"]["name"], self.page(other)["team"]["name"]), ("Tern", "Auk"))
        self.api.send("PUT", f"runs/{self.run_.pk}/door", {"out": Tablet.objects.order_by("pk").first().pk})  # type: ignore[union-attr]
        self.assertEqual(self.at.client.get("/api/team").status_code, 403)
