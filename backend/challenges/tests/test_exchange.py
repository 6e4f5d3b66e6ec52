"""Recipe files: out and in again they are the same; what is wrong is said line by line and nothing changes."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from django.test import TestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as PropertyTestCase
from jsonschema import Draft202012Validator

from challenges.entries import PlanRequestSerializer, TypedRecipeSerializer
from challenges.exchange import FORMAT, LARGEST_BYTES, VERSION, exported, imported, read_file
from challenges.library import FOLDER
from challenges.models import Recipe
from challenges.plans import sheet
from challenges.services import save_recipe
from girder_core.families import FAMILIES
from girder_core.ground import GirderError
from girder_core.measure import System
from people.tests.support import Api, teacher

SCHEMA = json.loads((Path(__file__).resolve().parents[3] / "docs" / "recipe.schema.json").read_text("utf-8"))
VALIDATOR = Draft202012Validator(SCHEMA)


def entry_for(asked: dict[str, Any], own: dict[str, Any]) -> dict[str, Any]:
    """A complete typed entry, as the planner fills it."""
    serializer = PlanRequestSerializer(data={**asked, "own": own})
    serializer.is_valid(raise_exception=True)
    typed = dict(serializer.validated_data)
    filled = sheet(typed, typed.pop("own"), System.METRIC)
    shape = TypedRecipeSerializer(data={**filled.entry, "proposed": []})
    shape.is_valid(raise_exception=True)
    return dict(shape.validated_data)


names = st.text(st.characters(blacklist_categories=["Cs", "Cc"]), min_size=1, max_size=60).filter(lambda t: t.strip())
answers = st.fixed_dictionaries({
    "family": st.sampled_from(sorted(FAMILIES)), "age_band": st.sampled_from(["8-10", "11-13", "14-18"]),
    "minutes": st.integers(30, 90), "teams": st.integers(2, 12), "difficulty": st.integers(-2, 2),
})  # fmt: skip
owns = st.fixed_dictionaries({}, optional={
    "name": names, "question": names, "controls": st.lists(names, max_size=3),
    "tie_rule": st.sampled_from(["lighter", "shared"]), "trial_rule": st.sampled_from(["best", "mean", "last"]),
    "factor": st.just({"name": "folds", "levels": ["two", "four"]}), "benches": st.integers(1, 4),
})  # fmt: skip


class RoundTrip(PropertyTestCase):
    @settings(max_examples=25, deadline=None)
    @given(answers, owns)
    def test_out_and_in_again_is_an_equal_recipe(self, asked: dict[str, Any], own: dict[str, Any]) -> None:
        ada = teacher()
        first = save_recipe(ada, entry_for(asked, own))
        text = json.dumps(exported(first), indent=2, ensure_ascii=False)
        self.assertEqual([e.message for e in VALIDATOR.iter_errors(json.loads(text))], [])
        second = imported(ada, text)
        self.assertEqual(
            (second.terms(), second.typed, second.teams, second.difficulty),
            (first.terms(), first.typed, first.teams, first.difficulty),
        )
        self.assertEqual(exported(Recipe.objects.get(pk=second.pk)), json.loads(text))

    def test_shipped_files_keep_to_the_published_schema(self) -> None:
        files = list(FOLDER.glob("*.json"))
        self.assertEqual({json.loads(file.read_text("utf-8"))["recipe"]["family"] for file in files}, set(FAMILIES))
        for file in files:
            errors = [
                f"{list(e.path)}: {e.message}" for e in VALIDATOR.iter_errors(json.loads(file.read_text("utf-8")))
            ]
            self.assertEqual(errors, [], file.name)

    def test_the_schema_names_just_what_the_application_reads(self) -> None:
        serializer = TypedRecipeSerializer()
        described = SCHEMA["properties"]["recipe"]["properties"]
        self.assertEqual(set(described), set(serializer.fields))
        self.assertEqual(SCHEMA["properties"]["version"]["maximum"], VERSION)
        self.assertEqual(SCHEMA["properties"]["format"]["const"], FORMAT)
        for family in FAMILIES:
            self.assertRegex(family, described["family"]["pattern"])


class BadFiles(TestCase):
    def setUp(self) -> None:
        self.good = json.loads((FOLDER / "slip-gangway.json").read_text("utf-8"))
        self.api = Api(teacher())

    def refused(self, text: str) -> dict[str, Any]:
        status, answer = self.api.refused("POST", "recipes/import", {"text": text})
        self.assertEqual(status, 400)
        self.assertEqual(Recipe.objects.count(), 0)
        return answer

    def changed(self, path: str, value: Any) -> str:
        data = json.loads(json.dumps(self.good))
        *way, last = path.split(".")
        place = data
        for step in way:
            place = place[int(step) if step.isdigit() else step]
        place[int(last) if last.isdigit() else last] = value
        return json.dumps(data, indent=2)

    def test_each_says_what_is_wrong(self) -> None:
        for text, code in (
            ("", "invalid"), ("[]", "not_a_recipe"), ("null", "not_a_recipe"), ('{"format": "other"}', "not_a_recipe"),
            (self.changed("version", VERSION + 1), "newer_version"), (self.changed("version", "1"), "not_a_recipe"),
            (self.changed("recipe", []), "not_a_recipe"), (json.dumps(self.good)[:500], "not_json"),
            ("[" * 100_000, "unsound_json"), (" " * (LARGEST_BYTES + 1), "file_too_large"),
            (self.changed("recipe.family", "submarine"), "bad_recipe_file"),
        ):  # fmt: skip
            with self.subTest(code, start=text[:30]):
                self.assertEqual(self.refused(text)["code"], code)

    def test_a_cut_file_names_the_line(self) -> None:
        text = json.dumps(self.good, indent=2)
        cut = text[: text.index('"setup"') + 30]
        answer = self.refused(cut)
        self.assertIn(f"Line {cut.count(chr(10)) + 1}", answer["sentence"])
        self.assertIn("cut off", answer["sentence"])

    def test_line_by_line(self) -> None:
        for path, value, words in (
            ("recipe.setup.gap_m", "360 parsecs", "not a unit of length"),
            ("recipe.kit.1.batch_mass", "heavy", "not a number"),
            ("recipe.kit.1.count", "many", "valid integer"),
            ("recipe.materials.0.pack_size", 0, "at least one"),
            ("recipe.school", "luck", "not a valid choice"),
            ("recipe.family", "submarine", "no kind of challenge"),
            ("recipe.colour", "red", "has no such entry"),
            ("recipe.minutes", 5, "too short"),
        ):
            with self.subTest(path):
                text = self.changed(path, value)
                fields = self.refused(text)["fields"]
                self.assertIn(path, fields)
                self.assertIn(words, fields[path])
                line = next(n for n, line in enumerate(text.split("\n"), 1) if line.strip().startswith(
                    f'"{path.rsplit(".", 1)[1]}"') and json.dumps(value) in line)  # fmt: skip
                self.assertTrue(fields[path].startswith(f"Line {line}: "), (fields[path], line))

    def test_many_problems_are_all_told_up_to_a_point(self) -> None:
        data = json.loads(json.dumps(self.good))
        data["recipe"]["materials"] = [{"name": "", "pack_size": 0} for _ in range(60)]
        answer = self.refused(json.dumps(data, indent=1))
        self.assertIn("The first 40 of", answer["sentence"])
        self.assertEqual(len(answer["fields"]), 40)

    def test_a_file_is_read_whole_before_anything_is_kept(self) -> None:
        with self.assertRaises(GirderError):
            read_file(self.changed("recipe.name", ""))
