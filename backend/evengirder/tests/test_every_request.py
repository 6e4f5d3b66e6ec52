"""Every address of the API as its schema lists them: who may do what, and that whatever is sent is answered.

Both build themselves from the schema, so a new address is in them by itself. ``GIRDER_TRIES=200 ./girder test
evengirder.tests.test_every_request`` sends thousands of requests, and prints who was answered what.
"""

from __future__ import annotations

import json
import re
import uuid
from collections.abc import Iterator
from random import Random
from typing import Any

import yaml
from django.conf import settings
from django.core.files.base import ContentFile
from django.db import transaction
from django.test import Client, TestCase
from django.utils import timezone

from bench.models import LedgerEvent, Trial
from challenges.models import Recipe, Run
from designs.models import Design, Photo, Reading
from drafting.models import OwnStock
from evengirder.tests.mutants import HOSTILE, TRIES, changed, tries
from live.services import open_board
from people.models import (
    HELPER,
    LEAD,
    OBSERVER,
    ClassInvitation,
    Code,
    Colleague,
    School,
    SchoolClass,
    SignedIn,
    Teacher,
    Team,
)
from people.schools import add_school, settle
from people.tests.support import Api, Ledger, checked_in, run, teacher
from schools.models import SharedRecipe
from schools.sharing import share
from tablets.services import open_door

SCHEMA: dict[str, Any] = yaml.safe_load((settings.BACKEND / "openapi.yaml").read_text("utf-8"))
MODELS = (
    Teacher, SchoolClass, Team, Recipe, Run, Design, Reading, Trial, LedgerEvent, Photo, OwnStock, SignedIn, Colleague,
    ClassInvitation, School, SharedRecipe, Code,
)  # fmt: skip
METHODS = ("get", "post", "put", "patch", "delete")
FOR_ANYBODY = {
    "session_show", "session_open", "session_prefer", "session_close", "session_reset", "teacher_add", "board_show",
    "board_photo", "board_way_in", "lesson_join", "session_sign_on",
}  # fmt: skip
"""Operations that need no sign-in. Anything else that answers nobody is a leak."""
FOR_TABLETS = {
    "team_page", "team_choose", "team_note", "team_predict", "team_leave", "team_who", "team_measure", "team_photo",
    "team_photo_show", "team_photo_drop", "team_practice", "team_answer", "team_next_version", "team_draft",
    "team_draft_work", "team_draft_keep", "team_bench", "team_trial_start", "team_trial_show", "team_trial_append",
    "team_trial_take_over",
}  # fmt: skip
"""Operations of a team's tablet; all others know no tablet."""
FOR_HELPERS = {
    "reading_take", "team_readings_take", "self_mass_estimate", "design_level", "design_answer", "design_controls",
    "design_predict", "design_away", "design_check_in", "design_note", "photo_keep", "photo_drop", "trial_start",
    "trial_append", "trial_move", "trial_take_over", "run_queue", "run_bench_end", "run_pin_step", "run_add_load",
    "run_add_missing_teams", "trial_station", "run_stations_stop", "design_check_in_kept", "picture_look",
    "picture_size", "photo_reading_take", "first_picture_look", "trial_follow", "loose_picture_look", "trial_recount",
    "counted_picture_keep", "bench_picture_measure",
}  # fmt: skip
"""Operations that change something at check-in or bench: those that a helper may do in another one's class."""
FOR_OBSERVERS = {"run_container", "design_draft_work", "class_leave"}
"""Operations that are no GET and open to whoever only looks on: they change nothing but one's own part."""
FOR_ADMINISTRATORS = {
    "school_invite", "school_invitation_take_back", "school_appoint", "school_let_in", "school_reset_code",
    "school_file", "school_leave_all", "school_stay", "shared_recipe_take_back",
}  # fmt: skip
"""Operations of a school that are for who administers it; a recipe is taken back by who shared it too."""
FOR_LEADS, FOR_OWNERS = {"class_deeds"}, {"class_remove", "class_hand_over"}
SHARED = {"classes", "teams", "runs", "designs", "photos", "trials", "colleagues", "invitations"}
"""What hangs on a class, by the first word of its address."""
HEAVY = ("/print/", "/stand-in-pictures/")
"""What takes seconds whenever it is asked for."""


