"""An entry as fast as the disk allows: the ledger of an open trial is remembered and continued by one statement.

One entry, in its turn, from the bench that has the trial, that the rules let in: that is nearly all of them, and two
queries: one that says who asks and whether what is remembered still is so, and one that inserts. Whatever else comes
(doubles, batches, another bench, what is refused or asked about, a session or a body that is not as usual) comes to
``None`` here and goes the long way, ``bench.services.append_events``, which knows all of it. Nothing is decided here
that is decided there: policy, rules and answer are the same functions.

What is remembered is known by versions: PostgreSQL's of each row that the state of a trial rests on (``xmin`` is
another one after every change), the length of the ledger, and the latest reading and prediction. The insert itself asks
once more for the bench, under a lock that waits for a take-over, and the place in the ledger is unique: whoever comes
second inserts nothing.
"""

from __future__ import annotations

import json
import re
import threading
import uuid
from collections import OrderedDict
from dataclasses import dataclass
from datetime import datetime
from functools import cache, lru_cache
from typing import Any

from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore
from django.contrib.sessions.models import Session
from django.db import DatabaseError
from django.db.backends.base.base import BaseDatabaseWrapper
from django.db.models import CharField, Count, Func, Max, OuterRef, Subquery
from django.db.models.expressions import Col
from django.db.models.functions import Now
from django.db.models.sql.compiler import SQLCompiler
from django.http import HttpRequest
from django.utils import timezone
from django.utils.crypto import constant_time_compare
from django.utils.dateparse import parse_datetime
from rest_framework.authentication import CSRFCheck
from rest_framework.renderers import JSONRenderer

from bench.models import EVENT_KINDS, LedgerEvent, Trial, core_event
from bench.serializers import MOST_SEQUENCE, AppendedSerializer
from bench.services import put_right
from bench.trial_selectors import TrialState, TrialTerms, state_of, trial_terms
from designs.models import Reading, TeamPrediction
from evengirder import metrics
from evengirder.database import prepared_cursor
from evengirder.doors import QuickDoor
from evengirder.fields import FIRST_YEAR, LAST_YEAR
from girder_core.ground import GirderError, sound_json
from girder_core.measure import System, read_in
from girder_core.trial import EventKind, OpenLedger
from people.models import Teacher
from people.policy import with_owner

LONGEST_BODY = 16_384
"""Bytes of a body that holds one entry; a longer one goes the long way."""
MOST = 512
"""Trials that are remembered in a process; with more, the one not used for longest is forgotten."""
_KINDS = frozenset(kind for kind, _ in EVENT_KINDS) - {EventKind.MOVE.value}
_NO_TRIAL, _NO_SESSION = uuid.UUID(int=0), "no-such-session"


@dataclass(frozen=True)
class Kept:
    """An entry that was kept, and the trial's state after it."""

    event_id: uuid.UUID
    state: TrialState


@dataclass
class _Open:
    """A trial that is remembered: how long its ledger is, by which versions all else is known, and what holds."""

    length: int
    versions: tuple[object, ...]
    terms: TrialTerms
    ledger: OpenLedger


@dataclass(frozen=True)
class _Entry:
    """One entry as it was sent."""

    bench: uuid.UUID
    id: uuid.UUID
    sequence: int
    kind: str
    data: dict[str, Any]
    happened_at: datetime
    sent_at: datetime | None


_REMEMBERED: OrderedDict[uuid.UUID, _Open] = OrderedDict()
_LOCK = threading.Lock()


