"""What ledgers came to, kept in this process's memory, so that a great run is compared without reading all its events.

A ledger only grows, and the database refuses to change what is in it. So a trial, how long its ledger is and when its
latest event came say which ledger it is; with its run and the terms it is judged by, they say its result. What is not
remembered is read and replayed; nothing depends on it being there.

A trial that is under way is looked at again after each entry, by a class of tablets and boards. So its ledger stays
open here, and of the events only those are read that came since.
"""

from __future__ import annotations

import json
import threading
import uuid
from collections import OrderedDict, defaultdict
from collections.abc import Mapping, Sequence
from copy import copy
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from typing import cast

from django.contrib.postgres.aggregates import ArrayAgg
from django.db.models import Count, Max, Q, QuerySet

from bench.models import LedgerEvent, Trial, core_event
from challenges.models import Run
from evengirder.database import prepared_cursor
from girder_core.trial import Event, OpenLedger, TrialResult, TrialSetup, replay

MOST = 8192
"""Results that are remembered; when there are more, all are forgotten."""
MOST_OPEN = 128
"""Ledgers that stay open; with more, the one not read on for longest is closed."""
# From the last event that is known on, which says whether it is the same ledger.
_LEDGERS = """
    SELECT event.trial_id, event.id, event.sequence, event.kind, event.data
    FROM unnest(%s::uuid[], %s::int[]) AS asked(trial, since)
    JOIN bench_ledgerevent event ON event.trial_id = asked.trial AND event.sequence >= asked.since
    ORDER BY event.sequence
"""
_LENGTHS = """
    SELECT trial.id, count(*), max(event.received_at), NOT trial.rehearsal AND design.removed_at IS NULL
        AND NOT (trial.by_team AND trial.confirmed_at IS NULL)
    FROM designs_design design
    JOIN bench_trial trial ON trial.design_id = design.id
    JOIN bench_ledgerevent event ON event.trial_id = trial.id
    WHERE design.run_id = %s GROUP BY trial.id, design.id
"""
_KNOWN: dict[tuple[object, ...], TrialResult] = {}


@dataclass
class _Open:
    """A ledger that was read without a gap: to its event of this place, which has this id."""

    at: int
    last: str
    ledger: OpenLedger


_OPEN: OrderedDict[tuple[str, uuid.UUID], _Open] = OrderedDict()
_LOCK = threading.Lock()


def with_length(trials: QuerySet[Trial]) -> QuerySet[Trial]:
    """Trials that know how long their ledger is and when its latest event came."""
    return trials.annotate(length=Count("events"), latest=Max("events__received_at"))


def with_writers(trials: QuerySet[Trial]) -> QuerySet[Trial]:
    """Trials that know who wrote each entry of their ledger, in order, and when the latest was made."""
    writers = ArrayAgg("events__author", order_by="events__sequence", filter=Q(events__isnull=False))
    return trials.annotate(writers=writers, made_at=Max("events__happened_at"))


@dataclass(frozen=True)
class Length:
    """How long the ledger of a trial is, when its latest event came, and whether it is one that can count: no
    rehearsal, of a design that is there, and nothing that a team found by itself and nobody has confirmed."""

    events: int
    latest: datetime
    counts: bool


def as_long(trial: Trial, long: Length | None) -> Trial:
    """A trial that came ``with_length``, with the length that its ledger has now: another one, if that is not the same,
    because others may hold the first."""
    now = (long.events, long.latest) if long else (0, None)
    if (getattr(trial, "length"), getattr(trial, "latest")) == now:  # noqa: B009
        return trial
    grown = copy(trial)
    vars(grown).update(zip(("length", "latest"), now, strict=True))
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


def lengths_in(run: Run) -> dict[uuid.UUID, Length]:
    """The trials of a run in whose ledgers there is something, in one query that is planned once."""
    with prepared_cursor() as cursor:
        cursor.execute(_LENGTHS, [run.pk])
        return {trial: Length(*long) for trial, *long in cursor.fetchall()}


def results_in(run: Run) -> dict[uuid.UUID, TrialResult]:
    """The results of a run's trials that can count and are begun, in two queries, or in one when all are remembered."""
    found = {trial: long for trial, long in lengths_in(run).items() if long.counts}
    return _results({trial: (run, long.events, long.latest) for trial, long in found.items()})