def operations() -> Iterator[tuple[str, str, dict[str, Any]]]:
    for path, methods in SCHEMA["paths"].items():
        for method in METHODS:
            if method in methods:
                yield method.upper(), path, methods[method]


class Everything(TestCase):
    """One run with something of every kind in it, and somebody to whom none of it belongs: she administers a school of
    her own."""

    def setUp(self) -> None:
        self.ada, self.mallory = teacher("Ada"), teacher("Mallory")
        self.school = add_school("Skerry School")
        settle(self.ada, self.school, administers=True)
        settle(self.mallory, add_school("Voe School"), administers=True)
        self.run_ = run(self.ada, controls=["the same card"], factor={"name": "layers", "levels": ["one", "two"]})
        self.design = checked_in(self.run_.designs.all()[0])
        ledger = Ledger(Api(self.ada), self.design)
        ledger.hold("platform")
        ledger.hold("nut", 2)
        photo = Photo.objects.create(design=self.design, file=ContentFile(b"x", name="x.jpg"), width=1, height=1)
        stock = OwnStock.objects.create(
            owner=self.ada, name="ours", like="manila", grammage_kg_m2=0.2, thickness_m=2.6e-4
        )
        place = SignedIn.objects.create(teacher=self.ada, session_key="x" * 32, browser="Firefox")
        self.keys = {
            "classes": self.run_.school_class_id, "teams": self.design.team_id, "recipes": self.run_.recipe_id,
            "runs": self.run_.pk, "designs": self.design.pk, "trials": ledger.id, "photos": photo.pk,
            "colleagues": Colleague.objects.create(
                school_class=self.run_.school_class, teacher=teacher("Bea"), part=HELPER
            ).pk,
            "invitations": ClassInvitation.objects.create(
                school_class=self.run_.school_class, part=LEAD, by=self.ada, mixed="x", until=timezone.now()
            ).pk,
            "school-teachers": self.ada.pk,
            "school-invitations": Code.objects.create(school=self.school, mixed="s", until=timezone.now()).pk,
            "shared-recipes": share(Recipe.objects.get(owner=self.ada), self.ada, False).pk,
            "stocks": stock.pk, "signed-in": place.pk, "boards": open_board(self.run_).token,
        }  # fmt: skip

    def tablet(self, run_: Run, design: Design) -> Client:
        """A tablet of this design's team, in the lesson of its run."""
        api = Api()
        api.send("POST", "join", {"code": open_door(run_).code})
        api.send("PUT", "team", {"team": design.team_id})
        return api.client

    def filled(self, path: str, key: Any = None) -> str:
        """The address of what there is; a board's photograph has a number of its own."""
        kind = path.split("/")[2]
        path = path.replace("{token}", str(self.keys["boards"])).replace("{document}", "brief")
        path = path.replace("{key}", "mast").replace("{number}", "1").replace("{tablet}", str(uuid.UUID(int=7)))
        if "{id}" in path:
            inside = "trials" if "/trials/" in path else "photos"
            own = self.keys[inside] if kind in ("boards", "team") else self.keys[kind]
            path = path.replace("{id}", str(own if key is None else key))
        return path

    def kept(self) -> dict[tuple[str, Any], dict[str, Any]]:
        """All that somebody else could change, row by row."""
        rows: dict[tuple[str, Any], dict[str, Any]] = {}
        for model in MODELS:
            for row in model._default_manager.order_by("pk").values():
                values: dict[str, Any] = {**row}
                values.pop("last_login", None)
                rows[model.__name__, values["id"]] = values
        return rows

    def body(self, operation: dict[str, Any], chance: Random) -> Any:
        content = operation.get("requestBody", {}).get("content", {})
        return made_up(content.get("application/json", {}).get("schema", {}), chance)


