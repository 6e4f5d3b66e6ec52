"""Object-level rules, with somebody who tries to break them. What is not one's own does not exist."""

import uuid
from typing import Any

from django.core.files.base import ContentFile
from django.test import TestCase
from django.urls import URLPattern, URLResolver, get_resolver
from django.utils import timezone

from bench.models import Trial
from challenges.models import Recipe, Run
from designs.models import Design, Photo
from drafting.models import OwnStock
from people.models import ClassInvitation, Code, Colleague, SchoolClass, SignedIn, Team
from people.policy import OWNER_PATHS, models_with_owner, owned
from people.schools import add_school, settle
from people.tests.support import RECIPE, Api, Ledger, checked_in, run, teacher
from schools.sharing import share

OPEN_TO_ALL = {"session", "session/reset", "session/sign-on", "teachers", "join"}
BY_TOKEN = {"boards", "team"}
"""Addresses that a token, or a tablet's pass, opens instead of a sign-in; the tests of their apps try them."""
NO_OBJECT = {"card-sets": "card-sets/1", "stand-in-pictures": "stand-in-pictures/mast",
             "tablets": "tablets/00000000-0000-4000-8000-000000000000/lenses"}  # fmt: skip
"""Addresses whose last part is no object of anybody's: one's own set of cards by its number, a made-up picture, the
lenses of whichever tablet one works at; with one of each."""
WITHOUT_OBJECT = {
    "classes", "coins", "draft-kinds", "drafts", "drafts/film", "drafts/why", "families", "first-lesson",
    "goal-words", "home", "library", "plans", "plans/why", "recipes", "instruments", "instruments/read",
    "instruments/lines", "instruments/table", "force-logs", "force-logs/practice", "recipes/import", "removed",
    "runs", "runs/import", "invited", "session/leave", "session/password", "signed-in", "stocks", "stocks/try", "team",
    "team/note", "team/prediction", "team/who", "team/readings", "team/photos", "team/practice", "team/answers",
    "team/next-version", "team/draft", "team/bench", "team/trials", "school", "school/invitations", "school/file",
    "school/removal", "shared-recipes", "card-sets", "lens-pictures",
}  # fmt: skip


def routes(patterns: list[Any] | None = None, prefix: str = "") -> list[str]:
    """Every address of the API, as Django knows it."""
    paths = []
    for pattern in get_resolver().url_patterns if patterns is None else patterns:
        path = prefix + str(pattern.pattern)
        if isinstance(pattern, URLResolver):
            paths += routes(pattern.url_patterns, path)
        elif isinstance(pattern, URLPattern) and path.startswith("api/"):
            paths.append(path.removeprefix("api/"))
    return paths


