"""The API's answers are what its schema says: the interface's types are made from that schema."""

from __future__ import annotations

from typing import Any

import yaml
from django.conf import settings
from django.test import TestCase, tag
from jsonschema import Draft202012Validator
from referencing import Registry
from referencing.jsonschema import DRAFT202012

from bench.models import Trial
from challenges.models import Run
from demo.build import load
from designs.models import Design
from girder_core.drafting import KINDS
from people.tests.support import RECIPE, Api, Ledger, checked_in, run, teacher

SCHEMA: dict[str, Any] = yaml.safe_load((settings.BACKEND / "openapi.yaml").read_text("utf-8"))


def strict(node: Any) -> Any:
    """The schema in JSON Schema's words, with no property allowed that it does not name."""
    if isinstance(node, list):
        return [strict(item) for item in node]
    if not isinstance(node, dict):
        return node
    made = {key: strict(value) for key, value in node.items()}
    if made.pop("nullable", False):
        # What is nullable may be null beside whatever else it may be.
        return {"anyOf": [made, {"type": "null"}]}
    if "properties" in made and "additionalProperties" not in made:
        made["additionalProperties"] = False
    return made


DOCUMENT = strict(SCHEMA)
REGISTRY: Registry[Any] = Registry().with_resource("urn:api", DRAFT202012.create_resource(DOCUMENT))


class Contract(TestCase):
    def matches(self, method: str, template: str, status: int, body: Any) -> None:
        responses = SCHEMA["paths"][template][method.lower()]["responses"]
        self.assertIn(str(status), responses, f"{method} {template} answers {status}, which the schema does not name")
        path = ["paths", template, method.lower(), "responses", str(status), "content", "application/json", "schema"]
        pointer = "/".join(part.replace("~", "~0").replace("/", "~1") for part in path)
        validator = Draft202012Validator({"$ref": f"urn:api#/{pointer}"}, registry=REGISTRY)
        errors = [f"{'/'.join(map(str, e.absolute_path))}: {e.message[:200]}" for e in validator.iter_errors(body)]
        self.assertEqual(errors, [], f"{method} {template}")

    @tag("slow")
    def test_what_the_demo_answers(self) -> None:
        marit = load()
        api, own = Api(marit), Run.objects.filter(school_class__owner=marit)
        half = own.get(school_class__name="8 Tern", family="bridge")
        trial = Trial.objects.filter(design__run__in=own)[0]
        for template, path in {
            "/api/session": "session", "/api/classes": "classes", "/api/families": "families",
            "/api/recipes": "recipes", "/api/recipes/{id}": f"recipes/{half.recipe_id}", "/api/runs": "runs",
            "/api/runs/{id}": f"runs/{half.pk}", "/api/runs/{id}/comparison": f"runs/{half.pk}/comparison",
            "/api/trials/{id}": f"trials/{trial.pk}", "/api/draft-kinds": "draft-kinds", "/api/stocks": "stocks",
            "/api/runs/{id}/experience": f"runs/{half.pk}/experience",
            "/api/designs/{id}/draft-start": f"designs/{trial.design_id}/draft-start",
        }.items():  # fmt: skip
            with self.subTest(template):
                self.matches("GET", template, 200, api.get(path))
        for done in own:
            self.matches(
                "GET", "/api/runs/{id}/comparison", 200, api.get(f"runs/{done.pk}/comparison?school=most_held")
            )

    def test_what_writes_answer(self) -> None:
        ada = teacher()
        api = Api(ada)
        design = run(ada).designs.all()[0]
        base = f"designs/{design.pk}"
        reading = {"key": "gap", "text": "30 cm", "resolution_text": "1 mm"}
        self.matches("POST", "/api/designs/{id}/readings", 200, api.send("POST", f"{base}/readings", reading))
        self.matches("POST", "/api/recipes", 201, api.send("POST", "recipes", RECIPE))
        for kind in KINDS:
            self.matches("POST", "/api/drafts", 200, api.send("POST", "drafts", {"kind": kind}))
        draft = {"kind": "sheet_bridge"}
        self.matches("POST", "/api/designs/{id}/draft", 200, api.send("POST", f"{base}/draft", draft))
        self.matches("PUT", "/api/designs/{id}/draft", 200, api.send("PUT", f"{base}/draft", draft))
        stock = {"like": "manila", "thickness": "0.26 mm", "grammage": 210}
        self.matches("POST", "/api/stocks/try", 200, api.send("POST", "stocks/try", stock))
        checked_in(design)
        ledger = Ledger(api, design)
        self.matches("POST", "/api/designs/{id}/trials", 200, ledger.state)
        self.matches("POST", "/api/trials/{id}/events", 200, ledger.add("place", item="platform", count=1))
        self.matches("POST", "/api/trials/{id}/events", 200, ledger.add("place", item="nut", count=99))

    def test_what_refusals_answer(self) -> None:
        ada = teacher()
        api = Api(ada)
        design: Design = run(ada).designs.all()[0]
        cases = [
            ("POST", "/api/designs/{id}/readings", f"designs/{design.pk}/readings", {}, 400),
            ("POST", "/api/designs/{id}/readings", f"designs/{design.pk}/readings",
             {"key": "self_mass", "text": "5 kg", "resolution_text": "1 g"}, 422),
            ("POST", "/api/designs/{id}/check-in", f"designs/{design.pk}/check-in", None, 400),
            ("GET", "/api/runs/{id}", "runs/999999", None, 404),
            ("POST", "/api/recipes", "recipes", {**RECIPE, "kit": "nuts"}, 400),
            ("GET", "/api/runs/{id}/comparison", f"runs/{design.run_id}/comparison?school=luck", None, 400),
        ]  # fmt: skip
        for method, template, path, body, expected in cases:
            with self.subTest(path=path, body=body):
                status, answer = api.refused(method, path, body)
                self.assertEqual(status, expected)
                self.matches(method, template, status, answer)
                self.assertGreater(len(answer["sentence"]), 10)