class Roles(Everything):
    def test_who_is_answered_what(self) -> None:
        own, other = self.run_.designs.all()
        team, rivals = self.tablet(self.run_, own), self.tablet(self.run_, other)
        table, chance, before = [], Random(17), self.kept()
        for method, path, operation in operations():
            body = json.dumps(self.body(operation, chance))

            def status(client: Client, address: str, method: str = method, body: str = body) -> int:
                return client.generic(method, address, body, content_type="application/json").status_code

            about, kind, address = f"{method} {path}", path.split("/")[2], self.filled(path)
            nobody, theirs = status(Client(), address), status(Api(self.mallory).client, address)
            if operation["operationId"] == "team_leave":
                # Tried last of all, below.
                continue
            at_tablet, at_rivals = status(team, address), status(rivals, address)
            table.append(f"{method:6} {path:44} {nobody:6} {theirs:8} {at_tablet:6} {at_rivals:10}")
            self.assertLess(max(nobody, theirs, at_tablet, at_rivals), 500, about)
            if operation["operationId"] not in FOR_ANYBODY | FOR_TABLETS:
                self.assertEqual((at_tablet, at_rivals), (403, 403), about)
            if operation["operationId"] not in FOR_ANYBODY:
                self.assertEqual(nobody, 403, about)
                if "{id}" in path and kind != "team":
                    # What is somebody else's is not there: the answer is that of a number that nobody has.
                    free = uuid.UUID(int=7) if kind == "trials" else 0
                    nowhere = status(Api(self.mallory).client, self.filled(path, free))
                    self.assertEqual((theirs, theirs in (400, 404)), (nowhere, True), about)
        now = self.kept()
        # A team writes into its own design, and nothing anywhere else; the stranger reads as she likes.
        for rows in (now, before):
            for chosen in ("units", "shares_work"):
                rows["Teacher", self.mallory.pk].pop(chosen)
            for design in (own, other):
                for own_work in ("note", "practice_used", "model_shown_at"):
                    rows["Design", design.pk].pop(own_work)
        self.assertEqual({key: now.get(key) for key in before}, before)
        self.assertEqual([client.delete("/api/team").status_code for client in (team, team, rivals)], [204, 403, 204])
        if TRIES:
            print(f"\n{'method':6} {'address':44} nobody stranger   team other team", *table, sep="\n")

    def test_what_each_part_in_a_class_may(self) -> None:
        parts = {name: self.colleague(name) for name in ("Lea", "Hal", "Obi", "Ex")}
        table, chance, before = [], Random(19), self.kept()
        for method, path, operation in operations():
            about, kind, name = f"{method} {path}", path.split("/")[2], operation["operationId"]
            if kind not in SHARED or "{id}" not in path:
                continue
            body = json.dumps(self.body(operation, chance))
            statuses = {}
            for who, api in parts.items():
                with transaction.atomic():
                    answer = api.client.generic(method, self.filled(path), body, content_type="application/json")
                    after = self.kept() if who in ("Obi", "Ex") else {}
                    transaction.set_rollback(True)
                statuses[who] = answer.status_code
                self.assertLess(answer.status_code, 500, about)
                if after and name != "class_leave":
                    self.assertEqual({key: after.get(key) for key in before}, before, f"{who} {about}")
            table.append(f"{method:6} {path:44} " + " ".join(f"{status:6}" for status in statuses.values()))
            # What is asked in a wrong shape is refused for that, before or after it is found out whose it is.
            refused, reads = (400, 403), method == "GET" and name not in FOR_LEADS
            self.assertIn(statuses["Ex"], refused, about)
            self.assertEqual(reads and statuses["Ex"] != 403, False, about)
            for who, may in (
                ("Obi", reads or name in FOR_OBSERVERS),
                ("Hal", reads or name in FOR_OBSERVERS | FOR_HELPERS),
                ("Lea", name not in FOR_OWNERS),
            ):
                if may:
                    # To which design a test is moved, and to whom a class goes, stands in the body.
                    missing = () if name in ("trial_move", "class_hand_over", "photo_show") else (404,)
                    self.assertNotIn(statuses[who], (403, *missing), f"{who} {about}")
                else:
                    self.assertIn(statuses[who], refused, f"{who} {about}")
        self.assertGreater(len(table), 60)
        if TRIES:
            print(f"\n{'method':6} {'address':44}   lead helper observer former", *table, sep="\n")

    def test_what_each_may_in_a_school(self) -> None:
        chief, member = teacher("Cleo"), teacher("Mem")
        settle(chief, self.school, administers=True)
        settle(member, self.school)
        table, chance, before = [], Random(23), self.kept()
        for method, path, operation in operations():
            about, kind, name = f"{method} {path}", path.split("/")[2], operation["operationId"]
            if not (kind.startswith("school") or kind == "shared-recipes"):
                continue
            body = json.dumps(self.body(operation, chance))
            statuses = {}
            for who in (chief, member, self.mallory):
                with transaction.atomic():
                    client = Api(who).client
                    answer = client.generic(method, self.filled(path), body, content_type="application/json")
                    after = self.kept() if who is not chief else {}
                    transaction.set_rollback(True)
                statuses[who] = answer.status_code
                if after:
                    after["Teacher", who.pk]["shares_work"] = False
                    same = {key: row for key, row in before.items() if key != ("School", who.school_id)}
                    self.assertEqual({key: after.get(key) for key in same}, same, f"{who} {about}")
            table.append(f"{method:6} {path:44} " + " ".join(f"{status:6}" for status in statuses.values()))
            # Which recipe is shared stands in the body.
            self.assertNotIn(statuses[chief], (403,) if name == "shared_recipe_add" else (403, 404), about)
            may = name not in FOR_ADMINISTRATORS
            self.assertEqual(statuses[member] == 403, not may, about)
            if "{id}" in path:
                self.assertEqual(statuses[self.mallory], 404, about)
        self.assertGreater(len(table), 12)
        if TRIES:
            print(f"\n{'method':6} {'address':44} admin. member  other", *table, sep="\n")

    def colleague(self, name: str) -> Api:
        """Somebody with a part in the class of the run: a lead, a helper, an observer, or one who was a lead."""
        part = {"Lea": LEAD, "Hal": HELPER, "Obi": OBSERVER, "Ex": LEAD}[name]
        ended = timezone.now() if name == "Ex" else None
        there = teacher(name)
        settle(there, self.school)
        Colleague.objects.create(school_class=self.run_.school_class, teacher=there, part=part, ended_at=ended)
        return Api(there)

    def test_a_page_elsewhere_writes_nothing_in_ones_name(self) -> None:
        client, chance, before = Client(enforce_csrf_checks=True), Random(18), self.kept()
        client.force_login(self.ada)
        for method, path, operation in operations():
            if method == "GET":
                continue
            body = json.dumps(self.body(operation, chance))
            answer = client.generic(method, self.filled(path), body, content_type="application/json")
            self.assertEqual(answer.status_code, 403, f"{method} {path}")
        self.assertEqual(self.kept(), before)


