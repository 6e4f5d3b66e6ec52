"""A run as a file: out and in again without loss; what does not fit is refused, and nothing is kept."""

from __future__ import annotations

import base64
import copy
import io
import json
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from django.apps import apps
from django.core.files.base import ContentFile
from django.db.models import AutoField
from django.test import SimpleTestCase, TestCase, override_settings
from openpyxl import load_workbook

from bench import remembered
from bench.models import LedgerEvent, Trial
from bench.remembered import results_of, with_length
from challenges.models import Run
from designs.models import Design
from designs.photo_services import keep_photo
from designs.team_services import offer_reading, take_over
from designs.tests.test_photos import picture
from evengirder.lane import Stopped
from girder_core.measure import TypedReading
from live.models import Board
from people.models import SchoolClass, Teacher
from people.tests.support import Api, Ledger, checked_in, run, teacher
from records.run_file import EXPORTED, LEFT_OUT, exported, imported
from results.models import Reflection
from tablets.models import Door, LatePrediction, Tablet, TeamsMay


def without_ids(data: Any, ids: dict[str, str]) -> Any:
    """The same data with ids in the order in which they come, so that files with new ids compare."""
    if isinstance(data, dict):
        return {key: without_ids(value, ids) for key, value in data.items()}
    if isinstance(data, list):
        return [without_ids(value, ids) for value in data]
    if isinstance(data, str) and len(data) == 36 and data.count("-") == 4:
        return ids.setdefault(data, f"id {len(ids)}")
    return data


LINKS = (Board, Door, Tablet, TeamsMay)
"""Ways in, and what is open behind them: of this lesson and this server alone."""