def quickly(request: HttpRequest, pk: uuid.UUID) -> Kept | None:
    """Keep the one entry that the request brings for this trial; None for what has to go the long way."""
    entry = _sent(request)
    key = request.COOKIES.get("sessionid")
    if entry is None or key is None or not _meant(request):
        return None
    with prepared_cursor() as cursor:
        sql, parameters = _question()
        cursor.execute(sql, [pk if given == _NO_TRIAL else key if given == _NO_SESSION else given
                             for given in parameters])  # fmt: skip
        row = cursor.fetchone()
    if row is None:
        return None
    session, teacher_id, password, active, name, units, bench, length, *versions = row
    length = length or 0
    if bench != entry.bench or entry.sequence != length + 1 or not active:
        return None
    if not _signed_in(session, teacher_id, password):
        return None
    system, known_by = System(units), (units, *versions)
    with read_in(lambda: system):
        found = _taken(pk, length, known_by) or _read(pk, length, known_by, system)
        return _keep(pk, found, entry, name) if found else None


def answer_at_once(request: HttpRequest, ident: str) -> bytes | None:
    """The answer for the one entry that the request brings, as the long way words it; None where it has to go that."""
    try:
        kept = quickly(request, uuid.UUID(ident))
    except DatabaseError:
        # The long way knows what to say of a database that is away.
        return None
    if kept is None:
        return None
    answer = {"accepted": [str(kept.event_id)], "refused": None, "state": kept.state}
    return bytes(JSONRenderer().render(_ANSWER.to_representation(answer)))


# Built once: building its fields takes longer than filling them.
_ANSWER = AppendedSerializer()
DOOR = QuickDoor("POST", re.compile(r"/api/trials/([0-9a-f-]{36})/events"), answer_at_once, LONGEST_BODY)


def _sent(request: HttpRequest) -> _Entry | None:
    """The entry in a request's body, if it is one, in the shape that ``bench.serializers`` asks for."""
    if request.method != "POST" or request.content_type != "application/json":
        return None
    if not 0 < int(request.META.get("CONTENT_LENGTH") or 0) <= LONGEST_BODY:
        return None
    try:
        body = sound_json(request.body)
        (event,) = body["events"]
        sent_at = parse_datetime(body["sent_at"]) if "sent_at" in body else None
        happened_at = parse_datetime(event["happened_at"])
        entry = _Entry(
            uuid.UUID(body["bench"]), uuid.UUID(event["id"]), event["sequence"], event["kind"], event.get("data", {}),
            happened_at or timezone.now(), sent_at,
        )  # fmt: skip
        plain = type(entry.sequence) is int and 1 <= entry.sequence <= MOST_SEQUENCE and type(entry.data) is dict
        moments = [at for at in (happened_at, sent_at) if at is not None]
        aware = happened_at is not None and all(at.tzinfo and FIRST_YEAR <= at.year <= LAST_YEAR for at in moments)
        return entry if plain and aware and entry.kind in _KINDS and not body.get("only_known") else None
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return None


def _meant(request: HttpRequest) -> bool:
    """Whether it comes from a page of ours, by the framework's own check."""
    check = CSRFCheck(lambda _: None)  # type: ignore[arg-type]
    check.process_request(request)
    return check.process_view(request, None, (), {}) is None  # type: ignore[arg-type]


@lru_cache(MOST)
def _signed_in(session: str | None, teacher_id: int, password: str) -> bool:
    """Whether what is kept of a session is this teacher's, and from after the password was last changed.

    It follows from what is given alone, so it is remembered.
    """
    said = SessionStore().decode(session) if session else {}
    teacher = Teacher(pk=teacher_id, password=password)
    return (
        said.get(SESSION_KEY) == str(teacher.pk)
        and BACKEND_SESSION_KEY in said
        and constant_time_compare(said.get(HASH_SESSION_KEY, ""), teacher.get_session_auth_hash())
    )


class _Version(Func):
    """The version of the row that a column stands in."""

    output_field = CharField()

    def as_sql(  # type: ignore[override]
        self, compiler: SQLCompiler, connection: BaseDatabaseWrapper, **context: Any
    ) -> tuple[str, list[Any]]:
        (column,) = self.get_source_expressions()
        assert isinstance(column, Col)
        return f'{connection.ops.quote_name(column.alias)}."xmin"::text', []


