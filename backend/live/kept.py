"""What a board that is looked at rests on, kept from one look to the next.

What changes while a board is looked at is nearly always a ledger. All else that it shows follows from a few rows whose
versions PostgreSQL keeps, or which are only ever added. (``xmin`` is another one after every transaction that changed a
row, ``ctid`` after every change within one.) One query asks for those of the board, one for those of the cards, one for
the lengths of the ledgers; while the versions are what they were, only ledgers that have grown are read.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from bench.models import Trial
from bench.remembered import as_long, lengths_in, results_of, with_length
from bench.selectors import DesignCard, cards_of
from challenges.models import Run
from evengirder.database import prepared_cursor
from girder_core.trial import TrialResult
from live.models import Board

MOST = 64
"""Boards that are kept in a process, and runs whose cards are; with more, all are forgotten."""


@dataclass(frozen=True)
class AtBench:
    """The cards of a run's designs, and its rehearsals, the latest first, with what each came to."""

    cards: list[DesignCard]
    rehearsals: list[tuple[Trial, TrialResult]]


_BOARDS: dict[str, tuple[str, Board]] = {}
_BENCHES: dict[int, tuple[tuple[object, ...], AtBench]] = {}
# The board of a run that was deleted is closed, till the run comes back; so is that of a deleted account.
_OF_BOARD = """
    SELECT concat_ws('/', board.xmin, board.ctid, run.xmin, run.ctid, class.xmin, class.ctid, owner.xmin, owner.ctid)
    FROM live_board board
    JOIN challenges_run run ON run.id = board.run_id
    JOIN people_schoolclass class ON class.id = run.school_class_id
    JOIN people_teacher owner ON owner.id = class.owner_id
    WHERE board.token = %s AND run.removed_at IS NULL AND owner.leaving_at IS NULL
"""
_OF_CARDS = """
    SELECT concat_ws('/', run.xmin, run.ctid, class.xmin, class.ctid, owner.xmin, owner.ctid),
        (SELECT string_agg(
            concat_ws('/', design.id, design.xmin, design.ctid, team.xmin, team.ctid), ',' ORDER BY design.id)
            FROM designs_design design JOIN people_team team ON team.id = design.team_id WHERE design.run_id = run.id),
        (SELECT string_agg(concat_ws('/', trial.id, trial.xmin, trial.ctid), ',' ORDER BY trial.id)
            FROM bench_trial trial JOIN designs_design design ON design.id = trial.design_id
            WHERE design.run_id = run.id),
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


def board_kept(token: str) -> Board | None:
    """The board of this link, with all that its head says; None where there is none, or none any more."""
    with prepared_cursor() as cursor:
        cursor.execute(_OF_BOARD, [token])
        row = cursor.fetchone()
    if row is None:
        return None
    kept = _BOARDS.get(token)
    if kept is None or kept[0] != row[0]:
        board = Board.objects.select_related("run__school_class__owner").filter(token=token).first()
        if board is None:
            return None
        kept = row[0], board
        if len(_BOARDS) >= MOST:
            _BOARDS.clear()
        _BOARDS[token] = kept
    return kept[1]


def versions_of(run: Run) -> tuple[object, ...] | None:
    """By what it is known whether the cards of a run are as they were, but for what its ledgers came to; None where
    there is no such run."""
    with prepared_cursor() as cursor:
        cursor.execute(_OF_CARDS, [run.pk])
        versions: tuple[object, ...] | None = cursor.fetchone()
    return versions


def at_bench_kept(run: Run) -> AtBench:
    """The cards of all designs of a run as ``cards_of`` puts them together, and its rehearsals."""
    # Asked before anything is read: what changes meanwhile is read again at the next look.
    versions = versions_of(run)
    kept = _BENCHES.get(run.pk)
    if versions is None or kept is None or kept[0] != versions:
        # The run too: it may have changed since whoever asks fetched it, and what is kept is shown to all.
        run = Run.objects.select_related("school_class__owner").filter(pk=run.pk).first() or run
        rehearsals = _rehearsals(run)
        results = results_of(rehearsals)
        bench = AtBench(cards_of(run, whole=False), [(trial, results[trial.pk]) for trial in rehearsals])
        if versions is not None:
            if len(_BENCHES) >= MOST:
                _BENCHES.clear()
            _BENCHES[run.pk] = versions, bench
        return bench
    return _grown(run, kept[1])


def _rehearsals(run: Run) -> list[Trial]:
    made_up = Trial.with_rehearsals.filter(design__run=run, rehearsal=True).select_related("design__team")
    rehearsals = list(with_length(made_up).order_by("-started_at"))
    for trial in rehearsals:
        trial.design.run = run
    return rehearsals


def _grown(run: Run, kept: AtBench) -> AtBench:
    """The same with the ledgers as they are now."""
    lengths = lengths_in(run)
    real = [marked.trial for card in kept.cards for marked in card.trials]
    now = {
        trial.pk: as_long(trial, lengths.get(trial.pk)) for trial in [*real, *(trial for trial, _ in kept.rehearsals)]
    }
    results = results_of(list(now.values()))
    return AtBench(
        [replace(card, trials=[replace(marked, trial=now[marked.trial.pk], result=results[marked.trial.pk])
                               for marked in card.trials]) for card in kept.cards],
        [(now[trial.pk], results[trial.pk]) for trial, _ in kept.rehearsals],
    )  # fmt: skip
