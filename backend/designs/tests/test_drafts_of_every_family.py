"""Every shipped recipe, run: its designs can be drafted, kept, predicted, and the bench goes by it where it loads."""

import json
import uuid
from datetime import date
from pathlib import Path
from typing import Any

from django.test import TestCase
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase as PropertyTestCase

from challenges import library
from designs import services as designing
from designs.models import Design
from girder_core.drafting import KINDS, kinds_for
from girder_core.families import FAMILIES
from girder_core.measure import TypedReading
from people.tests.support import Api, school_class, teacher

SHIPPED = sorted(path.stem for path in Path(library.__file__).with_name("library").glob("*.json"))


class EveryRecipe(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.class_ = school_class(self.ada)

    def opened(self, slug: str) -> Design:
        recipe = library.take(self.ada, slug)
        return designing.open_run(recipe, self.class_, date(2026, 11, 10)).designs.all()[0]

    def test_there_is_a_recipe_and_a_draft_for_every_family(self) -> None:
        folder = Path(library.__file__).with_name("library")
        files = [json.loads((folder / f"{slug}.json").read_text("utf-8")) for slug in SHIPPED]
        self.assertEqual({file.get("recipe", file)["family"] for file in files}, set(FAMILIES))
        for key, family in FAMILIES.items():
            self.assertEqual(bool(kinds_for(key)), family.drafted, key)

    def test_drafted_from_its_own_set_up_it_works_out_at_once(self) -> None:
        for slug in SHIPPED:
            with self.subTest(slug):
                design = self.opened(slug)
                begin = self.api.get(f"designs/{design.pk}/draft-start")
                self.assertEqual(begin["kinds"], [kind.key for kind in kinds_for(design.run.family)])
                self.api.send("POST", f"designs/{design.pk}/show-model")
                for kind in begin["kinds"]:
                    body = {"kind": kind, "typed": begin["start"][kind]}
                    drafted = self.api.send("POST", f"designs/{design.pk}/draft", body)
                    self.assertTrue(drafted["headline"])
                    self.assertTrue(all(view["drawing"]["shapes"] for view in drafted["views"]))

    def test_kept_it_is_the_expectation_wherever_something_is_loaded(self) -> None:
        for slug in SHIPPED:
            with self.subTest(slug):
                design = self.opened(slug)
                family = design.run.core_family()
                if not family.loaded:
                    continue
                begin = self.api.get(f"designs/{design.pk}/draft-start")
                kind = begin["kinds"][0]
                body = {"kind": kind, "typed": begin["start"][kind]}
                kept = self.api.send("PUT", f"designs/{design.pk}/draft", body)
                self.assertTrue(kept["veiled"])
                self.check_in(design)
                start = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4())}
                trial = self.api.send("POST", f"designs/{design.pk}/trials", start)
                self.assertEqual(trial["estimate"]["basis"], "the model")
                self.assertGreater(trial["plan"]["expected_seconds"], 0)

    def check_in(self, design: Design) -> None:
        """Let it in with the middle of what is plausible; breaches are noted, not refused."""
        design.run.breach_policy = "note"
        design.run.save()
        family = design.run.core_family()
        units = {"length": "m", "mass": "kg", "time": "s", "frequency": "Hz", "count": ""}
        for spec in family.readings:
            if spec.needed and not spec.may_follow:
                middle = (spec.plausible.low * spec.plausible.high) ** 0.5 if spec.plausible.low > 0 else 1
                number = f"{round(middle)}" if spec.kind.value == "count" else f"{middle:.5f}"
                text = f"{number} {units[spec.kind.value]}".strip()
                step = f"0.0001 {units[spec.kind.value]}".strip() if spec.kind.value != "count" else "1"
                designing.take_reading(design, spec.key, TypedReading(text, step), True)
        designing.answer(design, {question.key: question.good for question in family.questions})
        designing.check_in(design)


WORDS = st.one_of(
    st.sampled_from(["", "0", "0 mm", "-3 mm", "1e9 m", "12", "12 cm", "1,250 mm", "½ in", "nan mm", "inf kg", "∞",
                     "12 mm; drop table", "🦆", "7 kg", "0.0001 mm", "99999999999999999999 mm", "3.5", "pleated"]),
    st.text(max_size=12),
)  # fmt: skip


class Anything(PropertyTestCase):
    @given(st.data())
    @settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
    def test_whatever_is_typed_is_answered_in_words(self, data: st.DataObject) -> None:
        kind = data.draw(st.sampled_from(list(KINDS.values())))
        keys = st.sampled_from([param.key for param in kind.params] + ["no_such_setting"])
        typed: dict[str, Any] = data.draw(st.dictionaries(keys, WORDS, max_size=6))
        moves = data.draw(st.dictionaries(st.sampled_from(["T1", "B1", "Q9"]), st.lists(
            st.floats(-2, 2), min_size=2, max_size=2), max_size=2))  # fmt: skip
        api = Api(teacher(f"t{uuid.uuid4().hex[:12]}"))
        status, answer = api.call("POST", "drafts", {"kind": kind.key, "typed": typed, "moves": moves})
        self.assertIn(status, (200, 400), answer)
        if status == 400:
            self.assertGreater(len(answer["sentence"]), 10)
        else:
            self.assertTrue(answer["headline"])