def _of_design(model: type[Reading] | type[TeamPrediction]) -> Subquery:
    rows = model._default_manager.filter(design=OuterRef("design")).order_by()
    return Subquery(rows.values("design").annotate(latest=Max("pk")).values("latest"))


@cache
def _question() -> tuple[str, tuple[Any, ...]]:
    """Who asks, and by which versions the trial is known: one statement, put together once.

    Its parameters have a trial and a session that there are not, for those that are asked about.
    """
    owner = "design__run__school_class__owner"
    events = LedgerEvent.objects.filter(trial=OuterRef("pk")).order_by().values("trial")
    session = Session.objects.filter(session_key=_NO_SESSION, expire_date__gt=Now())
    trial = with_owner(Trial.with_rehearsals.filter(pk=_NO_TRIAL)).order_by()
    asked = trial.values_list(
        Subquery(session.values("session_data")),
        "owned_by", f"{owner}__password", f"{owner}__is_active", f"{owner}__name", f"{owner}__units",
        "bench",
        Subquery(events.annotate(length=Count("pk")).values("length")),
        *map(_Version, ("number", "design__version", "design__team__name", "design__run__name",
                        "design__run__school_class__name")),
        _of_design(Reading), _of_design(TeamPrediction),
    )  # fmt: skip
    return asked.query.sql_with_params()


def _taken(pk: uuid.UUID, length: int, versions: tuple[object, ...]) -> _Open | None:
    """What is remembered of a trial, if it still is so. Nobody else has it until it is put back."""
    with _LOCK:
        found = _REMEMBERED.pop(pk, None)
    return found if found and (found.length, found.versions) == (length, versions) else None


def _read(pk: uuid.UUID, length: int, versions: tuple[object, ...], system: System) -> _Open | None:
    """A trial as the database has it; None where it was written on meanwhile."""
    trials = Trial.with_rehearsals.select_related("design__run__school_class__owner", "design__team")
    trial = trials.prefetch_related("events").filter(pk=pk).first()
    if trial is None or len(trial.events.all()) != length:
        return None
    terms = trial_terms(trial, system)
    return _Open(length, versions, terms, OpenLedger(terms.setup, trial.core_events()))


_INSERT = """
    INSERT INTO bench_ledgerevent (id, trial_id, sequence, kind, data, happened_at, received_at, author)
    SELECT %s, trial.id, %s, %s, %s::jsonb, %s, %s, %s
    FROM (SELECT id FROM bench_trial WHERE id = %s AND bench = %s FOR SHARE) AS trial
    ON CONFLICT DO NOTHING
"""


def _keep(pk: uuid.UUID, found: _Open, entry: _Entry, author: str) -> Kept | None:
    """Write the entry down, if the rules let it in and nobody came first; what is remembered goes on with it."""
    ledger = found.ledger
    if ledger.result.next_sequence != entry.sequence:
        return None
    try:
        ledger.admit(core_event(entry.id, entry.sequence, entry.kind, entry.data))
    except GirderError:
        # What was refused has left no trace.
        _remember(pk, found)
        return None
    now = timezone.now()
    with prepared_cursor() as cursor:
        cursor.execute(
            _INSERT,
            [entry.id, entry.sequence, entry.kind, json.dumps(entry.data),
             put_right(entry.happened_at, entry.sent_at, now), now, author, pk, entry.bench],
        )  # fmt: skip
        if cursor.rowcount != 1:
            # Somebody was faster, or has the trial now. What is remembered says too much, and is forgotten.
            return None
    found.length += 1
    metrics.entries.labels("kept").inc()
    kept = Kept(entry.id, state_of(found.terms, ledger.result))
    _remember(pk, found)
    return kept


def _remember(pk: uuid.UUID, found: _Open) -> None:
    with _LOCK:
        _REMEMBERED[pk] = found
        while len(_REMEMBERED) > MOST:
            _REMEMBERED.popitem(last=False)