class Strangers(TestCase):
    def setUp(self) -> None:
        self.owner, self.stranger = teacher("Ada"), teacher("Mallory")
        self.school = add_school("Skerry School")
        settle(self.owner, self.school, administers=True)
        self.run_ = run(self.owner)
        self.design = checked_in(self.run_.designs.all()[0])
        self.ledger = Ledger(Api(self.owner), self.design)
        self.ledger.hold("platform")
        self.keys = {
            "signed-in": SignedIn.objects.create(teacher=self.owner, session_key="x" * 32, browser="Firefox").pk,
            "classes": self.run_.school_class_id, "teams": self.design.team_id, "recipes": self.run_.recipe_id,
            "runs": self.run_.pk, "designs": self.design.pk, "trials": self.ledger.id,
            "photos": Photo.objects.create(
                design=self.design, file=ContentFile(b"x", name="x.jpg"), width=1, height=1
            ).pk,
            "colleagues": Colleague.objects.create(
                school_class=self.run_.school_class, teacher=teacher("Bea"), part="helper"
            ).pk,
            "invitations": ClassInvitation.objects.create(
                school_class=self.run_.school_class, part="lead", by=self.owner, mixed="x", until=timezone.now()
            ).pk,
            "school-invitations": Code.objects.create(school=self.school, mixed="s", until=timezone.now()).pk,
            "school-teachers": self.owner.pk,
            "shared-recipes": share(Recipe.objects.get(owner=self.owner), self.owner, False).pk,
            "stocks": OwnStock.objects.create(
                owner=self.owner, name="ours", like="manila", grammage_kg_m2=0.2, thickness_m=2.6e-4
            ).pk,
        }  # fmt: skip

    def addresses(self) -> list[str]:
        """Every address that names an object, filled with the owner's."""
        filled = []
        for route in routes():
            if "<" in route and route.split("/")[0] not in BY_TOKEN | set(NO_OBJECT):
                head, rest = route.split("/", 1)
                tail = rest[rest.index(">") + 1 :].replace("<slug:document>", "brief")
                # What is asked about stands in the query.
                tail += "?figure=kit" if tail == "/why" else ""
                filled.append(f"{head}/{self.keys[head]}{tail}")
        return filled

    def test_every_address_with_an_object_is_a_404_for_a_stranger(self) -> None:
        addresses = self.addresses()
        self.assertGreater(len(addresses), 15)
        body = {
            **RECIPE, "text": "1 kg", "key": "gap", "resolution_text": "1 mm", "answers": {}, "note": "",
            "changed": "x", "reason": "",
            "id": str(uuid.uuid4()), "bench": self.ledger.bench, "action": "start", "used": 1,
            "removed": True, "away": "absent", "tryout": True, "design": self.design.pk,
            "keys": ["gap"], "criteria": [], "criterion": "x", "level": None, "question": "x",
            "colleague": 1, "part": "lead", "minutes": None, "young": True, "order": [], "broken": [],
            "hidden": True, "data": "", "glued": True,  "kind": "sheet_bridge", "material": "manila",
            "applied": False, "retired": True,
            "events": [self.ledger.event("settle", waited_s=5)], "diameter": "1 cm", "height": "1 cm",
            "uses": [{"name": "a", "amount": 1, "batch_amount": 1, "batch_mass": "1 g", "scale_resolution": "1 g"}],
        }  # fmt: skip
        stranger, owner = Api(self.stranger), Api(self.owner)
        for address in addresses:
            for method in ("GET", "POST", "PUT", "PATCH", "DELETE"):
                with self.subTest(address=address, method=method):
                    status, _ = stranger.call(method, address, body)
                    self.assertIn(status, (404, 405))
            with self.subTest(address=address):
                # It is there, and still is.
                self.assertIn(owner.call("GET", address)[0], (200, 405))
        self.assertEqual(Api(self.owner).get(f"trials/{self.ledger.id}")["result"]["next_sequence"], 3)

    def test_nobody_signed_in_gets_nothing(self) -> None:
        for address in [*self.addresses(), *WITHOUT_OBJECT, *NO_OBJECT.values()]:
            with self.subTest(address):
                self.assertEqual(Api().call("GET", address)[0], 403)

    def test_lists_hold_only_ones_own(self) -> None:
        self.assertEqual(Api(self.stranger).get("home")["runs"], [])
        for path in ("classes", "recipes", "runs"):
            self.assertEqual(Api(self.stranger).get(path), [])
            self.assertEqual(len(Api(self.owner).get(path)), 1)

    def test_a_run_cannot_be_opened_from_somebody_elses_recipe_or_class(self) -> None:
        own = run(self.stranger)
        for body in (
            {"recipe": self.run_.recipe_id, "school_class": own.school_class_id, "date": "2026-11-03"},
            {"recipe": own.recipe_id, "school_class": self.run_.school_class_id, "date": "2026-11-03"},
        ):
            self.assertEqual(Api(self.stranger).refused("POST", "runs", body)[0], 404)

    def test_a_trial_id_cannot_be_taken_from_somebody_else(self) -> None:
        own = checked_in(run(self.stranger).designs.all()[0])
        body = {"id": self.ledger.id, "bench": str(uuid.uuid4())}
        status, answer = Api(self.stranger).refused("POST", f"designs/{own.pk}/trials", body)
        self.assertEqual((status, answer["code"]), (409, "trial_open"))
        self.assertEqual(Trial.objects.get(pk=self.ledger.id).design, self.design)

    def test_the_policy_knows_every_kind_of_object_in_an_address(self) -> None:
        heads = {route.split("/")[0] for route in routes() if "<" in route}
        self.assertEqual(heads - BY_TOKEN - set(NO_OBJECT), set(self.keys))
        self.assertEqual({m._meta.label for m in models_with_owner()}, set(OWNER_PATHS))
        for model in (SchoolClass, Team, Recipe, Run, Design, Trial):
            self.assertEqual(owned(model.objects.all(), self.stranger).count(), 0)
            self.assertGreater(owned(model.objects.all(), self.owner).count(), 0)

    def test_every_address_is_either_open_or_covered(self) -> None:
        bare = {route for route in routes() if "<" not in route and not route.startswith("^")}
        self.assertEqual(bare - {""}, OPEN_TO_ALL | WITHOUT_OBJECT)
