"""A school as a file, and gone: what is in it, whose work is not, and that nothing of it stays."""

from __future__ import annotations

import io
import json
import shutil
import tempfile
import zipfile
from datetime import timedelta
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.test import TestCase, override_settings
from django.utils import timezone
from PIL import Image

from challenges.exchange import imported as recipe_of
from challenges.models import Recipe, Run
from designs.models import Photo
from designs.photo_services import keep_photo
from girder_core.ground import GirderError
from people import schools
from people.models import LEAD, Code, Colleague, School, SchoolClass, Teacher
from people.tests.support import PASSWORD, Api, Ledger, checked_in, run, teacher
from records.run_file import imported as run_of
from runs.removal_services import tidy
from schools import export
from schools.models import SharedRecipe
from schools.sharing import share

SHARED = "teachers/bea-"


def photo() -> SimpleUploadedFile:
    out = io.BytesIO()
    Image.new("RGB", (64, 48), "teal").save(out, "JPEG")
    return SimpleUploadedFile("deck.jpg", out.getvalue(), content_type="image/jpeg")


class WithSchool(TestCase):
    def setUp(self) -> None:
        self.school, self.other = schools.add_school("Skerry School"), schools.add_school("Voe School")
        self.ada, self.bea, self.cas = teacher("Ada"), teacher("Bea"), teacher("Cas")
        schools.settle(self.ada, self.school, administers=True)
        schools.settle(self.bea, self.school)
        schools.settle(self.cas, self.other, administers=True)
        self.media = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(override_settings(MEDIA_ROOT=self.media))
        self.runs = {one.name: self.ran(one) for one in (self.ada, self.bea, self.cas)}
        share(Recipe.objects.get(owner=self.bea), self.bea, to_district=False)

    def ran(self, of: Teacher) -> Run:
        made = run(of)
        design = checked_in(made.designs.all()[0])
        Ledger(Api(of), design).hold("platform")
        keep_photo(design, photo(), "design")
        return made


def files(content: bytes) -> dict[str, Any]:
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: json.loads(archive.read(name)) for name in archive.namelist()}


