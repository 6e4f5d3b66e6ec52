"""The cards of a run whose board is looked at, kept from one look to the next.

What changes while a board is looked at is nearly always a ledger. All else that a card says follows from a few rows
whose versions PostgreSQL keeps, or which are only ever added. (``xmin`` is another one after every transaction that
changed a row, ``ctid`` after every change within one.) One query asks for them; while they are what they were, only the
trials are read again, and of their ledgers those that have grown.
"""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import replace

from bench.models import Trial
from bench.remembered import results_of, with_length
from bench.selectors import DesignCard, TrialCard, cards_by_memory
from challenges.models import Run
from evengirder.database import prepared_cursor
from girder_core.trial import TrialResult

MOST = 64
"""Runs whose cards are kept in a process; with more, all are forgotten."""
_KEPT: dict[int, tuple[tuple[object, ...], list[DesignCard]]] = {}
_VERSIONS = """
    SELECT concat_ws('/', run.xmin, run.ctid, class.xmin, class.ctid, owner.xmin, owner.ctid),
        (SELECT string_agg(
            concat_ws('/', design.id, design.xmin, design.ctid, team.xmin, team.ctid), ',' ORDER BY design.id)
            FROM designs_design design JOIN people_team team ON team.id = design.team_id WHERE design.run_id = run.id),
        (SELECT concat_ws('/', count(*), max(reading.id)) FROM designs_reading reading
            JOIN designs_design design ON design.id = reading.design_id WHERE design.run_id = run.id),
        (SELECT concat_ws('/', count(*), max(said.id)) FROM designs_teamprediction said
            JOIN designs_design design ON design.id = said.design_id WHERE design.run_id = run.id),
        (SELECT concat_ws('/', count(*), max(draft.id)) FROM designs_draft draft
            JOIN designs_design design ON design.id = draft.design_id WHERE design.run_id = run.id),
        (SELECT string_agg(concat_ws('/', correction.id, correction.xmin, correction.ctid), ',' ORDER BY correction.id)
            FROM drafting_classcorrection correction WHERE correction.school_class_id = class.id)
    FROM challenges_run run
    JOIN people_schoolclass class ON class.id = run.school_class_id
    JOIN people_teacher owner ON owner.id = class.owner_id
    WHERE run.id = %s
"""


def cards_kept(run: Run) -> list[DesignCard]:
    """The cards of all designs of a run as ``cards_by_memory`` puts them together."""
    # Asked before anything is read: what changes meanwhile is read again at the next look.
    with prepared_cursor() as cursor:
        cursor.execute(_VERSIONS, [run.pk])
        versions = cursor.fetchone()
    kept = _KEPT.get(run.pk)
    if versions is None or kept is None or kept[0] != versions:
        cards = cards_by_memory(run)
        if versions is not None:
            if len(_KEPT) >= MOST:
                _KEPT.clear()
            _KEPT[run.pk] = versions, cards
        return cards
    designs = {card.design.pk: card.design for card in kept[1]}
    trials = list(with_length(Trial.objects.filter(design__in=designs)).order_by("number"))
    for trial in trials:
        trial.design = designs[trial.design_id]
    results = results_of(trials)
    return [replace(card, trials=_cards(card, trials, results)) for card in kept[1]]


def _cards(card: DesignCard, trials: list[Trial], results: Mapping[uuid.UUID, TrialResult]) -> list[TrialCard]:
    return [TrialCard(trial, results[trial.pk]) for trial in trials if trial.design_id == card.design.pk]
