"""Cards that are kept from look to look say what cards that are read anew say, whatever was changed."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from typing import Any

from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from bench.selectors import DesignCard, cards_by_memory
from challenges.models import Run
from live.kept import cards_kept
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
        return said(cards_kept(self.fresh())), said(cards_by_memory(self.fresh()))

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

    def test_while_only_ledgers_grow_nothing_else_is_read(self) -> None:
        cards_kept(self.fresh())
        self.ledger.hold("platform")
        again = self.fresh()
        with CaptureQueriesContext(connection) as asked:
            cards_kept(again)
        # Versions, trials, and the one ledger that has grown.
        self.assertEqual(len(asked), 3)
        with CaptureQueriesContext(connection) as asked:
            cards_kept(again)
        self.assertEqual(len(asked), 2)
