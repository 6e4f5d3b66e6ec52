"""Who does what at a test: all tasks are done, and they go round."""

from __future__ import annotations

import unittest
from collections import Counter

from girder_core.ground import GirderError
from girder_core.planning import at_a_tablet, tasks
from girder_core.planning.roles import LOADED, MOST_PEOPLE

NAMES = ("Sunniva", "Aksel", "Ronja", "Brage", "Liv", "Odd")


class Tasks(unittest.TestCase):
    def test_every_task_is_done_at_every_test_and_nobody_is_forgotten(self) -> None:
        for size in range(1, len(NAMES) + 1):
            for turn in range(9):
                given = tasks(NAMES[:size], turn, True)
                self.assertEqual([task.words for task in given[:4]], list(LOADED))
                self.assertEqual({task.name for task in given}, set(NAMES[:size]), (size, turn))
                # With fewer people than tasks nobody has two more than another one.
                count = Counter(task.name for task in given[:4])
                self.assertLessEqual(max(count.values()) - (min(count.values()) if size <= 4 else 1), 1)

    def test_over_as_many_tests_as_people_everybody_has_each_task_once(self) -> None:
        for size in range(1, len(NAMES) + 1):
            had = Counter(
                (task.words, task.name) for turn in range(size) for task in tasks(NAMES[:size], turn, True)[:4]
            )
            self.assertEqual(set(had.values()), {1})
            self.assertEqual(len(had), 4 * size)

    def test_nobody_by_name(self) -> None:
        self.assertEqual([task.name for task in tasks((), 3, True)], [""] * 4)

    def test_what_is_not_loaded_is_set_off(self) -> None:
        self.assertEqual(tasks((), 0, False)[0].words, "sets it off")


class Names(unittest.TestCase):
    def test_however_they_are_typed(self) -> None:
        for typed in ("Sunniva, Aksel, Ronja", "Sunniva; Aksel and Ronja", "Sunniva Lund\nAksel Berg & Ronja",
                      " Sunniva,Aksel , sunniva, Ronja,, "):  # fmt: skip
            self.assertEqual(at_a_tablet(typed), ("Sunniva", "Aksel", "Ronja"), typed)
        self.assertEqual(at_a_tablet("  "), ())
        self.assertEqual(at_a_tablet("Sandra"), ("Sandra",), "and is a word of its own only")

    def test_too_many_or_too_long(self) -> None:
        for typed in (", ".join(f"N{n}" for n in range(MOST_PEOPLE + 1)), "x" * 31):
            with self.assertRaises(GirderError) as caught:
                at_a_tablet(typed)
            self.assertEqual(caught.exception.code, "bad_names")
            self.assertIn("who", caught.exception.data["fields"])
