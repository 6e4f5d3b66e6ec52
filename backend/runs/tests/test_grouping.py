"""Teams from a class list through the API: formed, dealt again, mixed, changed by hand."""

from datetime import date
from typing import Any

from django.test import TestCase

from designs.services import open_run
from people.models import Team
from people.services import add_class
from people.tests.support import Api, Ledger, checked_in, recipe, teacher

NAMES = ["Ines", "Jonas", "Mira", "Olu", "Petra", "Quinn", "Rosa", "Sven"]


class Grouping(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = add_class(self.ada, "9 Knot")

    def form(self, **body: Any) -> list[Any]:
        teams: list[Any] = self.api.send("POST", f"classes/{self.knot.pk}/groups", body)["teams"]
        return teams

    def members(self) -> list[str]:
        return sorted(name for team in Team.objects.all() for name in team.members)

    def test_a_list_makes_teams_of_the_size_that_was_wanted(self) -> None:
        teams = self.form(text="\n".join(NAMES), size=3)
        self.assertEqual([len(team["members"]) for team in teams], [4, 4])
        self.assertEqual(self.members(), NAMES)

    def test_a_number_of_students_makes_teams_without_names(self) -> None:
        teams = self.form(students=24, size=3)
        self.assertEqual((len(teams), self.members()), (8, []))

    def test_dealt_again_the_teams_stay_and_nobody_is_lost(self) -> None:
        before = self.form(text="\n".join(NAMES), size=2)
        seen = set()
        for _ in range(12):
            after = self.form(size=2)
            self.assertEqual([team["name"] for team in after], [team["name"] for team in before])
            self.assertEqual(self.members(), NAMES)
            seen.add(str([team["members"] for team in after]))
        # Chance would have to say the same 11 times.
        self.assertGreater(len(seen), 1)
        # Teams that are too many go, as nothing was built by them; their names can be brought back.
        fewer = self.form(size=4)
        self.assertEqual([len(team["members"]) for team in fewer], [4, 4])
        self.assertEqual([gone["what"] for gone in self.api.get("removed")], ["team", "team"])

    def test_mixed_by_last_time_the_strong_are_not_together(self) -> None:
        self.form(text="\n".join(NAMES), size=2)
        run = open_run(recipe(self.ada), self.knot, date(2026, 11, 3))
        stood = {}
        for place, design in enumerate(run.designs.all(), start=1):
            ledger = Ledger(self.api, checked_in(design))
            ledger.hold("platform")
            ledger.hold("nut", 40 - 8 * place)
            ledger.add("place", item="nut", count=1)
            ledger.add("fail", mode="crimp")
            stood.update(dict.fromkeys(design.team.members, place))
        teams = [team for team in self.form(size=4, mixed=True) if team["members"]]
        self.assertEqual(len(teams), 2)
        for team in teams:
            # Two of the better half and two of the other, whoever they are.
            places = [stood[name] for name in team["members"]]
            self.assertEqual(sum(place <= 2 for place in places), 2, places)

    def test_by_hand(self) -> None:
        team = self.form(text="Ines\nJonas", size=2)[0]
        path = f"teams/{team['id']}"
        self.assertEqual(self.api.send("PATCH", path, {"name": "Tern", "members": "Ines, Mira"})["members"],
                         ["Ines", "Mira"])  # fmt: skip
        self.assertEqual(self.api.send("PATCH", path, {"name": "Skua"})["members"], ["Ines", "Mira"])
        self.assertEqual(self.api.send("PATCH", path, {"name": "Skua", "members": " "})["members"], [])

    def test_what_cannot_be_is_said_at_its_field_and_changes_nothing(self) -> None:
        self.form(text="\n".join(NAMES), size=4)
        long = "\n".join(f"Kid{n}\t7b" for n in range(400))
        for body, field in (({"text": long}, "text"), ({"text": "1\t2\n3\t4"}, "text"), ({"size": 0}, "size"),
                            ({"students": 100, "size": 2}, "size")):  # fmt: skip
            with self.subTest(body=str(body)[:40]):
                status, answer = self.api.refused("POST", f"classes/{self.knot.pk}/groups", body)
                self.assertEqual((status, list(answer["fields"])), (400, [field]))
        self.assertEqual((self.members(), Team.objects.count()), (NAMES, 2))
        empty = add_class(self.ada, "8 Rail")
        self.assertEqual(self.api.refused("POST", f"classes/{empty.pk}/groups", {})[1]["code"], "nobody_to_group")
