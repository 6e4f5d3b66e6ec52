"""What ledgers came to, kept in this process's memory, so that a great run is compared without reading all its events.

A ledger only grows, and the database refuses to change what is in it. So a trial, how long its ledger is and when its
latest event came say which ledger it is; with the terms it is judged by, they say its result. What is not remembered is
read and replayed; nothing depends on it being there.
"""

from __future__ import annotations

import json
import uuid
from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime

from django.db.models import Count, Max, QuerySet

from bench.models import LedgerEvent, Trial, core_event
from girder_core.trial import Event, TrialResult, replay

MOST = 8192
"""Results that are remembered; when there are more, all are forgotten."""
_KNOWN: dict[tuple[object, ...], TrialResult] = {}


def with_length(trials: QuerySet[Trial]) -> QuerySet[Trial]:
    """Trials that know how long their ledger is and when its latest event came."""
    return trials.annotate(length=Count("events"), latest=Max("events__received_at"))


def last_entry_at(trial: Trial) -> datetime:
    """When something happened last, by the server's clock, in a trial that came ``with_length``."""
    latest: datetime | None = getattr(trial, "latest")  # noqa: B009
    return latest or trial.started_at


def results_of(trials: Sequence[Trial]) -> dict[uuid.UUID, TrialResult]:
    """The results of trials that came ``with_length`` and know their run, in one query, or none when all are
    remembered."""
    runs = {trial.design.run.pk: trial.design.run for trial in trials}
    terms = {pk: json.dumps([run.family, run.setup, run.kit], sort_keys=True) for pk, run in runs.items()}
    keys = {
        trial.pk: (terms[trial.design.run.pk], trial.pk, getattr(trial, "length"), getattr(trial, "latest"))  # noqa: B009
        for trial in trials
    }
    results = {pk: _KNOWN[key] for pk, key in keys.items() if key in _KNOWN}
    missing = {trial.pk: trial.design.run.pk for trial in trials if trial.pk not in results}
    if missing:
        events: dict[uuid.UUID, list[Event]] = defaultdict(list)
        rows = LedgerEvent.objects.filter(trial__in=missing).order_by("sequence")
        for trial, event, sequence, kind, data in rows.values_list("trial_id", "id", "sequence", "kind", "data"):
            events[trial].append(core_event(event, sequence, kind, data))
        if len(_KNOWN) + len(missing) > MOST:
            _KNOWN.clear()
        setups = {pk: runs[pk].trial_setup() for pk in set(missing.values())}
        fresh = {pk: replay(events[pk], setups[run]) for pk, run in missing.items()}
        _KNOWN.update({keys[pk]: result for pk, result in fresh.items()})
        results |= fresh
    return results
