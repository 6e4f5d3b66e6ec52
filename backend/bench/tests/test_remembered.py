"""What is remembered of ledgers is what they come to when they are read again, however they grew."""

from __future__ import annotations

import json
import uuid
from random import Random
from typing import Any

from django.db import connection
from django.test import TestCase
from django.utils import timezone

from bench import remembered
from bench.models import LedgerEvent, Trial
from bench.remembered import results_in
from girder_core.tests.anything import any_event
from people.tests.support import Api, Ledger, checked_in, run, teacher


class Growing(TestCase):
    def setUp(self) -> None:
        ada = teacher()
        self.api = Api(ada)
        self.run_ = run(ada, ("Tern", "Auk", "Gull"))
        self.designs = [checked_in(design) for design in self.run_.designs.all()]
        self.setup = self.run_.trial_setup()

    def begun(self, number: int, pk: uuid.UUID | None = None) -> Trial:
        return Trial.objects.create(id=pk or uuid.uuid4(), design=self.designs[number], number=1, bench=uuid.uuid4())

    def write(self, trial: Trial, sequence: int, kind: str, data: dict[str, Any]) -> None:
        """As it stands in a ledger, whether the rules would let it in or not."""
        now = timezone.now()
        LedgerEvent.objects.create(
            id=uuid.uuid4(), trial=trial, sequence=sequence, kind=kind, data=data, happened_at=now, received_at=now
        )

    def agrees(self, *trials: Trial) -> None:
        told = results_in(self.run_)
        for trial in trials:
            again = Trial.objects.get(pk=trial.pk).result(self.setup)
            self.assertEqual(told[trial.pk], again)

    def test_read_on_or_read_again_it_is_the_same(self) -> None:
        trials, draws, family = [self.begun(n) for n in range(3)], Random(11), self.run_.core_family()
        for trial in trials:
            self.write(trial, 1, "place", {"item": "platform", "count": 1})
        for _ in range(40):
            # Some grow by several entries between two looks, some by none.
            for trial in trials:
                for _ in range(draws.randrange(3)):
                    events = trial.core_events()
                    kind, data = any_event(family, self.setup, events, draws)
                    if "Infinity" in json.dumps(data) or "NaN" in json.dumps(data):
                        # That is nothing that the database can hold.
                        continue
                    self.write(trial, len(events) + 1, kind.value, dict(data))
            self.agrees(*trials)
        self.assertGreater(LedgerEvent.objects.count(), 60)

    def test_of_a_ledger_that_is_open_only_what_came_since_is_read(self) -> None:
        ledger = Ledger(self.api, self.designs[0])
        for item in ("platform", *["nut"] * 20):
            ledger.hold(item)
        trial = Trial.objects.get()
        self.agrees(trial)
        ledger.add("place", item="nut", count=1)
        (opened,) = (found for (_, pk), found in remembered._OPEN.items() if pk == trial.pk)
        self.assertEqual(opened.at, 42)
        with connection.cursor() as cursor:
            cursor.execute(remembered._LEDGERS, [[trial.pk], [opened.at]])
            self.assertEqual([row[2] for row in cursor.fetchall()], [42, 43])
        self.agrees(trial)

    def test_an_entry_before_its_turn_waits_here_too(self) -> None:
        trial = self.begun(0)
        self.write(trial, 1, "place", {"item": "platform", "count": 1})
        self.agrees(trial)
        self.write(trial, 3, "place", {"item": "nut", "count": 2})
        self.agrees(trial)
        self.write(trial, 2, "settle", {"waited_s": 5})
        self.agrees(trial)
        self.write(trial, 4, "settle", {"waited_s": 5})
        self.agrees(trial)

    def test_one_that_begins_again_under_its_name_is_read_anew(self) -> None:
        first = self.begun(0)
        for sequence in range(1, 4):
            self.write(first, sequence, "note", {"text": f"First {sequence}."})
        self.agrees(first)
        name = first.pk
        first.delete()
        again = self.begun(0, name)
        for sequence in range(1, 6):
            self.write(again, sequence, "note", {"text": f"Again {sequence}."})
        self.agrees(again)
        self.assertIn("Again 5.", results_in(self.run_)[again.pk].notes)

    def test_what_is_over_is_not_kept_open(self) -> None:
        ledger = Ledger(self.api, self.designs[0])
        ledger.hold("platform")
        trial = Trial.objects.get()
        self.agrees(trial)
        self.assertIn(trial.pk, {pk for _, pk in remembered._OPEN})
        ledger.add("fail", mode="snap")
        self.agrees(trial)
        self.assertNotIn(trial.pk, {pk for _, pk in remembered._OPEN})
