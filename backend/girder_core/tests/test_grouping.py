"""Teams from a class list: what is pasted, how many teams, and who comes to whom."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from girder_core.ground import GirderError
from girder_core.planning import MOST_STUDENTS, dealt, first_names, team_sizes


class Names(unittest.TestCase):
    def test_a_name_on_each_line_with_what_lists_begin_with(self) -> None:
        self.assertEqual(first_names("1. Ines\n2) Jonas Falk\n- Mira\n\n  • Olu  \n"), ("Ines", "Jonas", "Mira", "Olu"))

    def test_a_pasted_table_with_tabs(self) -> None:
        self.assertEqual(first_names("1\tInes\tHolm\n2\tJonas\tFalk"), ("Ines", "Jonas"))
        named = "No.\tLast name\tFirst name\n1\tHolm\tInes\n2\tFalk\tJonas"
        self.assertEqual(first_names(named), ("Ines", "Jonas"))
        self.assertEqual(first_names("Name;Class\nInes;7b\n;7b\nJonas;7b"), ("Ines", "Jonas"))

    def test_two_of_one_name_are_told_apart(self) -> None:
        self.assertEqual(first_names("Ines Holm\nInes Berg\nJonas"), ("Ines H.", "Ines B.", "Jonas"))
        self.assertEqual(first_names("Ines\nines\nInes Holm\nInes Hult"), ("Ines", "ines 2", "Ines H.", "Ines H. 2"))

    def test_lists_that_are_none(self) -> None:
        long = "\n".join(f"Kid{chr(97 + n % 26)}{n}" for n in range(400))
        for text, word in (("", "no name"), ("1\n2\n3", "no name"), (long, "400 names"), ("x" * 40, "too long")):
            with self.subTest(text[:20]):
                with self.assertRaises(GirderError) as caught:
                    first_names(text)
                self.assertEqual(caught.exception.code, "bad_list")
                self.assertIn(word, caught.exception.sentence)

    @given(st.lists(st.sampled_from(["Ines", "Jonas", "Ines Holm", "ines", "Åse Vik", "Jonas F"]), min_size=1,
                    max_size=MOST_STUDENTS))  # fmt: skip
    def test_nobody_is_lost_and_no_two_are_called_alike(self, names: list[str]) -> None:
        told = first_names("\n".join(names))
        self.assertEqual(len(told), len(names))
        self.assertEqual(len({name.lower() for name in told}), len(names))


class Sizes(unittest.TestCase):
    def test_by_hand(self) -> None:
        self.assertEqual(team_sizes(24, 3), (3,) * 8)
        self.assertEqual(team_sizes(25, 3), (4, 3, 3, 3, 3, 3, 3, 3))
        self.assertEqual(team_sizes(26, 4), (5, 5, 4, 4, 4, 4))
        self.assertEqual(team_sizes(2, 3), (2,))

    def test_what_cannot_be(self) -> None:
        for students, size, code in ((0, 3, "no_students"), (5, 0, "team_size")):
            with self.assertRaises(GirderError) as caught:
                team_sizes(students, size)
            self.assertEqual(caught.exception.code, code)

    @given(st.integers(1, 200), st.integers(1, 12))
    def test_all_are_in_and_teams_differ_by_one(self, students: int, size: int) -> None:
        sizes = team_sizes(students, size)
        self.assertEqual(sum(sizes), students)
        self.assertLessEqual(max(sizes) - min(sizes), 1)
        self.assertGreaterEqual(min(sizes), min(size, students))


class Dealt(unittest.TestCase):
    def test_strong_and_weak_come_together(self) -> None:
        # Numbered by last time's place; every team's places add up to the same.
        names = [str(place) for place in range(1, 13)]
        teams = dealt(names, (4, 4, 4))
        self.assertEqual(teams[0], ("1", "6", "7", "12"))
        self.assertEqual({sum(int(name) for name in team) for team in teams}, {26})

    def test_as_many_places_as_students(self) -> None:
        with self.assertRaises(GirderError):
            dealt(["Ines"], (2,))

    @given(st.integers(1, 60), st.integers(1, 6))
    def test_everybody_is_in_one_team(self, students: int, size: int) -> None:
        names = [str(n) for n in range(students)]
        sizes = team_sizes(students, size)
        teams = dealt(names, sizes)
        self.assertEqual(tuple(len(team) for team in teams), sizes)
        self.assertEqual(sorted(name for team in teams for name in team), sorted(names))