class RunFile(TestCase):
    ada: Teacher
    bea: Teacher
    run_: Run

    @classmethod
    def setUpTestData(cls) -> None:
        cls.ada, cls.bea = teacher("Ada"), teacher("Bea")
        cls.run_ = run(cls.ada, controls=["the same card"], factor={"name": "layers", "levels": ["one", "two"]})
        api = Api(cls.ada)
        tern, auk = (checked_in(design) for design in cls.run_.designs.all())
        api.send("POST", f"designs/{tern.pk}/prediction", {"text": "1.2 lb"})
        ledger = Ledger(api, tern)
        ledger.hold("platform")
        ledger.hold("nut", 7)
        taken_back = ledger.add("place", item="nut", count=9)
        ledger.add("undo", event=ledger.sent[-1]["id"])
        assert taken_back["refused"] is None
        ledger.add("observe", sign="lean")
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="snap")
        LatePrediction.objects.create(design=tern, text="0.7 kg", typed_at=tern.created_at)
        gap = TypedReading("30 cm", "1 mm")
        offer_reading(tern, "gap", gap, confirmed=False)
        take_over(tern, ["gap"])
        offer_reading(auk, "gap", TypedReading("31 cm", "1 mm", "1 cm"), confirmed=False)
        api.send("POST", f"designs/{tern.pk}/next-version", {"changed": "deeper pleats"})
        question = cls.run_.core_family().reflect[0]
        api.send("PUT", f"designs/{tern.pk}/reflection", {"question": question, "text": "At the fold – “crimped”."})
        proposed = api.get(f"runs/{cls.run_.pk}/rubric")["proposed"]
        api.send("PUT", f"runs/{cls.run_.pk}/rubric", {"criteria": proposed})
        api.send("PUT", f"designs/{auk.pk}/rubric", {"criterion": "explains", "level": 2})
        api.send("PUT", f"runs/{cls.run_.pk}/goal", {**cls.run_.goal(), "school": "most_held", "reason": "they asked"})

    def setUp(self) -> None:
        self.api = Api(self.ada)
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.enterContext(override_settings(MEDIA_ROOT=self.folder.name))

    def text(self) -> str:
        return json.dumps(exported(Run.objects.get(pk=self.run_.pk)))

    def test_elsewhere_it_is_the_same_to_the_last_digit(self) -> None:
        text = self.text()
        before = self.api.get(f"runs/{self.run_.pk}/comparison")
        Run.objects.all().delete()
        made = imported(self.bea, text)
        self.assertEqual(exported(made), json.loads(text))
        self.assertEqual(made.school_class.owner, self.bea)
        after = Api(self.bea).get(f"runs/{made.pk}/comparison")
        self.assertEqual([row["score"] for row in after["ranked"]], [row["score"] for row in before["ranked"]])
        self.assertEqual(after["headline"], before["headline"])
        # Both questions are answered in the file, in the words of the screen.
        came_to = json.loads(text)["came_to"]
        self.assertEqual((came_to["won_today"], came_to["would_win_again"]), (before["headline"], before["again"]))
        self.assertEqual([row["wins_again"] for row in came_to["designs"]],
                         [row["prospect"]["first"] for row in before["ranked"]])  # fmt: skip

    def test_one_that_was_changed_and_comes_back_is_not_taken_for_what_it_was(self) -> None:
        """By a process that remembers the first, and did not bring in the second itself."""
        data = json.loads(self.text())

        def held(made: Run) -> list[float]:
            trials = with_length(Trial.objects.filter(design__run=made)).select_related("design__run")
            return sorted(result.held.value for result in results_of(list(trials)).values())

        first = held(Run.objects.get(pk=self.run_.pk))
        remembered_then = dict(remembered._KNOWN)
        Run.objects.all().delete()
        placed = next(
            event for design in data["designs"] for trial in design["trials"] for event in trial["events"]
            if event["data"].get("count") == 7
        )  # fmt: skip
        placed["data"]["count"] = 5
        made = imported(self.ada, json.dumps(data))
        remembered._KNOWN.clear()
        remembered._KNOWN.update(remembered_then)
        # Two nuts of 15 g fewer.
        self.assertAlmostEqual(sum(held(made)), sum(first) - 2 * 0.015)

    def test_beside_itself_it_gets_ids_of_its_own(self) -> None:
        text = self.text()
        made = self.api.send("POST", "runs/import", {"text": text})
        self.assertEqual(made["class_name"], "9 Knot (2)")
        again = exported(Run.objects.get(pk=made["run"]))
        self.assertEqual(again["class"], "9 Knot (2)")
        again["class"] = "9 Knot"
        self.assertEqual(without_ids(again, {}), without_ids(json.loads(text), {}))
        self.assertEqual(Trial.objects.count(), 2)

    def test_wherever_it_is_stopped_nothing_is_kept(self) -> None:
        keep_photo(self.run_.designs.all()[0], ContentFile(picture()), "design")
        text = self.text()
        entries = sum(len(trial["events"]) for design in json.loads(text)["designs"] for trial in design["trials"])
        steps: list[tuple[int, int, str]] = []

        def kept() -> tuple[int, int, int, list[Path]]:
            files = sorted(path for path in Path(self.folder.name).rglob("*") if path.is_file())
            return SchoolClass.objects.count(), Run.objects.count(), LedgerEvent.objects.count(), files

        imported(self.bea, text, lambda *step: steps.append(step))
        self.assertEqual({of for _, of, _ in steps}, {entries})
        self.assertEqual([done for done, _, _ in steps], sorted(done for done, _, _ in steps))
        before = kept()
        for last in range(len(steps)):
            left = iter(range(last))

            def told(done: int, of: int, doing: str, left: Iterator[int] = left) -> None:
                if next(left, None) is None:
                    raise Stopped

            with self.subTest(steps[last]), self.assertRaises(Stopped):
                imported(self.bea, text, told)
            self.assertEqual(kept(), before)

    def test_photographs_come_along_to_the_last_byte(self) -> None:
        design = self.run_.designs.all()[0]
        for what, data in (("design", picture()), ("wreck", picture(1800, 900))):
            keep_photo(design, ContentFile(data), what)
        text = self.text()
        made = imported(self.bea, text)
        first = made.designs.all()[0]
        self.assertEqual([(p.what, p.width, p.height) for p in first.photos.all()],
                         [("design", 300, 200), ("wreck", 1600, 800)])  # fmt: skip
        self.assertEqual([p.file.read() for p in first.photos.all()], [p.file.read() for p in design.photos.all()])
        shots = [design["photos"] for design in json.loads(text)["designs"]]
        self.assertEqual([design["photos"] for design in exported(made)["designs"]], shots)

    def test_a_file_of_the_first_version_has_no_photographs(self) -> None:
        old = json.loads(self.text())
        old["version"] = 1
        for design in old["designs"]:
            del design["photos"]
        made = imported(self.bea, json.dumps(old))
        self.assertEqual(made.designs.count(), self.run_.designs.count())

    def test_a_file_of_the_second_version_does_not_say_who_wrote_and_who_was_away(self) -> None:
        old = json.loads(self.text())
        old["version"] = 2
        del old["run"]["tryout"], old["run"]["pinned_step"]
        for team in old["teams"]:
            del team["members"]
        for design in old["designs"]:
            del design["away"], design["away_since"]
            for prediction in design["predictions"]:
                del prediction["relation"], prediction["than"]
            for trial in design["trials"]:
                for event in trial["events"]:
                    del event["author"]
        made = imported(self.bea, json.dumps(old))
        self.assertFalse(made.tryout)
        events = LedgerEvent.objects.filter(trial__design__run=made)
        self.assertEqual(set(events.values_list("author", flat=True)), {""})

    def test_pictures_that_are_none_leave_nothing_behind(self) -> None:
        keep_photo(self.run_.designs.all()[0], ContentFile(picture()), "design")
        whole = json.loads(self.text())
        before = sorted(Path(self.folder.name).rglob("*.jpg"))
        good = whole["designs"][0]["photos"][0]
        svg = base64.b64encode(b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>").decode()
        for key, value in (
            ("jpeg", svg),
            ("jpeg", "no base64!"),
            ("jpeg", 7),
            ("what", "selfie"),
            ("taken_at", "noon"),
        ):
            with self.subTest(key=key, value=value):
                whole["designs"][0]["photos"] = [good, {**good, key: value}]
                code, sentence = self.refused(json.dumps(whole))
                self.assertEqual(code, "bad_run_file")
                self.assertTrue(sentence.startswith(f"designs.0.photos.1.{key}"), sentence)
                # The good one before it is gone again, file and all.
                self.assertEqual(sorted(Path(self.folder.name).rglob("*.jpg")), before)

    def test_the_download_is_the_file(self) -> None:
        response = self.api.call("GET", f"runs/{self.run_.pk}/run.json")[1]
        self.assertEqual(response, exported(Run.objects.get(pk=self.run_.pk)))

    def refused(self, text: str) -> tuple[str, str]:
        counts = (Run.objects.count(), SchoolClass.objects.count(), Design.objects.count(), Reflection.objects.count())
        status, answer = self.api.refused("POST", "runs/import", {"text": text})
        self.assertEqual(status, 400)
        after = (Run.objects.count(), SchoolClass.objects.count(), Design.objects.count(), Reflection.objects.count())
        self.assertEqual(counts, after)
        return answer["code"], answer["sentence"]

    def test_what_is_no_run_file(self) -> None:
        whole = json.loads(self.text())
        for text, code in (
            ("{", "not_json"), ("[]", "not_a_run"),
            (json.dumps({"format": "even-girder-recipe", "version": 1}), "not_a_run"),
            (json.dumps({**whole, "version": 4}), "newer_version"),
            (json.dumps({**whole, "version": True}), "not_a_run"),
            ("[" * 100_000, "unsound_json"),
            (json.dumps({**whole, "teams": float("inf")}), "unsound_json"),
        ):  # fmt: skip
            self.assertEqual(self.refused(text)[0], code, text[:60])
        self.assertIn("version 4", self.refused(json.dumps({**whole, "version": 4}))[1])

    def test_each_thing_that_does_not_fit_is_named_by_where_it_stands(self) -> None:
        whole = json.loads(self.text())
        event = "designs.0.trials.0.events"

        def changed(path: str, value: Any) -> str:
            data = copy.deepcopy(whole)
            at, parts = data, path.split(".")
            for part in parts[:-1]:
                at = at[int(part)] if part.isdigit() else at[part]
            if value is KeyError:
                del at[parts[-1]]
            else:
                at[int(parts[-1]) if parts[-1].isdigit() else parts[-1]] = value
            return json.dumps(data)

        for path, value, said in (
            ("class", "", "class"), ("run", [], "run"), ("run.family", "castle", "run.family"),
            ("run.setup", "wide", "run"), ("run.kit", [{"name": "nut"}], "run"),
            ("run.school", "loudest", "run.school"),
            ("run.date", "yesterday", "run.date"), ("run.penalty", 7, "run"), ("run.minutes", -3, "run.minutes"),
            ("teams", {}, "teams"), ("teams.0.colour", "red", "teams.0"), ("teams.1.name", "Tern", "teams.1"),
            ("teams.0.members", {"a": 1}, "teams.0.members"), ("teams.0.members", [7], "teams.0.members"),
            ("designs.0.team", "Gannet", "designs.0.team"), ("designs.0.version", "one", "designs.0.version"),
            ("designs.1.parent_version", 4, "designs.1.parent_version"), ("designs.0.wings", 2, "designs.0.wings"),
            ("designs.0.note", KeyError, "designs.0.note"), ("designs.0.answers", [1], "designs"),
            ("designs.0.readings.0.key", "wingspan", "designs.0.readings.0.key"),
            ("designs.0.readings.0.value_si", None, "designs.0.readings.0.value_si"),
            (f"{event}.0.kind", "explode", f"{event}.0.kind"), (f"{event}.0.data", {"item": "anvil"}, f"{event}.0"),
            (f"{event}.0.data", [], f"{event}.0.data"), (f"{event}.1.sequence", 9, f"{event}.8.sequence"),
            (f"{event}.1.id", whole["designs"][0]["trials"][0]["events"][0]["id"], "designs"),
            (f"{event}.0.happened_at", "noon", f"{event}.0.happened_at"),
            ("designs.0.trials.0.id", "one", "designs.0.trials.0.id"),
        ):  # fmt: skip
            with self.subTest(path=path, value=value):
                code, sentence = self.refused(changed(path, value))
                self.assertEqual(code, "bad_run_file", sentence)
                self.assertTrue(sentence.startswith(said), sentence)


class Tables(TestCase):
    def test_workbook_and_rubric_hold_what_the_run_holds(self) -> None:
        ada = teacher()
        made = run(ada)
        api = Api(ada)
        tern = checked_in(made.designs.all()[0])
        ledger = Ledger(api, tern)
        ledger.hold("platform")
        ledger.hold("nut", 7)
        ledger.add("place", item="nut", count=1)
        ledger.add("fail", mode="snap")
        api.send("PATCH", f"designs/{tern.pk}", {"note": "=1+1"})
        proposed = api.get(f"runs/{made.pk}/rubric")["proposed"]
        api.send("PUT", f"runs/{made.pk}/rubric", {"criteria": proposed})
        book = load_workbook(io.BytesIO(api.call("GET", f"runs/{made.pk}/results.xlsx")[1].content))
        self.assertEqual(book.sheetnames, ["results", "steps", "readings", "rubric", "kit"])
        header, first = (list(row) for row in list(book["results"].iter_rows(values_only=True))[:2])
        row = dict(zip(header, first, strict=True))
        # 40 g of tray and seven nuts of 15 g.
        self.assertAlmostEqual(row["held_kg"], 0.145)
        self.assertEqual(row["note"], "'=1+1")
        self.assertEqual(book["steps"].max_row - 1, 6)
        self.assertEqual({cell.value for cell in book["readings"]["C"][1:]},
                         {"gap", "overlap_left", "overlap_right", "self_mass"})  # fmt: skip
        csv = api.call("GET", f"runs/{made.pk}/rubric.csv")[1].content.decode("utf-8-sig").splitlines()
        self.assertEqual(len(csv), 3)
        self.assertIn("Tern", csv[1])


class Years(TestCase):
    def test_a_run_that_was_brought_in_counts_among_the_years(self) -> None:
        ada = teacher()
        made = run(ada, teams=("Tern", "Auk", "Rail"), school="most_held")
        api = Api(ada)
        for design, nuts in zip(made.designs.all(), (4, 8, 12), strict=True):
            ledger = Ledger(api, checked_in(design))
            ledger.hold("platform")
            ledger.hold("nut", nuts)
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode="snap")
        imported(ada, json.dumps(exported(made)))
        history = api.get(f"runs/{made.pk}/history")
        self.assertEqual([run["designs"] for run in history["runs"]], [3, 3])
        self.assertEqual(history["runs"][0]["best"], "220 g")
        self.assertIn("Half of 6 designs", history["says"])
        # The next class's load plan begins with what those before held.
        again = made.recipe
        assert again is not None
        mine = api.send("POST", "classes", {"name": "8 Tern"})
        api.send("POST", f"classes/{mine['id']}/teams", {"name": "Skua"})
        body = {"recipe": again.pk, "school_class": mine["id"], "date": "2027-11-03"}
        opened = api.send("POST", "runs", body)
        design = Design.objects.get(pk=opened["designs"][0]["id"])
        estimate = Ledger(api, checked_in(design)).state["estimate"]
        self.assertEqual(estimate["basis"], "6 designs in earlier runs")


class Fields(SimpleTestCase):
    def test_every_field_is_written_or_left_out_for_a_reason(self) -> None:
        for model, written in EXPORTED.items():
            fields, left_out = model._meta.concrete_fields, set(LEFT_OUT.get(model, {}))
            # A row's own number, and whose row it is, are said by where it stands.
            by_place = {
                field.name for field in fields if isinstance(field, AutoField) or field.related_model in EXPORTED
            }
            names = {field.name for field in fields}
            with self.subTest(model.__name__):
                self.assertEqual(names - by_place - set(written) - left_out, set(), "neither written nor left out")
                self.assertEqual((set(written) | left_out) - names, set(), "there is no such field any more")
                self.assertEqual(set(written) & left_out, set())

    def test_everything_that_belongs_to_a_run_is_written(self) -> None:
        for model in apps.get_models():
            if {field.related_model for field in model._meta.concrete_fields} & set(EXPORTED) and model not in LINKS:
                self.assertIn(model, EXPORTED, "a link to a run is no part of it; anything else is")
