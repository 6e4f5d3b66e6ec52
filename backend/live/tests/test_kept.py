"""Cards that are kept from look to look say what cards that are read anew say, whatever was changed."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from bench.selectors import DesignCard, cards_of
from challenges.models import Run
from live.kept import at_bench_kept, board_kept
from live.services import close_board, open_board, renew_board, show_screen
from people.tests.support import Api, Ledger, checked_in, run, teacher


def said(cards: list[DesignCard]) -> list[Any]:
    """All that a board can be told of a card."""
    return [
        (
            card.design.pk, card.design.version, card.design.team.name, card.design.away, card.design.queue_place,
            card.design.answers, card.design.run.name, card.design.run.setup,
            {key: (reading.pk, reading.value_si) for key, reading in card.readings.items()},
            card.self_mass, [(result.sentence, result.status) for result in card.constraints],
            card.prediction and (card.prediction.pk, card.prediction.load_kg),
            card.state, card.still_to_do, [(trial.trial.pk, trial.trial.number, trial.result) for trial in card.trials],
        )
        for card in cards
    ]  # fmt: skip


class Kept(TestCase):
    def setUp(self) -> None:
        ada = teacher()
        self.api = Api(ada)
        self.run_ = run(ada, ("Tern", "Auk", "Gull"))
        self.designs = [checked_in(design) for design in self.run_.designs.all()]
        self.ledger = Ledger(self.api, self.designs[0])

    def both(self) -> tuple[list[Any], list[Any]]:
        return said(at_bench_kept(self.fresh()).cards), said(cards_of(self.fresh(), whole=False))

    def fresh(self) -> Run:
        return Run.objects.select_related("school_class__owner").get(pk=self.run_.pk)

    def test_whatever_is_changed_is_in_the_next_look(self) -> None:
        _, auk, gull = self.designs
        path = f"designs/{auk.pk}"
        changes: dict[str, Callable[[], Any]] = {
            "an entry": lambda: self.ledger.hold("platform"),
            "another entry": lambda: self.ledger.hold("nut", 3),
            "a reading": lambda: self.api.send(
                "POST", f"{path}/readings", {"key": "self_mass", "text": "31 g", "resolution_text": "0.1 g"}
            ),
            "an answer": lambda: self.api.send(
                "PUT", f"{path}/answers", {"answers": {"stands": True, "piers": True, "papered": False}}
            ),
            "a prediction": lambda: self.api.send("POST", f"{path}/prediction", {"text": "2 kg"}),
            "a name": lambda: self.api.send("PATCH", f"teams/{gull.team_id}", {"name": "Skua"}),
            "a trial of another team": lambda: Ledger(self.api, auk).hold("platform"),
            "its end": lambda: self.ledger.add("fail", mode="crimp"),
            "whose it is": lambda: self.api.send(
                "POST", f"trials/{self.ledger.id}/move", {"id": str(uuid.uuid4()), "design": gull.pk, "why": "hers"}
            ),
            "a team that is away": lambda: self.api.send("PUT", f"designs/{gull.pk}/away", {"away": "absent"}),
            "a design that is gone": lambda: self.api.send("PUT", f"designs/{gull.pk}/removed", {"removed": True}),
        }
        before, _ = self.both()
        for what, change in changes.items():
            with self.subTest(what):
                change()
                kept, read = self.both()
                self.assertEqual(kept, read)
                self.assertNotEqual(kept, before)
                before = kept

    def test_a_run_that_changed_after_it_was_fetched_is_not_kept_as_it_was(self) -> None:
        fetched = self.fresh()
        self.api.send("PUT", f"runs/{self.run_.pk}/build-clock", {"action": "start"})
        for run_ in (fetched, self.fresh()):
            shown = at_bench_kept(run_).cards[0].design.run
            self.assertEqual(shown.build_started_at, self.fresh().build_started_at)
            self.assertIsNotNone(shown.build_started_at)

    def test_while_only_ledgers_grow_nothing_else_is_read(self) -> None:
        at_bench_kept(self.fresh())
        self.ledger.hold("platform")
        again = self.fresh()
        with CaptureQueriesContext(connection) as asked:
            at_bench_kept(again)
        # Versions, lengths, and the one ledger that has grown.
        self.assertEqual(len(asked), 3)
        with CaptureQueriesContext(connection) as asked:
            at_bench_kept(again)
        self.assertEqual(len(asked), 2)

    def test_rehearsals_are_there_with_what_they_came_to(self) -> None:
        at_bench_kept(self.fresh())
        body = {"id": str(uuid.uuid4()), "bench": str(uuid.uuid4()), "rehearsal": True}
        self.api.send("POST", f"designs/{self.designs[2].pk}/trials", body)
        at_bench_kept(self.fresh())
        for n, (item, count) in enumerate((("platform", 1), ("nut", 2)), 1):
            event = {"id": str(uuid.uuid4()), "sequence": n, "kind": "place", "data": {"item": item, "count": count},
                     "happened_at": "2026-11-03T10:00:00Z"}  # fmt: skip
            sent = self.api.send("POST", f"trials/{body['id']}/events", {"bench": body["bench"], "events": [event]})
            self.assertIsNone(sent["refused"])
            ((trial, result),) = at_bench_kept(self.fresh()).rehearsals
            self.assertEqual((str(trial.pk), result.next_sequence), (body["id"], n + 1))
        self.assertEqual(result, trial.result(self.run_.trial_setup()))

    def test_what_others_hold_of_a_trial_does_not_change(self) -> None:
        at_bench_kept(self.fresh())
        self.ledger.hold("platform")
        before = at_bench_kept(self.fresh()).cards[0].trials[0]
        self.ledger.hold("nut")
        after = at_bench_kept(self.fresh()).cards[0].trials[0]
        self.assertEqual([getattr(marked.trial, "length") for marked in (before, after)], [2, 4])  # noqa: B009


class KeptBoards(TestCase):
    def setUp(self) -> None:
        self.ada = teacher()
        self.run_ = run(self.ada)
        self.board = open_board(self.run_)

    def test_what_its_head_says_is_as_the_database_has_it(self) -> None:
        changes: dict[str, Callable[[], Any]] = {
            "its screen": lambda: show_screen(self.run_, "ranking"),
            "the run's name": lambda: Run.objects.filter(pk=self.run_.pk).update(name="Another name"),
            "the class's": lambda: self.run_.school_class.__class__.objects.update(name="Another class"),
            "its reader's units": lambda: type(self.ada).objects.update(units="us"),
        }

        def head() -> tuple[str, str, str, str]:
            board = board_kept(self.board.token)
            assert board is not None
            return board.screen, board.run.name, board.run.school_class.name, board.run.school_class.owner.units

        before = head()
        for n, (what, change) in enumerate(changes.items()):
            with self.subTest(what):
                change()
                after = head()
                # That, and nothing else.
                self.assertEqual([i for i in range(4) if before[i] != after[i]], [n])
                before = after

    def test_while_it_stands_one_query_says_so(self) -> None:
        board_kept(self.board.token)
        with self.assertNumQueries(1):
            board_kept(self.board.token)

    def test_a_link_that_was_taken_back_shows_nothing(self) -> None:
        self.assertIsNotNone(board_kept(self.board.token))
        renewed = renew_board(self.run_)
        self.assertIsNone(board_kept(self.board.token))
        self.assertIsNotNone(board_kept(renewed.token))
        close_board(self.run_)
        self.assertIsNone(board_kept(renewed.token))

    def test_the_board_of_what_was_deleted_is_closed_till_it_comes_back(self) -> None:
        for owner, field in ((Run._base_manager.filter(pk=self.run_.pk), "removed_at"),
                             (type(self.ada)._base_manager.filter(pk=self.ada.pk), "leaving_at")):  # fmt: skip
            with self.subTest(field):
                self.assertIsNotNone(board_kept(self.board.token))
                owner.update(**{field: timezone.now()})
                self.assertIsNone(board_kept(self.board.token))
                owner.update(**{field: None})
        self.assertIsNotNone(board_kept(self.board.token))
