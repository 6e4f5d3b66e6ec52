"""Ledgers as a reader finds them: every line, what became of it, and what was changed after the fact. Nothing here
writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.db.models import Exists, OuterRef

from bench.models import LedgerEvent, Trial, core_events
from challenges.models import Run
from girder_core.trial import MAY_CHANGE, Line, TrialSetup, lines


@dataclass(frozen=True)
class LedgerLine:
    """An entry as it was written, and what became of it."""

    row: LedgerEvent
    line: Line


@dataclass(frozen=True)
class Change:
    """A line by which a trial was changed after the fact, and the line that it is about."""

    trial: Trial
    line: LedgerLine
    about: LedgerLine | None


def ledger_lines(trial: Trial) -> list[LedgerLine]:
    """Every line of a trial's ledger."""
    return _told(list(trial.events.order_by("sequence")), trial.design.run.trial_setup())


def _told(rows: Sequence[LedgerEvent], setup: TrialSetup) -> list[LedgerLine]:
    by_id = {str(row.id): row for row in rows}
    return [LedgerLine(by_id[line.event.id], line) for line in lines(core_events(rows), setup)]


def changes_of(run: Run) -> list[Change]:
    """What was changed in a run's trials after the fact, the latest first."""
    setup = run.trial_setup()
    changing = LedgerEvent.objects.filter(trial=OuterRef("pk"), kind__in=[kind.value for kind in MAY_CHANGE])
    trials = (
        Trial.objects.filter(Exists(changing), design__in=run.designs.all())
        .select_related("design__team")
        .prefetch_related("events")
    )
    changes = []
    for trial in trials:
        told = _told(list(trial.events.all()), setup)
        by_id = {line.line.event.id: line for line in told}
        changes += [Change(trial, line, by_id.get(line.line.about)) for line in told if line.line.changes]
    return sorted(changes, key=lambda change: (change.line.row.happened_at, change.line.row.sequence), reverse=True)
