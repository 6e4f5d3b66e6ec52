"""Films of a run and of a draft: there for every kind, on the board only where it is put on, and the teacher's own."""

from __future__ import annotations

from datetime import date

from django.test import TestCase

from challenges.library import shipped, take
from challenges.models import Run
from designs import services as designing
from girder_core.drafting import kinds_for
from live.selectors import BoardState
from live.services import open_board
from people.tests.support import Api, school_class, teacher


class Films(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.api = Api(self.ada)
        self.knot = school_class(self.ada, teams=("Tern",))

    def run_of(self, slug: str) -> Run:
        return designing.open_run(take(self.ada, slug), self.knot, date(2026, 12, 1))

    def test_every_kind_of_challenge_has_one_under_its_own_set_up(self) -> None:
        for recipe in shipped():
            with self.subTest(recipe.slug):
                film = self.api.get(f"runs/{self.run_of(recipe.slug).pk}/film")
                self.assertGreater(len(film["frames"]), 2)
                self.assertTrue(all(frame["drawing"]["shapes"] and frame["says"] for frame in film["frames"]))

    def test_a_set_up_beyond_the_model_is_shown_at_the_model_s_sizes(self) -> None:
        run = self.run_of("slip-gangway")
        run.setup = {**run.setup, "gap_m": 9.0}
        run.save()
        self.assertGreater(len(self.api.get(f"runs/{run.pk}/film")["frames"]), 2)

    def test_the_board_has_it_only_while_it_shows_it(self) -> None:
        run = self.run_of("slip-gangway")
        board = open_board(run)
        self.assertIsNone(Api().get(f"boards/{board.token}")["film"])
        self.api.send("PUT", f"runs/{run.pk}/board", {"screen": "motion"})
        board.refresh_from_db()
        film = BoardState(board).film
        assert film is not None
        # A class that is to say itself what goes first is not told.
        self.assertEqual(film.frames[-1].says, "It gives way.")

    def test_nobody_else_sees_it(self) -> None:
        run = self.run_of("slip-gangway")
        self.assertEqual(Api(teacher("Bo")).call("GET", f"runs/{run.pk}/film")[0], 404)
        self.assertIn(Api().call("GET", f"runs/{run.pk}/film")[0], (401, 403))

    def test_a_draft_moves_as_it_is_typed(self) -> None:
        for kind in kinds_for("boat"):
            answer = self.api.send("POST", "drafts/film?number=1", {"kind": kind.key, "typed": {}})
            self.assertGreater(len(answer["titles"]), 1)
            self.assertEqual(answer["film"]["title"], answer["titles"][1])
        wide, narrow = (
            self.api.send("POST", "drafts/film", {"kind": "boat", "typed": {"wide_m": wide}})["film"]["box"]
            for wide in ("30 cm", "12 cm")
        )
        self.assertGreater(wide[2] - wide[0], narrow[2] - narrow[0])
        self.assertEqual(self.api.call("POST", "drafts/film", {"kind": "boat", "typed": {"wide_m": "-3"}})[0], 400)
        plain = self.api.send("POST", "drafts/film?number=x", {"kind": "boat", "typed": {}})
        self.assertEqual(plain["film"]["title"], plain["titles"][0])
