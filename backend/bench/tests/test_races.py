"""The same thing wanted by many at once: each gets its own, or a refusal; nobody an error."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from django.db import connections
from django.test import TransactionTestCase

from bench.models import Trial
from people.models import Team
from people.tests.support import Api, checked_in, run, school_class, teacher


@dataclass(frozen=True)
class Sent:
    """A request by somebody who is signed in."""

    api: Api
    path: str
    body: dict[str, Any]

    def status(self) -> int:
        try:
            return self.api.call("POST", self.path, self.body)[0]
        finally:
            connections.close_all()


def at_once(requests: list[Sent]) -> list[int]:
    """What all of them are answered, begun together."""
    with ThreadPoolExecutor(len(requests)) as pool:
        return sorted(pool.map(Sent.status, requests))


class Races(TransactionTestCase):
    def test_twenty_teams_are_added_at_once(self) -> None:
        ada = teacher()
        knot = school_class(ada, ())
        path = f"classes/{knot.pk}/teams"
        answers = at_once([Sent(Api(ada), path, {"name": ""}) for _ in range(20)])
        self.assertEqual(answers, [201] * 20)
        teams = list(Team.objects.all())
        self.assertEqual(len({team.name for team in teams}), 20)
        self.assertEqual(sorted(team.position for team in teams), list(range(1, 21)))

    def test_a_team_s_name_is_wanted_by_ten(self) -> None:
        ada = teacher()
        knot = school_class(ada, ())
        path = f"classes/{knot.pk}/teams"
        answers = at_once([Sent(Api(ada), path, {"name": "Tern"}) for _ in range(10)])
        self.assertEqual(answers, [201] + [400] * 9)

    def test_one_trial_id_on_two_designs(self) -> None:
        ada = teacher()
        designs = [checked_in(design) for design in run(ada).designs.all()]
        for _ in range(5):
            body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4())}
            answers = at_once([Sent(Api(ada), f"designs/{design.pk}/trials", body) for design in designs])
            self.assertLess(answers[0], 300)
            self.assertEqual(answers[1], 409)
            self.assertEqual(Trial.objects.filter(pk=body["id"]).count(), 1)
            Trial.objects.all().delete()