class Anything(Everything):
    def test_whatever_is_sent_is_answered(self) -> None:
        """By its teacher, who may do all of it, so every request comes as far as it can."""
        api, tablet = Api(self.ada), self.tablet(self.run_, self.design)
        asked = 0
        for seed in tries(2):
            for n, (method, path, operation) in enumerate(operations()):
                if any(part in path for part in HEAVY) or operation["operationId"] in (
                    "session_close",
                    "account_leave",
                    "team_leave",
                ):
                    continue
                chance = Random(1000 * seed + n)
                body = self.body(operation, chance)
                if chance.random() < 0.7 and body:
                    body = changed(body, chance.randrange(10**9))
                key = chance.choice(("0", str(2**63), "9" * 30)) if chance.random() < 0.05 else None
                query = chance.choice(
                    ("", "", "?school=\x00", "?today=9999-12-31", "?follow=1x", "?rule=best&school=x")
                )
                text = json.dumps(body) if chance.random() < 0.95 else chance.choice(("{", "[" * 5000, "\ud800", "nul"))
                address = self.filled(path, key) + query.replace("\x00", "%00")
                data = text.encode("utf-8", "surrogatepass")
                client = tablet if operation["operationId"] in FOR_TABLETS else api.client
                answer = client.generic(method, address, data, content_type="application/json")
                asked += 1
                about = f"{method} {address} {text[:300]!r} (seed {seed})"
                self.assertLess(answer.status_code, 500, about)
                if answer.status_code >= 400:
                    self.assertRegex(answer.json()["sentence"], r"\w.*[.!?”]$", about)
        self.assertGreater(asked, 100)

    def test_a_path_or_a_query_of_anything(self) -> None:
        api = Api(self.ada)
        for n in tries(60):
            chance = Random(n)
            path = "/".join(
                chance.choice(("runs", "1", "..", "%00", "%ff", "trials", "é", "x" * 300, "-1", "")) for _ in range(4)
            )
            answer = api.client.get(
                f"/api/{path}?{chance.choice(('a', '%00', '%ff=%fe'))}={chance.choice(('%00', '9' * 400))}"
            )
            self.assertLess(answer.status_code, 500, path)


