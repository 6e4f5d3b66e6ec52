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
from copy import copy
from datetime import datetime
from functools import lru_cache
from typing import cast

from django.db.models import Count, Max, QuerySet

from bench.models import Trial, core_event
from evengirder.database import prepared_cursor
from girder_core.trial import Event, TrialResult, replay

MOST = 8192
"""Results that are remembered; when there are more, all are forgotten."""
_LEDGERS = """
    SELECT trial_id, id, sequence, kind, data FROM bench_ledgerevent WHERE trial_id = ANY(%s) ORDER BY sequence
"""
_KNOWN: dict[tuple[object, ...], TrialResult] = {}


def with_length(trials: QuerySet[Trial]) -> QuerySet[Trial]:
    """Trials that know how long their ledger is and when its latest event came."""
    return trials.annotate(length=Count("events"), latest=Max("events__received_at"))


def as_long(trial: Trial, length: int, latest: datetime | None) -> Trial:
    """A trial that came ``with_length``, with the length that its ledger has now: another one, if that is not the same,
    because others may hold the first."""
    if (getattr(trial, "length"), getattr(trial, "latest")) == (length, latest):  # noqa: B009
        return trial
    grown = copy(trial)
    vars(grown).update(length=length, latest=latest)
    return grown


@lru_cache(MOST)
def received_at(event: uuid.UUID) -> datetime:
    """When an entry came, by the server's clock; what is in a ledger is never changed."""
    with prepared_cursor() as cursor:
        cursor.execute("SELECT received_at FROM bench_ledgerevent WHERE id = %s", [event])
        (moment,) = cursor.fetchone()
    return cast(datetime, moment)


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
        with prepared_cursor() as cursor:
            cursor.execute(_LEDGERS, [list(missing)])
            for trial, event, sequence, kind, data in cursor.fetchall():
                events[trial].append(core_event(event, sequence, kind, json.loads(data)))
        if len(_KNOWN) + len(missing) > MOST:
            _KNOWN.clear()
        setups = {pk: runs[pk].trial_setup() for pk in set(missing.values())}
        fresh = {pk: replay(events[pk], setups[run]) for pk, run in missing.items()}
        _KNOWN.update({keys[pk]: result for pk, result in fresh.items()})
        results |= fresh
    return results
