"""Home: what is on the bench, what to go on with, the next lesson and what is to buy; and the lesson to try first."""

from __future__ import annotations

import uuid
from datetime import UTC, date, datetime, timedelta
from typing import Any

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from bench import services as bench
from bench.selectors import RECENT
from challenges.library import take
from challenges.models import Run
from challenges.services import mark_tryout
from designs import services as designing
from girder_core.measure import TypedReading
from people.models import SchoolClass
from people.tests.support import Api, school_class, teacher
from runs.home import home_of

TODAY, TEN = date(2026, 12, 1), datetime(2026, 12, 1, 10, tzinfo=UTC)


class AtHome(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = school_class(self.ada, teams=("Tern", "Auk"))

    def run_on(self, day: date, slug: str = "storm-wall") -> Run:
        return designing.open_run(take(self.ada, slug), self.knot, day)

    def home(self) -> dict[str, Any]:
        answer: dict[str, Any] = self.api.get(f"home?today={TODAY}")
        return answer

    def throw(self, run: Run, ended: bool = False) -> None:
        """A trial of the first team with a throw in it, or with all of them and the count."""
        device = uuid.uuid4()
        design = run.designs.select_related("run", "team")[0]
        for key, text in (("length", "60 cm"), ("height", "25 cm"), ("pieces", "20")):
            designing.take_reading(design, key, TypedReading(text, "1" if key == "pieces" else "1 mm"), True)
        designing.answer(design, {question.key: question.good for question in run.core_family().questions})
        trial = bench.start_trial(designing.check_in(design), uuid.uuid4(), device)
        story: list[tuple[str, dict[str, Any]]] = [("round", {"hit": True})]
        if ended:
            story += [("round", {"hit": False})] * (round(run.setup["throws"]) - 1)
            story += [("measure", {"key": "left", "text": "3", "resolution": "1"}), ("finish", {})]
        events = [
            {"id": uuid.uuid4(), "sequence": n, "kind": kind, "data": data, "happened_at": TEN}
            for n, (kind, data) in enumerate(story, start=1)
        ]
        self.assertIsNone(bench.append_events(trial, device, events).refused)

    def test_an_empty_account(self) -> None:
        self.assertEqual(
            self.home(), {"runs": [], "on_the_bench": [], "go_on": None, "next_lesson": None},
        )  # fmt: skip

    def test_the_next_lesson_is_the_earliest_to_come(self) -> None:
        self.run_on(TODAY - timedelta(days=3))
        later, soon = self.run_on(TODAY + timedelta(days=9)), self.run_on(TODAY + timedelta(days=2))
        lesson = self.home()["next_lesson"]
        self.assertEqual((lesson["run"], lesson["to_come"]), (soon.pk, True))
        self.throw(soon)
        self.assertEqual(self.home()["next_lesson"]["run"], later.pk)

    def test_without_one_to_come_the_latest_that_was_put_off(self) -> None:
        self.run_on(TODAY - timedelta(days=30))
        last_week = self.run_on(TODAY - timedelta(days=7))
        lesson = self.home()["next_lesson"]
        self.assertEqual((lesson["run"], lesson["to_come"]), (last_week.pk, False))
        mark_tryout(last_week, True)
        self.assertNotEqual(self.home()["next_lesson"]["run"], last_week.pk)

    def test_what_is_still_to_buy_is_what_the_kit_list_says(self) -> None:
        run = self.run_on(TODAY)
        blocks = dict(run.materials[0])
        # 24 blocks for each of two teams, and a twentieth to spare: 51 of packs of 60.
        self.assertEqual(self.home()["next_lesson"]["to_buy"][0], {"name": blocks["name"], "buy": "1 pack of 60"})
        run.materials = [{**blocks, "owned": 51.0}, *run.materials[1:]]
        run.save()
        self.assertNotIn(blocks["name"], [line["name"] for line in self.home()["next_lesson"]["to_buy"]])

    def test_what_is_on_the_bench_now(self) -> None:
        run = self.run_on(TODAY)
        self.throw(run)
        self.assertEqual(self.home()["on_the_bench"], [{"run": run.pk, "team": "Tern"}])
        # It is the one on the bench, so it is not said again as one to go on with.
        self.assertIsNone(self.home()["go_on"])

    def test_a_trial_that_ended_or_was_left_is_not_on_the_bench(self) -> None:
        ended, left = self.run_on(TODAY), self.run_on(TODAY - timedelta(days=1))
        self.throw(ended, ended=True)
        self.throw(left)
        now = timezone.now()
        self.assertEqual([shown.run for shown in home_of(self.ada, TODAY, now).on_the_bench], [left])
        later = home_of(self.ada, TODAY, now + RECENT + timedelta(minutes=1))
        self.assertEqual(later.on_the_bench, [])
        # One of two is tested in the one that ended, and none in the other: the latest is gone on with.
        self.assertEqual(later.go_on, ended)

    def test_each_run_has_its_drawing_and_is_the_teachers_own(self) -> None:
        run = self.run_on(TODAY)
        other = teacher("Bo")
        designing.open_run(take(other, "clay-lighters"), school_class(other, teams=("Rail",)), TODAY)
        (listed,) = self.home()["runs"]
        self.assertEqual((listed["id"], listed["designs"], listed["tested"]), (run.pk, 2, 0))
        self.assertEqual(listed["drawing"]["says"], run.core_family().draw(run.setup).says)
        self.assertEqual(self.api.call("GET", "home?today=soon")[0], 400)

    def test_the_number_of_queries_does_not_grow(self) -> None:
        self.throw(self.run_on(TODAY))
        with CaptureQueriesContext(connection) as few:
            self.home()
        for n in range(4):
            self.throw(self.run_on(TODAY + timedelta(days=n)))
        with CaptureQueriesContext(connection) as more:
            self.home()
        self.assertLessEqual(len(more), len(few))


class FirstLesson(TestCase):
    def test_it_is_laid_out_and_stays_out_of_what_is_learned(self) -> None:
        api = Api(teacher())
        state = api.send("POST", "first-lesson")
        run = Run.objects.get(pk=state["run"]["id"])
        self.assertTrue(run.tryout)
        self.assertEqual(len(state["designs"]), 2)
        # Nothing is in the way of the first check-in but the own weight, which the lesson asks for.
        design = state["designs"][0]
        self.assertEqual(design["still_to_do"], [])
        self.assertNotIn("self_mass", [reading["key"] for reading in design["readings"]])
        body = {"key": "self_mass", "text": "21 g", "resolution_text": "0.1 g"}
        api.send("POST", f"designs/{design['id']}/readings", body)
        api.send("POST", f"designs/{design['id']}/check-in")

    def test_again_it_gets_a_class_of_its_own(self) -> None:
        api = Api(teacher())
        for _ in range(3):
            self.assertEqual(api.call("POST", "first-lesson")[0], 201)
        names = list(SchoolClass.objects.order_by("id").values_list("name", flat=True))
        self.assertEqual(names, ["Trying it out", "Trying it out 2", "Trying it out 3"])