def made_up(schema: dict[str, Any], chance: Random, depth: int = 0) -> Any:
    """Something that fits a schema, or nearly: what a careless program might send."""
    if "$ref" in schema:
        return made_up(SCHEMA["components"]["schemas"][schema["$ref"].rpartition("/")[2]], chance, depth)
    for several in ("oneOf", "anyOf", "allOf"):
        if several in schema:
            return made_up(chance.choice(schema[several]), chance, depth)
    if "enum" in schema:
        return chance.choice(schema["enum"])
    if schema.get("nullable") and chance.random() < 0.2:
        return None
    match schema.get("type"):
        case "object":
            parts = schema.get("properties", {})
            kept = [name for name in parts if name in schema.get("required", ()) or chance.random() < 0.7]
            made = {name: made_up(parts[name], chance, depth + 1) for name in kept}
            inner = schema.get("additionalProperties")
            if isinstance(inner, dict) and depth < 6:
                made |= {chance.choice(NAMES): made_up(inner, chance, depth + 1) for _ in range(chance.randrange(3))}
            return made
        case "array":
            return [made_up(schema["items"], chance, depth + 1) for _ in range(chance.randrange(4) if depth < 6 else 0)]
        case "string":
            return _text(schema, chance)
        case "integer":
            return chance.choice((0, 1, 2, 7, 30, -1, 2**31))
        case "number":
            return chance.choice((0, 0.5, 1, 12.5, -3.2, 1e9))
        case "boolean":
            return chance.random() < 0.5
    return chance.choice([None, {}, [], *HOSTILE[:12]])


QUERIES = (
    "", "", "?school=%00", "?today=9999-12-31", "?today=x", "?follow=1x", "?rule=best&school=x", "?%00=%ff",
    "?figure=kit",    "?number=" + "9" * 400, "?school=most_held&rule=mean",
)  # fmt: skip
PARTS = ("runs", "1", "..", "%00", "%ff", "trials", "é", "x" * 300, "-1", "", "boards")
NAMES = ("gap", "gap_m", "self_mass", "stands", "span_m", "x")
TEXTS = (
    "Tern", "30 cm", "1 mm", "36 g", "0.1 g", "12", "1' 2\"", "bridge", "nut", "snap", "gap", "self_mass",
    "sheet_bridge", "manila", "", "an essay " * 30, "=1+1", "ø\u202e", "40 nuts", "less than Auk", "\u0005",
    "3 rolls and 1 nut", "1e400 kg",
)  # fmt: skip


def _text(schema: dict[str, Any], chance: Random) -> str:
    match schema.get("format"):
        case "uuid":
            return str(uuid.UUID(int=chance.getrandbits(128)))
        case "date":
            return chance.choice(("2026-11-03", "2024-02-29", "1899-12-31"))
        case "date-time":
            return chance.choice(("2026-11-03T10:00:00Z", "2026-11-03T10:00:00+14:00", "1970-01-01T00:00:00Z"))
        case "email":
            return f"t{chance.randrange(10**6)}@school.example"
    most = schema.get("maxLength", 400)
    pattern = schema.get("pattern")
    text = chance.choice(TEXTS)[:most]
    return text if pattern is None or re.fullmatch(pattern, text) else "0"