def results_of(trials: Sequence[Trial]) -> dict[uuid.UUID, TrialResult]:
    """The results of trials that came ``with_length`` and know their run, in one query, or none when all are
    remembered."""
    return _results({
        trial.pk: (trial.design.run, getattr(trial, "length"), getattr(trial, "latest"))  # noqa: B009
        for trial in trials
    })  # fmt: skip


def result_of(trial: Trial) -> TrialResult:
    """The result of one trial, which is read and replayed only where it is not remembered as it is now."""
    with prepared_cursor() as cursor:
        cursor.execute("SELECT count(*), max(received_at) FROM bench_ledgerevent WHERE trial_id = %s", [trial.pk])
        length, latest = cursor.fetchone()
    return _results({trial.pk: (trial.design.run, length, latest)})[trial.pk]


def remember(trial: Trial, events: Sequence[LedgerEvent], result: TrialResult) -> None:
    """What the ledger of a trial came to that was written just now, and is nothing but these events."""
    if len(_KNOWN) >= MOST:
        _KNOWN.clear()
    latest = max((event.received_at for event in events), default=None)
    _KNOWN[_terms(trial.design.run), trial.pk, len(events), latest] = result


def _terms(run: Run) -> str:
    # Whose they are, too: a run that comes back from a file has the ids of its trials, and may have been changed there.
    return json.dumps([run.pk, run.family, run.setup, run.kit], sort_keys=True)


def _results(known_by: Mapping[uuid.UUID, tuple[Run, int, datetime | None]]) -> dict[uuid.UUID, TrialResult]:
    runs = {run.pk: run for run, _, _ in known_by.values()}
    terms = {pk: _terms(run) for pk, run in runs.items()}
    keys = {pk: (terms[run.pk], pk, length, latest) for pk, (run, length, latest) in known_by.items()}
    results = {pk: _KNOWN[key] for pk, key in keys.items() if key in _KNOWN}
    missing = {pk: run for pk, (run, _, _) in known_by.items() if pk not in results}
    if missing:
        if len(_KNOWN) + len(missing) > MOST:
            _KNOWN.clear()
        setups = {pk: runs[pk].trial_setup() for pk in {run.pk for run in missing.values()}}
        begun = {pk: (terms[run.pk], setups[run.pk]) for pk, run in missing.items() if known_by[pk][1]}
        fresh = {pk: replay([], setups[run.pk]) for pk, run in missing.items() if pk not in begun} | _read(begun)
        _KNOWN.update({keys[pk]: result for pk, result in fresh.items()})
        results |= fresh
    return results


def _read(asked: Mapping[uuid.UUID, tuple[str, TrialSetup]]) -> dict[uuid.UUID, TrialResult]:
    """What ledgers come to by now, in one query; of those that are open, from where they were read to."""
    if not asked:
        return {}
    with _LOCK:
        # Nobody else has one until it is put back.
        taken = {pk: _OPEN.pop((terms, pk), None) for pk, (terms, _) in asked.items()}
    events: dict[uuid.UUID, list[Event]] = defaultdict(list)
    with prepared_cursor() as cursor:
        cursor.execute(_LEDGERS, [list(taken), [found.at if found else 0 for found in taken.values()]])
        for trial, event, sequence, kind, data in cursor.fetchall():
            events[trial].append(core_event(event, sequence, kind, json.loads(data)))
    results, anew = {}, {}
    for pk, (terms, setup) in asked.items():
        found = taken[pk]
        if found is None:
            found = _Open(0, "", OpenLedger(setup))
        elif events[pk][:1] and events[pk][0].id == found.last:
            del events[pk][0]
        else:
            # Another ledger under the same name, after the first was deleted.
            anew[pk] = terms, setup
            continue
        for event in events[pk]:
            found.ledger.read(event)
        result = results[pk] = found.ledger.result
        without_gap = [event.sequence for event in events[pk]] == [*range(found.at + 1, found.at + len(events[pk]) + 1)]
        if without_gap and not result.ended:
            if events[pk]:
                found.at, found.last = events[pk][-1].sequence, events[pk][-1].id
            _keep_open((terms, pk), found)
    return results | _read(anew)


def _keep_open(key: tuple[str, uuid.UUID], found: _Open) -> None:
    with _LOCK:
        _OPEN[key] = found
        while len(_OPEN) > MOST_OPEN:
            _OPEN.popitem(last=False)