class File(WithSchool):
    def taken(self) -> dict[str, Any]:
        status, answer = Api(self.ada).call("GET", "school/file")
        self.assertEqual(status, 200)
        return files(answer.content)

    def test_an_administrator_takes_along_the_work_of_those_who_share_it(self) -> None:
        told = self.taken()
        self.assertEqual({name.split("/")[0] for name in told}, {"school.json", "library"})
        lines = {one["name"]: one for one in told["school.json"]["teachers"]}
        self.assertEqual(set(lines), {"Ada", "Bea"})
        self.assertEqual((lines["Bea"]["runs"], lines["Bea"]["work"]), (1, None))
        Api(self.bea).send("PATCH", "school", {"shares_work": True})
        told = self.taken()
        work = {name for name in told if name.startswith("teachers/")}
        self.assertTrue(work and all(name.startswith(SHARED) for name in work), work)
        Api(self.bea).send("PATCH", "school", {"shares_work": False})
        self.assertFalse([name for name in self.taken() if name.startswith("teachers/")])

    def test_more_than_a_page_hands_out_is_for_who_runs_the_server(self) -> None:
        with self.assertRaisesRegex(GirderError, "Ask who runs this server"):
            export.write(self.school, io.BytesIO(), whole=True, most=1000)
        out = io.BytesIO()
        export.write(self.school, out, whole=True)
        self.assertTrue(1000 < len(out.getvalue()) < export.MOST_BYTES)

    def test_what_is_in_it_comes_in_again(self) -> None:
        Api(self.bea).send("PATCH", "school", {"shares_work": True})
        told = self.taken()
        [file] = [what for name, what in told.items() if "/runs/" in name]
        again = run_of(self.cas, json.dumps(file))
        self.assertEqual((again.name, again.designs.count()), (self.runs["Bea"].name, 2))
        self.assertEqual(Photo.objects.filter(design__run=again).count(), 1)
        for part in ("/recipes/", "library/"):
            [file] = [what for name, what in told.items() if part in name and name.endswith(".girder.json")]
            self.assertEqual(recipe_of(self.cas, json.dumps(file)).name, "Test gangway")

    def test_who_runs_the_server_takes_all_of_one_school_and_nothing_of_another(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        call_command("school", "export", "skerry-school", "--to", str(folder), stdout=io.StringIO())
        [path] = folder.iterdir()
        self.assertEqual(path.stat().st_mode & 0o777, 0o600)
        told = files(path.read_bytes())
        self.assertEqual(len([name for name in told if "/runs/" in name]), 2)
        self.assertNotIn("Cas", json.dumps(told["school.json"]))
        with self.assertRaisesMessage(CommandError, "There is no school voe."):
            call_command("school", "export", "voe", "--to", str(folder))


class Gone(WithSchool):
    def left(self) -> dict[str, int]:
        return {
            model.__name__: model._base_manager.count()
            for model in (School, Teacher, SchoolClass, Run, Recipe, Photo, SharedRecipe, Code)
        }

    def test_deleted_it_is_gone_after_its_time_with_its_photographs_and_all_else_stays(self) -> None:
        schools.invite(self.school, self.ada)
        Api(self.ada).send("POST", "school/removal", {"password": PASSWORD})
        self.assertEqual(tidy(), 0)
        School.objects.filter(pk=self.school.pk).update(leaving_at=timezone.now() - timedelta(days=30, hours=1))
        self.assertEqual(len(list(self.media.rglob("*.jpg"))), 3)
        self.assertEqual(tidy(), 2)
        kept = {**dict.fromkeys(self.left(), 1), "SharedRecipe": 0, "Code": 0}
        self.assertEqual(self.left(), kept)
        self.assertEqual(len(list(self.media.rglob("*.jpg"))), 1)
        self.assertEqual(Api(self.cas).get("home")["runs"][0]["id"], self.runs["Cas"].pk)

    def test_who_runs_the_server_deletes_it_now(self) -> None:
        out = io.StringIO()
        call_command("school", "delete", "skerry-school", "--yes", stdout=out)
        self.assertEqual(out.getvalue().strip(), "Skerry School is gone, with 2 accounts and 2 runs.")
        self.assertEqual(self.left()["Teacher"], 1)

    def test_photographs_that_cannot_be_deleted_leave_the_rest_to_the_next_time(self) -> None:
        shutil.rmtree(self.media / "photos", ignore_errors=True)
        call_command("school", "delete", "skerry-school", "--yes", stdout=io.StringIO())
        self.assertEqual(self.left()["School"], 1)


class Removed(WithSchool):
    def test_classes_that_a_colleague_leads_go_on_with_them_and_others_wait(self) -> None:
        shared, own = self.runs["Bea"].school_class, SchoolClass.objects.create(owner=self.bea, name="own")
        dan = teacher("Dan")
        schools.settle(dan, self.school)
        # Who leads it longer, but is about to go, is passed over.
        eve = teacher("Eve")
        schools.settle(eve, self.school)
        Colleague.objects.create(school_class=shared, teacher=eve, part=LEAD)
        Api(eve).send("POST", "session/leave", {"password": PASSWORD})
        Colleague.objects.create(school_class=shared, teacher=dan, part=LEAD)
        Colleague.objects.create(school_class=own, teacher=dan, part="helper")
        page = Api(self.ada).send("PUT", f"school-teachers/{self.bea.pk}", {"let_in": False})
        self.assertEqual(page["went"], [f"{shared.name} went to Dan"])
        self.assertEqual([one["id"] for one in Api(dan).get("runs")], [self.runs["Bea"].pk])
        # What was not shared as a lead waits for its teacher, seen by nobody.
        self.assertEqual([one["name"] for one in Api(dan).get("classes")], [shared.name])
        Teacher.objects.filter(pk=self.bea.pk).update(leaving_at=timezone.now() - timedelta(days=31))
        self.assertEqual(tidy(), 1)
        self.assertEqual([one["id"] for one in Api(dan).get("runs")], [self.runs["Bea"].pk])
        self.assertFalse(SchoolClass.with_removed.filter(pk=own.pk).exists())


class Commands(TestCase):
    def said(self, *words: str) -> str:
        out = io.StringIO()
        call_command("school", *words, stdout=out)
        return out.getvalue()

    def test_a_school_is_made_listed_and_given_an_administrator(self) -> None:
        told = self.said("add", "Skerry School", "--district", "Sound District")
        code = told.split()[-1]
        self.assertEqual(Code.objects.get().administers, True)
        self.assertIn(
            "skerry-school: Skerry School, Sound District, 0 accounts; nobody administers it", self.said("list")
        )
        ada, bea = teacher("Ada"), teacher("Bea")
        Api(ada).send("POST", "school", {"code": code})
        self.assertIn(ada.email, self.said("list"))
        self.assertIn("Bea administers Skerry School", self.said("administrator", "skerry-school", bea.email))
        other = schools.add_school("Voe School")
        cas = teacher("Cas")
        schools.settle(cas, other)
        for words in (("administrator", "skerry-school", cas.email), ("administrator", "skerry-school", "x@y.example"),
                      ("add", "Skerry School"), ("delete", "nowhere", "--yes")):  # fmt: skip
            with self.subTest(words), self.assertRaises(CommandError):
                self.said(*words)
        self.assertEqual(Teacher.objects.get(pk=cas.pk).school, other)
