"""A client that speaks JSON to the API, and a teacher with a class, a recipe and a run."""

from __future__ import annotations

import json
import tempfile
import uuid
import zlib
from datetime import date
from typing import Any

from django.db import transaction
from django.test import Client, TestCase, override_settings

from challenges.entries import TypedRecipeSerializer
from challenges.models import Recipe, Run
from challenges.services import save_recipe
from designs import services as designing
from designs.models import Design
from evengirder.tests.mutants import BESIDE, changed
from girder_core.measure import TypedReading
from people.accounts import sign_up
from people.models import SchoolClass, Teacher
from people.services import add_class, add_team

PASSWORD = "tide-table-17"
RECIPE: dict[str, Any] = {
    "name": "Test gangway",
    "question": "",
    "family": "bridge",
    "setup": {
        "gap_m": "30 cm",
        "overlap_max_m": "50 mm",
        "tape_max_m": "20 cm",
        "hold_s": "5 s",
        "bench_limit_kg": "3 kg",
    },
    "kit": [
        {
            "name": "tray",
            "shape": "platform",
            "count": 1,
            "batch_count": 1,
            "batch_mass": "40 g",
            "scale_resolution": "1 g",
        },
        {
            "name": "nut",
            "shape": "nut",
            "count": 50,
            "batch_count": 10,
            "batch_mass": "150 g",
            "scale_resolution": "1 g",
        },
    ],
    "school": "strength_to_weight",
    "trial_rule": "best",
    "breach_policy": "note",
}


class Api:
    """The API as one signed-in teacher, or as nobody."""

    def __init__(self, teacher: Teacher | None = None) -> None:
        self.client = Client()
        if teacher:
            self.client.force_login(teacher)

    def __getstate__(self) -> dict[str, Any]:
        # A test that fails tells it from another process; its client cannot go there, and need not.
        return {}

    def call(self, method: str, path: str, body: Any = None) -> tuple[int, Any]:
        if BESIDE and body is not None:
            self._twins(method, path, body)
        response = self.client.generic(method, f"/api/{path}", _json(body), content_type="application/json")
        is_json = response.headers.get("Content-Type", "").startswith("application/json")
        return response.status_code, response.json() if is_json else response

    def _twins(self, method: str, path: str, body: Any) -> None:
        """Send what is about to be sent with something in it changed, see that it is answered, and take it back."""
        for seed in range(BESIDE):
            twin = changed(json.loads(_json(body)), zlib.crc32(f"{method} {path} {_json(body)} {seed}".encode()))
            client = Client()
            client.cookies.load(self.client.cookies.output(header="", sep=";"))
            with transaction.atomic():
                response = client.generic(method, f"/api/{path}", _json(twin), content_type="application/json")
                transaction.set_rollback(True)
            assert response.status_code < 500, (method, path, twin, response.status_code, response.content[:300])

    def get(self, path: str) -> Any:
        """The body of an answer that must be a good one."""
        status, body = self.call("GET", path)
        assert status == 200, (path, status, body)
        return body

    def send(self, method: str, path: str, body: Any = None) -> Any:
        status, answer = self.call(method, path, body)
        assert status in (200, 201), (path, status, answer)
        return answer

    def refused(self, method: str, path: str, body: Any = None) -> tuple[int, dict[str, Any]]:
        status, answer = self.call(method, path, body)
        assert status >= 400, (path, status, answer)
        return status, answer


def _json(body: Any) -> str:
    return "" if body is None else json.dumps(body, default=str)


def folder_for_photographs(test: TestCase) -> None:
    """Give a test a folder of its own for photographs, which goes with it."""
    folder = test.enterContext(tempfile.TemporaryDirectory())
    test.enterContext(override_settings(MEDIA_ROOT=folder))


def teacher(name: str = "Ada") -> Teacher:
    return sign_up(f"{name.lower()}@school.example", name, PASSWORD)


def school_class(owner: Teacher, teams: tuple[str, ...] = ("Tern", "Auk")) -> SchoolClass:
    made = add_class(owner, "9 Knot")
    for team in teams:
        add_team(made, team)
    return made


def recipe(owner: Teacher, **changes: Any) -> Recipe:
    entry = TypedRecipeSerializer(data={**RECIPE, **changes})
    entry.is_valid(raise_exception=True)
    return save_recipe(owner, entry.validated_data)


def run(owner: Teacher, teams: tuple[str, ...] = ("Tern", "Auk"), **changes: Any) -> Run:
    return designing.open_run(recipe(owner, **changes), school_class(owner, teams), date(2026, 11, 3))


def checked_in(design: Design, own_weight: str = "30 g") -> Design:
    for key, text in {"gap": "30 cm", "overlap_left": "4 cm", "overlap_right": "4 cm", "self_mass": own_weight}.items():
        if text:
            designing.take_reading(design, key, TypedReading(text, "1 mm" if key != "self_mass" else "0.1 g"), False)
    designing.answer(design, {"stands": True, "piers": False, "papered": False})
    return designing.check_in(design)


class Ledger:
    """Writes events to a trial through the API, as a bench does."""

    def __init__(self, api: Api, design: Design) -> None:
        self.api = api
        self.id, self.bench = str(uuid.uuid4()), str(uuid.uuid4())
        self.sent: list[dict[str, Any]] = []
        self.state = api.send("POST", f"designs/{design.pk}/trials", {"id": self.id, "bench": self.bench})

    def event(self, kind: str, **data: Any) -> dict[str, Any]:
        return {
            "id": str(uuid.uuid4()), "sequence": len(self.sent) + 1, "kind": kind, "data": data,
            "happened_at": "2026-11-03T10:00:00Z",
        }  # fmt: skip

    def post(self, *events: dict[str, Any], bench: str | None = None) -> tuple[int, Any]:
        body = {"bench": bench or self.bench, "events": list(events)}
        return self.api.call("POST", f"trials/{self.id}/events", body)

    def add(self, kind: str, **data: Any) -> Any:
        event = self.event(kind, **data)
        status, answer = self.post(event)
        assert status == 200, answer
        if answer["refused"] is None:
            self.sent.append(event)
        return answer

    def hold(self, item: str, count: int = 1) -> Any:
        self.add("place", item=item, count=count)
        return self.add("settle", waited_s=5)
