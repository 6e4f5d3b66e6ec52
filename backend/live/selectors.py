"""What the board shows, put together from the bench and the plan. Nothing here writes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cached_property
from typing import Any

from django.utils import timezone

from bench.models import Trial
from bench.selectors import RECENT, DesignCard, cards_of
from bench.trial_selectors import TrialState, trial_state
from challenges.models import Run
from challenges.shown import ShownPlan, shown_terms
from drafting.selectors import film_of
from girder_core.families import TO_BE_TESTED
from girder_core.ground import Film
from girder_core.measure import System
from girder_core.safety import Caution
from girder_core.trial import StepState
from live.models import MOTION, Board
from results.selectors import compared
from results.shown import shown_comparison
from runs.selectors import RunState, run_state

MOST_PHOTOS = 12
"""Photographs on one board."""
AT_ONCE = 2
"""Benches side by side on one board."""


@dataclass(frozen=True)
class BenchShown:
    """A trial as the board shows it, with what is left of the wait [s] by the server's clock."""

    state: TrialState
    hold_s: float
    hold_left_s: float | None


PARTS: dict[str, frozenset[str]] = {
    "bench": frozenset({
        "question", "benches", "next_teams", "kit", "counts_pieces", "aims", "ranking", "words", "bench_left_s",
    }),
    "ranking": frozenset({"ranking"}),
    "brief": frozenset({"question", "brief", "drawing"}),
    "clock": frozenset({"clock"}),
    "cautions": frozenset({"cautions"}),
    "photos": frozenset({"photos"}),
    MOTION: frozenset({"film"}),
}  # fmt: skip
"""What each screen shows; nothing else is looked up, and nothing else goes out to whoever has the link."""


class BoardState:
    """What a board shows, in the units of the run's teacher; each part is put together when it is asked for."""

    def __init__(self, board: Board) -> None:
        self.board, self.run = board, board.run
        self._system = board.run.system()

    @cached_property
    def _cards(self) -> list[DesignCard]:
        return cards_of(self.run)

    @cached_property
    def seen(self) -> RunState:
        """The run as its pages see it."""
        return run_state(self.run, self._cards)

    @cached_property
    def plan(self) -> ShownPlan:
        """The terms with what follows from them."""
        return shown_terms(self.run, self.run.school_class.teams.count(), self._system)

    @property
    def benches(self) -> list[BenchShown]:
        """What is on now, or was last."""
        return [_shown(trial, self._system) for trial in _on_the_bench(self.run, self._cards)]

    @property
    def words(self) -> dict[str, str]:
        """The words of ends and signs, by key."""
        return self.run.core_family().words()

    @property
    def ranking(self) -> dict[str, Any]:
        """Who won so far."""
        rules = self.run.rules()
        comparison = compared(self.run, rules, self._system, self._cards)
        return shown_comparison(comparison, rules, True, self.words, self._system)

    @property
    def film(self) -> Film | None:
        """The kind of challenge in motion."""
        return film_of(self.run)

    @property
    def counts_pieces(self) -> bool:
        """Whether the answer is a number of pieces."""
        return self.run.core_family().bench.counts_pieces

    @property
    def next_teams(self) -> list[str]:
        """Who comes next, in the order at the bench."""
        cards = {card.design.pk: card for card in self.seen.designs}
        waiting = [cards[pk] for pk in self.seen.queue if cards[pk].state in TO_BE_TESTED]
        return [card.design.team.name for card in waiting[:3]]

    @property
    def photos(self) -> list[dict[str, Any]]:
        """The photographs of the run, the latest first, each with its address for whoever has the board's link."""
        shots = [(photo, card.design) for card in self.seen.designs for photo in card.design.photos.all()]
        shots.sort(key=lambda pair: (pair[0].taken_at, pair[0].pk), reverse=True)
        return [
            {
                "address": f"/api/boards/{self.board.token}/photos/{photo.pk}",
                "team": design.team,
                "version": design.version,
                "what": photo.what,
            }
            for photo, design in shots[:MOST_PHOTOS]
        ]

    @property
    def cautions(self) -> list[Caution]:
        """What can hurt someone here."""
        sheet = self.plan.follows.safety
        return list(sheet.cautions) if sheet else list(self.run.core_family().cautions)


def _on_the_bench(run: Run, cards: Sequence[DesignCard]) -> Sequence[Trial]:
    """Open trials in which something happened lately, the latest first; without one, the last that ended."""
    now = timezone.now()
    real = [(marked.trial, marked.result) for card in cards for marked in card.trials]
    made_up = Trial.with_rehearsals.filter(design__run=run, rehearsal=True, started_at__gte=now - RECENT)
    rehearsals = [
        (trial, trial.result(run.trial_setup()))
        for trial in made_up.select_related("design__team").prefetch_related("events").order_by("-started_at")[:3]
    ]
    for trial, _ in (*real, *rehearsals):
        trial.design.run = run
    latest = sorted((*real, *rehearsals), key=lambda pair: _last(pair[0]), reverse=True)
    lately = [trial for trial, result in latest if not result.ended and now - _last(trial) <= RECENT]
    return lately[:AT_ONCE] or [trial for trial, _ in latest[:1]]


def _last(trial: Trial) -> datetime:
    """When something happened in a trial last, by the server's clock."""
    return max((event.received_at for event in trial.events.all()), default=trial.started_at)


def _shown(trial: Trial, system: System) -> BenchShown:
    state = trial_state(trial, system=system)
    in_round = state.result.round_waiting
    hold_s = trial.design.run.trial_setup().wait_s(in_round)
    waiting = None
    if in_round:
        waiting = state.result.rounds[-1].event_id
    elif state.result.step_waiting:
        waiting = [step for step in state.result.steps if step.state is StepState.WAITING][-1].event_id
    left = None
    if waiting is not None and not state.result.ended:
        began = next(event.received_at for event in trial.events.all() if str(event.pk) == waiting)
        left = max(0.0, hold_s - (timezone.now() - began).total_seconds())
    return BenchShown(state, hold_s, left)
